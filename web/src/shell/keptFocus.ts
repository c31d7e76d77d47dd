// Focus always stands on something: where the element that had it goes away, the next sensible one gets it.
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

/** Dialogs and menus give the focus back themselves. */
export function useKeptFocus(): void {
  useEffect(() => {
    let held: Held | null = null;
    const focused = (event: FocusEvent) => {
      const element = event.target as HTMLElement;
      held = element.closest("[role=dialog], [role=menu], [role=listbox]") ? null : described(element);
    };
    const gone = () => {
      const now = document.activeElement;
      if ((now && now !== document.body) || !held || held.element.isConnected) return;
      const found = next(held);
      held = null;
      found?.focus({ preventScroll: true });
    };
    const watch = new MutationObserver(gone);
    watch.observe(document.body, { childList: true, subtree: true });
    document.addEventListener("focusin", focused);
    return () => {
      watch.disconnect();
      document.removeEventListener("focusin", focused);
    };
  }, []);
}
