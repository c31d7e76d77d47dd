// The deck's curve, types and factions, worth, and words to read.

import { choicesOf } from "../../state/choices";
import type { Deck, Game } from "../../state/client";
import { useAsked } from "../../state/query";
import { useGame } from "../../state/store";
import { Dot } from "../../ui/Dot";
import { points } from "../../ui/Verdict";
import * as requests from "../api";
import { factionsOf } from "./PoolPart";

const TAGS = 6;
/** What costs more than so much stands with it, and what costs less than nothing with 0. */
const LAST_BAR = 20;
const within = (cost: number, last: number) => Math.min(last, Math.max(0, Math.floor(cost)));

export function DeckShape({ deck, game }: { deck: Deck; game: Game }) {
  const seq = useGame((state) => state.seq);
  const { found } = useAsked(
    () =>
      requests.measureDeck({
        params: { path: { game_id: game.id, deck_id: deck.id } },
      }),
    [game.id, deck.id, seq],
  );
  const costs = Object.keys(deck.curve).map(Number);
  const last = Math.min(LAST_BAR, Math.max(6, ...costs));
  const bars = Array.from({ length: last + 1 }, (_, bar) => ({
    name: `${bar === 0 && costs.some((cost) => cost < 0) ? "≤" : ""}${bar}${bar === last && costs.some((cost) => cost > bar) ? "+" : ""}`,
    count: costs.reduce((sum, cost) => (within(cost, last) === bar ? sum + (deck.curve[cost] ?? 0) : sum), 0),
  }));
  const most = Math.max(1, ...bars.map((bar) => bar.count));
  const list = factionsOf(game);
  const rarities = choicesOf(game, game.roles.rarity);
  const tags = Object.entries(deck.tags);
  return (
    <div className="deck-shape">
      {costs.length > 0 && (
        <div
          className="curve"
          role="img"
          aria-label={`Cards by cost: ${costs.map((cost) => `${deck.curve[cost]} at ${cost}`).join(", ") || "none"}`}
        >
          {bars.map(({ name, count }) => (
            <div key={name} className="curve-bar">
              <span className="curve-count">{count || ""}</span>
              <span className="curve-fill" style={{ height: `${(44 * count) / most}px` }} />
              <span className="curve-cost">{name}</span>
            </div>
          ))}
        </div>
      )}
      <div className="splits">
        {list?.values
          .filter((value) => deck.factions[value.id])
          .map((value) => (
            <span key={value.id}>
              <Dot colour={value.colour} place={list.values.indexOf(value)} />
              {value.name} {deck.factions[value.id]}
            </span>
          ))}
        {game.types
          .filter((type) => deck.types[type.id])
          .map((type) => (
            <span key={type.id} className="soft">
              {type.name} {deck.types[type.id]}
            </span>
          ))}
      </div>
      <details className="deck-more">
        <summary>
          {found && found.different > 0 && found.unpriced === deck.size
            ? `nothing priced · ${found.words} words`
            : found && found.different > 0
              ? `worth ${points(found.worth, false)} for ${points(found.budget, false)}${found.unpriced ? `, ${found.unpriced} unpriced` : ""} · ${found.words} words`
              : "Rarities, tags, worth"}
        </summary>
        <div className="more-splits">
          {rarities?.values
            .filter((value) => deck.rarities[value.id])
            .map((value) => (
              <span key={value.id}>
                {value.name} {deck.rarities[value.id]}
              </span>
            ))}
        </div>
        <div className="more-splits soft">
          {tags.slice(0, TAGS).map(([tag, count]) => (
            <span key={tag}>
              {tag} {count}
            </span>
          ))}
          {tags.length > TAGS && <span>and {tags.length - TAGS} more tags</span>}
          {found && (
            <span>
              {found.different} different cards, cost {found.cost} in all
            </span>
          )}
        </div>
      </details>
    </div>
  );
}
