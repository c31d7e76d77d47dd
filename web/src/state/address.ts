// Where a person is. What was asked for in one room and is answered after they have gone on to another takes nobody back.

import { useCallback } from "react";
import { type NavigateOptions, useLocation, useNavigate, useSearchParams } from "react-router";

/** Whether the address is still that of the room in which this was rendered: it changes at once, before the next room is there. */
export function useStillHere(): () => boolean {
  const { pathname } = useLocation();
  return useCallback(() => window.location.pathname === pathname, [pathname]);
}

/** What stands behind `?` in the address, and how to change it while the room is still open. */
export function useAddress(): ReturnType<typeof useSearchParams> {
  const [params, setParams] = useSearchParams();
  const stillHere = useStillHere();
  const set: typeof setParams = useCallback(
    (...to) => {
      if (stillHere()) setParams(...to);
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
