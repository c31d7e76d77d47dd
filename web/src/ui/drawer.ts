// The side pane of a room, `[data-pane]`, is a drawer in a small window: it lies hidden until it is opened.
export const ASKED = "dramok-drawer";

export const sidePane = () => document.querySelector<HTMLElement>("[data-pane]");

/** Puts the focus on an element of the side pane; a pane that is a shut drawer is opened for it first. */
export function focusInPane(id: string): boolean {
  const element = document.getElementById(id);
  if (!element) return false;
  if (getComputedStyle(element).visibility === "hidden") window.dispatchEvent(new Event(ASKED));
  element.focus();
  return true;
}
