// Layout of marks and labels on the set map.

import type { Schemas } from "../state/client";
import type { MapData } from "./types";

type MapCard = Schemas["MapCardOut"];
export type Label = { text: string; x: number; y: number };
export type Placed = { point: MapCard; x: number; y: number; type: string; label: Label | null };
export type Scale = (value: number) => number;
/** Left, top, right, bottom. */
type Box = [number, number, number, number];
const LETTER = 7.2;
/** How far a mark reaches from its middle. */
const MARK = 6;
const LINE = 15;
/** How far a budget's name reaches from the end of its line. */
const BUDGET = 172;
const MOST_NAMED = 24;

/** Marks at one point are placed side by side; labels of outliers avoid marks and each other where there is space. */
export function place(
  map: MapData,
  cards: Record<string, { type: string; title: string }>,
  across: Scale,
  up: Scale,
  step: number,
  room: Box,
  bare: boolean,
): Placed[] {
  const spotOf = (point: MapCard) => `${point.cost}/${Math.round(up(point.worth) / 11)}`;
  const crowds = new Map<string, number>();
  for (const point of map.cards) crowds.set(spotOf(point), (crowds.get(spotOf(point)) ?? 0) + 1);
  const taken = new Map<string, number>();
  const placed = map.cards.map((point): Placed => {
    const y = up(point.worth);
    const spot = spotOf(point);
    const nth = taken.get(spot) ?? 0;
    taken.set(spot, nth + 1);
    // However many stand at one place, they keep to their cost.
    const apart = Math.min(13, step / 8, (0.9 * step) / (crowds.get(spot) ?? 1));
    const offset = (nth % 2 ? 1 : -1) * Math.ceil(nth / 2) * apart;
    return { point, x: across(point.cost) + offset, y, type: cards[point.card]?.type ?? "", label: null };
  });
  if (bare) return placed;
  // The names of the budgets stand at the ends of their lines.
  const boxes = Object.values(map.lines).flatMap((line): Box[] => {
    const end = line.at(-1);
    if (!end) return [];
    const [x, y] = [across(end.cost), up(end.points)];
    return [[x + 10, y - LINE / 2, x + BUDGET, y + 2 * LINE]];
  });
  // No name reaches its own mark.
  const marks = placed.map(({ x, y }): Box => [x - MARK, y - MARK, x + MARK, y + MARK]);
  for (const card of map.outliers.slice(0, MOST_NAMED)) {
    const each = placed.find((one) => one.point.card === card);
    const text = cards[card]?.title;
    if (!each || !text) continue;
    each.label =
      labelled(text, each.x, each.y, room, [...boxes, ...marks]) ?? labelled(text, each.x, each.y, room, boxes);
    if (each.label) boxes.push(boxOf(each.label, each.x, each.y));
  }
  return placed;
}

const boxOf = (label: Label, x: number, y: number): Box => [
  x + label.x,
  y + label.y - LINE / 2,
  x + label.x + label.text.length * LETTER,
  y + label.y + LINE / 2,
];

/** Where a label stands free of boxes and within the map, as near to its point as can be; null where there is no room. */
function labelled(text: string, x: number, y: number, room: Box, boxes: Box[]): Label | null {
  const long = text.length * LETTER;
  for (const down of [0, 1, -1, 2, -2, 3, -3])
    for (const left of [10, -10 - long]) {
      const label = { text, x: left, y: down * LINE };
      const box = boxOf(label, x, y);
      const inside = box[0] >= room[0] && box[1] >= room[1] && box[2] <= room[2] && box[3] <= room[3];
      const free = boxes.every(
        (other) => box[2] < other[0] || box[0] > other[2] || box[3] <= other[1] || box[1] >= other[3],
      );
      if (inside && free) return label;
    }
  return null;
}
