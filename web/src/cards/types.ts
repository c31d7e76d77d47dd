// Types shared by the components of this room.

export type CardsDialog = "import" | "columns" | "many" | "variants" | "generate" | "compare" | "replace" | null;
export type GridHandle = { focus: () => void };
export type ViewsProps = { current: () => Record<string, unknown>; open: (doc: Record<string, unknown>) => void };
export type Editing = { card: string; column: string; text: string | null } | null;
