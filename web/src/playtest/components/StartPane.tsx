import { Play } from "lucide-react";
import { useState } from "react";
import { Link } from "react-router";
import type { Deck, Game, Schemas } from "../../state/client";
import { useAsked } from "../../state/query";
import { useGame } from "../../state/store";
import { Face } from "../../ui/Face";
import { counted } from "../../ui/plural";
import * as requests from "../api";
import type { Against } from "../types";

type Props = {
  game: Game;
  deck: string | null;
  /** The seed that was asked for, as text. */
  asked: string;
  begin: (deck: string, seed: number | null, against: Against) => Promise<void>;
  open: (table: string) => void;
};
type Brief = Schemas["PlaytestBrief"];

/** So many games are shown, and so many more at a press, as far as the server tells. */
const AT_FIRST = 8;
const MORE = 24;
const MOST_ASKED = 1_000;

/** Which deck, which seed; and the games that were played last, or wait to be played on. */
export function StartPane({ game, deck, asked, begin, open }: Props) {
  const decks = useGame((state) => state.decks);
  const [chosen, setChosen] = useState(deck ?? "");
  const [seed, setSeed] = useState(asked);
  const [against, setAgainst] = useState<Against>({
    deck: "",
    players: ["plain", "plain", "plain"],
    second: false,
    mine: "person",
    seats: 0,
  });
  const [most, setMost] = useState(AT_FIRST);
  const { found } = useAsked<Brief[]>(() => {
    // One more tells that there are older ones.
    const query = { most: Math.min(MOST_ASKED, most + 1) };
    return requests.playtests({ params: { path: { game_id: game.id }, query } });
  }, [game.id, most]);
  const recent = found?.slice(0, most);
  // Who comes from a deck plays with it, also where everyone begins with the same one.
  const alike = !deck && Object.keys(game.starting_deck).length > 0;
  const now = alike ? undefined : (decks.find((each) => each.id === chosen) ?? decks[0]);
  if (!now && !alike)
    return (
      <div className="start start-none mat">
        <div className="start-card">
          <h1>Playtest</h1>
          <p>
            There is no deck yet. <Link to={`/${game.id}/decks`}>Build one</Link> first.
          </p>
        </div>
      </div>
    );
  return (
    <form
      className="start mat"
      onSubmit={(event) => {
        event.preventDefault();
        void begin(now?.id ?? "", seed.trim() ? Number(seed) : null, { ...against, seats: seatsOf(game, against) });
      }}
    >
      {now ? (
        <fieldset className="start-decks">
          <legend>Which deck?</legend>
          {decks.map((each) => (
            <DeckChoice key={each.id} game={game} deck={each} chosen={each.id === now.id} choose={setChosen} />
          ))}
        </fieldset>
      ) : (
        <StartingDeck game={game} />
      )}
      <div className="start-card">
        <h1>Playtest</h1>
        <p className="start-what">
          {now ? `${now.name}, ${counted(now.size, "card")}` : "Everyone begins with the same deck."}
        </p>
        {game.most_seats > game.least_seats && <SeatNumber game={game} against={against} set={setAgainst} />}
        {seatsOf(game, against) > 1 && (
          <>
            {now && (
              <label>
                Against
                <select
                  className="input"
                  value={against.deck}
                  onChange={(event) => setAgainst({ ...against, deck: event.target.value })}
                >
                  <option value="">the same deck</option>
                  {decks
                    .filter((each) => each.id !== now?.id)
                    .map((each) => (
                      <option key={each.id} value={each.id}>
                        {each.name}
                      </option>
                    ))}
                </select>
              </label>
            )}
            <SeatPlayers game={game} against={against} set={setAgainst} />
          </>
        )}
        <label>
          Seed
          <input
            className="input"
            inputMode="numeric"
            pattern="[0-9]*"
            maxLength={15}
            placeholder="random if empty"
            value={seed}
            onChange={(event) => setSeed(event.target.value.replace(/\D/g, ""))}
          />
        </label>
        <p className="soft">The same deck, seed and decisions give the same game, here and anywhere.</p>
        <button type="submit" className="button button-main start-go">
          <Play size={15} aria-hidden="true" /> Shuffle and draw
        </button>
        <h2>Latest games</h2>
        {recent?.length === 0 && <p className="soft">No matches yet. Matches you leave are kept here.</p>}
        <ul className="start-recent">
          {recent?.map((each) => (
            <li key={each.id}>
              <button type="button" className="start-small mat" onClick={() => open(each.id)}>
                <span className="start-small-sides" aria-hidden="true">
                  {each.rival && <i />}
                  <i />
                </span>
                <b>{each.name || each.deck_name}</b>
                <span className="on-mat-soft">
                  {each.rival && each.rival !== each.deck_name ? `against ${each.rival}, ` : ""}seed {each.seed},{" "}
                  {counted(each.taken, "decision")}
                </span>
              </button>
            </li>
          ))}
        </ul>
        {found && found.length > most && (
          <button
            type="button"
            className="small-button start-older"
            onClick={() => setMost(Math.min(MOST_ASKED, most + MORE))}
          >
            Show older games
          </button>
        )}
      </div>
    </form>
  );
}

