// Edits of every cell of a range, each as one undoable edit.
import { recordOf } from "../fieldkinds";
import { writeCells } from "../state/cells";
import type { Card, Game } from "../state/client";
import { editField } from "../state/edits";
import { stepped } from "../ui/CellInput";
import { counted } from "../ui/plural";
import { applies, type Column, cellText } from "./columns";

/** A cell that can be written, with what it holds. */
export type RangeCell = { card: string; column: Column; text: string };

export function empty(range: RangeCell[]): void {
  const cells = range
    .filter(({ column, text }) => column.field && text)
    .map(({ card, column }) => ({ card, field: column.id, typed: "" }));
  const [only] = cells;
  if (cells.length === 1 && only) void editField(only.card, only.field, "");
  else void writeCells(cells, [], `${counted(cells.length, "cell")} emptied`);
}

/** Every cell takes what the model has in its column. */
export function fill(game: Game, model: Card, range: RangeCell[]): void {
  const cells = range
    .filter(({ column }) => column.kind !== "code" && applies(game, model, column))
    .map(({ card, column, text }) => ({ card, field: column.id, typed: cellText(game, model, column), text }))
    .filter((cell) => cell.typed !== cell.text)
    .map(({ card, field, typed }) => ({ card, field, typed }));
  void writeCells(cells, [], `${counted(cells.length, "cell")} filled down`);
}

export function stepAll(range: RangeCell[], by: number): void {
  const cells = range.filter(({ column }) => column.field && recordOf(column.field).steps);
  const [only] = cells;
  if (cells.length === 1 && only) void editField(only.card, only.column.id, stepped(only.text, by));
  else
    void writeCells(
      cells.map(({ card, column, text }) => ({ card, field: column.id, typed: stepped(text, by) })),
      [],
      `${cells.length} numbers ${by > 0 ? "raised" : "lowered"} by 1`,
    );
}
