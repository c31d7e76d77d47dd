// Compare two to four cards: faces and differing fields.
import { recordOf } from "../../fieldkinds";
import type { Card } from "../../state/client";
import { useGame } from "../../state/store";
import { Face } from "../../ui/Face";
import { SheetDialog } from "../../ui/Sheet";
import { MOST_COMPARED } from "../../ui/selection";
import { Verdict } from "../../ui/Verdict";
import { type Column, cellText } from "../columns";

type Props = { open: boolean; setOpen: (open: boolean) => void; ids: string[]; columns: Column[] };

export function Compare({ open, setOpen, ids, columns }: Props) {
  const game = useGame((state) => state.game);
  const cards = useGame((state) => state.cards);
  const standings = useGame((state) => state.standings);
  if (!game || !open) return null;
  const shown = ids.slice(0, MOST_COMPARED).flatMap((id) => cards[id] ?? []);
  const said = (card: Card, column: Column) => cellText(game, card, column);
  const different = columns.filter(
    (column) =>
      column.kind !== "verdict" &&
      column.kind !== "notes" &&
      column.kind !== "paper" &&
      column.kind !== "picture" &&
      new Set(shown.map((card) => said(card, column))).size > 1,
  );
  return (
    <SheetDialog open={open} setOpen={setOpen} title="Compare" className="compare-sheet">
      <table className="compare">
        <thead>
          <tr>
            <td />
            {shown.map((card) => (
              <th key={card.id} scope="col">
                <div className="compare-face">
                  <Face card={card.id} title={card.title} />
                </div>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          <tr>
            <th scope="row">Verdict</th>
            {shown.map((card) => {
              const standing = standings[card.id];
              return (
                <td key={card.id}>
                  {standing && <Verdict judgement={standing.judgement} difference={standing.difference} long />}
                </td>
              );
            })}
          </tr>
          {different.map((column) => (
            <tr key={column.id}>
              <th scope="row">{column.name}</th>
              {shown.map((card) => (
                <td key={card.id} className={column.field && recordOf(column.field).numeric ? "num" : ""}>
                  {said(card, column) || <span className="soft">empty</span>}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      {different.length === 0 && <p className="soft">They are the same in every field.</p>}
    </SheetDialog>
  );
}
