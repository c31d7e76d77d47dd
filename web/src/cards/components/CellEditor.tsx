// The editor of a grid cell: each key press requests a preview of the face.
import { useMemo } from "react";
import { recordOf } from "../../fieldkinds";
import type { Card, Game } from "../../state/client";
import { typing } from "../../state/drafts";
import { CellInput, type Leave } from "../../ui/CellInput";
import { type Column, choicesOf } from "../columns";

type Props = {
  game: Game;
  card: Card | undefined;
  column: Column;
  /** What the cell holds, or what was typed there and could not be written. */
  value: string;
  /** The key that opened the cell; it replaces the value. */
  first: string | null;
  leave: Leave;
};

export function CellEditor({ game, card, column, value, first, leave }: Props) {
  const choices = useMemo(() => choicesOf(game, column, card), [game, column, card]);
  const record = column.field && recordOf(column.field);
  return (
    <CellInput
      id={column.id}
      label={`${column.name} of ${card?.title ?? "a new card"}`}
      value={value}
      first={first}
      choices={choices}
      several={record?.several ?? false}
      numeric={record?.numeric ?? false}
      step={record?.steps ? 1 : undefined}
      shows={(text) => {
        if (card && column.field) typing({ card: card.id, field: column.id, text });
      }}
      leave={leave}
    />
  );
}
