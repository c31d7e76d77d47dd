// The canvas of a plan: the shown card with bleed and safe edge, and its placements to drag.
import { useEffect, useMemo, useRef, useState } from "react";
import { Part } from "../../ui/Face";
import { type Box, boxOf, inUnit, nameOf, type Place, type Plan, type Shown } from "../usePlans";

type Props = {
  plan: Plan;
  shown: Shown | null;
  selected: string[];
  select: (ids: string[]) => void;
  /** Placements moved by so many mm. */
  move: (ids: string[], dx: number, dy: number) => void;
  resizing: (id: string, box: Box) => void;
  resize: (id: string, box: Box) => void;
  press: (event: React.KeyboardEvent) => boolean;
  drop: (what: string, at: [number, number]) => void;
  zoom: number | null;
  guides: boolean;
  snap: boolean;
};

type Held = {
  kind: "move" | "size";
  id: string;
  ids: string[];
  handle: string;
  from: [number, number];
  box: Box;
  started: boolean;
};
type Line = { axis: "x" | "y"; at: number };

const GRID = 0.5;
const RULER = 7;
const HANDLES = ["nw", "n", "ne", "e", "se", "s", "sw", "w"];
const toGrid = (value: number): number => Math.round(value / GRID) * GRID;
const clean = (value: number): number => Math.round(value * 1000) / 1000;

