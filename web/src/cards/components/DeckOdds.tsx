// The decks that contain a card, and the chance of having drawn it in each.

import { Link } from "react-router";
import type { Card } from "../../state/client";
import { useAsked } from "../../state/query";
import { useGame } from "../../state/store";
import * as requests from "../api";

const TURN = 3;
const MOST = 4;

export function DeckOdds({ card }: { card: Card }) {
  const game = useGame((state) => state.game?.id ?? "");
  const decks = useGame((state) => state.decks);
  const holding = decks.filter((each) => each.cards[card.id]);
  const counts = holding.map((each) => [each.id, each.cards[card.id], each.size]);
  const { found } = useAsked(
    holding.length
      ? () =>
          requests.cardOdds({
            params: { path: { game_id: game, card_id: card.id }, query: { turn: TURN } },
          })
      : null,
    [game, card.id, counts],
  );
  if (!holding.length) return <span>in no deck</span>;
  const seen = (deck: string) => found?.find((each) => each.deck === deck)?.curve[TURN];
  return (
    <span>
      in{" "}
      {holding.slice(0, MOST).map((deck, place) => {
        const chance = seen(deck.id);
        return (
          <span key={deck.id}>
            {place > 0 && ", "}
            <Link
              to={`/${game}/decks?deck=${deck.id}&card=${card.id}&show=odds`}
              title={
                chance === undefined ? deck.name : `In ${deck.name} by turn ${TURN}: ${Math.round(100 * chance)} %`
              }
            >
              {deck.name}
              {chance === undefined ? "" : ` (by turn ${TURN}: ${Math.round(100 * chance)} %)`}
            </Link>
          </span>
        );
      })}
      {holding.length > MOST && ` and ${holding.length - MOST} more`}
    </span>
  );
}
