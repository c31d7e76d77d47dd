import { AxisBottom, AxisLeft } from "@visx/axis";
import { GridRows } from "@visx/grid";
import { Group } from "@visx/group";
import { scaleLinear } from "@visx/scale";
import { LinePath } from "@visx/shape";
import { memo, useLayoutEffect, useMemo, useRef, useState } from "react";
import { useGo } from "../../state/address";
import type { Game } from "../../state/client";
import { useGame } from "../../state/store";
import { Face } from "../../ui/Face";
import { points } from "../../ui/Verdict";
import { type Label, type Placed, place, type Scale } from "../mapLayout";
import type { MapData } from "../types";

const ROOMY = { top: 14, right: 132, bottom: 48, left: 58 };
const SMALL = { top: 10, right: 10, bottom: 28, left: 32 };
const DASHES = ["", "7 4", "2 4"];
const NOWHERE = {};

/** Cost across, worth up; the lines are what a cost buys. Arrows walk the marks, Enter opens the card. */
export const SetMap = memo(function SetMap({
  map,
  stand,
  setStand,
  was = NOWHERE,
  small = false,
  of,
}: {
  map: MapData;
  stand: string | null;
  setStand: (card: string) => void;
  /** Where cards stood before: they are drawn there too, as ghosts. */
  was?: Record<string, { cost: number; worth: number }>;
  /** Beside something else: without names. */
  small?: boolean;
  /** The map whose scales it shares. */
  of?: MapData;
}) {
  const game = useGame((state) => state.game);
  const cards = useGame((state) => state.cards);
  const box = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ width: 840, height: 600 });
  const [hovered, setHovered] = useState<string | null>(null);
  const [focused, setFocused] = useState(false);
  const go = useGo();
  useLayoutEffect(() => {
    const element = box.current;
    if (!element) return;
    const watch = new ResizeObserver(() => setSize({ width: element.clientWidth, height: element.clientHeight }));
    watch.observe(element);
    return () => watch.disconnect();
  }, []);

  const margin = small ? SMALL : ROOMY;
  const wide = size.width - margin.left - margin.right;
  const high = size.height - margin.top - margin.bottom;
  const scaled = of ?? map;
  const costs = scaled.cards.map((point) => point.cost);
  const [leastCost, mostCost] = [Math.min(0, ...costs), Math.max(4, ...costs)];
  const step = wide / (mostCost - leastCost + 1);
  const worths = [...scaled.cards, ...Object.values(was)].map((point) => point.worth);
  const ends = Object.values(map.lines).flatMap((line) => [line[0]?.points ?? 0, line.at(-1)?.points ?? 0]);
  const [low, top] = [Math.min(0, ...worths, ...ends), Math.max(4, ...worths, ...ends) + 0.5];
  const across = useMemo(
    () => scaleLinear({ domain: [leastCost - 0.5, mostCost + 0.5], range: [0, wide] }),
    [leastCost, mostCost, wide],
  );
  const up = useMemo(() => scaleLinear({ domain: [low, top], range: [high, 0], nice: true }), [low, top, high]);
  const placed = useMemo(
    () => place(map, cards, across, up, step, [-40, 0, wide + margin.right - 4, high], small),
    [map, cards, across, up, wide, high, step, small, margin.right],
  );
  const order = useMemo(
    () => [...placed].sort((one, other) => one.point.cost - other.point.cost || other.point.worth - one.point.worth),
    [placed],
  );
  const at = order.findIndex((each) => each.point.card === stand);
  const shown = placed.find((each) => each.point.card === (hovered ?? (focused ? stand : null)));
  if (!game) return null;
  const typeIds = game.types.map((type) => type.id);

  const press = (event: React.KeyboardEvent) => {
    const column = (by: number) => {
      const here = order[Math.max(0, at)];
      const cost = (here?.point.cost ?? 0) + by;
      const next =
        by > 0
          ? order.findIndex((each) => each.point.cost >= cost)
          : order.findLastIndex((each) => each.point.cost <= cost);
      return next < 0 ? at : next;
    };
    const moves: Record<string, () => number> = {
      ArrowDown: () => at + 1,
      ArrowUp: () => at - 1,
      ArrowRight: () => column(1),
      ArrowLeft: () => column(-1),
      Home: () => 0,
      End: () => order.length - 1,
    };
    if (event.key === "Enter" && at >= 0) go(`/${game.id}/cards?card=${order[at]?.point.card}`);
    else if (moves[event.key]) {
      const next = order[Math.max(0, Math.min(order.length - 1, moves[event.key]?.() ?? 0))];
      if (next) setStand(next.point.card);
    } else return;
    event.preventDefault();
  };

  return (
    <div className="map-box" ref={box}>
      <div
        className="map-keys"
        data-main
        role="application"
        aria-roledescription="set map"
        tabIndex={0}
        aria-label={`Set map. ${at >= 0 ? spoken(order[at], cards[order[at]?.point.card ?? ""]?.title ?? "") : "Arrows walk the cards, Enter opens one."}`}
        onKeyDown={press}
        onFocus={() => {
          setFocused(true);
          if (at < 0 && order[0]) setStand(order[0].point.card);
        }}
        onBlur={() => setFocused(false)}
      >
        <svg width={size.width} height={size.height} aria-hidden="true">
          <Group left={margin.left} top={margin.top}>
            <GridRows scale={up} width={wide} numTicks={small ? 5 : 8} stroke="var(--line)" />
            {typeIds
              .filter((type) => map.lines[type])
              .map((type, number) => (
                <Budget
                  key={type}
                  line={map.lines[type] ?? []}
                  across={across}
                  up={up}
                  tolerance={map.tolerance}
                  name={small ? "" : name(game, map, type)}
                  dash={DASHES[number] ?? ""}
                  first={sameBefore(map, typeIds, number)}
                />
              ))}
            <Ghosts placed={placed} was={was} across={across} up={up} />
            <Ranges placed={placed} up={up} />
            {/* biome-ignore lint/a11y/noStaticElementInteractions: the keyboard walks the marks from the map itself */}
            {/* biome-ignore lint/a11y/useKeyWithMouseEvents: Enter opens the card one walked to */}
            <g
              onMouseOver={(event) => small || setHovered(cardOf(event))}
              onMouseMove={(event) => small && setHovered(nearest(placed, event, margin))}
              onMouseLeave={() => setHovered(null)}
              onClick={(event) => {
                const card = small ? nearest(placed, event, margin) : cardOf(event);
                if (card) go(`/${game.id}/cards?card=${card}`);
              }}
            >
              {small && <MarksAsOne placed={placed} types={game.types} />}
              {(small ? placed.filter((each) => each.point.card === (hovered ?? stand)) : placed).map((each) => (
                <Mark
                  key={each.point.card}
                  card={each.point.card}
                  judgement={each.point.judgement}
                  x={each.x}
                  y={each.y}
                  shape={typeIds.indexOf(each.type)}
                  on={each.point.card === (hovered ?? stand)}
                  label={each.label}
                />
              ))}
            </g>
            <AxisBottom
              scale={across}
              top={high}
              tickValues={across
                .ticks(step < TICK ? wide / (3 * TICK) : mostCost - leastCost + 1)
                .filter(Number.isInteger)}
              tickFormat={(cost) => Number(cost).toLocaleString("en").replace("-", "−")}
              stroke="var(--soft)"
              tickStroke="var(--soft)"
              tickLabelProps={{ fill: "var(--ink)", fontSize: 13, textAnchor: "middle" }}
              label={small ? "" : "cost"}
              labelProps={{ fill: "var(--soft)", fontSize: 13, textAnchor: "middle" }}
            />
            <AxisLeft
              scale={up}
              numTicks={small ? 5 : 8}
              stroke="transparent"
              tickStroke="transparent"
              tickLabelProps={{ fill: "var(--ink)", fontSize: 13, textAnchor: "end", dx: -4, dy: 4 }}
              label={small ? "" : "worth, points"}
              labelOffset={30}
              labelProps={{ fill: "var(--soft)", fontSize: 13, textAnchor: "middle" }}
            />
          </Group>
        </svg>
        <ul className={small ? "unseen" : "map-key"} aria-hidden="true">
          {game.types.map((type, number) => (
            <li key={type.id}>
              <svg width="14" height="14" viewBox="-7 -7 14 14" aria-hidden="true">
                <g className="map-mark map-fair">
                  <Shape number={number} />
                </g>
              </svg>
              {type.name}
            </li>
          ))}
        </ul>
      </div>
      {shown && (
        <div
          className="map-face"
          style={{
            left: small
              ? -214
              : Math.min(size.width - 200, Math.max(0, shown.x + margin.left + (shown.x > wide / 2 ? -214 : 26))),
            top: Math.max(0, Math.min(size.height - 320, shown.y - 130)),
          }}
        >
          <Face card={shown.point.card} title={cards[shown.point.card]?.title ?? ""} />
          <p>
            worth {points(shown.point.worth, false)}, budget {points(shown.point.budget, false)}:{" "}
            <b>{shown.point.judgement === "open" ? "undecided" : points(shown.point.difference)}</b>
          </p>
        </div>
      )}
    </div>
  );
});