export function PlanCanvas(props: Props) {
  const { plan, shown, selected, select, move, resize, resizing, press, drop, guides, snap } = props;
  const holder = useRef<HTMLDivElement>(null);
  const svg = useRef<SVGSVGElement>(null);
  const [room, setRoom] = useState<[number, number]>([600, 480]);
  const [moving, setMoving] = useState<{ ids: string[]; dx: number; dy: number } | null>(null);
  const [lines, setLines] = useState<Line[]>([]);
  const held = useRef<Held | null>(null);
  const nudge = useRef<{ dx: number; dy: number; timer: ReturnType<typeof setTimeout> | undefined }>({
    dx: 0,
    dy: 0,
    timer: undefined,
  });
  const size = plan.size;
  const bleed = size.bleed ?? 3;
  const safe = size.safe ?? 2;
  useEffect(() => {
    if (!holder.current) return;
    const watch = new ResizeObserver(([entry]) => {
      if (entry) setRoom([entry.contentRect.width, entry.contentRect.height]);
    });
    watch.observe(holder.current);
    return () => watch.disconnect();
  }, []);
  const least = 2 * (bleed + RULER);
  const fit = Math.max(1.2, Math.min(room[0] / (size.width + least), room[1] / (size.height + least)));
  const k = props.zoom ?? fit;
  // The mat fills its room, so that its lines run on around the card.
  const wide = Math.max(size.width + least, room[0] / k);
  const high = Math.max(size.height + least, room[1] / k);
  const left = (wide - size.width) / 2;
  const top = (high - size.height) / 2;
  const places = plan.places.filter((place) => Object.keys(place.full).length > 0);
  const boxes = useMemo(() => new Map(places.map((place) => [place.id, boxOf(place)])), [places]);

  /** A point of the window in mm from the card's corner. */
  const inMm = (event: { clientX: number; clientY: number }): [number, number] => {
    const frame = svg.current?.getBoundingClientRect();
    if (!frame) return [0, 0];
    return [(event.clientX - frame.left) / k - left, (event.clientY - frame.top) / k - top];
  };

  /** What a moved box may catch on: the edges and middles of the card, its safe edge, and the other placements. */
  const catches = (ids: string[]): { x: number[]; y: number[] } => {
    const x = [0, size.width / 2, size.width, safe, size.width - safe];
    const y = [0, size.height / 2, size.height, safe, size.height - safe];
    for (const [id, box] of boxes) {
      if (ids.includes(id)) continue;
      x.push(box.x, box.x + box.width / 2, box.x + box.width);
      y.push(box.y, box.y + box.height / 2, box.y + box.height);
    }
    return { x, y };
  };

  const snapped = (ids: string[], dx: number, dy: number, free: boolean): [number, number, Line[]] => {
    if (free || !snap) return [clean(dx), clean(dy), []];
    const mine = ids.map((id) => boxes.get(id)).filter((box): box is Box => box !== undefined);
    const around = aroundOf(mine);
    const near = 5 / k;
    const to = catches(ids);
    const found: Line[] = [];
    const one = (start: number, length: number, by: number, axis: "x" | "y"): number => {
      let best = near;
      let moved = toGrid(start + by) - start;
      let line: Line | null = null;
      for (const part of [0, length / 2, length]) {
        for (const at of to[axis]) {
          const off = Math.abs(start + by + part - at);
          if (off < best) {
            best = off;
            moved = at - part - start;
            line = { axis, at };
          }
        }
      }
      if (line) found.push(line);
      return clean(moved);
    };
    return [one(around.x, around.width, dx, "x"), one(around.y, around.height, dy, "y"), found];
  };

  const down = (event: React.PointerEvent, place: Place | null, handle = "") => {
    if (event.button !== 0) return;
    flush();
    holder.current?.querySelector<SVGSVGElement>("svg")?.focus({ preventScroll: true });
    if (!place) {
      select([]);
      return;
    }
    event.stopPropagation();
    let ids = selected;
    if (event.shiftKey) {
      ids = selected.includes(place.id) ? selected.filter((id) => id !== place.id) : [...selected, place.id];
      select(ids);
    } else if (!selected.includes(place.id)) {
      ids = [place.id];
      select(ids);
    }
    held.current = {
      kind: handle ? "size" : "move",
      id: place.id,
      ids,
      handle,
      from: inMm(event),
      box: boxOf(place),
      started: false,
    };
    svg.current?.setPointerCapture(event.pointerId);
  };

  const drag = (event: React.PointerEvent) => {
    const now = held.current;
    if (!now) return;
    const [x, y] = inMm(event);
    const dx = x - now.from[0];
    const dy = y - now.from[1];
    if (!now.started && Math.hypot(dx, dy) * k < 3) return;
    now.started = true;
    if (now.kind === "move") {
      const [mx, my, found] = snapped(now.ids, dx, dy, event.altKey);
      setMoving({ ids: now.ids, dx: mx, dy: my });
      setLines(found);
    } else resizing(now.id, resized(now, dx, dy, event.altKey || !snap));
  };

  const up = (event: React.PointerEvent) => {
    const now = held.current;
    held.current = null;
    setLines([]);
    if (!now) return;
    const [x, y] = inMm(event);
    if (!now.started) {
      // A press on what was chosen already looks for what lies beneath it.
      if (!event.shiftKey && selected.length === 1 && selected[0] === now.id && now.kind === "move") {
        const under = places.filter((place) => holds(boxOf(place), x, y) && !place.full.off).map((place) => place.id);
        const at = under.indexOf(now.id);
        const next = under[(at - 1 + under.length) % under.length];
        if (wasSelected.current === now.id && next) select([next]);
      }
      wasSelected.current = now.id;
      return;
    }
    if (now.kind === "move") {
      const [mx, my] = snapped(now.ids, x - now.from[0], y - now.from[1], event.altKey);
      if (mx || my) move(now.ids, mx, my);
    } else resize(now.id, resized(now, x - now.from[0], y - now.from[1], event.altKey || !snap));
  };
  const wasSelected = useRef("");

  /** Steps by keys are shown at once and written together once the keys rest. */
  const flush = () => {
    const { dx, dy, timer } = nudge.current;
    clearTimeout(timer);
    nudge.current = { dx: 0, dy: 0, timer: undefined };
    if ((dx || dy) && selected.length) move(selected, clean(dx), clean(dy));
  };
  const key = (event: React.KeyboardEvent) => {
    const step = event.shiftKey ? 5 : 0.5;
    const by: Record<string, [number, number]> = {
      ArrowLeft: [-step, 0],
      ArrowRight: [step, 0],
      ArrowUp: [0, -step],
      ArrowDown: [0, step],
    };
    const way = by[event.key];
    if (way && selected.length && !event.ctrlKey && !event.metaKey && !event.altKey) {
      event.preventDefault();
      const now = nudge.current;
      now.dx += way[0];
      now.dy += way[1];
      clearTimeout(now.timer);
      now.timer = setTimeout(flush, 450);
      setMoving({ ids: selected, dx: now.dx, dy: now.dy });
      return;
    }
    if (press(event)) event.preventDefault();
  };
  // A new look of the plan stands where the moved one stood.
  // biome-ignore lint/correctness/useExhaustiveDependencies: only a new drawing ends the shift
  useEffect(() => {
    if (!held.current && !nudge.current.dx && !nudge.current.dy) setMoving(null);
  }, [shown?.digest, plan]);

  const shiftOf = (id: string) => (moving?.ids.includes(id) ? moving : { dx: 0, dy: 0 });
  const mark = (place: Place) => {
    const box = boxes.get(place.id) ?? boxOf(place);
    const { dx, dy } = shiftOf(place.id);
    return { ...box, x: box.x + dx, y: box.y + dy };
  };
  const solo = selected.length === 1 ? places.find((place) => place.id === selected[0]) : undefined;
  const soloBox = solo && mark(solo);
  const hair = 1 / k;
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: fields are dropped here by hand; buttons place them as well
    <div
      ref={holder}
      className="plan-hold"
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        const what = event.dataTransfer.getData("text/dramok-field");
        if (what) {
          event.preventDefault();
          drop(what, inMm(event));
        }
      }}
    >
      {moving && (
        <style>
          {moving.ids
            .map(
              (id) =>
                `.plan-face g[data-place="${CSS.escape(id)}"] { transform: translate(${moving.dx}px, ${moving.dy}px); }`,
            )
            .join("\n")}
        </style>
      )}
      <svg
        ref={svg}
        className="plan-svg mat"
        style={{
          width: wide * k,
          height: high * k,
          ["--mm" as string]: `${k}px`,
          backgroundPosition: `${left * k}px ${top * k}px`,
        }}
        viewBox={`${-left} ${-top} ${wide} ${high}`}
        role="application"
        aria-label={`Face plan ${plan.head.name}. ${selected.length ? `${selected.length} chosen; arrows move by half a millimetre, with Shift by five` : "Choose a placement in the list; arrows then move it"}`}
        tabIndex={0}
        onPointerDown={(event) => down(event, null)}
        onPointerMove={drag}
        onPointerUp={up}
        onPointerCancel={() => {
          held.current = null;
          setMoving(null);
          setLines([]);
        }}
        onKeyDown={key}
        onBlur={flush}
      >
        <g className="plan-face">
          {shown?.face.map((part, place) => (
            <PlacedPart key={place} part={part} />
          ))}
        </g>
        <path
          className="plan-outside"
          fillRule="evenodd"
          d={`M${-bleed} ${-bleed}h${size.width + 2 * bleed}v${size.height + 2 * bleed}h${-size.width - 2 * bleed}Z${plan.outline}`}
        />
        <Rulers plan={plan} hair={hair} />
        {guides && (
          <g className="plan-guides" fill="none">
            <rect
              className="plan-bleed"
              x={-bleed}
              y={-bleed}
              width={size.width + 2 * bleed}
              height={size.height + 2 * bleed}
              strokeWidth={hair}
            />
            <path className="plan-cut" d={plan.outline} strokeWidth={hair * 1.2} />
            <path
              className="plan-safe"
              d={plan.safe_outline}
              strokeWidth={hair}
              strokeDasharray={`${hair * 4} ${hair * 3}`}
            />
          </g>
        )}
        {places.map((place) => {
          const box = mark(place);
          const on = selected.includes(place.id);
          const wrong = shown?.faults.some((fault) => fault.place === place.id) ?? false;
          return (
            <rect
              key={place.id}
              data-hit={place.id}
              className={`plan-hit ${on ? "plan-on" : ""} ${place.full.off ? "plan-off" : ""} ${wrong ? "plan-wrong" : ""}`}
              x={box.x}
              y={box.y}
              width={Math.max(box.width, 0.6)}
              height={Math.max(box.height, 0.6)}
              strokeWidth={on || wrong ? hair * 1.6 : hair}
              onPointerDown={(event) => down(event, place)}
            >
              <title>{nameOf(place)}</title>
            </rect>
          );
        })}
        {lines.map((line) => (
          <line
            key={`${line.axis}${line.at}`}
            className="plan-caught"
            strokeWidth={hair}
            {...(line.axis === "x"
              ? { x1: line.at, x2: line.at, y1: -bleed, y2: size.height + bleed }
              : { y1: line.at, y2: line.at, x1: -bleed, x2: size.width + bleed })}
          />
        ))}
        {solo && soloBox && (
          <g>
            {HANDLES.map((handle) => {
              const [x, y] = cornerOf(soloBox, handle);
              const side = 7 / k;
              return (
                <rect
                  key={handle}
                  className={`plan-handle plan-handle-${handle}`}
                  data-handle={handle}
                  x={x - side / 2}
                  y={y - side / 2}
                  width={side}
                  height={side}
                  strokeWidth={hair}
                  onPointerDown={(event) => down(event, solo, handle)}
                />
              );
            })}
          </g>
        )}
      </svg>
    </div>
  );
}

