import { type RefObject, useEffect, useRef } from "react";
import { useLocation } from "react-router";

/** The input for a new thing: an address with `new=` and its word leads into it, once for each time it is followed. */
export function useFocusRequest(what: string): RefObject<HTMLInputElement | null> {
  const input = useRef<HTMLInputElement>(null);
  const { key, search } = useLocation();
  // biome-ignore lint/correctness/useExhaustiveDependencies: the same address followed again has another key
  useEffect(() => {
    if (new URLSearchParams(search).get("new") === what) input.current?.focus();
  }, [key, search, what]);
  return input;
}
