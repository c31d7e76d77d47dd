import type { Card, Game } from "../state/client";
import { Dot } from "../ui/Dot";
import { textWidth } from "../ui/textWidth";
import { type FieldRecord, offeredOf, type ShownProps } from "./record";

/** A choice in so narrow a column shows its mark alone. */
export const MARK_ALONE = 62;

const valuesOf = (game: Game, list: string) => game.lists.find((each) => each.id === list)?.values ?? [];

/** What a cell of the grid has beside its text: padding, the mark, the space between them. */
const BESIDE = 37;

export const choice: FieldRecord<"choice"> = {
  imported: [["choice", "choice"]],
  /** Wide enough for the longest value with its mark. */
  width: (field, game) => {
    const values = valuesOf(game, field.list);
    const longest = Math.max(26, ...values.slice(0, 200).map((value) => textWidth(value.name)));
    return Math.ceil(Math.min(150, longest + (values.some((value) => value.notches) ? 46 : BESIDE)));
  },
  gives: [
    { rank: 3, least: MARK_ALONE, marked: true },
    { rank: 8, least: 44 },
  ],
  typed: true,
  counted: "commonest first",
  marked: (field, game) => valuesOf(game, field.list).some((value) => value.notches),
  choices: (field, game, card) => within(field, game, card).map((value) => value.name),
  Shown,
};

/** The values that are offered: within the card's outer choice, where the field depends on one. */
function within(field: { list: string; within?: string | null }, game: Game, card: Card | undefined) {
  const offered = offeredOf(game, field.list);
  const outer = field.within ? game.fields.find((each) => each.id === field.within) : undefined;
  const outerName = outer ? card?.values[outer.id] : undefined;
  if (!outerName || outer?.kind !== "choice") return offered;
  const home = valuesOf(game, outer.list).find((value) => value.name === outerName)?.id;
  return offered.filter((value) => !value.within || value.within === home);
}

function Shown({ game, field, text, narrow }: ShownProps<"choice">) {
  const values = valuesOf(game, field.list);
  const value = values.find((each) => each.name === text);
  if (!value) return <>{text}</>;
  return (
    <>
      {value.art ? (
        <img className="choice-art" src={`/api/art/${value.art}`} alt="" />
      ) : value.notches ? (
        <Notches count={value.notches} />
      ) : (
        <Dot colour={value.colour} place={values.indexOf(value)} />
      )}
      {value.notches && narrow ? <span className="unseen">{text}</span> : text}
    </>
  );
}

/** A rarity's notches, as they are cut in the spine. */
function Notches({ count }: { count: number }) {
  const cuts = Array.from({ length: count }, (_, cut) => `M${cut * 5} 2L${cut * 5 + 4} 5L${cut * 5} 8Z`).join("");
  const width = Math.max(20, count * 5);
  return (
    <svg className="notches" width={width} height="10" viewBox={`0 0 ${width} 10`} aria-hidden="true">
      <path d={cuts} fill="currentColor" />
    </svg>
  );
}
