// What is being typed into a card, and what it makes of its verdict: one place, so that a key paints only what shows it.
import { create } from "zustand";

export type Typed = { card: string; field: string; text: string } | null;
export type Verdictlike = { judgement: string; difference: number };

const store = create<{ typed: Typed; makes: Verdictlike | null }>(() => ({ typed: null, makes: null }));

/** Says what is being typed; null when it is written, or given up. */
export const typing = (typed: Typed): void => store.setState(typed ? { typed } : { typed: null, makes: null });

/** Says what the server makes of it. */
export const typingMakes = (makes: Verdictlike): void => {
  if (store.getState().typed) store.setState({ makes });
};

/** What is being typed into a card; null for any other. */
export const useTyped = (card: string | null): Typed =>
  store((state) => (state.typed?.card === card ? state.typed : null));

/** The verdict that what is being typed makes of a card; null for any other. */
export const useTypedVerdict = (card: string): Verdictlike | null =>
  store((state) => (state.typed?.card === card ? state.makes : null));
