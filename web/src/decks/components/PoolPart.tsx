// The pool: all cards that match a query, as a wall of faces.
import { useRef } from "react";
import { QueryBar, whole } from "../../query/components/QueryBar";
import { useFound } from "../../query/useFound";
import { choicesOf } from "../../state/choices";
import type { Deck, Game } from "../../state/client";
import { useKept } from "../../state/roomAddresses";
import { useGame } from "../../state/store";
import { Dot } from "../../ui/Dot";
import { counted } from "../../ui/plural";
import { PoolWall } from "./PoolWall";

export function PoolPart({ deck, asked }: { deck: Deck | undefined; asked: string | null }) {
  const game = useGame((state) => state.game);
  const cards = useGame((state) => state.cards);
  const [chips, setChips] = useKept<string[]>("decks/chips", []);
  const [draft, setDraft] = useKept("decks/draft", "");
  const [faction, setFaction] = useKept("decks/faction", "");
  const bar = useRef<HTMLInputElement>(null);
  const found = useFound(whole(chips, draft), whole(chips, ""), [], "");
  if (!game) return null;
  const list = factionsOf(game);
  const field = game.fields.find((each) => each.id === game.roles.faction);
  // A value that was removed since filters nothing.
  const chosen = list?.values.some((value) => value.name === faction) ? faction : "";
  const pool = chosen ? found.rows.filter((id) => cards[id]?.values[game.roles.faction ?? ""] === chosen) : found.rows;
  return (
    <div className="pool mat">
      <div className="toolbar toolbar-mat">
        <QueryBar
          ref={bar}
          chips={chips}
          setChips={setChips}
          draft={draft}
          setDraft={setDraft}
          found={found}
          leave={() => document.querySelector<HTMLElement>(".wall")?.focus()}
          label="Filter the pool"
          hint="Filter the pool"
        />
        {list && (
          <fieldset className="chips" aria-label={field?.name ?? "Faction"}>
            {list.values.map((value, place) => (
              <button
                key={value.id}
                type="button"
                className="chip"
                aria-pressed={chosen === value.name}
                onClick={() => setFaction(chosen === value.name ? "" : value.name)}
              >
                <Dot colour={value.colour} place={place} />
                {value.name}
              </button>
            ))}
          </fieldset>
        )}
        <span className="toolbar-end on-mat-soft">{counted(pool.length, "card")}</span>
      </div>
      {pool.length ? (
        <PoolWall cards={pool} deck={deck} start={asked} waiting={found.answered !== whole(chips, draft)} />
      ) : (
        <div className="empty empty-mat">
          <p>No cards match.</p>
          <button
            type="button"
            className="button"
            onClick={() => {
              setChips([]);
              setDraft("");
              setFaction("");
            }}
          >
            Show the whole pool
          </button>
        </div>
      )}
    </div>
  );
}

/** The list that the field of the faction chooses from; a game may have none. */
export function factionsOf(game: Game) {
  const list = choicesOf(game, game.roles.faction);
  return list && { ...list, values: list.values.filter((value) => !value.retired) };
}
