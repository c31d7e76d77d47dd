// Chances by turn, one line for each group; the selected turn can be moved.
import { useRef } from "react";
import { useWidth } from "../../ui/useWidth";

/** Groups at once; also the colour of their being together. */
export const LARGEST = 4;
const HIGH = 190;
const ROOM = { left: 40, right: 16, top: 12, bottom: 24 };
const LEVELS = [0, 0.25, 0.5, 0.75, 1];

export function percent(chance: number): string {
  if (chance <= 0 || chance >= 1) return chance <= 0 ? "0 %" : "100 %";
  const shown = (100 * chance).toFixed(chance < 0.005 || chance > 0.995 ? 1 : 0);
  return `${Number(shown) === 0 ? "under 0.1" : Number(shown) === 100 ? "over 99.9" : shown} %`;
}

type Line = { name: string; curve: number[]; place: number };
/** Turns `from` to `last`; turn 0 is the opening hand. */
type Props = { lines: Line[]; from: number; last: number; by: number; choose: (turn: number) => void };

export function OddsChart({ lines, from, last, by, choose }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const width = useWidth(box, 640);
  const span = Math.max(1, last - from);
  const turns = Array.from({ length: Math.max(1, last - from + 1) }, (_, place) => from + place);
  const left = (turn: number) => ROOM.left + ((turn - from) / span) * (width - ROOM.left - ROOM.right);
  const top = (chance: number) => ROOM.top + (1 - chance) * (HIGH - ROOM.top - ROOM.bottom);
  const told = lines.map((each) => `${each.name} ${percent(each.curve[by] ?? 0)}`).join(", ");
  return (
    <div ref={box} className="odds-chart">
      <svg
        width={width}
        height={HIGH}
        role="img"
        aria-label={`By turn ${by}: ${told}`}
        onPointerDown={(event) => {
          const place = event.clientX - event.currentTarget.getBoundingClientRect().left;
          const turn = from + Math.round(((place - ROOM.left) / (width - ROOM.left - ROOM.right)) * span);
          choose(Math.max(from, Math.min(last, turn)));
        }}
      >
        {LEVELS.map((level) => (
          <g key={level}>
            <line className="odds-grid" x1={ROOM.left} x2={width - ROOM.right} y1={top(level)} y2={top(level)} />
            <text className="odds-tick" x={ROOM.left - 6} y={top(level) + 4} textAnchor="end">
              {100 * level}
            </text>
          </g>
        ))}
        <line className="odds-now" x1={left(by)} x2={left(by)} y1={ROOM.top} y2={HIGH - ROOM.bottom} />
        {turns.map((turn) => (
          <text key={turn} className="odds-tick" x={left(turn)} y={HIGH - 8} textAnchor="middle">
            {turn === 0 ? "hand" : turn}
          </text>
        ))}
        {lines.map((line) => (
          <g key={`${line.place} ${line.name}`} className={`odds-curve odds-line-${line.place}`}>
            <polyline points={turns.map((turn) => `${left(turn)},${top(line.curve[turn] ?? 0)}`).join(" ")} />
            {turns.map((turn) => (
              <circle key={turn} cx={left(turn)} cy={top(line.curve[turn] ?? 0)} r={turn === by ? 4.5 : 2.5}>
                <title>{`${line.name}, ${turn === 0 ? "opening hand" : `turn ${turn}`}: ${percent(line.curve[turn] ?? 0)}`}</title>
              </circle>
            ))}
          </g>
        ))}
      </svg>
    </div>
  );
}