const PlacedPart = Part;

function Rulers({ plan, hair }: { plan: Plan; hair: number }) {
  const { width, height, bleed = 3, unit } = plan.size;
  const step = unit === "in" ? 25.4 / 8 : 1;
  const every = unit === "in" ? 8 : 10;
  const top = -bleed - 2;
  const ticks = (length: number) => Array.from({ length: Math.floor(length / step + 1e-6) + 1 }, (_, at) => at);
  const long = (at: number) => (at % every === 0 ? 2.2 : at % (every / 2) === 0 ? 1.5 : 0.8);
  const d =
    ticks(width)
      .map((at) => `M${at * step} ${top}v${-long(at)}`)
      .join("") +
    ticks(height)
      .map((at) => `M${top} ${at * step}h${-long(at)}`)
      .join("");
  const said = (at: number) => (unit === "in" ? String(at / 8) : String(inUnit(at * step, "mm")));
  return (
    <g className="plan-rulers">
      <path d={d} strokeWidth={hair} fill="none" />
      {ticks(width)
        .filter((at) => at % every === 0)
        .map((at) => (
          <text key={`x${at}`} x={at * step} y={top - 2.8} textAnchor="middle" fontSize={10.5 * hair}>
            {said(at)}
          </text>
        ))}
      {ticks(height)
        .filter((at) => at % every === 0 && at > 0)
        .map((at) => (
          <text key={`y${at}`} x={top - 2.7} y={at * step + 3.6 * hair} textAnchor="end" fontSize={10.5 * hair}>
            {said(at)}
          </text>
        ))}
    </g>
  );
}

