// Types shared by the components of this room.

import type { Stand } from "../ui/CellSheet";

export type SheetName = "stats" | "effects" | "times" | "budgets";
/** The focused cell: its sheet and its place there. */
export type SheetFocus = { sheet: SheetName; at: Stand };
/** A draggable point of a line chart. A key press or a drag moves it by `step` points. */
export type Handle = { x: number; y: number; label: string; step: number };
