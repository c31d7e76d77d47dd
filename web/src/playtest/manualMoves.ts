// Whether manual moves are on, and with which card.
import { createContext } from "react";
import type { Schemas } from "../state/client";

type Card = Schemas["TableCardOut"];

/** `choose` is null while cards are played by the rules. */
export const HandsContext = createContext<{ choose: ((card: Card) => void) | null; chosen: number }>({
  choose: null,
  chosen: -1,
});
