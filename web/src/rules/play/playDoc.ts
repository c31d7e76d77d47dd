// The rules of play as the page edits them: see `play_rules` in the core.
import type { Schemas } from "../../state/client";
import { freeId } from "../ids";

export type ZoneDoc = {
  id: string;
  name: string;
  shared: boolean;
  seen: "owner" | "all" | "none";
  limit: number | null;
  shuffled: boolean;
  kind?: "pile" | "row" | "supply";
  places?: number | null;
  source?: string | null;
  refill?: "at once" | "phase" | "never";
};
/** Cards as printed: of a type, and with values of choices. */
export type GroupDoc = { side?: "any"; type?: string | null; filters?: unknown[] };
export type LaidDoc = { zone: string; cards: Record<string, number>; group?: GroupDoc | null };
export type MarketDoc = {
  zone: string;
  pays: string;
  price: string | null;
  by_place: number[];
  passing: { resource: string; number: number } | null;
  goes_to: "discard" | "hand" | "draw" | "play";
  most: number | null;
  less?: unknown;
};
export type CounterDoc = { id: string; name: string; symbol: string; zones: string[]; price: number };
export type EndDoc = {
  kind: "empty" | "sold out" | "rounds" | "reached";
  zones: string[];
  number: number;
  total: string | null;
  when: "at once" | "round" | "one more round";
};
/** `amount`: a model, or a text that the server parses. */
export type ScoreDoc = { name: string; amount: unknown; minus: boolean };
export type TieDoc = { name: string; amount: unknown; lowest: boolean };
/** `effect`: a model, or a text that the server parses. */
export type ActionDoc = { id: string; name: string; effect: unknown };
/** A phase action with its settings: see `phase_actions` in the core. */
export type DoingDoc = { do: string; [setting: string]: unknown };
export type PhaseAction = Schemas["PhaseActionOut"];
export type PhaseDoc = { id: string; name: string; whose: "active" | "each"; does: DoingDoc[] };
export type Becomes = "discarded" | "stays" | "tilted" | "attached" | "figure" | "cleared";
export type HostsDoc = { side: "own" | "rival" | "any"; type: string | null; filters: unknown[]; zone: string | null };
export type AfterDoc = { type: string; becomes: Becomes; hosts: HostsDoc | null };
export type ClashDoc = {
  types: string[];
  stat: string;
  answers: "one" | "many" | "none";
  answer_types: string[];
  hurts: boolean;
  excess: "lost" | "through";
  unanswered: "nothing" | "gains" | "loses";
  total: string | null;
  points: "stat" | "one";
  in_order: boolean;
  on_arrival: boolean;
  tilts: boolean;
  answer_tilts: boolean;
};
export type GoalDoc = { kind: "reach" | "drop" | "most"; total: string; number: number };
export type CommonDoc = { resources: string[]; cap: number; over: "lost" | "choice" };
export type PlayDoc = {
  seats: number;
  free: boolean;
  zones: ZoneDoc[];
  set_up: {
    placed: LaidDoc[];
    redraw: { kind: "none" | "hand" | "cards"; returned: "before" | "after" };
    second_draws: number;
    second_gains: Record<string, number>;
    start?: Record<string, number>;
    start_group?: GroupDoc | null;
  };
  phases: PhaseDoc[];
  answers: { types: string[] } | null;
  reshuffles: number | null;
  after_play: AfterDoc[];
  common: CommonDoc[];
  clash: ClashDoc | null;
  goals: GoalDoc[];
  tie: "draw" | "active";
  evaluation: { resources: Record<string, number>; stats: Record<string, number>; hand: number };
  // What older rules do not say.
  least_seats?: number | null;
  most_seats?: number | null;
  markets?: MarketDoc[];
  counters?: CounterDoc[];
  ends?: EndDoc[];
  scoring?: ScoreDoc[];
  ties?: TieDoc[];
  actions?: ActionDoc[];
};

/** The parts of the rules of play, in the order in which they are laid out. */
export const PLAY_PARTS = [
  ["seats", "Seats and zones"],
  ["set_up", "Setup"],
  ["phases", "The turn"],
  ["after_play", "Played cards"],
  ["actions", "Actions"],
  ["market", "The market"],
  ["clash", "The clash"],
  ["goals", "How it ends"],
  ["scoring", "Scoring"],
] as const;
export type PlayPart = (typeof PLAY_PARTS)[number][0];

/** Which of them something amiss belongs to. */
export const partOf = (part: string): PlayPart => (part === "zones" ? "seats" : (part as PlayPart));

/** The document of an action that was just added; a resource, zone or number field is the first of the game. */
export const newDoing = (action: PhaseAction, resource: string, zone: string, field: string): DoingDoc => ({
  do: action.do,
  ...Object.fromEntries(
    action.settings.map((each) => [each.key, { resource, zone, field }[each.kind as string] ?? each.new ?? null]),
  ),
});

export const newPhase = (name: string, phases: PhaseDoc[]): PhaseDoc => ({
  id: freeId(name, phases),
  name,
  whose: "active",
  does: [],
});

/** A name that none of the others has, with a number where needed. */
export function freeName(name: string, others: readonly { name: string }[]): string {
  const taken = new Set(others.map((each) => each.name.toLowerCase()));
  for (let number = 1; ; number += 1) {
    const tried = number === 1 ? name : `${name} ${number}`;
    if (!taken.has(tried.toLowerCase())) return tried;
  }
}

/** A name as it is written in effects. Quotes are never wrong; the server leaves out those that are not needed. */
export const quoted = (name: string): string => `"${name}"`;

/** A list with one of its entries moved by so many places. */
export function moved<T>(list: readonly T[], place: number, by: number): T[] {
  const next = [...list];
  next.splice(place + by, 0, ...next.splice(place, 1));
  return next;
}

export const replaced = <T>(list: readonly T[], place: number, part: Partial<T>): T[] =>
  list.map((each, at) => (at === place ? { ...each, ...part } : each));

export const without = <T>(list: readonly T[], place: number): T[] => list.filter((_, at) => at !== place);
