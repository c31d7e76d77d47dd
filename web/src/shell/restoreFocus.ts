// If the focused element disappears, focuses the most suitable one instead.
import { useEffect } from "react";

const FOCUSABLE =
  "button:not([disabled]), a[href], input:not([disabled]), select:not([disabled]), textarea, [tabindex]";
const HEIGHT = 6;

type Held = { element: HTMLElement; id: string; within: { box: HTMLElement; place: number }[] };

const open = (box: HTMLElement): HTMLElement[] =>
  [...box.querySelectorAll<HTMLElement>(FOCUSABLE)].filter((each) => each.tabIndex >= 0 || each.matches("[role=grid]"));

/** What had the focus, and its place among its neighbours, from the nearest box outwards. */
function described(element: HTMLElement): Held {
  const within: Held["within"] = [];
  for (let box = element.parentElement; box && within.length < HEIGHT; box = box.parentElement) {
    if (box === document.body) break;
    within.push({ box, place: open(box).indexOf(element) });
  }
  return { element, id: element.id, within };
}

function next({ id, within }: Held): HTMLElement | null {
  const same = id ? document.getElementById(id) : null;
  if (same) return same;
  for (const { box, place } of within) {
    if (!box.isConnected) continue;
    const there = open(box);
    const found = there[Math.max(0, Math.min(place, there.length - 1))];
    if (found) return found;
  }
  return document.querySelector<HTMLElement>("main.room");
}

const OVER = "[role=dialog], [role=menu], [role=listbox]";

/**
 * What lies over the page (a dialog, a menu) may give the focus back itself, and is let: where it does not, whatever had the
 * focus before gets it again.
 */
export function useKeptFocus(): void {
  useEffect(() => {
    let last: HTMLElement | null = null;
    let held: Held | null = null;
    let timer = 0;
    const focused = (event: FocusEvent) => {
      last = event.target as HTMLElement;
      if (!last.closest(OVER)) held = described(last);
    };
    const lost = () => !document.activeElement || document.activeElement === document.body;
    const mend = () => {
      if (!lost() || !held || document.querySelector("[role=dialog], [role=menu]")) return;
      const found = held.element.isConnected ? held.element : next(held);
      found?.focus({ preventScroll: true });
    };
    const gone = () => {
      if (!last || last.isConnected || !lost()) return;
      const over = last.closest(OVER) !== null;
      last = null;
      window.clearTimeout(timer);
      if (over) timer = window.setTimeout(mend, 30);
      else mend();
    };
    const watch = new MutationObserver(gone);
    watch.observe(document.body, { childList: true, subtree: true });
    document.addEventListener("focusin", focused);
    return () => {
      watch.disconnect();
      window.clearTimeout(timer);
      document.removeEventListener("focusin", focused);
    };
  }, []);
}
