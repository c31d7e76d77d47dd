import { Play, Plus, Trash2 } from "lucide-react";
import { useEffect, useMemo, useState } from "react";
import { Link, useSearchParams } from "react-router";
import { useKept } from "../shell/places";
import type { Card, Deck, Game } from "../state/client";
import { addDeck, renameDeck, setCount, takeDeckOut } from "../state/edits";
import { useGame } from "../state/store";
import { Dot } from "../ui/Dot";
import { Hover } from "../ui/Hover";
import { PoolWall } from "./PoolWall";

/** The pool as a wall of faces, and the list beside it; what is legal is said while cards go in. */
export function DecksPage() {
  const game = useGame((state) => state.game);
  const cards = useGame((state) => state.cards);
  const order = useGame((state) => state.order);
  const decks = useGame((state) => state.decks);
  const [params, setParams] = useSearchParams();
  const [text, setText] = useKept("decks/text", params.get("q") ?? "");
  const [faction, setFaction] = useKept("decks/faction", "");
  const chosen = params.get("deck");
  const deck = decks.find((each) => each.id === chosen) ?? decks[0];
  const asked = params.get("card");
  const choose = (id: string) => setParams(asked ? { deck: id, card: asked } : { deck: id }, { replace: true });
  const pool = useMemo(() => {
    const words = text.toLowerCase().split(/\s+/).filter(Boolean);
    const field = game?.roles.faction ?? "";
    return order.filter((id) => {
      const card = cards[id];
      if (!card || (faction && card.values[field] !== faction)) return false;
      const all = `${card.code} ${card.title} ${Object.values(card.values).join(" ")}`.toLowerCase();
      return words.every((word) => all.includes(word));
    });
  }, [order, cards, text, faction, game]);
  if (!game) return null;
  const factionName = game.fields.find((field) => field.id === game.roles.faction)?.name ?? "Faction";
  const factions = factionsOf(game)?.values ?? [];
  const make = async () => {
    const edit = await addDeck("New deck");
    if (edit?.made[0]) choose(edit.made[0]);
  };
  return (
    <div className="decks-room">
      <section className="pool mat" aria-label="Pool">
        <div className="toolbar toolbar-mat">
          <input
            type="search"
            className="input search"
            placeholder="Filter the pool"
            aria-label="Filter the pool"
            value={text}
            onChange={(event) => setText(event.target.value)}
          />
          <fieldset className="chips" aria-label={factionName}>
            {factions.map((value) => (
              <button
                key={value.id}
                type="button"
                className="chip"
                aria-pressed={faction === value.name}
                onClick={() => setFaction(faction === value.name ? "" : value.name)}
              >
                <Dot colour={value.colour} place={factions.indexOf(value)} />
                {value.name}
              </button>
            ))}
          </fieldset>
          <span className="toolbar-end on-mat-soft">
            {pool.length} cards · <kbd>+</kbd> and <kbd>−</kbd> add and remove
          </span>
        </div>
        {pool.length ? (
          <PoolWall cards={pool} deck={deck} start={asked} />
        ) : (
          <div className="empty empty-mat">
            <p>No cards match.</p>
            <button
              type="button"
              className="button"
              onClick={() => {
                setText("");
                setFaction("");
              }}
            >
              Show the whole pool
            </button>
          </div>
        )}
      </section>
      <aside className="deck-list" data-pane aria-label="Deck">
        <div className="deck-choice">
          <label className="unseen" htmlFor="deck-choice">
            Deck
          </label>
          <select
            id="deck-choice"
            className="select"
            value={deck?.id ?? ""}
            onChange={(event) => choose(event.target.value)}
          >
            {decks.map((each) => (
              <option key={each.id} value={each.id}>
                {each.name} — {each.legal ? "legal" : "not legal"}
              </option>
            ))}
          </select>
          <button type="button" className="button" onClick={() => void make()}>
            <Plus size={15} aria-hidden="true" /> New
          </button>
        </div>
        {deck ? (
          <DeckView key={deck.id} deck={deck} game={game} cards={cards} />
        ) : (
          <p className="empty">No deck yet. Make one, then put cards in from the pool with +.</p>
        )}
      </aside>
    </div>
  );
}

