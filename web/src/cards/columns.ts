import { recordOf } from "../fieldkinds";
import type { Card, Field, Game } from "../state/client";

/** A place in the grid: a card by id, a column by field id. */
export type Cell = { card: string; column: string };

export type Column = {
  id: string;
  name: string;
  width: number;
  field: Field | null;
  kind: Field["kind"] | "code" | "type" | "set" | "verdict" | "notes" | "paper";
  long: boolean;
  /** Whether its values have marks that can stand without their words. */
  marked?: boolean;
};

/** The row in which typing makes a new card. */
export const NEW = "+new";

const NAME = 162;

/** The grid's columns: code, name and type, numbers and choices, verdict and effect, the rest; each group in the order of the game's fields. */
export function columnsOf(game: Game): Column[] {
  const fields = game.fields.map((field): Column => {
    const record = recordOf(field);
    const width =
      field.id === game.roles.name
        ? NAME
        : typeof record.width === "function"
          ? record.width(field, game)
          : Math.max(record.width, Math.min(110, field.name.length * 7 + 12));
    const long = record.long?.(field) ?? false;
    return {
      id: field.id,
      name: field.name,
      width,
      field,
      kind: field.kind,
      long,
      marked: record.marked?.(field, game),
    };
  });
  const name = fields.filter((column) => column.id === game.roles.name);
  const rest = fields.filter((column) => column.id !== game.roles.name && column.id !== game.roles.copies);
  const short = rest.filter((column) => !column.long);
  const sets =
    game.sets.length > 1
      ? [{ id: "set", name: "Set", width: 110, field: null, kind: "set", long: false } as const]
      : [];
  const late = ({ field }: Column) => (field && recordOf(field).late) ?? false;
  const effect = rest.filter((column) => column.id === game.roles.effect);
  const printed = rest.filter((column) => column.id === game.roles.printed);
  // A printed text that comes before the effect, as that of an imported table does, is shown before it.
  const first = effect[0] && printed[0] && rest.indexOf(printed[0]) < rest.indexOf(effect[0]);
  const texts = first ? [...printed, ...effect] : effect;
  return [
    { id: "code", name: "Code", width: 66, field: null, kind: "code", long: false },
    ...name,
    { id: "type", name: "Type", width: 72, field: null, kind: "type", long: false },
    ...sets,
    ...short.filter((column) => !late(column)),
    { id: "verdict", name: "Verdict", width: 104, field: null, kind: "verdict", long: false },
    ...texts,
    ...short.filter(late),
    { id: "notes", name: "Notes", width: 60, field: null, kind: "notes", long: false },
    ...(game.runs > 0
      ? [{ id: "paper", name: "Paper", width: 84, field: null, kind: "paper", long: false } as const]
      : []),
    ...rest.filter((column) => column.long && !texts.includes(column)),
    ...fields.filter((column) => column.id === game.roles.copies),
  ];
}

/** Whether the card's type has this column at all. */
export function applies(game: Game, card: Card, column: Column): boolean {
  if (!column.field) return true;
  return game.types.find((type) => type.id === card.type)?.fields.includes(column.id) ?? false;
}

const OWN = ["code", "type", "set"];

export const editable = (column: Column): boolean =>
  column.field ? recordOf(column.field).typed : OWN.includes(column.kind);

/** The text that a cell shows and that editing begins with. */
export function cellText(game: Game, card: Card, column: Column): string {
  if (column.kind === "code") return card.code;
  if (column.kind === "type") return game.types.find((type) => type.id === card.type)?.name ?? card.type;
  if (column.kind === "set") return game.sets.find((set) => set.id === card.set)?.name ?? card.set;
  return card.values[column.id] ?? "";
}

/** The names that can be typed into a cell, where it takes only certain ones; within the card's outer choice. */
export function choicesOf(game: Game, column: Column, card: Card | undefined): string[] {
  if (column.kind === "type") return game.types.map((type) => type.name);
  if (column.kind === "set") return game.sets.map((set) => set.name);
  return column.field ? (recordOf(column.field).choices?.(column.field, game, card) ?? []) : [];
}
