// Keeps the address and the focused card in step, in both directions.

import { useEffect, useRef } from "react";
import { useLocation, useNavigationType } from "react-router";
import { addressNow, OWN, useAddress, useOwnAddress } from "../state/address";
import { keepPlace } from "../state/roomAddresses";
import { type Place, placeFrom } from "./cardsAddress";

/** Arrows would flood the browser: the address follows so many ms after the last. */
const AFTER = 250;

/** Somebody came to a place: by a link, or `back` (or forward) to where they were; `stand`: with the focus in the grid. */
export type Arrival = { place: Place; back: boolean; stand: boolean };

/** Keeps the address as `said`, and tells `arrive` of places that others have written there, once their card is among `cards`. */
export function useCardsAddress(
  said: Record<string, string>,
  cards: Record<string, unknown>,
  arrive: (arrival: Arrival) => void,
): void {
  const [params, setParams] = useAddress();
  const location = useLocation();
  const back = useNavigationType() === "POP";
  const own = useOwnAddress();
  const write = useRef(setParams);
  const heard = useRef(location.key);
  // Not while rendering: a render may be put off or thrown away, and the address would be taken for heard before it is.
  useEffect(() => {
    heard.current = location.key;
    write.current = setParams;
  }, [location.key, setParams]);
  const next = `${new URLSearchParams(said)}`;
  // Anew with each address that is heard, too: what was to be written before it was heard has not been.
  // biome-ignore lint/correctness/useExhaustiveDependencies: see above
  useEffect(() => {
    keepPlace(window.location.pathname, `?${next}`);
    const timer = setTimeout(() => {
      // While another room is being fetched this one still stands, but the address is no longer its own.
      if (!window.location.pathname.endsWith("/cards")) return;
      // An address that this page has not heard of yet may be a link that somebody followed: it is theirs.
      const key = (window.history.state as { key?: string } | null)?.key;
      if (key && key !== heard.current) return;
      if (`${addressNow()}` !== next) write.current(new URLSearchParams(next), { replace: true, state: OWN });
    }, AFTER);
    return () => clearTimeout(timer);
  }, [next, location.key]);

  const stood = useRef(location.key);
  useEffect(() => {
    const place = placeFrom(params);
    if (stood.current === location.key || !place.card || !cards[place.card]) return;
    stood.current = location.key;
    if (!own) arrive({ place, back, stand: (location.state as { stand?: boolean } | null)?.stand ?? false });
  }, [params, location, cards, back, own, arrive]);
}
