// The user's layout of the grid's columns: order, widths, hidden and pinned columns.

import { useCallback, useEffect, useState } from "react";
import { type Giving, recordOf } from "../fieldkinds";
import type { Column } from "./columns";

export type Layout = { order: string[]; hidden: string[]; widths: Record<string, number>; frozen: number };

const PLAIN: Layout = { order: [], hidden: [], widths: {}, frozen: 2 };
export const NARROWEST = 36;
export const WIDEST = 900;

const keyOf = (game: string) => `dramok-columns-${game}`;

/** Stored in this browser for each game; a saved view has its own. */
export function useLayout(game: string): [Layout, (change: (before: Layout) => Layout) => void] {
  const [layout, setLayout] = useState<Layout>(() => remembered(game));
  useEffect(() => setLayout(remembered(game)), [game]);
  const change = useCallback(
    (by: (before: Layout) => Layout) =>
      setLayout((before) => {
        const after = by(before);
        localStorage.setItem(keyOf(game), JSON.stringify(after));
        return after;
      }),
    [game],
  );
  return [layout, change];
}

function remembered(game: string): Layout {
  try {
    return asLayout(JSON.parse(localStorage.getItem(keyOf(game)) ?? "{}"));
  } catch {
    return PLAIN;
  }
}

/** Parse a stored layout; missing or invalid parts get defaults. */
export function asLayout(kept: Partial<Layout> | null | undefined): Layout {
  const frozen = Number.isInteger(kept?.frozen) ? Math.max(0, Math.min(6, kept?.frozen as number)) : PLAIN.frozen;
  return {
    order: Array.isArray(kept?.order) ? kept.order.map(String) : [],
    hidden: Array.isArray(kept?.hidden) ? kept.hidden.map(String) : [],
    widths: kept?.widths && typeof kept.widths === "object" ? kept.widths : {},
    frozen,
  };
}

/** Every column in the order laid out, hidden ones too; columns that the layout has never seen keep their own place. */
export function ordered(columns: Column[], layout: Layout): Column[] {
  const known = layout.order.filter((id) => columns.some((column) => column.id === id));
  if (!known.length) return columns;
  const found = known.map((id) => columns.find((column) => column.id === id) as Column);
  columns.forEach((column, place) => {
    if (!known.includes(column.id)) found.splice(Math.min(place, found.length), 0, column);
  });
  return found;
}

/** How what is no field gives way. */
const OWN: Partial<Record<Column["kind"], Giving[]>> = {
  code: [{ rank: 4, least: 64 }],
  set: [{ rank: 7, least: 54 }],
  type: [{ rank: 7, least: 62 }],
};
const RANKS = 8;
/** A text takes up to this many pixels of what is left over. */
const WIDEST_TEXT = 460;

const givesAt = (column: Column, rank: number) =>
  (column.field ? recordOf(column.field).gives : OWN[column.kind])?.find((each) => each.rank === rank);

/**
 * The columns so that verdict and effect are seen in `room` pixels, if they can be: the others become narrower by their rank. Their
 * order never depends on the room. What somebody laid out by hand stays.
 */
export function fitted(columns: Column[], layout: Layout, room: number): Column[] {
  const shown = laidOut(columns, layout);
  const asked = layout.order.length > 0 || Object.keys(layout.widths).length > 0;
  const last = Math.max(
    shown.findIndex((column) => column.kind === "effect"),
    shown.findIndex((column) => column.kind === "verdict"),
  );
  if (asked || last < 0 || room <= 0) return shown;
  const head = shown.slice(0, last + 1);
  const name = head[1]?.id;
  const over = () => head.reduce((sum, column) => sum + column.width, 0) - room;
  for (let rank = 1; rank <= RANKS; rank++) {
    // The last of a kind gives way first; code and name stay where they are.
    for (let place = head.length - 1; place >= 0; place--) {
      const column = head[place];
      if (over() <= 0) break;
      const giving = column && column.id !== name ? givesAt(column, rank) : undefined;
      if (!column || !giving || (giving.marked && !column.marked)) continue;
      const { least } = giving;
      if (column.width > least) head[place] = { ...column, width: Math.max(least, column.width - over()) };
    }
  }
  const all = [...head, ...shown.slice(last + 1)];
  // What is left over goes to the texts: the effect first.
  let spare = room - all.reduce((sum, column) => sum + column.width, 0);
  const texts = all.filter((column) => column.kind === "effect" || column.long);
  return all.map((column) => {
    if (!texts.includes(column) || spare <= 0) return column;
    const more = Math.min(spare, WIDEST_TEXT - column.width);
    if (more <= 0) return column;
    spare -= more;
    return { ...column, width: column.width + more };
  });
}

/** The columns in sight, with their widths. */
export function laidOut(columns: Column[], layout: Layout): Column[] {
  const shown = ordered(columns, layout).filter((column) => !layout.hidden.includes(column.id));
  return (shown.length ? shown : columns.slice(0, 1)).map((column) => {
    const width = layout.widths[column.id];
    return width ? { ...column, width: Math.max(NARROWEST, Math.min(WIDEST, width)) } : column;
  });
}

/** A column moved by so many places. */
export function moved(columns: Column[], layout: Layout, id: string, by: number): Layout {
  const order = ordered(columns, layout).map((column) => column.id);
  const from = order.indexOf(id);
  const to = Math.max(0, Math.min(order.length - 1, from + by));
  order.splice(to, 0, ...order.splice(from, 1));
  return { ...layout, order };
}
