// The verdict of the card that is being typed in: its row shows it before it is written, marked as such.
import { create } from "zustand";

export type Previewed = { card: string; judgement: string; difference: number } | null;

const store = create<{ now: Previewed }>(() => ({ now: null }));

export const setPreviewed = (now: Previewed): void => {
  if (now !== store.getState().now) store.setState({ now });
};

/** What is being typed makes of a card; null for any other. */
export const usePreviewed = (card: string): Previewed =>
  store((state) => (state.now?.card === card ? state.now : null));
