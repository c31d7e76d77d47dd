// The width of a box as it changes.
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
