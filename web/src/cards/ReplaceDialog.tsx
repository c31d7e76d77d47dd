// A text found and replaced: every place is shown before and after, and can be left out.

import { useEffect, useState } from "react";
import { recordOf } from "../fieldkinds";
import { writeCells } from "../state/cells";
import { api, ask, type Schemas } from "../state/client";
import { useGame } from "../state/store";
import { SheetDialog, SheetFoot } from "../ui/Sheet";

const SHOWN = 200;
type Found = Schemas["ReplacementOut"];
type Props = { open: boolean; setOpen: (open: boolean) => void; query: string; setId: string };

export function ReplaceDialog({ open, setOpen, query, setId }: Props) {
  const game = useGame((state) => state.game);
  const cards = useGame((state) => state.cards);
  const [wanted, setWanted] = useState("");
  const [instead, setInstead] = useState("");
  const [field, setField] = useState("");
  const [sameCase, setSameCase] = useState(false);
  const [wholeWords, setWholeWords] = useState(false);
  const [found, setFound] = useState<Found[]>([]);
  const [left, setLeft] = useState<Set<string>>(new Set());
  const id = game?.id ?? "";
  useEffect(() => {
    setLeft(new Set());
    if (!open || !wanted) {
      setFound([]);
      return;
    }
    let live = true;
    const body = { query, wanted, instead, field: field || null, same_case: sameCase, whole_words: wholeWords };
    const timer = setTimeout(() => {
      ask(api.POST("/api/games/{game_id}/replace/preview", { params: { path: { game_id: id } }, body })).then(
        (answer) => live && setFound(answer),
        () => undefined,
      );
    }, 120);
    return () => {
      live = false;
      clearTimeout(timer);
    };
  }, [open, id, query, wanted, instead, field, sameCase, wholeWords]);
  const here = found.filter((each) => cards[each.card] && (!setId || cards[each.card]?.set === setId));
  const keyOf = (each: Found) => `${each.card}/${each.field}`;
  const taken = here.filter((each) => !left.has(keyOf(each)));
  const texts = game?.fields.filter((each) => recordOf(each).worded) ?? [];
  const name = (ident: string) => texts.find((each) => each.id === ident)?.name ?? ident;
  const write = async () => {
    setOpen(false);
    const cells = taken.map((each) => ({ card: each.card, field: each.field, typed: each.after }));
    await writeCells(cells, [], `“${wanted.slice(0, 30)}” replaced in ${cells.length} places`);
  };
  return (
    <SheetDialog
      open={open}
      setOpen={setOpen}
      title="Find and replace"
      about={query ? `In the cards that match: ${query}` : "In every card’s texts, effects and tags."}
      className="replace-sheet"
    >
      <form
        className="form form-row"
        onSubmit={(event) => {
          event.preventDefault();
          if (taken.length) void write();
        }}
      >
        <label>
          Find
          <input className="input" value={wanted} onChange={(event) => setWanted(event.target.value)} />
        </label>
        <label>
          Replace by
          <input className="input" value={instead} onChange={(event) => setInstead(event.target.value)} />
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
        act={`Replace in ${taken.length} ${taken.length === 1 ? "place" : "places"}`}
        ready={taken.length > 0}
        onAct={() => void write()}
        cancel={() => setOpen(false)}
      >
        {wanted && !here.length && <span className="soft">Found nowhere.</span>}
      </SheetFoot>
    </SheetDialog>
  );
}
