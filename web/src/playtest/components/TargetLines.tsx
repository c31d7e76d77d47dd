// Lines on the table: from the asking card to the focused target, and from each answer to the answered card.
import { type RefObject, useLayoutEffect, useState } from "react";
import { likeliest } from "../options";
import type { Playtest } from "../types";

type Thread = { from: number; to: number; chosen: boolean };
type Drawn = Thread & { path: string; x: number; y: number };

export function threadsOf(table: Playtest, pointed: number): Thread[] {
  const every = table.view.seats.flatMap((seat) => seat.zones.find((zone) => zone.zone === "play")?.cards ?? []);
  const answers = every
    .filter((each) => each.answers >= 0)
    .map((each) => ({ from: each.instance, to: each.answers, chosen: false }));
  const asks = ["pick", "declare", "host"].includes(table.asked) && table.asker >= 0 && pointed >= 0;
  const picks = asks && pointed !== table.asker && likeliest(table, pointed)?.do === "pick";
  return picks ? [...answers, { from: table.asker, to: pointed, chosen: true }] : answers;
}

export function TargetLines({
  table,
  pointed,
  room,
}: {
  table: Playtest;
  pointed: number;
  room: RefObject<HTMLElement | null>;
}) {
  const [drawn, setDrawn] = useState<Drawn[]>([]);
  useLayoutEffect(() => {
    const at = room.current;
    const wanted = threadsOf(table, pointed);
    const draw = () => {
      if (!at) return;
      const edge = at.getBoundingClientRect();
      /** The middle of a card's edge that faces the other. */
      const end = (card: number, other: number) => {
        const [found, facing] = [card, other].map((each) =>
          at.querySelector(`[data-instance="${each}"] .table-face`)?.getBoundingClientRect(),
        );
        if (!found || !facing) return null;
        const side = facing.y > found.bottom ? found.height : facing.bottom < found.y ? 0 : found.height / 2;
        return { x: found.x + found.width / 2 - edge.x + at.scrollLeft, y: found.y + side - edge.y + at.scrollTop };
      };
      setDrawn(
        wanted.flatMap((each) => {
          const from = end(each.from, each.to);
          const to = end(each.to, each.from);
          if (!from || !to) return [];
          const bow = Math.min(60, Math.abs(to.x - from.x) / 4 + 12);
          const path = `M${from.x} ${from.y} Q${(from.x + to.x) / 2 + bow} ${(from.y + to.y) / 2 - bow} ${to.x} ${to.y}`;
          return [{ ...each, path, x: to.x, y: to.y }];
        }),
      );
    };
    if (!wanted.length) return setDrawn((before) => (before.length ? [] : before));
    draw();
    window.addEventListener("resize", draw);
    return () => window.removeEventListener("resize", draw);
  }, [table, pointed, room]);
  if (!drawn.length) return null;
  return (
    <svg className="threads" aria-hidden="true">
      {drawn.map((each) => (
        <g key={`${each.from} ${each.to}`} className={each.chosen ? "thread thread-chosen" : "thread"}>
          <path d={each.path} />
          <circle cx={each.x} cy={each.y} r="5" />
        </g>
      ))}
    </svg>
  );
}
