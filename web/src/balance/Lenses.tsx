// The lenses side by side: what each card is declared to be worth beside what played games measure, with how sure that is.
import { Gauge, Square } from "lucide-react";
import { useMemo, useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../state/client";
import { useGame } from "../state/store";
import { Hover } from "../ui/Hover";
import { points, Verdict } from "../ui/Verdict";
import type { MapData } from "./BalancePage";
import { isUnderWay, type Measurement, type Player, useMeasure } from "./useMeasure";
import "./lenses.css";

type Lift = Schemas["LiftOut"];
type Row = {
  card: string;
  title: string;
  cost: number | null;
  verdict: MapData["cards"][number] | null;
  lift: Lift | null;
};
type Order = "measured" | "declared" | "cost" | "card";

const GAMES = [2_000, 5_000, 20_000, 50_000, 100_000];
const PLAYERS: [Player, string][] = [
  ["plain", "plain: what is worth most now"],
  ["ahead", "ahead: looks a step further, slower"],
  ["random", "random: by chance"],
];

export function Lenses({ map }: { map: MapData }) {
  const game = useGame((state) => state.game);
  const cards = useGame((state) => state.cards);
  const seq = useGame((state) => state.seq);
  const { found, begin, more, stop } = useMeasure(game?.id ?? "", seq);
  const [games, setGames] = useState(20_000);
  const [player, setPlayer] = useState<Player>("plain");
  const [order, setOrder] = useState<Order>("measured");
  const rows = useMemo(() => {
    const lifts = new Map(found?.cards.map((each) => [each.card, each]));
    const verdicts = new Map(map.cards.map((each) => [each.card, each]));
    const ids = [...new Set([...lifts.keys(), ...verdicts.keys()])].filter((id) => cards[id]);
    return ids.map((id) => {
      const verdict = verdicts.get(id) ?? null;
      const lift = lifts.get(id);
      return {
        card: id,
        title: cards[id]?.title ?? id,
        cost: verdict?.cost ?? null,
        verdict,
        lift: lift?.lift == null ? null : lift,
      };
    });
  }, [found, map, cards]);
  const sorted = useMemo(() => [...rows].sort(by(order)), [rows, order]);
  const most = Math.max(2, ...rows.map((row) => Math.max(Math.abs(row.lift?.low ?? 0), Math.abs(row.lift?.high ?? 0))));
  if (!game) return null;
  const underWay = isUnderWay(found);
  const head = (what: Order, said: string, className = "") => (
    <th scope="col" className={className} aria-sort={order === what ? "descending" : "none"}>
      <button type="button" onClick={() => setOrder(what)}>
        {said}
      </button>
    </th>
  );
  return (
    <div className="lenses">
      <form
        className="measure-line"
        aria-label="Measure"
        onSubmit={(event) => {
          event.preventDefault();
          void begin(games, player, Math.floor(Math.random() * 1_000_000));
        }}
      >
        <label>
          <span aria-hidden="true">Games </span>
          <select
            className="select"
            aria-label="Games"
            value={games}
            onChange={(event) => setGames(Number(event.target.value))}
          >
            {GAMES.map((each) => (
              <option key={each} value={each}>
                {each.toLocaleString("en")}
              </option>
            ))}
          </select>
        </label>
        <label>
          <span aria-hidden="true">Played by </span>
          <select
            className="select"
            aria-label="Played by"
            value={player}
            onChange={(event) => setPlayer(event.target.value as Player)}
          >
            {PLAYERS.map(([value, said]) => (
              <option key={value} value={value}>
                {said}
              </option>
            ))}
          </select>
        </label>
        <button type="submit" className="button button-main" disabled={underWay}>
          <Gauge size={15} aria-hidden="true" /> Measure
        </button>
        {underWay && (
          <button type="button" className="button" onClick={() => void stop()}>
            <Square size={13} aria-hidden="true" /> Stop
          </button>
        )}
        {found && ["done", "stopped"].includes(found.state) && found.games > 0 && (
          <button type="button" className="button" onClick={() => void more(found.games * 2)}>
            Go on to {(found.games * 2).toLocaleString("en")}
          </button>
        )}
        {found && found.state !== "none" && (
          <progress max={found.wanted} value={found.games} aria-label="Games played" />
        )}
      </form>
      <Told found={found} turn={game.turn} />
      <div className="lens-table" tabIndex={0} role="region" aria-label="Lenses, card by card">
        <table>
          <thead>
            <tr>
              {head("card", "Card")}
              {game.roles.cost && head("cost", "Cost", "num")}
              {head("declared", "Declared", "num")}
              {head("measured", "Measured, points of win rate a copy")}
              <th scope="col">What it says</th>
            </tr>
          </thead>
          <tbody>
            {sorted.map((row) => (
              <tr key={row.card} className={row.lift?.named ? "lens-named" : ""}>
                <th scope="row">
                  <Hover card={row.card}>
                    <Link to={`/${game.id}/cards?card=${row.card}`}>{row.title}</Link>
                  </Hover>
                </th>
                {game.roles.cost && <td className="num">{row.cost}</td>}
                <td className="num">
                  {row.verdict && <Verdict judgement={row.verdict.judgement} difference={row.verdict.difference} />}
                </td>
                <td>
                  {row.lift ? (
                    <span className="lens-lift">
                      <Interval lift={row.lift} most={most} />
                      <b className="num">{signed(row.lift.lift ?? 0)}</b>
                      <span className="num soft">
                        {signed(row.lift.low ?? 0)} to {signed(row.lift.high ?? 0)}
                      </span>
                    </span>
                  ) : (
                    <span className="soft">{found?.games ? "in no deck" : "not measured"}</span>
                  )}
                </td>
                <td className="soft">{saying(row)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </div>
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
        Getting the games ready. The first time after an update the rules are compiled, which takes a minute.
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
      <b>{found.player}</b>, seed {found.seed}.{" "}
      {found.provisional && <>Provisional: intervals hold for the games as they were planned. </>}
      Going first brings {signed(first ?? 0)} points ({signed(low ?? 0)} to {signed(high ?? 0)}). A game takes{" "}
      {found.turns.toFixed(1)} {turn}s; {found.draws} draws, {found.runaways} without an end.{" "}
      {found.repeated && <>The deck rules are of an unusual kind: decks were used more than once. </>}
      {(edited > 0 || found.rules_edited) && (
        <span className="needs">
          Outdated: {found.rules_edited ? "the rules" : `${edited} ${edited === 1 ? "card" : "cards"}`} changed since.
        </span>
      )}
    </p>
  );
}

const WIDE = 220;
const HIGH = 14;

/** A lift with its interval on a scale that all rows share, the average card in the middle. */
function Interval({ lift, most }: { lift: Lift; most: number }) {
  const at = (value: number) => WIDE / 2 + (value / most) * (WIDE / 2 - 6);
  return (
    <svg className="lens-interval" viewBox={`0 0 ${WIDE} ${HIGH}`} width={WIDE} height={HIGH} aria-hidden="true">
      <line x1={WIDE / 2} x2={WIDE / 2} y1="0" y2={HIGH} className="lens-zero" />
      <line x1={at(lift.low ?? 0)} x2={at(lift.high ?? 0)} y1={HIGH / 2} y2={HIGH / 2} className="lens-range" />
      <circle cx={at(lift.lift ?? 0)} cy={HIGH / 2} r="4" className="lens-point" />
    </svg>
  );
}

const signed = (value: number): string => `${value < 0 ? "−" : "+"}${Math.abs(value).toFixed(1)}`;

const by =
  (order: Order) =>
  (one: Row, other: Row): number => {
    if (order === "card") return one.title.localeCompare(other.title);
    if (order === "cost") return (one.cost ?? 99) - (other.cost ?? 99) || one.title.localeCompare(other.title);
    if (order === "declared") return (other.verdict?.difference ?? -999) - (one.verdict?.difference ?? -999);
    return (other.lift?.lift ?? -999) - (one.lift?.lift ?? -999) || one.title.localeCompare(other.title);
  };

/** What the two lenses say together. */
function saying({ verdict, lift }: Row): string {
  if (!lift) return "";
  const strong = (lift.lift ?? 0) > 0;
  if (!lift.named)
    return (lift.low ?? 0) > 0
      ? "likely above the average card"
      : (lift.high ?? 0) < 0
        ? "likely below the average card"
        : "";
  const declared = verdict?.judgement;
  const measured = strong ? "stronger than the average card" : "weaker than the average card";
  if (declared === "over" && strong) return `${measured}, as declared`;
  if (declared === "under" && !strong) return `${measured}, as declared`;
  if (declared === "over" || declared === "under")
    return `${measured}, though declared ${points(Math.abs(verdict?.difference ?? 0), false)} ${declared} its budget`;
  return measured;
}