function spoken(each: Placed | undefined, title: string): string {
  if (!each) return "";
  return `${title}: cost ${each.point.cost}, worth ${points(each.point.worth, false)}, ${each.point.judgement}`;
}

/** Types whose budgets are the same share one line. */
function sameBefore(map: MapData, types: string[], number: number): boolean {
  const mine = JSON.stringify(map.lines[types[number] ?? ""]);
  return !types.slice(0, number).some((type) => JSON.stringify(map.lines[type]) === mine);
}

function name(game: Game, map: MapData, type: string): string {
  const mine = JSON.stringify(map.lines[type]);
  return game.types
    .filter((each) => JSON.stringify(map.lines[each.id]) === mine)
    .map((each) => each.name.toLowerCase())
    .join(", ");
}

type BudgetProps = {
  line: MapData["lines"][string];
  across: Scale;
  up: Scale;
  tolerance: number;
  name: string;
  dash: string;
  first: boolean;
};

/** What a cost buys, with the band in which a card is fair. */
function Budget({ line, across, up, tolerance, name: said, dash, first }: BudgetProps) {
  const last = line[line.length - 1];
  if (!first || !last) return null;
  const band = [
    ...line.map((each) => ({ ...each, points: each.points + tolerance })),
    ...[...line].reverse().map((each) => ({ ...each, points: each.points - tolerance })),
  ];
  return (
    <g className="budget">
      <polygon points={band.map((each) => `${across(each.cost)},${up(each.points)}`).join(" ")} />
      <LinePath
        data={line}
        x={(each) => across(each.cost)}
        y={(each) => up(each.points)}
        stroke="var(--budget)"
        strokeWidth={1.5}
        strokeDasharray={dash}
      />
      {said && (
        <text x={across(last.cost) + 16} y={up(last.points) + 20}>
          budget: {said}
        </text>
      )}
    </g>
  );
}

