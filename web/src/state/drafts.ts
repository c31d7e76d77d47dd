// The text being typed into a card, and its previewed verdict, so that a key press renders only what shows them.
import { create } from "zustand";
import { useGame } from "./store";

export type Typed = { card: string; field: string; text: string } | null;
type Begun = { card: string; field: string; seq: number };
export type Verdictlike = { judgement: string; difference: number };

const store = create<{ typed: Typed; makes: Verdictlike | null }>(() => ({ typed: null, makes: null }));

/** The field that is typed in, and up to which edit the page had seen the game when typing began. */
let begun: Begun | null = null;

/** Says what is being typed; null when it is given up. */
export function typing(typed: Typed): void {
  if (!typed) begun = null;
  else if (begun?.card !== typed.card || begun.field !== typed.field)
    begun = { card: typed.card, field: typed.field, seq: useGame.getState().seq };
  store.setState(typed ? { typed } : { typed: null, makes: null });
}

/** Says that what was typed was written, unless something else is being typed by now. */
export function typingDone(card: string, field: string, text: string): void {
  const now = store.getState().typed;
  if (now?.card === card && now.field === field && now.text === text) typing(null);
}

/** Up to which edit the page had seen the game when typing into a field began; null where nobody types there. */
export const begunAt = (card: string, field: string): number | null =>
  begun?.card === card && begun.field === field ? begun.seq : null;

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
