// A number of a card over a range, on the same shuffles: how often the side with the card wins, and which value would be fair.
import { Square } from "lucide-react";
import { useRef, useState } from "react";
import { api, ask, type Card, type Schemas } from "../state/client";
import { useGame } from "../state/store";
import { useWidth } from "../ui/useWidth";
import { ChartOut } from "./ChartOut";
import { percent, plain, signed } from "./figures";
import { useGamesAsked } from "./useGamesAsked";
import "./sweep.css";

type Swept = Schemas["SweepOut"];
const AROUND = 3;
const HIGH = 200;
const ROOM = { left: 40, right: 14, top: 12, bottom: 26 };

export function SweepPart({ card }: { card: Card }) {
  const game = useGame((state) => state.game);
  const type = game?.types.find((each) => each.id === card.type);
  const fields = (game?.fields ?? []).filter(
    (each) => each.kind === "number" && type?.fields.includes(each.id) && each.id !== game?.roles.copies,
  );
  const first = fields.find((each) => each.id === game?.roles.cost) ?? fields[0];
  const [field, setField] = useState(first?.id ?? "");
  const now = Number(card.values[field] ?? 0) || 0;
  const [range, setRange] = useState<[string, string] | null>(null);
  const [low, high] = range ?? [String(Math.max(0, now - AROUND)), String(now + AROUND)];
  const [games, setGames] = useState(2_000);
  const [swept, setSwept] = useState<{ found: Swept; field: string; revision: number } | null>(null);
  const { running, trouble, put, stop } = useGamesAsked("sweep");
  if (!game || !first) return <p className="soft">This card has no number that could be swept.</p>;
  const name = fields.find((each) => each.id === field)?.name ?? field;
  const sweep = () => {
    const body = {
      card: card.id,
      field,
      start: Number(low),
      end: Number(high),
      games,
      seed: 1,
      player: "plain" as const,
    };
    const params = { path: { game_id: game.id } };
    return put(
      (signal) => ask(api.POST("/api/games/{game_id}/measure/sweep", { params, body, signal })),
      (found) => setSwept({ found, field, revision: card.revision }),
    );
  };
  return (
    <section className="sweep" aria-label="Sweep of a number">
      <form
        className="sweep-line"
        onSubmit={(event) => {
          event.preventDefault();
          void sweep();
        }}
      >
        <select
          className="select"
          aria-label="Number that is swept"
          value={field}
          onChange={(event) => {
            setField(event.target.value);
            setRange(null);
          }}
        >
          {fields.map((each) => (
            <option key={each.id} value={each.id}>
              {each.name}
            </option>
          ))}
        </select>
        <label>
          from{" "}
          <input
            className="input sweep-number"
            inputMode="numeric"
            value={low}
            aria-label="From"
            onChange={(event) => setRange([event.target.value, high])}
          />
        </label>
        <label>
          to{" "}
          <input
            className="input sweep-number"
            inputMode="numeric"
            value={high}
            aria-label="To"
            onChange={(event) => setRange([low, event.target.value])}
          />
        </label>
        <select
          className="select"
          aria-label="Games for each value"
          value={games}
          onChange={(event) => setGames(Number(event.target.value))}
        >
          {[500, 2_000, 8_000].map((each) => (
            <option key={each} value={each}>
              {each.toLocaleString("en")} games each
            </option>
          ))}
        </select>
        {running ? (
          <button type="button" className="small-button" onClick={stop}>
            <Square size={12} aria-hidden="true" /> Stop
          </button>
        ) : (
          <button type="submit" className="small-button" disabled={!/^-?\d+$/.test(low) || !/^-?\d+$/.test(high)}>
            Sweep
          </button>
        )}
      </form>
      {running && (
        <progress className="sweep-progress" max={running.of} value={running.done} aria-label="Games played" />
      )}
      {trouble && (
        <p role="alert">
          <b className="needs">{trouble.detail}</b> — {trouble.mend}.
        </p>
      )}
      {swept && (
        <SweepChart
          swept={swept.found}
          name={fields.find((each) => each.id === swept.field)?.name ?? name}
          title={card.title}
          outdated={swept.revision !== card.revision}
        />
      )}
      {!swept && !running && !trouble && (
        <p className="soft">
          Plays the card with each value on the same shuffles: how often the side that holds it wins, and which value
          would make it as strong as an average card.
        </p>
      )}
    </section>
  );
}

type ChartProps = { swept: Swept; name: string; title: string; outdated: boolean };

