// Keys handled for the whole window.
import { useLayoutEffect, useRef } from "react";

/**
 * Hears every key of the window, in the meaning that it has on what is shown: it changes together with the page, not once that is painted.
 * A key pressed in between would mean what stood there before. Null: none is heard. With `first`, before anything in the page hears it.
 */
export function useWindowKeys(press: ((event: KeyboardEvent) => void) | null, first = false): void {
  const latest = useRef(press);
  useLayoutEffect(() => {
    latest.current = press;
  });
  const hears = press !== null;
  useLayoutEffect(() => {
    if (!hears) return;
    const hear = (event: KeyboardEvent) => latest.current?.(event);
    window.addEventListener("keydown", hear, first);
    return () => window.removeEventListener("keydown", hear, first);
  }, [hears, first]);
}