const holds = (box: Box, x: number, y: number): boolean =>
  x >= box.x && x <= box.x + box.width && y >= box.y && y <= box.y + box.height;

function aroundOf(boxes: Box[]): Box {
  const x = Math.min(...boxes.map((box) => box.x));
  const y = Math.min(...boxes.map((box) => box.y));
  return {
    x,
    y,
    width: Math.max(...boxes.map((box) => box.x + box.width)) - x,
    height: Math.max(...boxes.map((box) => box.y + box.height)) - y,
  };
}

function cornerOf(box: Box, handle: string): [number, number] {
  const x = handle.includes("w") ? box.x : handle.includes("e") ? box.x + box.width : box.x + box.width / 2;
  const y = handle.includes("n") ? box.y : handle.includes("s") ? box.y + box.height : box.y + box.height / 2;
  return [x, y];
}

function resized(held: Held, dx: number, dy: number, free: boolean): Box {
  const put = free ? clean : (value: number) => clean(toGrid(value));
  const { box, handle } = held;
  let left = box.x;
  let top = box.y;
  let right = box.x + box.width;
  let foot = box.y + box.height;
  if (handle.includes("w")) left = Math.min(put(left + dx), right - GRID);
  if (handle.includes("e")) right = Math.max(put(right + dx), left + GRID);
  if (handle.includes("n")) top = Math.min(put(top + dy), foot - GRID);
  if (handle.includes("s")) foot = Math.max(put(foot + dy), top + GRID);
  return { x: clean(left), y: clean(top), width: clean(right - left), height: clean(foot - top) };
}
