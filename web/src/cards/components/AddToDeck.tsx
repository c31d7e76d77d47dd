// Add a copy of the card to a deck, with a menu of the other decks.
import { useState } from "react";
import { useGo } from "../../state/address";
import type { Card } from "../../state/client";
import { addDeck, countBy } from "../../state/deckEdits";
import { freeName } from "../../state/names";
import { useKept } from "../../state/roomAddresses";
import { useGame } from "../../state/store";
import { Menu } from "../../ui/Menu";

export function AddToDeck({ card }: { card: Card }) {
  const game = useGame((state) => state.game);
  const decks = useGame((state) => state.decks);
  const go = useGo();
  const [last, setLast] = useKept("decks/last", "");
  const [said, setSaid] = useState<{ card: string; text: string } | null>(null);
  const into = async (deck: string, name: string, section = "") => {
    setLast(deck);
    const edit = await countBy(deck, card.id, 1, section);
    const held = useGame.getState().decks.find((each) => each.id === deck);
    const count = (section ? held?.sections[section]?.[card.id] : held?.cards[card.id]) ?? 0;
    if (edit) setSaid({ card: card.id, text: `${count} in ${held?.name ?? name}` });
  };
  const intoNew = async () => {
    const name = freeName(
      "New deck",
      decks.map((each) => each.name),
    );
    const edit = await addDeck(name);
    if (edit?.made[0]) await into(edit.made[0], name);
  };
  const target = decks.find((each) => each.id === last) ?? decks[0];
  return (
    <span className="put-in">
      <button
        type="button"
        className="mat-button"
        title={target ? `One more in ${target.name}` : "One in a new deck"}
        onClick={() => void (target ? into(target.id, target.name) : intoNew())}
      >
        {said?.card === card.id ? said.text : "Put in a deck"}
      </button>
      <Menu
        trigger={{ className: "mat-button put-other", label: "Put in another deck", children: "▾" }}
        items={[
          ...decks.map((deck) => {
            const count = deck.cards[card.id] ?? 0;
            return {
              id: deck.id,
              act: () => void into(deck.id, deck.name),
              shown: (
                <>
                  One more in <b>{deck.name}</b> <span className="soft">{count ? `has ${count}` : "has none"}</span>
                </>
              ),
            };
          }),
          { id: "new", shown: "One in a new deck", act: () => void intoNew() },
          { id: "line", line: true },
          { id: "see", shown: "See it in Decks", act: () => go(`/${game?.id}/decks?card=${card.id}`) },
        ]}
      />
      <span className="unseen" role="status">
        {said?.card === card.id ? said.text : ""}
      </span>
    </span>
  );
}
