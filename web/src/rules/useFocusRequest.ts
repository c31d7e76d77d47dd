import { type RefObject, useEffect, useRef } from "react";
import { useLocation } from "react-router";

/** Focuses the input for a new item when the address has `new=`, once for each visit. */
export function useFocusRequest(what: string): RefObject<HTMLInputElement | null> {
  const input = useRef<HTMLInputElement>(null);
  const { key, search } = useLocation();
  // biome-ignore lint/correctness/useExhaustiveDependencies: the same address followed again has another key
  useEffect(() => {
    if (new URLSearchParams(search).get("new") === what) input.current?.focus();
  }, [key, search, what]);
  return input;
}
