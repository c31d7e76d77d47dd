// The rules of play as the page edits them: see `play_rules` in the core.
import { freeId } from "../ids";

export type ZoneDoc = {
  id: string;
  name: string;
  shared: boolean;
  seen: "owner" | "all" | "none";
  limit: number | null;
  shuffled: boolean;
};
export type LaidDoc = { zone: string; cards: Record<string, number> };
export type FirstTurn = "all" | "later seats" | "none";
export type DoingDoc =
  | { do: "draw"; number: number | null; first: FirstTurn }
  | { do: "refill"; number: number | null }
  | { do: "grow"; first: FirstTurn }
  | { do: "gain"; resource: string; number: number; most: number | null }
  | { do: "play"; types: string[]; most: number | null }
  | { do: "turn over"; zone: string }
  | { do: "straighten" | "clash" | "hand limit" | "clear damage" | "recall" };
export type PhaseDoc = { id: string; name: string; whose: "active" | "each"; does: DoingDoc[] };
export type Becomes = "discarded" | "stays" | "tilted" | "attached" | "figure";
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
};

/** The parts of the rules of play, in the order in which they are laid out. */
export const PLAY_PARTS = [
  ["seats", "Seats and zones"],
  ["set_up", "Setup"],
  ["phases", "The turn"],
  ["after_play", "Played cards"],
  ["clash", "The clash"],
  ["goals", "How it ends"],
] as const;
export type PlayPart = (typeof PLAY_PARTS)[number][0];

/** Which of them something amiss belongs to. */
export const partOf = (part: string): PlayPart => (part === "zones" ? "seats" : (part as PlayPart));

export const DOINGS = [
  ["draw", "draw"],
  ["refill", "refill the hand"],
  ["grow", "resources grow"],
  ["gain", "gain"],
  ["play", "play cards"],
  ["clash", "the clash"],
  ["straighten", "straighten"],
  ["recall", "return tilted cards to hand"],
  ["turn over", "turn a card over"],
  ["clear damage", "damage is cleared"],
  ["hand limit", "discard to the hand limit"],
] as const;

/** What a phase does, as it is when it was just added. */
export function newDoing(what: string, resource: string, zone: string): DoingDoc {
  switch (what) {
    case "draw":
      return { do: "draw", number: null, first: "all" };
    case "refill":
      return { do: "refill", number: null };
    case "grow":
      return { do: "grow", first: "all" };
    case "gain":
      return { do: "gain", resource, number: 1, most: null };
    case "play":
      return { do: "play", types: [], most: null };
    case "turn over":
      return { do: "turn over", zone };
    default:
      return { do: what as "straighten" };
  }
}

export const newPhase = (name: string, phases: PhaseDoc[]): PhaseDoc => ({
  id: freeId(name, phases),
  name,
  whose: "active",
  does: [],
});

/** A list with one of its entries moved by so many places. */
export function moved<T>(list: readonly T[], place: number, by: number): T[] {
  const next = [...list];
  next.splice(place + by, 0, ...next.splice(place, 1));
  return next;
}

export const replaced = <T>(list: readonly T[], place: number, part: Partial<T>): T[] =>
  list.map((each, at) => (at === place ? { ...each, ...part } : each));

export const without = <T>(list: readonly T[], place: number): T[] => list.filter((_, at) => at !== place);
