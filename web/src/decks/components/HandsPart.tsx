// Eight sample opening hands, each with its seed, with the redraw rule applied, next to the exact chance.

import { ArrowLeft, ArrowRight, Play } from "lucide-react";
import { Link } from "react-router";
import type { Deck } from "../../state/client";
import { useAsked } from "../../state/query";
import { useKept } from "../../state/roomAddresses";
import { useGame } from "../../state/store";
import { Face } from "../../ui/Face";
import { Hover } from "../../ui/Hover";
import { Counting } from "../../ui/Typing";
import { useWindowKeys } from "../../ui/windowKeys";
import * as requests from "../api";
import { percent } from "./OddsChart";
import { useOdds } from "./OddsPart";

const HANDS = 8;

export function HandsPart({ deck }: { deck: Deck | undefined }) {
  const game = useGame((state) => state.game);
  const cards = useGame((state) => state.cards);
  const seq = useGame((state) => state.seq);
  const [seed, setSeed] = useKept("decks/seed", 1);
  const [since, setSince] = useKept("decks/since", 1);
  const [asked] = useOdds(deck);
  const odds = asked.groups.length && !asked.reshuffle ? asked : null;
  const { found, trouble } = useAsked(
    game && deck && deck.size > 0
      ? () =>
          requests.deckHands({
            params: { path: { game_id: game.id, deck_id: deck.id } },
            body: { seed, since, odds },
          })
      : null,
    [game?.id, deck?.id, seed, since, odds, seq],
  );
  const step = (by: number) => {
    const next = Math.max(0, seed + by * HANDS);
    setSeed(next);
    if (next < since) setSince(next);
  };
  useWindowKeys((event) => {
    if (event.defaultPrevented || event.ctrlKey || event.metaKey || event.altKey) return;
    const target = event.target as HTMLElement;
    if (target.closest("input, textarea, select, [role=dialog], [role=menu]")) return;
    const by = { ArrowRight: 1, PageDown: 1, ArrowLeft: -1, PageUp: -1 }[event.key];
    // On a tab the arrows go to the next tab.
    if (!by || (event.key.startsWith("Arrow") && target.closest("[role=tab]"))) return;
    event.preventDefault();
    step(by);
  });
  if (!game) return null;
  if (!deck || deck.size === 0)
    return (
      <div className="empty">
        <p>{deck ? `${deck.name} has no cards yet.` : "No deck yet."} Hands are dealt from a deck.</p>
      </div>
    );
  return (
    <div className="hands mat">
      <div className="toolbar toolbar-mat hands-bar">
        <Counting
          label="Seed"
          value={seed}
          commit={(next) => {
            setSeed(next ?? 1);
            setSince(next ?? 1);
          }}
        />
        <button
          type="button"
          className="mat-button"
          title="← or Page Up"
          disabled={seed === 0}
          onClick={() => step(-1)}
        >
          <ArrowLeft size={14} aria-hidden="true" /> Eight before
        </button>
        <button type="button" className="mat-button" title="→ or Page Down" onClick={() => step(1)}>
          Next eight <ArrowRight size={14} aria-hidden="true" />
        </button>
        <span className="toolbar-end on-mat-soft" role="status">
          {found && found.exact !== null && found.exact !== undefined
            ? `kept ${found.tally} of ${found.dealt} (${percent((found.tally ?? 0) / found.dealt)}); exactly ${percent(found.exact)}`
            : asked.redraw
              ? ""
              : "A redraw rule in Odds says which hands are kept."}
        </span>
      </div>
      {trouble && (
        <p className="empty empty-mat">
          {trouble.detail} — {trouble.mend}
        </p>
      )}
      <ul className="hands-list" aria-label="Opening hands">
        {found?.hands.map((hand) => (
          <li key={hand.seed} className={`hand-rail ${hand.kept === false ? "hand-back" : ""}`}>
            <div className="hand-head on-mat-soft">
              <span className="num">{hand.seed}</span>
              {hand.kept !== null && <b>{hand.kept ? "kept" : "given back"}</b>}
              <Link className="hand-play" to={`/${game.id}/playtest?deck=${deck.id}&seed=${hand.seed}`}>
                <Play size={11} aria-hidden="true" /> {hand.again ? "Play it as dealt" : "Play it"}
              </Link>
            </div>
            <Rail cards={hand.again ?? hand.cards} titles={cards} />
            {hand.again && (
              <p className="hand-before on-mat-soft">
                was {hand.cards.map((id) => cards[id]?.title ?? "?").join(", ")}
              </p>
            )}
          </li>
        ))}
      </ul>
    </div>
  );
}

function Rail({ cards, titles }: { cards: string[]; titles: Record<string, { title: string }> }) {
  return (
    <div className="hand-cards" style={{ "--hand": Math.max(5, cards.length) } as React.CSSProperties}>
      {cards.map((id, place) => (
        <Hover key={`${id} ${place}`} card={id} side="top">
          <span className="hand-card">
            <Face card={id} title={titles[id]?.title ?? ""} />
          </span>
        </Hover>
      ))}
    </div>
  );
}