/** The number of seats that is chosen, or else the usual one: rules can change while this pane is open. */
const seatsOf = (game: Game, { seats }: Against): number =>
  seats >= game.least_seats && seats <= game.most_seats ? seats : game.seats;

type SeatsProps = { game: Game; against: Against; set: (against: Against) => void };

/** The deck with which everyone begins: each card once, with its number. */
function StartingDeck({ game }: { game: Game }) {
  const cards = useGame((state) => state.cards);
  const held = Object.entries(game.starting_deck);
  return (
    <section className="start-decks" aria-label="The starting deck">
      <h2>Everyone begins with these {held.reduce((sum, [, count]) => sum + count, 0)} cards</h2>
      <ul className="start-alike">
        {held.map(([id, count]) => (
          <li key={id}>
            <span aria-hidden="true">
              <Face card={id} title={cards[id]?.title ?? ""} />
            </span>
            {cards[id]?.title ?? id} <b className="num">×{count}</b>
          </li>
        ))}
      </ul>
    </section>
  );
}

function SeatNumber({ game, against, set }: SeatsProps) {
  const numbers = Array.from({ length: game.most_seats - game.least_seats + 1 }, (_, at) => game.least_seats + at);
  return (
    <fieldset className="seat-numbers">
      <legend>Seats</legend>
      {numbers.map((seats) => (
        <label key={seats}>
          <input
            type="radio"
            name="seats"
            checked={seatsOf(game, against) === seats}
            onChange={() => set({ ...against, seats, second: against.second && seats > 1 })}
          />
          {seats}
        </label>
      ))}
    </fieldset>
  );
}

/** One line for each seat: one's own, then the others in the order of play. */
function SeatPlayers({ game, against, set }: SeatsProps) {
  const others = against.players.slice(0, seatsOf(game, against) - 1);
  return (
    <>
      <label>
        Your own seat
        <select
          className="input"
          value={against.mine}
          onChange={(event) => set({ ...against, mine: event.target.value as Against["mine"] })}
        >
          <option value="person">you play</option>
          {game.automatic_players.map((each) => (
            <option key={each.id} value={each.id}>
              watch an automatic player: {each.name}
            </option>
          ))}
        </select>
      </label>
      {others.map((player, at) => (
        <label key={at}>
          {others.length > 1 ? `Rival ${at + 1} played by` : "Played by"}
          <select
            className="input"
            value={player}
            onChange={(event) =>
              set({
                ...against,
                players: against.players.map((each, place) =>
                  place === at ? (event.target.value as Against["mine"]) : each,
                ),
              })
            }
          >
            {game.automatic_players.map((each) => (
              <option key={each.id} value={each.id}>
                an automatic player: {each.name}
              </option>
            ))}
            <option value="person">another person, at this screen</option>
          </select>
        </label>
      ))}
      {others.length > 0 && (
        <label className="start-tick">
          <input
            type="checkbox"
            checked={against.second}
            onChange={(event) => set({ ...against, second: event.target.checked })}
          />
          Your rival goes first
        </label>
      )}
    </>
  );
}

/** So many of a deck's cards are shown, stepped so that each one's spine is seen. */
const SHOWN = 9;

type ChoiceProps = { game: Game; deck: Deck; chosen: boolean; choose: (deck: string) => void };

function DeckChoice({ game, deck, chosen, choose }: ChoiceProps) {
  const cards = useGame((state) => state.cards);
  const cost = (id: string) => Number(cards[id]?.values[game.roles.cost ?? ""] || Infinity);
  const ids = Object.keys(deck.cards)
    .filter((id) => cards[id])
    .sort((one, other) => cost(one) - cost(other) || (cards[one]?.code ?? "").localeCompare(cards[other]?.code ?? ""));
  const step = Math.max(1, ids.length / SHOWN);
  const shown = Array.from({ length: Math.min(SHOWN, ids.length) }, (_, place) => ids[Math.floor(place * step)] ?? "");
  const [problem] = deck.problems;
  return (
    <label className={`start-deck ${chosen ? "start-chosen" : ""}`}>
      <span className="start-deck-head">
        <input type="radio" name="deck" checked={chosen} onChange={() => choose(deck.id)} />
        <b>{deck.name}</b>
        <span className="on-mat-soft">{counted(deck.size, "card")}</span>
        {deck.legal ? (
          <span className="on-mat-soft">legal</span>
        ) : (
          <span className="start-not" title={deck.problems.map((each) => `${each.what}: ${each.mend}`).join("\n")}>
            {problem ? problem.what : "not legal"}
          </span>
        )}
      </span>
      <span className="start-fan" aria-hidden="true">
        {shown.map((id) => (
          <span key={id} className="start-fan-card">
            <Face card={id} title={cards[id]?.title ?? ""} />
          </span>
        ))}
        {ids.length === 0 && <span className="on-mat-soft">It is empty.</span>}
      </span>
    </label>
  );
}