type MarkProps = {
  card: string;
  judgement: string;
  x: number;
  y: number;
  shape: number;
  on: boolean;
  label: Label | null;
};

/** One card on the map; rendered again only when it moves, its verdict changes, or it is focused. */
const Mark = memo(function Mark({ card, judgement, x, y, shape, on, label }: MarkProps) {
  return (
    <g
      data-card={card}
      className={`map-mark map-${judgement} ${on ? "map-on" : ""}`}
      transform={`translate(${x} ${y})`}
    >
      <circle r={9} fill="transparent" />
      <Shape number={shape} />
      {label && (
        <text x={label.x} y={label.y + 4}>
          {label.text}
        </text>
      )}
    </g>
  );
});

/** All marks as a few outlines, one for each shape and judgement, because the map of a thousand cards is redrawn at each key press. */
const MarksAsOne = memo(function MarksAsOne({ placed, types }: { placed: Placed[]; types: Game["types"] }) {
  const outlines = new Map<string, { judgement: string; d: string[] }>();
  for (const { point, x, y, type } of placed) {
    const shape = types.findIndex((each) => each.id === type);
    const found = outlines.get(`${point.judgement} ${shape}`) ?? { judgement: point.judgement, d: [] };
    found.d.push(`M${x.toFixed(1)} ${y.toFixed(1)}${OUTLINES[shape] ?? OUTLINES[0]}`);
    outlines.set(`${point.judgement} ${shape}`, found);
  }
  return (
    <>
      {[...outlines].map(([key, { judgement, d }]) => (
        <g key={key} className={`map-mark map-${judgement}`}>
          <path className="map-shape" d={d.join("")} />
        </g>
      ))}
    </>
  );
});

