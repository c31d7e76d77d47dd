// Ctrl+Z and Ctrl+Y: undo of the game everywhere, except in a text being typed and in rooms with their own undo.
import { useLayoutEffect } from "react";
import { redoLast, undoLast } from "../state/edits";
import { useWindowKeys } from "./windowKeys";

type Undoing = { undo: () => void; redo?: () => void };

/** What the room at hand undoes instead: while it stands there, Ctrl+Z can reach nothing else. */
let own: Undoing | null = null;

/** Takes Ctrl+Z for a room, wherever the focus is in it. */
export function useOwnUndo(undo: () => void, redo?: () => void): void {
  useLayoutEffect(() => {
    const mine = redo ? { undo, redo } : { undo };
    own = mine;
    return () => {
      if (own === mine) own = null;
    };
  }, [undo, redo]);
}

export function useUndoKeys(): void {
  useWindowKeys((event) => {
    if (!(event.ctrlKey || event.metaKey) || event.altKey || event.defaultPrevented) return;
    const target = event.target as HTMLElement;
    if (target.closest("input:not([type=checkbox]), textarea, [contenteditable=true]")) return;
    const key = event.key.toLowerCase();
    if (key !== "z" && key !== "y") return;
    event.preventDefault();
    const again = key === "y" || event.shiftKey;
    if (own) (again ? own.redo : own.undo)?.();
    else void (again ? redoLast() : undoLast());
  });
}
