import { useRef, useState } from "react";
import { useWidth } from "../../ui/useWidth";
import { percent, plain, signed } from "../numberText";
import type { SweepResult } from "../types";
import { ChartExport } from "./ChartExport";
import "../sweep.css";

const HIGH = 214;
const ROOM = { left: 40, right: 14, top: 12, bottom: 40 };

type Props = {
  swept: SweepResult;
  /** What is swept, as a heading of its values. */
  name: string;
  /** What the files are called by. */
  title: string;
  outdated: boolean;
  digits?: number;
  /** Who is as strong as an average card at the fair value. */
  who?: string;
  /** Of a value, by its place: what else it brings about. */
  brings?: { head: string; of: (place: number) => string };
};

/** The win rate for each value, with the fair value, as a chart or a table. */
export function SweepChart({ swept, name, title, outdated, digits = 1, who = "", brings }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const width = useWidth(box, 300);
  const [asTable, setAsTable] = useState(false);
  const values = swept.points.map((each) => each.value);
  const [first, last] = [values[0] ?? 0, values.at(-1) ?? 1];
  const rates = swept.points.flatMap((each) => [each.low, each.high]);
  const [floor, top] = [Math.min(45, ...rates), Math.max(55, ...rates)];
  const shown = (value: number) => String(Number(value.toFixed(3)));
  const left = (value: number) =>
    ROOM.left + ((value - first) / (last - first || 1)) * (width - ROOM.left - ROOM.right);
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
            {who ? `${who} are as strong as an average card at ` : "As strong as an average card at "}
            <b>{`${name.toLowerCase()} ${fair.value.toFixed(digits)}`}</b> (
            {fair.low == null ? "the range's end" : plain(fair.low, digits)} to{" "}
            {fair.high == null ? "the range's end" : plain(fair.high, digits)});{" "}
            {swept.now == null ? "it has no worth yet" : `it is ${shown(swept.now)}`}.
            {swept.repeated &&
              " Repeated decks: each plays several games, so the intervals are narrower than they should be."}
          </>
        ) : (
          <>
            No value in this range clearly gives 50 % of wins{who ? ` to ${who.toLowerCase()}` : ""}; try more games or
            a wider range.
          </>
        )}
        {outdated && <span className="needs"> {who ? "The game" : "The card"} was edited since.</span>}
      </p>
      <div ref={box}>
        {asTable ? (
          <table className="plain-table">
            <thead>
              <tr>
                <th scope="col">{name}</th>
                <th scope="col">Wins</th>
                <th scope="col">than now</th>
                {brings && <th scope="col">{brings.head}</th>}
              </tr>
            </thead>
            <tbody>
              {swept.points.map((each, place) => (
                <tr key={each.value}>
                  <th scope="row" className="num">
                    {shown(each.value)}
                  </th>
                  <td className="num">
                    {percent(each.rate)} ({each.low.toFixed(1)} to {each.high.toFixed(1)})
                  </td>
                  <td className="num">
                    {each.value === swept.now
                      ? "as it is"
                      : `${signed(each.more)} (${signed(each.more_low)} to ${signed(each.more_high)})`}
                  </td>
                  {brings && <td>{brings.of(place)}</td>}
                </tr>
              ))}
            </tbody>
          </table>
        ) : (
          <svg
            width={width}
            height={HIGH}
            role="img"
            aria-label={`Wins by ${name.toLowerCase()}: ${swept.points.map((each) => `${shown(each.value)}: ${percent(each.rate)}`).join(", ")}`}
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
            <text className="sweep-tick" x={ROOM.left + 4} y={ROOM.top + 8}>
              wins, %
            </text>
            <text className="sweep-tick" x={width - ROOM.right} y={HIGH - 24} textAnchor="end">
              {name.toLowerCase()}
            </text>
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
                  <title>{`${shown(each.value)}: ${percent(each.rate)}`}</title>
                </circle>
                <text className="sweep-tick" x={left(each.value)} y={HIGH - 9} textAnchor="middle">
                  {shown(each.value)}
                </text>
              </g>
            ))}
          </svg>
        )}
      </div>
      <div className="sweep-foot">
        <button type="button" className="small-button" onClick={() => setAsTable(!asTable)}>
          {asTable ? "As a chart" : "As a table"}
        </button>
        <ChartExport
          name={`${title} ${name} sweep`}
          drawing={asTable ? undefined : box}
          rows={() => [
            [name, "wins %", "low", "high", "more", "more low", "more high", ...(brings ? [brings.head] : [])],
            ...swept.points.map((each, place) => [
              each.value,
              each.rate,
              each.low,
              each.high,
              each.more,
              each.more_low,
              each.more_high,
              ...(brings ? [brings.of(place)] : []),
            ]),
          ]}
        />
      </div>
    </div>
  );
}