function DeckView({ deck, game, cards }: { deck: Deck; game: Game; cards: Record<string, Card> }) {
  const [name, setName] = useState(deck.name);
  useEffect(() => setName(deck.name), [deck.name]);
  const costOf = (id: string) => Number.parseInt(cards[id]?.values[game.roles.cost ?? ""] ?? "", 10);
  const rows = Object.keys(deck.cards).sort(
    (one, other) =>
      (costOf(one) || 0) - (costOf(other) || 0) || (cards[one]?.title ?? "").localeCompare(cards[other]?.title ?? ""),
  );
  const { format } = game;
  const wanted =
    format.least_cards === format.most_cards ? `${format.least_cards}` : `${format.least_cards}–${format.most_cards}`;
  return (
    <>
      <div className="deck-name">
        <input
          className="input"
          aria-label="Name of the deck"
          value={name}
          onChange={(event) => setName(event.target.value)}
          onBlur={() => name.trim() && name !== deck.name && void renameDeck(deck.id, name)}
          onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
        />
        <Link className="button button-main" to={`/${game.id}/playtest?deck=${deck.id}`}>
          <Play size={14} aria-hidden="true" /> Play
        </Link>
        <button
          type="button"
          className="icon-button"
          aria-label="Remove this deck"
          title="Remove this deck; undo brings it back"
          onClick={() => void takeDeckOut(deck.id)}
        >
          <Trash2 size={15} aria-hidden="true" />
        </button>
      </div>
      <div className={`legality ${deck.legal ? "legality-holds" : "legality-needs"}`} role="status" aria-live="polite">
        <b>
          {deck.size} / {wanted}
        </b>
        {deck.legal ? (
          <span>legal in {format.name}</span>
        ) : (
          <ul>
            {deck.problems.map((problem) => (
              <li key={problem.where + problem.what}>
                {problem.what} — {problem.mend}
              </li>
            ))}
          </ul>
        )}
      </div>
      <DeckShape deck={deck} game={game} />
      <ul className="deck-rows" aria-label="Cards of the deck">
        {rows.map((id) => {
          const card = cards[id];
          const count = deck.cards[id] ?? 0;
          return (
            <li key={id} className="deck-row">
              <span className="deck-cost">{Number.isNaN(costOf(id)) ? "–" : costOf(id)}</span>
              <Hover card={id}>
                <Link to={`/${game.id}/cards?card=${id}`} className="deck-card">
                  <FactionDot game={game} card={card} />
                  {card?.title ?? "a card that is gone"}
                </Link>
              </Hover>
              <span className="stepper">
                <button
                  type="button"
                  aria-label={`One ${card?.title ?? "card"} less`}
                  onClick={() => void setCount(deck.id, id, count - 1)}
                >
                  −
                </button>
                <span className="num">{count}</span>
                <button
                  type="button"
                  aria-label={`One ${card?.title ?? "card"} more`}
                  onClick={() => void setCount(deck.id, id, count + 1)}
                >
                  +
                </button>
              </span>
            </li>
          );
        })}
      </ul>
      {rows.length === 0 && <p className="empty">Empty. Select a card of the pool and press +, or double-click it.</p>}
    </>
  );
}

/** The deck's curve by cost, and its split by faction and type. */
function DeckShape({ deck, game }: { deck: Deck; game: Game }) {
  const costs = Object.keys(deck.curve).map(Number);
  const last = Math.max(6, ...costs);
  const most = Math.max(1, ...Object.values(deck.curve));
  const list = factionsOf(game);
  return (
    <div className="deck-shape">
      <div
        className="curve"
        role="img"
        aria-label={`Cards by cost: ${costs.map((cost) => `${deck.curve[cost]} at ${cost}`).join(", ") || "none"}`}
      >
        {Array.from({ length: last + 1 }, (_, cost) => (
          <div key={cost} className="curve-bar">
            <span className="curve-count">{deck.curve[cost] || ""}</span>
            <span className="curve-fill" style={{ height: `${(44 * (deck.curve[cost] ?? 0)) / most}px` }} />
            <span className="curve-cost">{cost}</span>
          </div>
        ))}
      </div>
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
    </div>
  );
}

function FactionDot({ game, card }: { game: Game; card: Card | undefined }) {
  const values = factionsOf(game)?.values ?? [];
  const name = card?.values[game.roles.faction ?? ""];
  const place = values.findIndex((value) => value.name === name);
  return <Dot colour={values[place]?.colour} place={place} />;
}

/** The list that the field of the faction chooses from; a game may have none. */
function factionsOf(game: Game) {
  const field = game.fields.find((each) => each.id === game.roles.faction);
  return field?.kind === "choice" ? game.lists.find((each) => each.id === field.list) : undefined;
}
