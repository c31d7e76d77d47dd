// Find and replace: every match is shown before and after, and can be excluded.

import { useEffect, useRef, useState } from "react";
import { recordOf } from "../../fieldkinds";
import { writeCells } from "../../state/cells";
import type { Schemas } from "../../state/client";
import { useAsked } from "../../state/query";
import { useGame } from "../../state/store";
import { counted } from "../../ui/plural";
import { SheetDialog, SheetFoot } from "../../ui/Sheet";
import * as requests from "../api";

const SHOWN = 200;
type Found = Schemas["ReplacementOut"];
type Props = { open: boolean; setOpen: (open: boolean) => void; query: string; setId: string };

/** Enter, but not that which ends the composing of a letter. */
const isEnter = (event: React.KeyboardEvent): boolean => event.key === "Enter" && !event.nativeEvent.isComposing;

export function ReplaceDialog({ open, setOpen, query, setId }: Props) {
  const game = useGame((state) => state.game);
  const cards = useGame((state) => state.cards);
  const [wanted, setWanted] = useState("");
  const [instead, setInstead] = useState("");
  const [field, setField] = useState("");
  const [sameCase, setSameCase] = useState(false);
  const [wholeWords, setWholeWords] = useState(false);
  /** The question that Enter was pressed for before its answer came. */
  const [hurried, setHurried] = useState("");
  const by = useRef<HTMLInputElement>(null);
  const [left, setLeft] = useState<Set<string>>(new Set());
  const params = { path: { game_id: game?.id ?? "" } };
  const body = { query, wanted, instead, field: field || null, same_case: sameCase, whole_words: wholeWords };
  const said = JSON.stringify([params, body]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what was left out, and Enter, were of another question
  useEffect(() => {
    setLeft(new Set());
    setHurried("");
  }, [open, said]);
  const asking = async () => ({
    said,
    places: await requests.lookAtReplacing({ params, body }),
  });
  const { found } = useAsked<{ said: string; places: Found[] }>(open && wanted ? asking : null, [open, said]);
  /** What is shown is what is asked for by now: else it is written as soon as it is. */
  const answered = found?.said === said;
  const here = (found?.places ?? []).filter((each) => cards[each.card] && (!setId || cards[each.card]?.set === setId));
  const keyOf = (each: Found) => `${each.card}/${each.field}`;
  const taken = here.filter((each) => !left.has(keyOf(each)));
  const texts = game?.fields.filter((each) => recordOf(each).worded) ?? [];
  const name = (ident: string) => texts.find((each) => each.id === ident)?.name ?? ident;
  const write = async () => {
    if (!answered) {
      setHurried(wanted && said);
      return;
    }
    setHurried("");
    if (!taken.length) return;
    setOpen(false);
    const cells = taken.map((each) => ({ card: each.card, field: each.field, typed: each.after }));
    await writeCells(cells, [], `“${wanted.slice(0, 30)}” replaced in ${counted(cells.length, "place")}`);
  };
  // Enter that came before the answer means what was asked for by then.
  // biome-ignore lint/correctness/useExhaustiveDependencies: once the answer is there
  useEffect(() => {
    if (answered && hurried === said) void write();
  }, [answered, hurried, said]);
  return (
    <SheetDialog
      open={open}
      setOpen={setOpen}
      title="Find and replace"
      about={query ? `In the cards that match: ${query}` : "In every card’s texts, effects and tags."}
      className="replace-sheet"
    >
      <form className="form form-row" onSubmit={(event) => event.preventDefault()}>
        <label>
          Find
          <input
            className="input"
            value={wanted}
            onChange={(event) => setWanted(event.target.value)}
            // Nothing would stand in its place yet: Enter goes on to what does.
            onKeyDown={(event) => isEnter(event) && by.current?.focus()}
          />
        </label>
        <label>
          Replace by
          <input
            ref={by}
            className="input"
            value={instead}
            onChange={(event) => setInstead(event.target.value)}
            onKeyDown={(event) => isEnter(event) && void write()}
          />
        </label>
        <label>
          In
          <select className="select" value={field} onChange={(event) => setField(event.target.value)}>
            <option value="">every text</option>
            {texts.map((each) => (
              <option key={each.id} value={each.id}>
                {each.name}
              </option>
            ))}
          </select>
        </label>
        <label className="form-check">
          <input type="checkbox" checked={sameCase} onChange={(event) => setSameCase(event.target.checked)} /> same
          capitals
        </label>
        <label className="form-check">
          <input type="checkbox" checked={wholeWords} onChange={(event) => setWholeWords(event.target.checked)} /> whole
          words
        </label>
      </form>
      {here.length > 0 && (
        <ul className="replace-list">
          {here.slice(0, SHOWN).map((each) => (
            <li key={keyOf(each)}>
              <label>
                <input
                  type="checkbox"
                  checked={!left.has(keyOf(each))}
                  onChange={() => {
                    const next = new Set(left);
                    if (!next.delete(keyOf(each))) next.add(keyOf(each));
                    setLeft(next);
                  }}
                />
                <span>
                  <b>{cards[each.card]?.title}</b> <span className="soft">{name(each.field)}</span>
                  <span className="replace-before">{each.before.slice(0, 240)}</span>
                  <span className="replace-after">{each.after.slice(0, 240) || "empty"}</span>
                </span>
              </label>
            </li>
          ))}
          {here.length > SHOWN && <li className="soft">and {here.length - SHOWN} more places</li>}
        </ul>
      )}
      <SheetFoot
        act={`Replace in ${counted(taken.length, "place")}`}
        ready={answered && taken.length > 0}
        onAct={() => void write()}
        cancel={() => setOpen(false)}
      >
        {wanted && answered && !here.length && <span className="soft">Found nowhere.</span>}
      </SheetFoot>
    </SheetDialog>
  );
}
