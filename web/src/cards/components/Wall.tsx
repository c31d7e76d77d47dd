// Faces grouped by two fields, with gaps shown: dragging a card to another cell changes its values.

import { useVirtualizer } from "@tanstack/react-virtual";
import { Plus } from "lucide-react";
import { useEffect, useMemo, useRef, useState } from "react";
import { writeCells } from "../../state/cells";
import type { Schemas } from "../../state/client";
import { addCard } from "../../state/edits";
import { useAsked } from "../../state/query";
import { useGame } from "../../state/store";
import { Dot } from "../../ui/Dot";
import { Face } from "../../ui/Face";
import { counted } from "../../ui/plural";
import * as requests from "../api";

type WallOut = Schemas["WallOut"];
type Props = {
  query: string;
  setId: string;
  across: string;
  down: string;
  zoom: number;
  at: string;
  choose: (card: string) => void;
  opened: (card: string) => void;
};
type Place = { across: string; down: string };
/** A line of the wall: a band's head, or the band's nth cards side by side. */
type Line = { band: number; nth: number; head: boolean };

const HEAD = 26;
const GAP = 8;

export function Wall({ query, setId, across, down, zoom, at, choose, opened }: Props) {
  const game = useGame((state) => state.game);
  const cards = useGame((state) => state.cards);
  const seq = useGame((state) => state.seq);
  const [carried, setCarried] = useState<{ card: string; from: Place } | null>(null);
  const [over, setOver] = useState<string | null>(null);
  const scroller = useRef<HTMLDivElement>(null);
  const id = game?.id ?? "";

  const asking = () => requests.cardsWall({ params: { path: { game_id: id }, query: { across, down, query } } });
  const { found, trouble } = useAsked(asking, [id, across, down, query, seq]);
  // While there is a mistake in what is being typed the last wall stays.
  const sound = useRef<WallOut | null>(null);
  if (found && !found.problem) sound.current = found;
  const wall = sound.current;

  const held = useMemo(() => {
    const found = new Map<string, string[]>();
    for (const cell of wall?.cells ?? [])
      found.set(
        keyOf(cell),
        cell.cards.filter((card) => cards[card] && (!setId || cards[card]?.set === setId)),
      );
    return found;
  }, [wall, cards, setId]);
  const lines = useMemo(() => {
    const found: Line[] = [];
    wall?.down.forEach((group, band) => {
      found.push({ band, nth: -1, head: true });
      const most = Math.max(
        1,
        ...wall.across.map((side) => held.get(keyOf({ across: side.value, down: group.value }))?.length ?? 0),
      );
      for (let nth = 0; nth < most; nth++) found.push({ band, nth, head: false });
    });
    return found;
  }, [wall, held]);
  const tall = useMemo(() => {
    const ratio = Math.max(0.3, ...(game?.types ?? []).map((type) => type.height / type.width));
    return Math.round(zoom * ratio);
  }, [game, zoom]);
  const virtual = useVirtualizer({
    count: lines.length,
    getScrollElement: () => scroller.current,
    estimateSize: (index) => (lines[index]?.head ? HEAD : tall + GAP),
    overscan: 2,
  });
  // biome-ignore lint/correctness/useExhaustiveDependencies: new heights are measured anew
  useEffect(() => virtual.measure(), [tall, lines]);

  if (!game) return null;
  if (trouble) return <p className="empty needs">{trouble.detail}</p>;
  if (!wall) return <p className="empty">Laying out the wall…</p>;

  const valuesOf = (place: Place): Record<string, string> => ({ [across]: place.across, [down]: place.down });
  const put = (card: string, place: Place, from: Place) => {
    const cells = Object.entries(valuesOf(place))
      .filter(([field, value]) => valuesOf(from)[field] !== value)
      .map(([field, typed]) => ({ card, field, typed }));
    const title = cards[card]?.title ?? "card";
    if (cells.length) void writeCells(cells, [], `${title} moved on the wall`);
  };
  const write = async (place: Place) => {
    const { type: typeName, ...typed } = valuesOf(place);
    const wanted = [across, down].filter((field) => field !== "type");
    const type =
      game.types.find((each) => each.name === typeName) ??
      game.types.find((each) => wanted.every((field) => each.fields.includes(field))) ??
      game.types[0];
    const full = Object.fromEntries(Object.entries(typed).filter(([, value]) => value !== ""));
    const edit = await addCard(type?.id ?? "", setId || (game.sets[0]?.id ?? ""), full);
    if (edit?.made[0]) opened(edit.made[0]);
  };
  /** Alt with an arrow carries the card to the next place. */
  const press = (event: React.KeyboardEvent, card: string, place: Place) => {
    const side = wall.across.findIndex((group) => group.value === place.across);
    const band = wall.down.findIndex((group) => group.value === place.down);
    const steps: Record<string, [number, number]> = {
      ArrowLeft: [-1, 0],
      ArrowRight: [1, 0],
      ArrowUp: [0, -1],
      ArrowDown: [0, 1],
    };
    const step = steps[event.key];
    if (event.key === "Enter") opened(card);
    else if (step && event.altKey) {
      const to = { across: wall.across[side + step[0]]?.value, down: wall.down[band + step[1]]?.value };
      if (to.across !== undefined && to.down !== undefined) put(card, to as Place, place);
    } else return;
    event.preventDefault();
  };

  const width = wall.across.length * (zoom + GAP) + GAP;
  return (
    <section ref={scroller} className="cards-wall mat" aria-label="Wall of cards" tabIndex={-1}>
      <div className="cards-wall-across" style={{ width, minWidth: "100%" }}>
        {wall.across.map((group, place) => (
          <span key={group.value} style={{ width: zoom }} className="cards-wall-side">
            {group.colour && <Dot colour={group.colour} place={place} />}
            {group.label}
          </span>
        ))}
      </div>
      <div style={{ height: virtual.getTotalSize(), width, position: "relative", minWidth: "100%" }}>
        {virtual.getVirtualItems().map((item) => {
          const line = lines[item.index] as Line;
          const group = wall.down[line.band] as WallOut["down"][number];
          if (line.head) {
            const count = wall.across.reduce(
              (sum, side) => sum + (held.get(keyOf({ across: side.value, down: group.value }))?.length ?? 0),
              0,
            );
            return (
              <h3
                key={item.key}
                className="cards-wall-band"
                style={{ transform: `translateY(${item.start}px)`, height: HEAD }}
              >
                {group.colour && <Dot colour={group.colour} place={line.band} />}
                {group.label} <span className="on-mat-soft">{count}</span>
              </h3>
            );
          }
          return (
            <div
              key={item.key}
              className="cards-wall-line"
              style={{ transform: `translateY(${item.start}px)`, height: tall + GAP }}
            >
              {wall.across.map((side) => {
                const place = { across: side.value, down: group.value };
                const key = keyOf(place);
                const card = held.get(key)?.[line.nth];
                const gap = !card && line.nth === 0;
                return (
                  <div
                    key={side.value}
                    role="group"
                    aria-label={`${side.label}, ${group.label}`}
                    className={`cards-wall-cell ${over === key ? "cards-wall-over" : ""}`}
                    style={{ width: zoom, height: tall }}
                    onDragOver={(event) => {
                      if (!carried) return;
                      event.preventDefault();
                      setOver(key);
                    }}
                    onDrop={(event) => {
                      event.preventDefault();
                      if (carried) put(carried.card, place, carried.from);
                    }}
                  >
                    {card && (
                      <button
                        type="button"
                        className={`cards-wall-card ${card === at ? "cards-wall-on" : ""}`}
                        draggable
                        title={`${cards[card]?.title}: press to look, twice to edit; drag, or Alt with an arrow, to move`}
                        onClick={() => choose(card)}
                        onDoubleClick={() => opened(card)}
                        onKeyDown={(event) => press(event, card, place)}
                        onDragStart={(event) => {
                          event.dataTransfer.effectAllowed = "move";
                          event.dataTransfer.setData("text/plain", cards[card]?.title ?? "");
                          setCarried({ card, from: place });
                        }}
                        onDragEnd={() => {
                          setCarried(null);
                          setOver(null);
                        }}
                      >
                        <Face card={card} title={cards[card]?.title ?? ""} />
                      </button>
                    )}
                    {gap && (
                      <button
                        type="button"
                        className="cards-wall-gap"
                        onClick={() => void write(place)}
                        aria-label={`Write one here: ${side.label}, ${group.label}`}
                      >
                        <Plus size={16} aria-hidden="true" />
                        <span>write one here</span>
                      </button>
                    )}
                  </div>
                );
              })}
            </div>
          );
        })}
      </div>
      {wall.cut > 0 && (
        <p className="on-mat-soft">{counted(wall.cut, "card has", "cards have")} values beyond these groups.</p>
      )}
    </section>
  );
}

const keyOf = (place: Place): string => `${place.across}\u0000${place.down}`;
