// The deck list by section. Arrows move, + and − change the count, cards are dragged in, out and between sections.

import { memo, useRef } from "react";
import { Link } from "react-router";
import { TryInHand } from "../../playtest/components/TryInHand";
import type { Card, Deck, Game } from "../../state/client";
import { countBy, setCounts } from "../../state/deckEdits";
import { useGame } from "../../state/store";
import { Dot } from "../../ui/Dot";
import { Hover } from "../../ui/Hover";
import type { DeckRules } from "../types";
import { factionsOf } from "./PoolPart";

type Props = { deck: Deck; rules: DeckRules };

export function DeckRows({ deck, rules }: Props) {
  const game = useGame((state) => state.game);
  const cards = useGame((state) => state.cards);
  const box = useRef<HTMLDivElement>(null);
  if (!game) return null;
  const known = [...rules.sections];
  const sections = [
    { id: "", name: rules.main, least: rules.least_cards, most: rules.most_cards as number | null },
    ...known,
    ...Object.keys(deck.sections)
      .filter((id) => !known.some((each) => each.id === id))
      .map((id) => ({ id, name: `${id} (not in ${rules.name})`, least: 0, most: null })),
  ];
  const press = (event: React.KeyboardEvent) => {
    const row = (event.target as HTMLElement).closest<HTMLElement>("[data-row]");
    if (!row || event.ctrlKey || event.metaKey || event.altKey) return;
    const rows = [...(box.current?.querySelectorAll<HTMLElement>("[data-row]") ?? [])];
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    const { row: card = "", section = "" } = row.dataset;
    const by = event.key === "+" || event.key === "=" ? 1 : event.key === "-" || event.key === "Delete" ? -1 : 0;
    if (step) {
      rows[rows.indexOf(row) + step]?.querySelector("a")?.focus();
    } else if (by) {
      // The last copy takes the row with it: the focus goes to the next.
      const count = Number(row.dataset.count);
      const next = rows[rows.indexOf(row) + 1] ?? rows[rows.indexOf(row) - 1];
      if (by < 0 && count === 1) next?.querySelector("a")?.focus();
      void countBy(deck.id, card, by, section);
    } else return;
    event.preventDefault();
  };
  return (
    <div className="deck-rows" ref={box} onKeyDown={press} role="group" aria-label="List of the deck">
      {sections.map((section) => {
        const counts = section.id ? (deck.sections[section.id] ?? {}) : deck.cards;
        const total = Object.values(counts).reduce((sum, count) => sum + count, 0);
        return (
          <section
            key={section.id}
            aria-label={section.name}
            className="deck-section"
            onDragOver={(event) => {
              const { types } = event.dataTransfer;
              if (types.includes("text/x-card") || types.includes("text/x-listed")) event.preventDefault();
            }}
            onDrop={(event) => {
              const fresh = event.dataTransfer.getData("text/x-card");
              const [moved, from = ""] = event.dataTransfer.getData("text/x-listed").split(" ");
              event.preventDefault();
              if (fresh) void countBy(deck.id, fresh, 1, section.id);
              else if (moved && from !== section.id) {
                // One step: it is in one of the two at any moment.
                const of = (id: string) => (id ? deck.sections[id] : deck.cards)?.[moved] ?? 0;
                const moves = [
                  { section: from, card: moved, copies: Math.max(0, of(from) - 1) },
                  { section: section.id, card: moved, copies: of(section.id) + 1 },
                ];
                void setCounts(deck.id, moves, `${cards[moved]?.title ?? "a card"} into ${section.name}`.slice(0, 120));
              }
            }}
          >
            {sections.length > 1 && (
              <h3 className="deck-section-head">
                {section.name} <span className="num">{total}</span>
                {section.most !== null && (
                  <span className="soft">
                    {" "}
                    of {section.least === section.most ? section.least : `${section.least}–${section.most}`}
                  </span>
                )}
              </h3>
            )}
            <ul aria-label={section.id ? `Cards of ${section.name}` : "Cards of the deck"}>
              {inOrder(Object.keys(counts), cards, game).map((id) => (
                <Row
                  key={id}
                  game={game}
                  card={cards[id]}
                  id={id}
                  section={section.id}
                  count={counts[id] ?? 0}
                  deck={deck.id}
                />
              ))}
            </ul>
            {total === 0 && (
              <p className="soft deck-empty">
                {section.id ? "Drag cards here." : "Empty. Select a card of the pool and press +, or type its name."}
              </p>
            )}
          </section>
        );
      })}
    </div>
  );
}

type RowProps = {
  game: Game;
  card: Card | undefined;
  id: string;
  section: string;
  count: number;
  deck: string;
};

/** Kept as it is while another row is counted. */
const Row = memo(function Row({ game, card, id, section, count, deck }: RowProps) {
  const change = (by: number) => void countBy(deck, id, by, section);
  const cost = card?.values[game.roles.cost ?? ""];
  const title = card?.title ?? "a card that is gone";
  const values = factionsOf(game)?.values ?? [];
  const place = values.findIndex((value) => value.name === card?.values[game.roles.faction ?? ""]);
  return (
    <li
      className="deck-row"
      data-row={id}
      data-section={section}
      data-count={count}
      draggable
      onDragStart={(event) => {
        event.dataTransfer.setData("text/x-listed", `${id} ${section}`);
        event.dataTransfer.effectAllowed = "move";
      }}
    >
      <span className="deck-cost">{cost || "–"}</span>
      <Hover card={id}>
        <Link to={`/${game.id}/cards?card=${id}`} className="deck-card">
          {place >= 0 && <Dot colour={values[place]?.colour} place={place} />}
          {title}
        </Link>
      </Hover>
      <TryInHand card={id} deck={deck} className="deck-try" bare />
      <span className="stepper">
        <button type="button" tabIndex={-1} aria-label={`One ${title} less`} onClick={() => change(-1)}>
          −
        </button>
        <span className="num">{count}</span>
        <button type="button" tabIndex={-1} aria-label={`One ${title} more`} onClick={() => change(1)}>
          +
        </button>
      </span>
    </li>
  );
});

/** By cost, then name. */
export function inOrder(ids: string[], cards: Record<string, Card>, game: Game): string[] {
  const cost = (id: string) => Number.parseInt(cards[id]?.values[game.roles.cost ?? ""] ?? "", 10) || 0;
  return ids.sort(
    (one, other) => cost(one) - cost(other) || (cards[one]?.title ?? "").localeCompare(cards[other]?.title ?? ""),
  );
}
