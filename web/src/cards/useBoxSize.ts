import { useLayoutEffect, useRef, useState } from "react";

const SCROLL_BAR = 10;

/** The width of the list in pixels, without its scroll bar. */
export function useRoom(): [React.RefObject<HTMLElement | null>, number] {
  const box = useRef<HTMLElement>(null);
  const [room, setRoom] = useState(0);
  useLayoutEffect(() => {
    const element = box.current;
    if (!element) return;
    const measure = () => setRoom(element.clientWidth - SCROLL_BAR);
    measure();
    const watch = new ResizeObserver(measure);
    watch.observe(element);
    return () => watch.disconnect();
  }, []);
  return [box, room];
}