/** The shapes of `Shape`, each from its middle. */
const OUTLINES = [
  "m-5 0a5 5 0 1 0 10 0a5 5 0 1 0 -10 0z",
  "m0 -6l6 6l-6 6l-6 -6z",
  "m-4.600 -4.600h9.200v9.200h-9.200z",
  "m0 -6l5.500 10.500h-11z",
];
const REACH = 9;

/** The card whose mark is nearest to the pointer, within reach. */
function nearest(placed: Placed[], event: React.MouseEvent, margin: typeof SMALL): string | null {
  const frame = (event.currentTarget as SVGGElement).ownerSVGElement?.getBoundingClientRect();
  if (!frame) return null;
  const [x, y] = [event.clientX - frame.left - margin.left, event.clientY - frame.top - margin.top];
  let found: string | null = null;
  let least = REACH ** 2;
  for (const each of placed) {
    const away = (each.x - x) ** 2 + (each.y - y) ** 2;
    if (away <= least) [found, least] = [each.point.card, away];
  }
  return found;
}

/** The card whose mark the pointer is on. */
const cardOf = (event: React.MouseEvent): string | null =>
  (event.target as Element).closest("[data-card]")?.getAttribute("data-card") ?? null;

type GhostProps = { placed: Placed[]; was: Record<string, { cost: number; worth: number }>; across: Scale; up: Scale };

/** Where cards stood, and the ways to where they stand: two outlines for all of them. */
const Ghosts = memo(function Ghosts({ placed, was, across, up }: GhostProps) {
  const from = placed.flatMap(({ point, x, y }) => {
    const stood = was[point.card];
    return stood ? [{ x: across(stood.cost), y: up(stood.worth), to: `${x.toFixed(1)} ${y.toFixed(1)}` }] : [];
  });
  if (!from.length) return null;
  const at = (each: { x: number; y: number }) => `M${each.x.toFixed(1)} ${each.y.toFixed(1)}`;
  return (
    <g className="map-ghosts" data-ghosts={from.length}>
      <path className="map-ghost-ways" d={from.map((each) => `${at(each)}L${each.to}`).join("")} />
      <path
        className="map-ghost-rings"
        d={from.map((each) => `${at(each)}m-4 0a4 4 0 1 0 8 0a4 4 0 1 0 -8 0`).join("")}
      />
    </g>
  );
});

/** Intervals of estimated worths, as one outline. */
const Ranges = memo(function Ranges({ placed, up }: { placed: Placed[]; up: Scale }) {
  const lines = placed.flatMap(({ point, x }) =>
    point.low == null || point.high == null
      ? []
      : [`M${x.toFixed(1)} ${up(point.low).toFixed(1)}V${up(point.high).toFixed(1)}`],
  );
  return lines.length ? <path className="map-ranges" data-ranges={lines.length} d={lines.join("")} /> : null;
});

/** Each cost has a number below it where it has so much room, in px; else some have. */
const TICK = 20;

/** Card types are told apart by shape, verdicts by fill: round, diamond, square, triangle. */
function Shape({ number }: { number: number }) {
  if (number === 1) return <path className="map-shape" d="M0 -6L6 0L0 6L-6 0Z" />;
  if (number === 2) return <rect className="map-shape" x={-4.6} y={-4.6} width={9.2} height={9.2} rx={1} />;
  if (number === 3) return <path className="map-shape" d="M0 -6L5.500 4.500H-5.500Z" />;
  return <circle className="map-shape" r={5} />;
}
