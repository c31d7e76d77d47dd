// The state of the Cards room in its address: card, query, order, view.

import type { Sort } from "../query/useFound";
import type { Cell } from "./columns";

export type Look = "grid" | "wall";
export type Groups = { across: string; down: string; zoom: number };

/** Groups that the game has: those asked for where they are there, else cost across and faction down. */
export function groupsFor(
  groupable: string[],
  roles: { cost?: string | null; faction?: string | null } | undefined,
  asked: Groups,
): Groups {
  const fit = (wanted: (string | null | undefined)[], other?: string) =>
    wanted.find((id): id is string => !!id && groupable.includes(id) && id !== other) ??
    groupable.find((id) => id !== other) ??
    "type";
  const across = fit([asked.across, roles?.cost]);
  const down = fit([asked.down, roles?.faction], across);
  return { across, down, zoom: Math.max(70, Math.min(300, asked.zoom || 106)) };
}

/** The room's place as its address says it. */
export function addressFor(
  at: Cell,
  query: string,
  setId: string,
  sort: Sort[],
  look: Look,
  groups: Groups,
): Record<string, string> {
  const said: Record<string, string> = { card: at.card, field: at.column };
  if (query) said.q = query;
  if (setId) said.set = setId;
  if (sort.length) said.sort = sort.map((each) => `${each.down ? "-" : ""}${each.field}`).join(",");
  if (look === "wall")
    Object.assign(said, { as: "wall", across: groups.across, down: groups.down, zoom: `${groups.zoom}` });
  return said;
}

export function readSort(text: string | null): Sort[] {
  return (text ?? "")
    .split(",")
    .filter(Boolean)
    .map((each) => (each.startsWith("-") ? { field: each.slice(1), down: true } : { field: each, down: false }));
}

/** What an address says of the room's place. `card`, `column`: null where it says nothing of them. */
export type Place = {
  card: string | null;
  column: string | null;
  query: string;
  set: string;
  sort: Sort[];
  look: Look;
  groups: Groups;
};

export function placeFrom(params: URLSearchParams): Place {
  return {
    card: params.get("card"),
    column: params.get("field"),
    query: params.get("q") ?? "",
    set: params.get("set") ?? "",
    sort: readSort(params.get("sort")),
    look: params.get("as") === "wall" ? "wall" : "grid",
    groups: {
      across: params.get("across") ?? "",
      down: params.get("down") ?? "",
      zoom: Number(params.get("zoom")) || 106,
    },
  };
}
