// The game that is open, as the server last said, and what the page says about it.
import { create } from "zustand";
import type { Card, Deck, Game, Note, Problem, Ripple, Standing } from "./client";

/** A way to go on, by the words on its button. */
export type Way = [string, () => void];
/** `retry` sends it again; `drop` gives up what was typed; `ways` are other ways to go on. */
export type Notice = { id: number; problem: Problem; retry?: () => void; drop?: () => void; ways?: Way[] };
/** What was typed and could not be written: it stays where it was typed until it is mended or given up. */
export type Unsaved = Record<string, { text: string; why: string }>;

type State = {
  game: Game | null;
  cards: Record<string, Card>;
  order: string[];
  decks: Deck[];
  standings: Record<string, Standing>;
  seq: number;
  ripples: Ripple[];
  undo: string | null;
  redo: string | null;
  notice: Notice | null;
  unsaved: Unsaved;
  connected: boolean;
  /** How often the connection came back after it was lost. */
  reconnected: number;
  /** The game that was open and is no longer there, by id. */
  gone: string | null;
  /** How many edits are on their way. */
  saving: number;
  /** Whether the edit at the head of the queue can't reach the server. */
  away: boolean;
  /** Notes by the card they are on, the oldest first. */
  notes: Record<string, Note[]>;
  /** How often things of a kind (mark, note, source, layout, picture, run), or names that others say, changed since the game was opened. */
  touched: Record<string, number>;
};

export const useGame = create<State>(() => ({
  game: null,
  cards: {},
  order: [],
  decks: [],
  standings: {},
  seq: 0,
  ripples: [],
  undo: null,
  redo: null,
  notice: null,
  unsaved: {},
  connected: true,
  reconnected: 0,
  gone: null,
  saving: 0,
  away: false,
  notes: {},
  touched: {},
}));

const { setState: set, getState: get } = useGame;
let notices = 0;

export function say(problem: Problem, retry?: () => void, drop?: () => void): void {
  notices += 1;
  set({ notice: { id: notices, problem, retry, drop } });
}

/** Keeps what was typed into a cell and could not be written, with the reason. */
export function keepUnsaved(kept: { card: string; field: string; text: string; why: string }[]): void {
  const unsaved = { ...get().unsaved };
  for (const each of kept) unsaved[placeOf(each.card, each.field)] = { text: each.text, why: each.why };
  set({ unsaved });
}

export const placeOf = (card: string, field: string): string => `${card}/${field}`;

/** Gives up what was typed into a field and could not be written. */
export function dropUnsaved(card: string, field: string): void {
  const unsaved = { ...get().unsaved };
  delete unsaved[placeOf(card, field)];
  set({ unsaved, notice: null });
}

/** Forgets, of a card that was written whole, what could not be written before. */
export function dropUnsavedOf(card: string, fields: string[]): void {
  const places = new Set(fields.map((field) => placeOf(card, field)));
  const unsaved = get().unsaved;
  if (Object.keys(unsaved).some((place) => places.has(place)))
    set({ unsaved: Object.fromEntries(Object.entries(unsaved).filter(([place]) => !places.has(place))) });
}

export const hush = (): void => set({ notice: null });

export const fieldOf = (id: string) => get().game?.fields.find((field) => field.id === id);
export const typeOf = (card: Card | undefined) => get().game?.types.find((type) => type.id === card?.type);
