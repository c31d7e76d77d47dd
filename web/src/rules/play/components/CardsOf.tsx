// Which cards lie somewhere at the start: all of a type or with a value of a choice, as often as their copies say, or chosen ones.
import { useGame } from "../../../state/store";
import { Picking } from "../../../ui/Typing";
import { CardPicker } from "../../components/CardPicker";
import type { GroupDoc } from "../playDoc";

type Props = {
  label: string;
  /** What it means to name no cards. */
  none: string;
  group: GroupDoc | null;
  cards: Record<string, number>;
  put: (group: GroupDoc | null, cards: Record<string, number>) => void;
};
type Choice = { kind: "choice"; field: string; value: string };

const choiceOf = (group: GroupDoc | null): Choice | undefined =>
  (group?.filters as Choice[] | undefined)?.find((each) => each.kind === "choice");

export function CardsOf({ label, none, group, cards, put }: Props) {
  const game = useGame((state) => state.game);
  const types = (game?.types ?? []).map((each) => [each.id, each.name] as const);
  const choices = (game?.fields ?? []).flatMap((field) =>
    field.kind === "choice"
      ? (game?.lists.find((list) => list.id === field.list)?.values ?? [])
          .filter((value) => !value.retired)
          .map((value) => [`${field.id}/${value.id}`, `${field.name}: ${value.name}`] as const)
      : [],
  );
  const choice = choiceOf(group);
  const others = ((group?.filters ?? []) as Choice[]).filter((each) => each.kind !== "choice");
  const how = group ? "group" : Object.keys(cards).length ? "cards" : "none";
  return (
    <div className="cards-of">
      <div className="form form-row">
        <Picking
          label={label}
          value={how}
          options={[
            ["none", none],
            ["group", "all copies of certain cards"],
            ["cards", "chosen cards"],
          ]}
          commit={(next) => put(next === "group" ? {} : null, next === "none" ? {} : cards)}
        />
        {group && (
          <>
            <Picking
              label="Of type"
              value={group.type ?? ""}
              options={[["", "any type"], ...types]}
              commit={(type) => put({ ...group, type: type || null }, cards)}
            />
            <Picking
              label="With"
              value={choice ? `${choice.field}/${choice.value}` : ""}
              options={[["", "any values"], ...choices]}
              commit={(said) => {
                const [field = "", value = ""] = said.split("/");
                put({ ...group, filters: said ? [...others, { kind: "choice", field, value }] : others }, cards);
              }}
            />
          </>
        )}
      </div>
      {how !== "none" && (
        <CardPicker
          label={group ? "And these, with numbers of their own" : "Which"}
          counted
          cards={cards}
          put={(next) => put(group, next)}
        />
      )}
      {how === "none" && (
        <CardPicker label="Or type a card and its number" counted cards={cards} put={(next) => put(null, next)} />
      )}
    </div>
  );
}
