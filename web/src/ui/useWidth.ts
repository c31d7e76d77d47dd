// How wide a box is, as it changes: what is drawn in it is drawn to that width.
import { type RefObject, useLayoutEffect, useState } from "react";

export function useWidth(box: RefObject<HTMLElement | null>, first: number): number {
  const [width, setWidth] = useState(first);
  useLayoutEffect(() => {
    const element = box.current;
    if (!element) return;
    const watch = new ResizeObserver(() => setWidth(element.clientWidth));
    watch.observe(element);
    return () => watch.disconnect();
  }, [box]);
  return width;
}
