// The current address. An answer that arrives after the user has left a room does not navigate.

import { useCallback } from "react";
import { type NavigateOptions, useLocation, useNavigate, useNavigationType, useSearchParams } from "react-router";

/** Whether the address is still that of the room in which this was rendered: it changes at once, before the next room is there. */
export function useStillHere(): () => boolean {
  const { pathname } = useLocation();
  return useCallback(() => window.location.pathname === pathname, [pathname]);
}

/** Goes with addresses that a room writes of its own accord: they are no links to follow. */
export const OWN = { own: true };

/** Whether the address at hand was written by this room itself. What is gone back to, or forward, was not. */
export function useOwnAddress(): boolean {
  const { state } = useLocation();
  return useNavigationType() !== "POP" && !!(state as { own?: boolean } | null)?.own;
}

/** What stands behind `?` in the address now: it changes at once, before what shows it has been rendered. */
export const addressNow = (): URLSearchParams => new URLSearchParams(window.location.search);

/** What stands behind `?` in the address, and how to change it while the room is still open. A change begins from the address as it is by then. */
export function useAddress(): ReturnType<typeof useSearchParams> {
  const [params, setParams] = useSearchParams();
  const stillHere = useStillHere();
  const set: typeof setParams = useCallback(
    (to, options) => {
      if (stillHere()) setParams(typeof to === "function" ? to(addressNow()) : to, options);
    },
    [setParams, stillHere],
  );
  return [params, set];
}

/** Goes to an address. What goes there after an answer has come asks `useStillHere` first. */
export function useGo(): (to: string, options?: NavigateOptions) => void {
  const navigate = useNavigate();
  return useCallback((to, options) => void navigate(to, options), [navigate]);
}
