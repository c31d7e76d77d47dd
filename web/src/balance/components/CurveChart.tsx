// The number of cards at each cost, next to the planned number, which is edited here.

import { useEffect, useRef, useState } from "react";
import type { Edit } from "../../state/client";
import { useAsked, useTouched } from "../../state/query";
import { say, useGame } from "../../state/store";
import { inGame } from "../../state/sync";
import { change, signed } from "../../state/writing";
import { useWidth } from "../../ui/useWidth";
import * as requests from "../api";
import type { HealthData } from "../types";

const HIGH = 170;
const ROOM = { left: 80, right: 10, top: 16, bottom: 22 };

export function CurveChart({ curve }: { curve: HealthData["curve"] }) {
  const box = useRef<HTMLDivElement>(null);
  const width = useWidth(box, 700);
  const most = Math.max(1, ...curve.flatMap((each) => [each.cards, each.wanted ?? 0]));
  const step = (width - ROOM.left - ROOM.right) / curve.length;
  const up = (count: number) => ROOM.top + (1 - count / most) * (HIGH - ROOM.top - ROOM.bottom);
  const bar = Math.min(56, step * 0.68);
  const left = (at: number) => ROOM.left + at * step;
  const wanted = curve.some((each) => each.wanted !== null);
  return (
    <div ref={box} className="set-curve">
      <svg
        width={width}
        height={HIGH}
        role="img"
        aria-label={`Cards by cost: ${curve.map((each) => `${each.cost}: ${each.cards}${each.wanted === null ? "" : ` of ${each.wanted.toFixed(1)}`}`).join(", ")}`}
      >
        {curve.map((each, at) => (
          <g key={each.cost}>
            <rect
              className="set-curve-bar"
              x={left(at) + (step - bar) / 2}
              y={up(each.cards)}
              width={bar}
              height={HIGH - ROOM.bottom - up(each.cards)}
            />
            <text className="set-curve-count" x={left(at) + step / 2} y={up(each.cards) - 4} textAnchor="middle">
              {each.cards || ""}
            </text>
            {each.wanted !== null && (
              <line
                className="set-curve-wanted"
                x1={left(at) + step * 0.08}
                x2={left(at) + step * 0.92}
                y1={up(each.wanted)}
                y2={up(each.wanted)}
              />
            )}
            <text className="sweep-tick" x={left(at) + step / 2} y={HIGH - 6} textAnchor="middle">
              {each.cost}
            </text>
          </g>
        ))}
        <text className="sweep-tick" x={ROOM.left - 8} y={HIGH - 6} textAnchor="end">
          cost
        </text>
      </svg>
      <Wanted curve={curve} left={ROOM.left} right={ROOM.right} />
      <div className="set-curve-line" style={{ paddingRight: ROOM.right }}>
        <span className="soft" style={{ width: ROOM.left }}>
          mean stats
        </span>
        {curve.map((each) => (
          <span key={each.cost} className="num soft">
            {each.stats === null ? "" : each.stats.toFixed(1)}
          </span>
        ))}
      </div>
      <p className="soft set-curve-about">
        {wanted
          ? "The line across each bar is the number of cards wanted, in proportion to the cards there are."
          : "Write under each cost how many cards you want there, for instance 4 8 8 5 3: a line then shows it on each bar."}
      </p>
    </div>
  );
}

/** The planned number in a text: none if it is empty, null if it is not a number. */
const countIn = (text: string): number | null => (/^\s*\d{1,4}\s*$/.test(text) ? Number(text) : text.trim() ? null : 0);

/** The wanted curve, part of the price list: any numbers, of which the proportions count. */
function Wanted({ curve, left, right }: { curve: HealthData["curve"]; left: number; right: number }) {
  const game = useGame((state) => state.game?.id ?? "");
  const touched = useTouched("game");
  const { found } = useAsked(game ? () => requests.ruleParts(inGame(game)) : null, [game, touched]);
  const [typed, setTyped] = useState<Record<number, string>>({});
  const prices = found?.parts.prices as { wanted?: number[] } | undefined;
  /** Written values that the server has not returned yet. */
  const mine = useRef<{ wanted: number[]; seq: number } | null>(null);
  if (mine.current && found && found.seq >= mine.current.seq) mine.current = null;
  const due = useRef(new Set<number>());
  const now = mine.current?.wanted ?? prices?.wanted ?? [];
  const commit = (cost: number) => {
    const text = typed[cost];
    if (text === undefined) return;
    if (!prices) {
      // Typed before the price list arrived: written when it does.
      due.current.add(cost);
      return;
    }
    const number = countIn(text);
    if (number === null) {
      say({
        type: "about:blank",
        title: "not written",
        status: 422,
        where: `Wanted at cost ${cost}`,
        detail: `“${text.trim().slice(0, 40)}” is not a number of cards`,
        mend: "write 0 to 9999, or take it back with Escape",
      });
      return;
    }
    setTyped(({ [cost]: _, ...rest }) => rest);
    // What was written a moment ago may not be shown yet.
    const held = mine.current?.wanted ?? prices.wanted ?? [];
    if (number === (held[cost] ?? 0)) return;
    const next = Array.from({ length: Math.max(held.length, cost + 1) }, (_, at) =>
      at === cost ? number : (held[at] ?? 0),
    );
    while (next.length && !next.at(-1)) next.pop();
    const written = { wanted: next, seq: Number.POSITIVE_INFINITY };
    mine.current = written;
    void change((id, key, base): Promise<Edit> => {
      const params = { ...signed(id, key), path: { game_id: id, part: "prices" as const } };
      const body = { value: { ...prices, wanted: next }, base };
      return requests.putRulePart({ params, body });
    }).then((edit) => {
      if (edit) written.seq = edit.seq;
      else if (mine.current === written) mine.current = null;
    });
  };
  useEffect(() => {
    if (!prices) return;
    for (const cost of due.current) commit(cost);
    due.current.clear();
  });
  return (
    <div className="set-curve-line" style={{ paddingRight: right }}>
      <span className="soft" style={{ width: left }}>
        wanted
      </span>
      {curve.map((each) => (
        <input
          key={each.cost}
          className="input num"
          inputMode="numeric"
          aria-label={`Wanted at cost ${each.cost}`}
          aria-invalid={countIn(typed[each.cost] ?? "") === null}
          value={typed[each.cost] ?? (now[each.cost] || "")}
          onChange={(event) => setTyped({ ...typed, [each.cost]: event.target.value })}
          onBlur={() => commit(each.cost)}
          onKeyDown={(event) => {
            if (event.key === "Enter") commit(each.cost);
            if (event.key === "Escape") setTyped(({ [each.cost]: _, ...rest }) => rest);
          }}
        />
      ))}
    </div>
  );
}