function SweepChart({ swept, name, title, outdated }: ChartProps) {
  const box = useRef<HTMLDivElement>(null);
  const width = useWidth(box, 300);
  const [asTable, setAsTable] = useState(false);
  const values = swept.points.map((each) => each.value);
  const [first, last] = [values[0] ?? 0, values.at(-1) ?? 1];
  const rates = swept.points.flatMap((each) => [each.low, each.high]);
  const [floor, top] = [Math.min(45, ...rates), Math.max(55, ...rates)];
  const left = (value: number) =>
    ROOM.left + ((value - first) / Math.max(1, last - first)) * (width - ROOM.left - ROOM.right);
  const up = (rate: number) => ROOM.top + ((top - rate) / (top - floor)) * (HIGH - ROOM.top - ROOM.bottom);
  const fair = swept.fair;
  const levels = [floor, 50, top].map(Math.round).filter((each, at, all) => all.indexOf(each) === at);
  const band = [
    ...swept.points.map((each) => `${left(each.value)},${up(each.high)}`),
    ...[...swept.points].reverse().map((each) => `${left(each.value)},${up(each.low)}`),
  ];
  const inside = fair && fair.value >= first && fair.value <= last;
  return (
    <div className="sweep-found">
      <p className="sweep-fair">
        {fair ? (
          <>
            As strong as an average card at <b>{`${name.toLowerCase()} ${fair.value.toFixed(1)}`}</b> (
            {fair.low == null ? "the range's end" : plain(fair.low, 1)} to{" "}
            {fair.high == null ? "the range's end" : plain(fair.high, 1)}); it is {swept.now}.
          </>
        ) : (
          <>Within this range no value surely makes it win half of its games, or games do not tell the values apart.</>
        )}
        {outdated && <span className="needs"> The card was edited since.</span>}
      </p>
      <div ref={box}>
        {asTable ? (
          <table className="plain-table">
            <thead>
              <tr>
                <th scope="col">{name}</th>
                <th scope="col">Wins</th>
                <th scope="col">than now</th>
              </tr>
            </thead>
            <tbody>
              {swept.points.map((each) => (
                <tr key={each.value}>
                  <th scope="row" className="num">
                    {each.value}
                  </th>
                  <td className="num">
                    {percent(each.rate)} ({each.low.toFixed(1)} to {each.high.toFixed(1)})
                  </td>
                  <td className="num">
                    {each.value === swept.now
                      ? "as it is"
                      : `${signed(each.more)} (${signed(each.more_low)} to ${signed(each.more_high)})`}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        ) : (
          <svg
            width={width}
            height={HIGH}
            role="img"
            aria-label={`Wins by ${name.toLowerCase()}: ${swept.points.map((each) => `${each.value}: ${percent(each.rate)}`).join(", ")}`}
          >
            {levels.map((level) => (
              <g key={level}>
                <line
                  className={level === 50 ? "sweep-half" : "sweep-grid"}
                  x1={ROOM.left}
                  x2={width - ROOM.right}
                  y1={up(level)}
                  y2={up(level)}
                />
                <text className="sweep-tick" x={ROOM.left - 6} y={up(level) + 4} textAnchor="end">
                  {level}
                </text>
              </g>
            ))}
            {inside && (
              <line
                className="sweep-fair-line"
                x1={left(fair.value)}
                x2={left(fair.value)}
                y1={ROOM.top}
                y2={HIGH - ROOM.bottom}
              />
            )}
            <polygon className="sweep-band" points={band.join(" ")} />
            <polyline
              className="sweep-curve"
              points={swept.points.map((each) => `${left(each.value)},${up(each.rate)}`).join(" ")}
            />
            {swept.points.map((each) => (
              <g key={each.value}>
                <circle
                  className={each.value === swept.now ? "sweep-now" : "sweep-dot"}
                  cx={left(each.value)}
                  cy={up(each.rate)}
                  r={each.value === swept.now ? 5 : 3}
                >
                  <title>{`${each.value}: ${percent(each.rate)}`}</title>
                </circle>
                <text className="sweep-tick" x={left(each.value)} y={HIGH - 9} textAnchor="middle">
                  {each.value}
                </text>
              </g>
            ))}
          </svg>
        )}
      </div>
      <div className="sweep-foot">
        <button type="button" className="small-button" aria-pressed={asTable} onClick={() => setAsTable(!asTable)}>
          {asTable ? "As a chart" : "As a table"}
        </button>
        <ChartOut
          name={`${title} ${name} sweep`}
          drawing={asTable ? undefined : box}
          rows={() => [
            [name, "wins %", "low", "high", "more", "more low", "more high"],
            ...swept.points.map((each) => [
              each.value,
              each.rate,
              each.low,
              each.high,
              each.more,
              each.more_low,
              each.more_high,
            ]),
          ]}
        />
      </div>
    </div>
  );
}
