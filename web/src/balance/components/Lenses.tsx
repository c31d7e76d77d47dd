// The three lenses for cards or price rows: declared, implied by costs, measured by games.

import { Gauge, Pin, Square } from "lucide-react";
import { useState } from "react";
import { useMarks } from "../../state/history";
import { useAsked, useTouched } from "../../state/query";
import { useGame } from "../../state/store";
import * as requests from "../api";
import { between, signed } from "../numberText";
import type { LensData, MapData } from "../types";
import { isUnderWay, type Measurement, type Player, useMeasure } from "../useMeasure";
import { LensCards } from "./LensCards";
import { LensRows } from "./LensRows";
import { PlayerSelect } from "./PlayerSelect";
import { KeptLine, useBeside } from "./StoredMeasurements";
import "../lenses.css";
import { counted } from "../../ui/plural";

const GAMES = [2_000, 5_000, 20_000, 50_000, 100_000];

type Props = {
  map: MapData;
  of: "cards" | "rows";
  setOf: (of: "cards" | "rows") => void;
  stand: string | null;
  setStand: (card: string) => void;
};

export function Lenses({ map, of, setOf, stand, setStand }: Props) {
  const game = useGame((state) => state.game);
  const seq = useGame((state) => state.seq);
  const marks = useMarks();
  const { found, begin, more, stop } = useMeasure(game?.id ?? "", seq);
  const [games, setGames] = useState(20_000);
  const [player, setPlayer] = useState<Player>("plain");
  const [source, setSource] = useState("");
  const settled = found && !isUnderWay(found) ? `${found.state} ${found.games} ${found.player}` : "under way";
  const touched = useTouched("game", "card");
  const path = { game_id: game?.id ?? "" };
  const asked = useAsked(
    game ? () => requests.sideBySide({ params: { path, query: source ? { source } : {} } }) : null,
    [game?.id, settled, source, seq, touched],
  );
  const beside = useBeside(found);
  if (!game) return null;
  const underWay = isUnderWay(found);
  const lenses = asked.found;
  return (
    <div className="lenses">
      <form
        className="measure-line"
        aria-label="Measure"
        onSubmit={(event) => {
          event.preventDefault();
          if (!underWay) void begin(games, player, Math.floor(Math.random() * 1_000_000));
        }}
      >
        <PlayerSelect counts={GAMES} games={games} setGames={setGames} player={player} setPlayer={setPlayer} />
        <button type="submit" className="button button-main" aria-disabled={underWay}>
          <Gauge size={15} aria-hidden="true" /> Measure
        </button>
        {underWay && (
          <button type="button" className="button" onClick={() => void stop()}>
            <Square size={13} aria-hidden="true" /> Stop
          </button>
        )}
        {found && ["done", "stopped"].includes(found.state) && found.games > 0 && (
          <>
            <button type="button" className="button" onClick={() => void more(found.games * 2)}>
              Go on to {(found.games * 2).toLocaleString("en")}
            </button>
            <button
              type="button"
              className="button"
              title="Keeps this measurement with the game, to hold later ones against it"
              onClick={() => void beside.keep()}
            >
              <Pin size={14} aria-hidden="true" /> Keep
            </button>
          </>
        )}
        {underWay && found && <progress max={found.wanted} value={found.games} aria-label="Games played" />}
      </form>
      <Told found={found} turn={game.turn} />
      <div className="lens-ways">
        <fieldset className="look" aria-label="What the lenses look at">
          <button type="button" aria-pressed={of === "cards"} onClick={() => setOf("cards")}>
            Cards
          </button>
          <button type="button" aria-pressed={of === "rows"} onClick={() => setOf("rows")}>
            Worths
          </button>
        </fieldset>
        {of === "cards" ? (
          <KeptLine beside={beside} />
        ) : (
          <label>
            <span aria-hidden="true">Implied by the costs of </span>
            <select
              className="select"
              aria-label="Whose costs imply"
              value={source}
              onChange={(event) => setSource(event.target.value)}
            >
              <option value="">this game</option>
              {game.sets.length > 1 &&
                game.sets.map((each) => (
                  <option key={each.id} value={`set:${each.id}`}>
                    the set {each.name}
                  </option>
                ))}
              {marks.map((each) => (
                <option key={each.id} value={`mark:${each.id}`}>
                  the mark {each.name}
                </option>
              ))}
              <OtherGames but={game.id} />
            </select>
          </label>
        )}
      </div>
      {lenses && of === "rows" && <Notes lenses={lenses} />}
      {of === "cards" ? (
        <LensCards map={map} found={found} lenses={lenses} beside={beside.shown} stand={stand} setStand={setStand} />
      ) : (
        <LensRows lenses={lenses} trouble={asked.trouble} />
      )}
    </div>
  );
}

