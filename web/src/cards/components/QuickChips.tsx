// Chips for the most common queries, with the number of matching cards.
import { useMemo } from "react";
import { useGame } from "../../state/store";

const QUICK: { query: string; label: string; help: string }[] = [
  { query: "unfinished", label: "Unfinished", help: "Something is still to be filled in, or typed wrongly" },
  { query: "over", label: "Over", help: "Worth more than its cost buys" },
  { query: "under", label: "Under", help: "Worth less than its cost buys" },
  { query: "open", label: "Undecided", help: "Some worth is not decided yet" },
  { query: "behaviour not written", label: "Effect missing", help: "Its text prints, but does not play" },
  { query: "text does not fit", label: "Text too long", help: "The face is too small for the text" },
  { query: "any fault", label: "Face problems", help: "The proof of the face finds something" },
];
const ON_PAPER = { query: "stale on paper", label: "Out of date", help: "The face is not as it was printed last" };

type QuickProps = { chips: string[]; toggle: (flag: string) => void; setId: string };

/** Chips for the most common queries, with the number of matching cards. */
export function QuickChips({ chips, toggle, setId }: QuickProps) {
  const cards = useGame((state) => state.cards);
  const order = useGame((state) => state.order);
  const standings = useGame((state) => state.standings);
  const printed = useGame((state) => (state.game?.runs ?? 0) > 0);
  const counts = useMemo(() => {
    const found: Record<string, number> = {};
    const count = (flag: string, holds: boolean | undefined) => {
      if (holds) found[flag] = (found[flag] ?? 0) + 1;
    };
    for (const id of order) {
      const standing = standings[id];
      if (!standing || (setId && cards[id]?.set !== setId)) continue;
      count("unfinished", standing.unfinished);
      count(standing.judgement, true);
      count("behaviour not written", !standing.written);
      count("text does not fit", !standing.fits);
      count("any fault", standing.faults.length > 0);
      count("stale on paper", standing.paper === "stale");
    }
    return found;
  }, [cards, order, standings, setId]);
  return (
    <fieldset className="chips" aria-label="Show only">
      {(printed ? [...QUICK, ON_PAPER] : QUICK).map(({ query, label, help }) => (
        <button
          key={query}
          type="button"
          className={`chip ${counts[query] ? "" : "chip-none"}`}
          title={help}
          aria-pressed={chips.includes(query)}
          onClick={() => toggle(query)}
        >
          {label} <span className={counts[query] ? "chip-count" : "unseen"}>{counts[query] ?? 0}</span>
        </button>
      ))}
    </fieldset>
  );
}
