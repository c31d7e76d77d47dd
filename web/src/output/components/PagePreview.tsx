// A preview of the printed page, with all sheets next to it; each can be excluded.

import { FlipHorizontal2 } from "lucide-react";
import { memo, useEffect, useRef, useState } from "react";
import type { Schemas } from "../../state/client";
import { useAsked } from "../../state/query";
import { useGame } from "../../state/store";
import * as requests from "../api";
import type { PrintOrder } from "../useOutput";

type Look = Schemas["PrintLookOut"];
type Props = {
  order: PrintOrder;
  look: Look | null;
  leaf: number;
  show: (leaf: number) => void;
  turn: (leaf: number) => void;
  left: number[];
};

export function PagePreview({ order, look, leaf, show, turn, left }: Props) {
  const game = useGame((state) => state.game?.id ?? "");
  const seq = useGame((state) => state.seq);
  const [back, setBack] = useState(false);
  const twoSided = order.backs === "long" || order.backs === "short";
  const behind = back && twoSided;
  const page = useAsked(
    look
      ? () =>
          requests.lookAtPage({
            params: { path: { game_id: game }, query: { leaf, back: behind } },
            body: { ...order, left_out: [] },
          })
      : null,
    [order, leaf, behind, seq, look !== null],
  ).found;
  const strip = useRef<HTMLUListElement>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another leaf is brought in sight
  useEffect(() => {
    strip.current?.querySelector("[aria-current=true]")?.scrollIntoView({ block: "nearest" });
  }, [leaf]);
  /** Arrows walk the leaves; only the one in sight is in the way of Tab. */
  const walk = (event: React.KeyboardEvent) => {
    const by = { ArrowDown: 1, ArrowUp: -1, PageDown: 5, PageUp: -5 }[event.key];
    if (!by || !look) return;
    event.preventDefault();
    const next = Math.min(look.leaves.length, Math.max(1, leaf + by));
    show(next);
    strip.current?.querySelectorAll<HTMLElement>(".leaf-page")[next - 1]?.focus();
  };
  const out = left.includes(leaf);
  return (
    <section className="pages mat" aria-label="Pages">
      <ul className="leaves" ref={strip} aria-label="Sheets; arrows walk them" onKeyDown={walk}>
        {look?.leaves.map((each) => (
          <LeafThumb
            key={each.number}
            leaf={each}
            layout={look.layouts[each.layout]}
            on={each.number === leaf}
            out={left.includes(each.number)}
            show={show}
            turn={turn}
          />
        ))}
      </ul>
      <div className="page-stage">
        <div className="page-tools">
          <span>
            Sheet {leaf} of {look?.leaves.length ?? 1}
            {twoSided && (behind ? ", back" : ", front")}
            {out && <b className="page-out"> is left out</b>}
          </span>
          {twoSided && (
            <button type="button" className="mat-button" aria-pressed={behind} onClick={() => setBack(!back)}>
              <FlipHorizontal2 size={14} aria-hidden="true" /> Turn the sheet
            </button>
          )}
        </div>
        {page ? (
          <svg
            className={`page-sheet ${out ? "page-sheet-out" : ""}`}
            viewBox={`0 0 ${page.width} ${page.height}`}
            role="img"
            aria-label={`Sheet ${leaf} as it will be printed`}
            textRendering="geometricPrecision"
          >
            <rect width={page.width} height={page.height} fill="#fff" />
            <g dangerouslySetInnerHTML={{ __html: page.body }} />
            <rect
              className="page-margin"
              x={order.paper.margin}
              y={order.paper.margin}
              width={Math.max(0, page.width - 2 * order.paper.margin)}
              height={Math.max(0, page.height - 2 * order.paper.margin)}
            />
          </svg>
        ) : (
          <p className="on-mat-soft page-waits">{look ? "Drawing the page…" : "The page will show here."}</p>
        )}
      </div>
    </section>
  );
}

type ThumbProps = {
  leaf: Schemas["LeafOut"];
  layout: Schemas["PageLayout"] | undefined;
  on: boolean;
  out: boolean;
  show: (leaf: number) => void;
  turn: (leaf: number) => void;
};

const LeafThumb = memo(function LeafThumb({ leaf, layout, on, out, show, turn }: ThumbProps) {
  if (!layout) return null;
  const { width: wide, height: high } = layout.page;
  const boxes = layout.slots.slice(
    0,
    layout.columns * layout.rows > leaf.cards.length ? slotsFilled(leaf, layout) : undefined,
  );
  return (
    <li className={`leaf ${out ? "leaf-out" : ""}`}>
      <button
        type="button"
        className="leaf-page"
        tabIndex={on ? 0 : -1}
        aria-current={on}
        onClick={() => show(leaf.number)}
        aria-label={`Sheet ${leaf.number}`}
      >
        <svg viewBox={`0 0 ${wide} ${high}`} aria-hidden="true">
          <rect width={wide} height={high} className="leaf-paper" />
          {boxes.map(({ x, y }) => (
            <rect
              key={`${x} ${y}`}
              x={x}
              y={y}
              width={layout.card.width}
              height={layout.card.height}
              className="leaf-card"
            />
          ))}
        </svg>
      </button>
      <label className="leaf-tick">
        <input
          type="checkbox"
          tabIndex={on ? 0 : -1}
          checked={!out}
          onChange={() => turn(leaf.number)}
          aria-label={`Print sheet ${leaf.number}`}
        />
        {leaf.number}
      </label>
    </li>
  );
});

/** With backs beside, each card takes two slots. */
function slotsFilled(leaf: Schemas["LeafOut"], layout: Schemas["PageLayout"]): number {
  return leaf.cards.length * (layout.pairs ? 2 : 1);
}
