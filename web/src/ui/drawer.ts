// The side pane of a room, `[data-pane]`, is a drawer in a small window: hidden until it is opened.
export const ASKED = "dramok-drawer";
/** Sent to an element that is stepped into, with what was typed already: an editor that minds its own text takes it, and says so. */
export const STEP_IN = "dramok-step-in";

export const sidePane = () => document.querySelector<HTMLElement>("[data-pane]");

/** Opens the side pane where it is a shut drawer: what was asked for stands in it. */
export function openPane(): void {
  requestAnimationFrame(() => {
    const pane = sidePane();
    if (pane && getComputedStyle(pane).visibility === "hidden") window.dispatchEvent(new Event(ASKED));
  });
}

/**
 * Puts the focus at the end of an element of the side pane, and types what was already typed there; a pane that is a shut
 * drawer is opened for it first.
 */
export function focusInPane(id: string, typed = ""): boolean {
  const element = document.getElementById(id);
  if (!element) return false;
  if (getComputedStyle(element).visibility === "hidden") window.dispatchEvent(new Event(ASKED));
  if (!element.dispatchEvent(new CustomEvent(STEP_IN, { detail: typed, cancelable: true }))) return true;
  element.focus();
  if (element instanceof HTMLTextAreaElement) element.setSelectionRange(element.value.length, element.value.length);
  for (const key of typed) {
    const pressed = new KeyboardEvent("keydown", { key, bubbles: true, cancelable: true });
    // Inserted as by a hand, so that the editor hears of it and can take it back.
    if (element.dispatchEvent(pressed)) document.execCommand("insertText", false, key);
  }
  return true;
}
