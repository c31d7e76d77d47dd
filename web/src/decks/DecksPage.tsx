// Decks: pool, odds, sample hands and comparisons on one side, the deck list on the other.
import { useEffect } from "react";
import { useAddress } from "../state/address";
import { addDeck } from "../state/deckEdits";
import { freeName } from "../state/names";
import { useGame } from "../state/store";
import { Tabs, tabId } from "../ui/Tabs";
import { AllDecksPart } from "./components/AllDecksPart";
import { ComparePart } from "./components/ComparePart";
import { DeckPanel } from "./components/DeckPanel";
import { HandsPart } from "./components/HandsPart";
import { OddsPart } from "./components/OddsPart";
import { PoolPart } from "./components/PoolPart";

const PARTS = [
  ["pool", "Pool"],
  ["odds", "Odds"],
  ["hands", "Opening hands"],
  ["compare", "Compare"],
  ["all", "All decks"],
] as const;
type Part = (typeof PARTS)[number][0];

export function DecksPage() {
  const game = useGame((state) => state.game);
  const decks = useGame((state) => state.decks);
  const [params, setParams] = useAddress();
  const chosen = params.get("deck");
  const deck = decks.find((each) => each.id === chosen) ?? decks[0];
  const asked = params.get("card");
  const part = (PARTS.find(([id]) => id === params.get("show"))?.[0] ?? "pool") as Part;
  const go = (next: { deck?: string; show?: Part; card?: string | null }) =>
    setParams(
      (now) => {
        const to: Record<string, string> = {};
        const id = next.deck ?? now.get("deck") ?? deck?.id;
        const show = next.show ?? now.get("show");
        const card = next.card === undefined ? now.get("card") : next.card;
        if (id) to.deck = id;
        if (show && show !== "pool") to.show = show;
        if (card) to.card = card;
        return to;
      },
      { replace: true },
    );
  useEffect(() => {
    // What is under the pointer may be dropped nowhere but on a deck or the pool.
    const stop = (event: DragEvent) => {
      if (event.dataTransfer?.types.includes("text/x-card")) event.preventDefault();
    };
    window.addEventListener("drop", stop);
    return () => window.removeEventListener("drop", stop);
  }, []);
  if (!game) return null;
  const make = async (seed: number | null = null) => {
    const edit = await addDeck(
      freeName(
        "New deck",
        decks.map((each) => each.name),
      ),
      deck?.format ?? "",
      seed,
    );
    if (edit?.made[0]) go({ deck: edit.made[0] });
  };
  return (
    <div className="decks-room">
      <section className="decks-main" aria-label="Decks">
        <Tabs
          label="What to look at"
          parts={PARTS}
          at={part}
          choose={(id) => go({ show: id, card: null })}
          panel="decks-part"
        />
        <div className="decks-part" id="decks-part" role="tabpanel" aria-labelledby={tabId("decks-part", part)}>
          {part === "pool" && <PoolPart deck={deck} asked={asked} />}
          {part === "odds" && <OddsPart deck={deck} asked={asked} />}
          {part === "hands" && <HandsPart deck={deck} />}
          {part === "compare" && <ComparePart deck={deck} key={deck?.id} />}
          {part === "all" && <AllDecksPart choose={(id) => go({ deck: id, show: "pool" })} />}
        </div>
      </section>
      <aside className="deck-list" data-pane aria-label="Deck">
        <DeckPanel deck={deck} choose={(id) => go({ deck: id })} make={make} />
      </aside>
    </div>
  );
}
