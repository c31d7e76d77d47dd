import type { Card, Field, Game } from "../state/client";

/** A place in the grid: a card by id, a column by field id. */
export type Cell = { card: string; column: string };

export type Column = {
  id: string;
  name: string;
  width: number;
  field: Field | null;
  kind: Field["kind"] | "code" | "type" | "verdict";
  long: boolean;
};

const WIDTHS: Record<string, number> = { name: 162, number: 52, tags: 92, effect: 240, text: 150 };

/** Wide enough for the longest value with its mark. */
function choiceWidth(game: Game, list: string): number {
  const values = game.lists.find((each) => each.id === list)?.values ?? [];
  const longest = Math.max(4, ...values.map((value) => value.name.length));
  return Math.min(150, longest * 7 + (values.some((value) => value.notches) ? 46 : 34));
}

/** The grid's columns in the order of the game's fields. */
export function columnsOf(game: Game): Column[] {
  const fields = game.fields.map((field): Column => {
    const width =
      field.id === game.roles.name
        ? WIDTHS.name
        : field.kind === "choice"
          ? choiceWidth(game, field.list)
          : WIDTHS[field.kind];
    const long = field.kind === "effect" || (field.kind === "text" && field.long === true);
    return { id: field.id, name: field.name, width: width ?? 100, field, kind: field.kind, long };
  });
  const name = fields.filter((column) => column.id === game.roles.name);
  return [
    { id: "code", name: "Code", width: 66, field: null, kind: "code", long: false },
    ...name,
    { id: "type", name: "Type", width: 68, field: null, kind: "type", long: false },
    ...fields.filter((column) => column.id !== game.roles.name && !column.long && column.id !== game.roles.copies),
    { id: "verdict", name: "Verdict", width: 98, field: null, kind: "verdict", long: false },
    ...fields.filter((column) => column.long),
    ...fields.filter((column) => column.id === game.roles.copies),
  ];
}

/** Whether the card's type has this column at all. */
export function applies(game: Game, card: Card, column: Column): boolean {
  if (!column.field) return true;
  return game.types.find((type) => type.id === card.type)?.fields.includes(column.id) ?? false;
}

export const editable = (column: Column): boolean => column.kind !== "type" && column.kind !== "verdict";

/** The text that a cell shows and that editing begins with. */
export function cellText(game: Game, card: Card, column: Column): string {
  if (column.kind === "code") return card.code;
  if (column.kind === "type") return game.types.find((type) => type.id === card.type)?.name ?? card.type;
  return card.values[column.id] ?? "";
}
