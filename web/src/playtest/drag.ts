// Drag one card; the same at any frame rate. A right click or Esc cancels.
import { useCallback, useEffect, useRef } from "react";

export type Grasp = { card: number; moving: boolean; x: number; y: number; width: number; lean: number };
type Held = Grasp & { startX: number; startY: number; dx: number; dy: number; at: number; speed: number };

/** Pixels until a press is a drag. */
const SLACK = 6;
/** Degrees at most, and how fast they follow the hand: the same share in the same time at 30, 60 and 144 frames. */
const MOST_LEAN = 9;
const FOLLOWS = 14;

/** `moved` hears of each frame, null when nothing is held any more; `dropped` of where a card was let go. */
export function useDrag(moved: (now: Grasp | null) => void, dropped: (card: number, to: "table" | "") => void) {
  const held = useRef<Held | null>(null);
  const frame = useRef(0);
  const hear = useRef({ moved, dropped });
  hear.current = { moved, dropped };
  const release = useCallback(() => {
    held.current = null;
    cancelAnimationFrame(frame.current);
    frame.current = 0;
    hear.current.moved(null);
  }, []);
  useEffect(() => {
    const paint = (time: number) => {
      const now = held.current;
      if (!now) return;
      const passed = Math.min(0.1, (time - now.at) / 1000);
      now.at = time;
      const wanted = Math.max(-MOST_LEAN, Math.min(MOST_LEAN, now.speed / 90));
      now.lean += (wanted - now.lean) * (1 - Math.exp(-FOLLOWS * passed));
      now.speed *= Math.exp(-FOLLOWS * passed);
      hear.current.moved({ ...now });
      frame.current = requestAnimationFrame(paint);
    };
    const move = (event: PointerEvent) => {
      const now = held.current;
      if (!now) return;
      if (!now.moving && Math.hypot(event.clientX - now.startX, event.clientY - now.startY) < SLACK) return;
      now.speed += event.movementX * 12;
      now.x = event.clientX - now.dx;
      now.y = event.clientY - now.dy;
      if (!now.moving) {
        now.moving = true;
        now.at = performance.now();
        frame.current = requestAnimationFrame(paint);
      }
    };
    const up = (event: PointerEvent) => {
      const now = held.current;
      if (!now) return;
      const { card, moving } = now;
      release();
      if (!moving) return;
      // What the release would press as well is no press.
      const eat = (click: MouseEvent) => click.stopPropagation();
      window.addEventListener("click", eat, { capture: true, once: true });
      setTimeout(() => window.removeEventListener("click", eat, { capture: true }), 0);
      const under = document.elementFromPoint(event.clientX, event.clientY);
      hear.current.dropped(card, under?.closest(".tabletop") && !under.closest(".hand-zone") ? "table" : "");
    };
    const give = (event: Event) => {
      if (!held.current?.moving) return;
      if (event instanceof KeyboardEvent && event.key !== "Escape") return;
      event.preventDefault();
      event.stopPropagation();
      release();
    };
    const lost = () => held.current && release();
    window.addEventListener("pointermove", move);
    window.addEventListener("pointerup", up);
    window.addEventListener("pointercancel", lost);
    window.addEventListener("blur", lost);
    window.addEventListener("keydown", give, { capture: true });
    window.addEventListener("contextmenu", give, { capture: true });
    return () => {
      cancelAnimationFrame(frame.current);
      window.removeEventListener("pointermove", move);
      window.removeEventListener("pointerup", up);
      window.removeEventListener("pointercancel", lost);
      window.removeEventListener("blur", lost);
      window.removeEventListener("keydown", give, { capture: true });
      window.removeEventListener("contextmenu", give, { capture: true });
    };
  }, [release]);
  const grasp = useCallback(
    (event: React.PointerEvent, card: number) => {
      if (event.button !== 0) {
        if (held.current) release();
        return;
      }
      const box = event.currentTarget.getBoundingClientRect();
      held.current = {
        card,
        moving: false,
        x: box.left,
        y: box.top,
        width: box.width,
        lean: 0,
        startX: event.clientX,
        startY: event.clientY,
        dx: event.clientX - box.left,
        dy: event.clientY - box.top,
        at: 0,
        speed: 0,
      };
    },
    [release],
  );
  return { grasp };
}
