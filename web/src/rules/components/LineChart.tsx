// A line chart with handles to drag or move with arrow keys. Changes are written when the handle is released.

import { useRef, useState } from "react";
import { useWidth } from "../../ui/useWidth";
import { points } from "../../ui/Verdict";
import type { Handle } from "../types";

type Place = { x: number; y: number };

type Props = {
  label: string;
  line: Place[];
  handles: Handle[];
  /** Cards, where they stand. */
  dots: Place[];
  across: string;
  draft: (handle: number, y: number) => void;
  put: (handle: number, y: number) => void;
  giveUp: () => void;
};

const HIGH = 150;
const ROOM = { left: 38, right: 14, top: 10, bottom: 26 };
const TICKS = 4;

export function LineChart({ label, line, handles, dots, across, draft, put, giveUp }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const width = useWidth(box, 320);
  /** The handle in hand, with the scale that held when it was taken: what moves does not move the ground. */
  const [held, setHeld] = useState<{ at: number; low: number; high: number; y: number; from: number } | null>(null);
  const all = [...line, ...handles, ...dots];
  const most = Math.max(1, ...all.map((each) => each.x));
  const ys = all.map((each) => each.y);
  const low = held?.low ?? Math.min(0, ...ys);
  const high = held?.high ?? Math.max(1, ...ys);
  const margin = (high - low) * 0.08;
  const wide = width - ROOM.left - ROOM.right;
  const tall = HIGH - ROOM.top - ROOM.bottom;
  const left = (x: number) => ROOM.left + (x / most) * wide;
  const top = (y: number) => ROOM.top + (1 - (y - low + margin) / (high - low + 2 * margin)) * tall;
  /** The points at a pixel, whole steps from where the handle stood. */
  const at = (pixel: number, from: number, step: number) => {
    const y = low - margin + (1 - (pixel - ROOM.top) / tall) * (high - low + 2 * margin);
    return from + Math.round((y - from) / step) * step;
  };
  const ticks = Array.from({ length: TICKS }, (_, tick) => low + ((high - low) * tick) / (TICKS - 1));
  const marks = most <= 12 ? Array.from({ length: most + 1 }, (_, x) => x) : [0, Math.round(most / 2), most];

  const press = (event: React.KeyboardEvent, handle: number) => {
    const step = handles[handle]?.step ?? 0;
    const by = { ArrowUp: step, ArrowDown: -step, PageUp: 4 * step, PageDown: -4 * step }[event.key];
    if (by === undefined) return;
    event.preventDefault();
    event.stopPropagation();
    put(handle, Math.round(((handles[handle]?.y ?? 0) + by) * 1e6) / 1e6);
  };
  return (
    <div ref={box} className="line-chart" role="group" aria-label={label}>
      <svg width={width} height={HIGH} aria-hidden="true">
        {ticks.map((tick) => (
          <g key={tick}>
            <line className="line-chart-rule" x1={ROOM.left} x2={width - ROOM.right} y1={top(tick)} y2={top(tick)} />
            <text x={ROOM.left - 6} y={top(tick) + 4} textAnchor="end">
              {points(Math.round(tick * 10) / 10, false)}
            </text>
          </g>
        ))}
        {marks.map((x) => (
          <text key={x} x={left(x)} y={HIGH - 8} textAnchor="middle">
            {x}
          </text>
        ))}
        <text className="line-chart-name" x={width - ROOM.right} y={HIGH - 22} textAnchor="end">
          {across}
        </text>
        {dots.map((dot, each) => (
          <circle key={each} className="line-chart-dot" cx={left(dot.x)} cy={top(dot.y)} r={2.5} />
        ))}
        <polyline className="line-chart-line" points={line.map((each) => `${left(each.x)},${top(each.y)}`).join(" ")} />
      </svg>
      {handles.map((handle, each) => (
        <div
          key={handle.label}
          className="line-chart-handle"
          role="slider"
          tabIndex={0}
          aria-label={handle.label}
          aria-orientation="vertical"
          aria-valuenow={handle.y}
          aria-valuetext={`${points(handle.y, false)} points`}
          title={`${handle.label}: ${points(handle.y, false)}`}
          style={{ left: left(handle.x), top: top(handle.y) }}
          onKeyDown={(event) => press(event, each)}
          onPointerDown={(event) => {
            event.currentTarget.setPointerCapture(event.pointerId);
            setHeld({ at: each, low, high, y: handle.y, from: handle.y });
          }}
          onPointerMove={(event) => {
            if (held?.at !== each) return;
            const frame = box.current?.getBoundingClientRect();
            const y = at(event.clientY - (frame?.top ?? 0), held.from, handle.step);
            if (y === held.y) return;
            setHeld({ ...held, y });
            draft(each, y);
          }}
          onPointerUp={() => {
            // A handle that was only touched writes nothing.
            if (held && held.y !== held.from) put(each, held.y);
            else giveUp();
            setHeld(null);
          }}
          onPointerCancel={() => {
            setHeld(null);
            giveUp();
          }}
        />
      ))}
    </div>
  );
}