/** Other games on the shelf: a list of prices that was read from a sheet is one of them. */
function OtherGames({ but }: { but: string }) {
  const { found } = useAsked(() => requests.games(), "shelf");
  return (
    <>
      {(found ?? [])
        .filter((each) => each.id !== but && !each.damage)
        .map((each) => (
          <option key={each.id} value={`game:${each.id}`}>
            the game {each.name}
          </option>
        ))}
    </>
  );
}

function Notes({ lenses }: { lenses: LensData }) {
  return (
    <p className="lens-told">
      {lenses.echo && (
        <>
          <b className="needs">These costs can only echo the declared worths:</b> cards lie no further from their
          budgets than rounding to a whole cost leaves them.{" "}
        </>
      )}
      Cards lie about {lenses.spread.toFixed(2)} points from what the others imply.{" "}
      {lenses.left_out > 0 && (
        <>
          {counted(lenses.left_out, "card is", "cards are")} left out: text that is not written, no cost, or an effect
          that no row prices.{" "}
        </>
      )}
      {lenses.scale ? (
        <>
          One point of worth is {signed(lenses.scale[0] ?? 0, 2)} points of win rate a copy (
          {between(lenses.scale[1] ?? 0, lenses.scale[2] ?? 0, 2)}).
        </>
      ) : (
        <>No games say yet what a point of worth is in points of win rate.</>
      )}
    </p>
  );
}

function Told({ found, turn }: { found: Measurement | null; turn: string }) {
  if (!found) return <p className="lens-told soft">Looking for a measurement…</p>;
  if (found.state === "none")
    return (
      <p className="lens-told soft">
        Nothing is measured yet. <b>Measure</b> has an automatic player play both sides of many games, each with two
        random legal decks, and reckons from who won what a copy of each card is worth.
      </p>
    );
  if (found.state === "compiling")
    return (
      <p className="lens-told" role="status">
        {found.compiled === null || found.compiled === undefined
          ? "Starting the games."
          : `Preparing the rules for this machine, once after each update: ${Math.round(100 * found.compiled)} %.`}
      </p>
    );
  if (found.state === "failed")
    return (
      <p className="lens-told needs" role="alert">
        {found.problem}. Press Measure to try again.
      </p>
    );
  const [first, low, high] = found.first;
  const edited = found.edited.length;
  return (
    <p className="lens-told" role="status">
      <b className="num">{found.games.toLocaleString("en")}</b> games in {found.seconds.toFixed(1)} s under{" "}
      <b>{found.player}</b>, seed {found.seed}, cards as of edit {found.seq}.{" "}
      {found.provisional && <>Provisional: intervals hold for the games as they were planned. </>}
      Going first brings {signed(first ?? 0)} points ({between(low ?? 0, high ?? 0)}). A game takes{" "}
      {found.turns.toFixed(1)} {turn}s; {found.draws} draws, {found.runaways} without an end.{" "}
      {found.repeated && (
        <>
          Repeated decks: the deck rules have decks made one by one, so each plays several games; the intervals allow
          for it.{" "}
        </>
      )}
      {(edited > 0 || found.rules_edited) && <Outdated found={found} />}
    </p>
  );
}

const NAMED = 3;

function Outdated({ found }: { found: Measurement }) {
  const cards = useGame((state) => state.cards);
  const names = found.edited.slice(0, NAMED).map((id) => cards[id]?.title ?? "a card that is gone");
  const rest = found.edited.length - names.length;
  const said = [
    ...(found.rules_edited ? ["the rules"] : []),
    ...names,
    ...(rest > 0 ? [counted(rest, "more card")] : []),
  ];
  return <span className="needs">Outdated: {said.join(", ")} changed since.</span>;
}
