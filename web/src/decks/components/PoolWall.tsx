import { useVirtualizer } from "@tanstack/react-virtual";
import { Minus, Plus } from "lucide-react";
import { memo, type RefObject, useEffect, useLayoutEffect, useRef, useState } from "react";
import type { Deck } from "../../state/client";
import { countBy } from "../../state/deckEdits";
import { useGame } from "../../state/store";
import { Face } from "../../ui/Face";
import { useWindowKeys } from "../../ui/windowKeys";

const NARROWEST = 142;
const GAP = 12;

type Props = {
  cards: string[];
  deck: Deck | undefined;
  start: string | null;
  /** What was typed is not answered yet: which card one is on is not known. */
  waiting: boolean;
};

/** A wall of faces. Arrows walk it, + and - put the card in and take it out. */
export function PoolWall({ cards, deck, start, waiting }: Props) {
  const titles = useGame((state) => state.cards);
  const box = useRef<HTMLDivElement>(null);
  const [room, setRoom] = useState(800);
  const across = Math.max(1, Math.floor((room + GAP) / (NARROWEST + GAP)));
  const wide = Math.floor((room + GAP) / across) - GAP;
  const high = Math.round(((wide - 6) * 88.9) / 63.5) + 42;
  const [at, setAt] = useState(() => Math.max(0, start ? cards.indexOf(start) : 0));
  const place = Math.min(at, cards.length - 1);
  const here = cards[place];
  useLayoutEffect(() => {
    const measure = () => setRoom((box.current?.clientWidth ?? 824) - 24);
    measure();
    window.addEventListener("resize", measure);
    return () => window.removeEventListener("resize", measure);
  }, []);
  const lines = Math.ceil(cards.length / across);
  const virtual = useVirtualizer({
    count: lines,
    getScrollElement: () => box.current,
    estimateSize: () => high,
    overscan: 1,
  });
  useEffect(() => {
    const top = Math.floor(place / across) * high;
    const scroller = box.current;
    if (!scroller) return;
    if (top < scroller.scrollTop) scroller.scrollTop = top;
    else if (top + high > scroller.scrollTop + scroller.clientHeight)
      scroller.scrollTop = top + high - scroller.clientHeight;
  }, [place, across, high]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: lines are as high as the faces are wide
  useLayoutEffect(() => {
    virtual.measure();
  }, [high]);
  /** Keys that came before the cards they mean. */
  const early = useRef(0);
  const change = (card: string | undefined, by: number) => {
    if (deck && card) void countBy(deck.id, card, by);
  };
  /** A key means the card one is on, once it is known. */
  const byKey = (by: number) => {
    if (waiting) early.current += by;
    else change(here, by);
  };
  const latest = useRef(change);
  latest.current = change;
  const latestKey = useRef(byKey);
  latestKey.current = byKey;
  useEffect(() => {
    if (waiting || !early.current) return;
    const by = early.current;
    early.current = 0;
    latestKey.current(by);
  }, [waiting]);
  // + and − mean the card one stands on, also while the focus is on nothing that could want them.
  useWindowKeys((event) => {
    if (event.defaultPrevented || event.ctrlKey || event.metaKey || event.altKey) return;
    const target = event.target as HTMLElement;
    if (target.closest("input, textarea, select, [role=grid], [role=dialog], [role=menu]")) return;
    if (event.key === "+" || event.key === "=") byKey(1);
    else if (event.key === "-") byKey(-1);
    else return;
    event.preventDefault();
  });
  const press = (event: React.KeyboardEvent) => {
    if (event.ctrlKey || event.metaKey) return;
    const steps: Record<string, number> = {
      ArrowRight: 1,
      ArrowLeft: -1,
      ArrowDown: across,
      ArrowUp: -across,
      Home: -cards.length,
      End: cards.length,
    };
    const step = steps[event.key];
    if (step !== undefined) setAt(Math.max(0, Math.min(cards.length - 1, place + step)));
    else if (event.key === "+" || event.key === "=" || event.key === "Enter") byKey(1);
    else if (event.key === "-" || event.key === "Delete") byKey(-1);
    else return;
    event.preventDefault();
  };
  const chosen = here ? titles[here] : undefined;
  return (
    <>
      <div
        ref={box}
        className="wall"
        data-main
        onDragOver={(event) => event.dataTransfer.types.includes("text/x-listed") && event.preventDefault()}
        onDrop={(event) => {
          // A card of the list, dropped on the pool, goes out of the deck.
          const [card, section = ""] = event.dataTransfer.getData("text/x-listed").split(" ");
          event.preventDefault();
          if (card && deck) void countBy(deck.id, card, -1, section);
        }}
        role="grid"
        tabIndex={0}
        aria-label="Cards of the pool"
        aria-activedescendant={`pool-${cards[place]}`}
        onKeyDown={press}
      >
        <div role="presentation" style={{ height: virtual.getTotalSize(), position: "relative" }}>
          {virtual.getVirtualItems().map((line) => (
            <div
              key={line.key}
              className="wall-line"
              role="row"
              aria-label={`Row ${line.index + 1}`}
              tabIndex={-1}
              style={{ transform: `translateY(${line.start}px)`, gap: GAP }}
            >
              {cards.slice(line.index * across, (line.index + 1) * across).map((id, number) => {
                const index = line.index * across + number;
                return (
                  <PoolCard
                    key={id}
                    id={id}
                    title={titles[id]?.title ?? ""}
                    count={deck?.cards[id] ?? 0}
                    closed={!deck}
                    chosen={index === place}
                    index={index}
                    wide={wide}
                    choose={setAt}
                    change={latest}
                  />
                );
              })}
            </div>
          ))}
        </div>
      </div>
      <div className="wall-chosen" aria-live="polite">
        {chosen && (
          <>
            <b>{chosen.title}</b>
            <span className="on-mat-soft">
              {chosen.code} ·{" "}
              {deck
                ? `${deck.cards[chosen.id] ? `${deck.cards[chosen.id]} in` : "none in"} ${deck.name}`
                : "no deck yet"}
            </span>
            <span className="wall-keys on-mat-soft">
              <kbd>+</kbd> <kbd>−</kbd> or double-click; type a name anywhere
            </span>
          </>
        )}
      </div>
    </>
  );
}

type CardProps = {
  id: string;
  title: string;
  count: number;
  /** There is no deck to put it in. */
  closed: boolean;
  chosen: boolean;
  index: number;
  wide: number;
  choose: (index: number) => void;
  change: RefObject<(card: string | undefined, by: number) => void>;
};

/** Kept as it is while another card is counted. */
const PoolCard = memo(function PoolCard(props: CardProps) {
  const { id, title, count, closed, chosen, index, wide, choose, change } = props;
  return (
    <div
      id={`pool-${id}`}
      role="gridcell"
      tabIndex={-1}
      aria-selected={chosen}
      className={`wall-card ${chosen ? "wall-on" : ""} ${count ? "wall-in" : ""}`}
      style={{ width: wide }}
      draggable
      onDragStart={(event) => {
        choose(index);
        event.dataTransfer.setData("text/x-card", id);
        event.dataTransfer.effectAllowed = "copy";
      }}
      onMouseDown={() => choose(index)}
      onDoubleClick={() => change.current(id, 1)}
    >
      <span className="unseen">
        {title}, {count} in the deck
      </span>
      <span aria-hidden="true">
        <Face card={id} title={title} />
      </span>
      <div className="wall-foot">
        <button
          type="button"
          tabIndex={-1}
          aria-label={`One ${title} less`}
          disabled={closed || count === 0}
          onClick={() => change.current(id, -1)}
        >
          <Minus size={14} aria-hidden="true" />
        </button>
        <span className="num">{count || ""}</span>
        <button
          type="button"
          tabIndex={-1}
          aria-label={`One ${title} more`}
          disabled={closed}
          onClick={() => change.current(id, 1)}
        >
          <Plus size={14} aria-hidden="true" />
        </button>
      </div>
    </div>
  );
});
