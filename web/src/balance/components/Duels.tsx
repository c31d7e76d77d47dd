// Deck duels: win rates, the value of going first, lengths of games, cards left in hand.

import { Square, Swords } from "lucide-react";
import { Fragment, useRef, useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../../state/client";
import { useGame } from "../../state/store";
import { useGamesRequest } from "../../state/useGamesRequest";
import { GamesProgress } from "../../ui/GamesProgress";
import { Hover } from "../../ui/Hover";
import { useWidth } from "../../ui/useWidth";
import * as requests from "../api";
import { percent } from "../numberText";
import type { Player } from "../useMeasure";
import { ChartExport } from "./ChartExport";
import { PlayerSelect } from "./PlayerSelect";
import "../duels.css";
import { counted } from "../../ui/plural";

type Found = Schemas["DuelsOut"];
type Share = Schemas["WinShareOut"];
const GAMES = [1_000, 4_000, 20_000, 100_000];
const MOST = 16;
const IDLE = 10;
const CUT = {
  loop: "without an end:",
  last: "without an end, the last to act:",
  turns: "without a winner when all turns were used up.",
  stuck: "in which nobody could decide anything.",
};

export function Duels() {
  const game = useGame((state) => state.game);
  const decks = useGame((state) => state.decks);
  const [left, setLeft] = useState<string[]>([]);
  const [games, setGames] = useState(4_000);
  const [player, setPlayer] = useState<Player>("plain");
  const [found, setFound] = useState<{ told: Found; seq: number; player: string } | null>(null);
  const { running, trouble, put, stop } = useGamesRequest("duels");
  const seq = useGame((state) => state.seq);
  const id = game?.id ?? "";
  const underWay = running !== null;
  if (!game) return null;
  const playable = decks.filter((each) => each.size > 0);
  const chosen = playable.filter((each) => !left.includes(each.id)).slice(0, MOST);
  const play = () => {
    const body = { decks: chosen.map((each) => each.id), games, seed: Math.floor(Math.random() * 1_000_000), player };
    const params = { path: { game_id: id } };
    return put(
      (signal) => requests.duels({ params, body, signal }),
      (told) => setFound({ told, seq, player }),
    );
  };
  return (
    <div className="duels">
      <form
        className="measure-line"
        aria-label="Duels"
        onSubmit={(event) => {
          event.preventDefault();
          if (!underWay) void play();
        }}
      >
        <PlayerSelect counts={GAMES} games={games} setGames={setGames} player={player} setPlayer={setPlayer} />
        <button type="submit" className="button button-main" aria-disabled={underWay} disabled={chosen.length < 2}>
          <Swords size={15} aria-hidden="true" /> Play them
        </button>
        {running && (
          <>
            <button type="button" className="button" onClick={stop}>
              <Square size={13} aria-hidden="true" /> Stop
            </button>
            <GamesProgress running={running} />
          </>
        )}
      </form>
      <fieldset className="duel-decks">
        <legend className="unseen">Decks that play</legend>
        {playable.map((each) => (
          <label key={each.id}>
            <input
              type="checkbox"
              checked={!left.includes(each.id)}
              onChange={(event) =>
                setLeft(event.target.checked ? left.filter((one) => one !== each.id) : [...left, each.id])
              }
            />{" "}
            {each.name} <span className="soft num">{each.size}</span>
          </label>
        ))}
        {playable.length < 2 && (
          <p className="soft">
            Two decks are needed. <Link to={`/${id}/decks`}>Decks</Link> makes one at random in a press.
          </p>
        )}
        {playable.length - left.length > MOST && <p className="needs">Of these the first {MOST} play.</p>}
      </fieldset>
      {trouble && (
        <p className="lens-told" role="alert">
          <b className="needs">{trouble.detail}</b> — {trouble.mend}.
        </p>
      )}
      {found ? (
        <Told key={found.told.digest} told={found.told} player={found.player} outdated={found.seq !== seq} />
      ) : (
        !trouble &&
        !running && (
          <p className="lens-told soft">
            Every deck plays each other one, going first in half of the games. The numbers come with intervals: how
            often each wins, what going first brings, which cards stay in hand.
          </p>
        )
      )}
    </div>
  );
}

function Told({ told, player, outdated }: { told: Found; player: string; outdated: boolean }) {
  const game = useGame((state) => state.game);
  const decks = useGame((state) => state.decks);
  const cards = useGame((state) => state.cards);
  const [asTable, setAsTable] = useState(false);
  const lengths = useRef<HTMLDivElement>(null);
  const name = (id: string) => decks.find((each) => each.id === id)?.name ?? id;
  const turn = game?.turn ?? "turn";
  const idle = [...told.cards].filter((each) => each.drawn > 0).sort((one, other) => other.held - one.held);
  const link = (id: string) => (
    <Hover card={id}>
      <Link to={`/${game?.id}/cards?card=${id}`}>{cards[id]?.title ?? id}</Link>
    </Hover>
  );
  return (
    <div className="duel-told">
      <p role="status">
        <b className="num">{told.games.toLocaleString("en")}</b> games in {told.seconds.toFixed(1)} s under{" "}
        <b>{player}</b>. Who goes first wins <b>{percent(told.first.rate)}</b> ({told.first.low.toFixed(1)} to{" "}
        {told.first.high.toFixed(1)}). {counted(told.draws, "draw")}.
        {outdated && <span className="needs"> The game was edited since.</span>}
      </p>
      <section className="duel-block duel-wide" aria-label="Deck against deck">
        <h2>
          Deck against deck
          <ChartExport
            name={`${game?.name} duels`}
            rows={() => [
              ["deck", "against", "games", "wins %", "low", "high"],
              ...told.decks.flatMap((one, at) =>
                told.decks.flatMap((other, to) => {
                  const cell = told.matrix[at]?.[to];
                  return cell ? [[name(one), name(other), cell.games, cell.rate, cell.low, cell.high]] : [];
                }),
              ),
            ]}
          />
        </h2>
        <div className="duel-scroll" tabIndex={0} role="region" aria-label="How often each deck wins">
          <table className="duel-table">
            <thead>
              <tr>
                <th scope="col">wins against</th>
                {told.decks.map((each) => (
                  <th key={each} scope="col">
                    {name(each)}
                  </th>
                ))}
                <th scope="col">all</th>
                <th scope="col">pile ran out</th>
              </tr>
            </thead>
            <tbody>
              {told.decks.map((one, at) => (
                <tr key={one}>
                  <th scope="row">
                    <Link to={`/${game?.id}/decks?deck=${one}`}>{name(one)}</Link>
                  </th>
                  {told.decks.map((other, to) => (
                    <Cell key={other} share={told.matrix[at]?.[to] ?? null} />
                  ))}
                  <Cell share={told.overall[at] ?? null} />
                  <td className="num">{percent(told.emptied[at]?.rate ?? 0)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      </section>
      <section className="duel-block" aria-label="Length of games">
        <h2>
          Length of games
          <button type="button" className="small-button duel-way" onClick={() => setAsTable(!asTable)}>
            {asTable ? "As a chart" : "As a table"}
          </button>
          <ChartExport
            name={`${game?.name} lengths`}
            drawing={asTable ? undefined : lengths}
            rows={() => [[`${turn}s`, "games"], ...told.lengths]}
          />
        </h2>
        {asTable ? (
          <table className="plain-table duel-lengths">
            <thead>
              <tr>
                <th scope="col">{turn}s</th>
                <th scope="col" className="num">
                  games
                </th>
              </tr>
            </thead>
            <tbody>
              {told.lengths.map(([turns = 0, games = 0]) => (
                <tr key={turns}>
                  <th scope="row">{turns}</th>
                  <td className="num">{games}</td>
                </tr>
              ))}
            </tbody>
          </table>
        ) : (
          <div ref={lengths}>
            <Lengths told={told} turn={turn} />
          </div>
        )}
        <p>
          Half of them take up to {told.quantiles["50"]} {turn}s, nine in ten up to {told.quantiles["90"]}; the longest{" "}
          {told.quantiles["100"]}.
        </p>
        {told.cut.map((each) => (
          <p className="needs" key={`${each.why} ${each.cards.join()}`}>
            {counted(each.games, "game")} {CUT[each.why]}
            {(each.why === "loop" || each.why === "last") && (
              <>
                {" "}
                {each.cards.map((card, at) => (
                  <Fragment key={card}>
                    {at > 0 && (at === each.cards.length - 1 ? " and " : ", ")}
                    {link(card)}
                  </Fragment>
                ))}
                {each.why === "last" && (each.cards.length ? "." : " no card.")}
                {each.why === "loop" && (each.cards.length > 1 ? " set each other off." : " goes on and on.")}
              </>
            )}
          </p>
        ))}
      </section>
      <section className="duel-block" aria-label="Cards that lie idle">
        <h2>
          Left in hand at the end
          <ChartExport
            name={`${game?.name} idle cards`}
            rows={() => [
              ["card", "copies", "drawn %", "played %", "in hand %"],
              ...idle.map((each) => [cards[each.card]?.title, each.copies, each.drawn, each.played, each.held]),
            ]}
          />
        </h2>
        <table className="plain-table">
          <thead>
            <tr>
              <th scope="col">Card</th>
              <th scope="col" className="num">
                drawn
              </th>
              <th scope="col" className="num">
                played
              </th>
              <th scope="col" className="num">
                left in hand
              </th>
            </tr>
          </thead>
          <tbody>
            {idle.slice(0, IDLE).map((each) => (
              <tr key={each.card}>
                <th scope="row">{link(each.card)}</th>
                <td className="num">{percent(each.drawn)}</td>
                <td className="num">{percent(each.played)}</td>
                <td className="num">{percent(each.held)}</td>
              </tr>
            ))}
          </tbody>
        </table>
        {idle.some((each) => each.drawn > 100) && <p className="soft">A card that comes back is drawn again.</p>}
        {told.never_played.length > 0 && (
          <p className="needs">
            Never played:{" "}
            {told.never_played.slice(0, IDLE).map((each, at) => (
              <span key={each}>
                {at > 0 && ", "}
                {link(each)}
              </span>
            ))}
            {told.never_played.length > IDLE && ` and ${told.never_played.length - IDLE} more`}.
          </p>
        )}
      </section>
    </div>
  );
}

/** A deck's win rate; the background shows the distance from 50 %, if the interval excludes it. */
function Cell({ share }: { share: Share | null }) {
  if (!share) return <td className="duel-none" />;
  const sure = share.low > 50 ? share.rate - 50 : share.high < 50 ? share.rate - 50 : 0;
  const ground = `color-mix(in srgb, var(${sure > 0 ? "--sap" : "--under"}) ${Math.min(46, Math.round(Math.abs(sure) * 1.1))}%, var(--panel))`;
  return (
    <td className="num" style={{ background: ground }}>
      <b>{percent(share.rate)}</b>
      <small>
        {share.low.toFixed(0)} to {share.high.toFixed(0)}
      </small>
    </td>
  );
}

const HIGH = 150;
const ROOM = { left: 8, right: 8, top: 8, bottom: 22 };

function Lengths({ told, turn }: { told: Found; turn: string }) {
  const box = useRef<HTMLDivElement>(null);
  const width = useWidth(box, 420);
  const rows = told.lengths.map(([turns = 0, games = 0]) => ({ turns, games }));
  const [first, last] = [rows[0]?.turns ?? 0, rows.at(-1)?.turns ?? 1];
  const most = Math.max(1, ...rows.map((each) => each.games));
  const step = (width - ROOM.left - ROOM.right) / Math.max(1, last - first + 1);
  const left = (turns: number) => ROOM.left + (turns - first) * step;
  const every = Math.max(1, Math.ceil(34 / step));
  return (
    <div ref={box}>
      <svg
        width={width}
        height={HIGH}
        role="img"
        aria-label={`Games by length: ${rows.map((each) => `${each.turns} ${turn}s ${each.games}`).join(", ")}`}
      >
        {rows.map((each) => {
          const high = (each.games / most) * (HIGH - ROOM.top - ROOM.bottom);
          return (
            <rect
              key={each.turns}
              className={each.turns === told.quantiles["50"] ? "duel-bar duel-half" : "duel-bar"}
              x={left(each.turns)}
              y={HIGH - ROOM.bottom - high}
              width={Math.max(1, step - 1.5)}
              height={high}
            >
              <title>{`${counted(each.turns, turn)}: ${counted(each.games, "game")}`}</title>
            </rect>
          );
        })}
        {Array.from({ length: last - first + 1 }, (_, at) => first + at)
          .filter((turns) => (turns - first) % every === 0)
          .map((turns) => (
            <text key={turns} className="sweep-tick" x={left(turns) + step / 2} y={HIGH - 6} textAnchor="middle">
              {turns}
            </text>
          ))}
      </svg>
    </div>
  );
}
