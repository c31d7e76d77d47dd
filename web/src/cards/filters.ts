import type { Card, Standing } from "../state/client";

export type FilterId = "all" | "over" | "under" | "open" | "unwritten" | "overfull";

export const FILTERS: { id: FilterId; label: string; help: string }[] = [
  { id: "all", label: "All", help: "Every card" },
  { id: "over", label: "Over", help: "Worth more than its cost buys" },
  { id: "under", label: "Under", help: "Worth less than its cost buys" },
  { id: "open", label: "Open", help: "Some worth is not decided yet" },
  { id: "unwritten", label: "Unwritten", help: "Behaviour not written: its text prints, it does not play" },
  { id: "overfull", label: "Overfull", help: "Text does not fit the face" },
];

/** Whether a card is shown under a filter and a typed text (every word must occur). */
export function passes(
  card: Card | undefined,
  standing: Standing | undefined,
  filter: FilterId,
  text: string,
): boolean {
  if (!card) return false;
  if (filter === "overfull" && standing?.fits !== false) return false;
  if (filter === "unwritten" && standing?.written !== false) return false;
  if ((filter === "over" || filter === "under" || filter === "open") && standing?.judgement !== filter) return false;
  if (!text.trim()) return true;
  const all = `${card.code} ${card.title} ${Object.values(card.values).join(" ")} ${card.type}`.toLowerCase();
  return text
    .toLowerCase()
    .split(/\s+/)
    .every((word) => all.includes(word));
}
