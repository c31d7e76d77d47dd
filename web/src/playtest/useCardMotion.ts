// Animates moved cards from their previous position, or from their side's rack.
import { type RefObject, useLayoutEffect, useRef } from "react";
import { calm, type Happening, happened, sound, useLively } from "./motion";
import type { Playtest } from "./types";

const MS = 190;
/** More than this at once are laid down without a walk. */
const MOST = 40;
/** Which happening a card's walk belongs to, by where it arrives. */
const ARRIVES: Record<string, Happening> = { hand: "drawn", play: "played", rival: "played" };

type Lay = { id: string; taken: number; table: Playtest; places: Map<string, DOMRect> };

export function useMoves(room: RefObject<HTMLElement | null>, table: Playtest, now: Playtest): void {
  const last = useRef<Lay | null>(null);
  useLayoutEffect(() => {
    const at = room.current;
    if (!at) return;
    const before = last.current;
    const { moves, still } = useLively.getState();
    const walks = moves && !calm();
    const forward = before?.id === table.id && table === now && table.taken > before.taken;
    if (forward) sound(happened(before.table, table));
    if (!walks) {
      last.current = { id: table.id, taken: table.taken, table, places: new Map() };
      return;
    }
    const cards = [...at.querySelectorAll<HTMLElement>("[data-instance]")];
    const places = new Map(cards.map((card) => [card.dataset.instance ?? "", card.getBoundingClientRect()]));
    last.current = { id: table.id, taken: table.taken, table, places };
    if (!forward || !before.places.size) return;
    const found = cards
      .map((card) => {
        const kind = ["hand", "play", "rival"].find((each) => card.classList.contains(`table-${each}`)) ?? "";
        if (still.includes(ARRIVES[kind] ?? "played")) return null;
        const here = places.get(card.dataset.instance ?? "");
        const rack = kind === "rival" ? ".rack-rival .card-back" : ".rack-mine .card-back";
        const there = before.places.get(card.dataset.instance ?? "") ?? at.querySelector(rack)?.getBoundingClientRect();
        if (!here || !there?.width || Math.abs(here.x - there.x) + Math.abs(here.y - there.y) < 6) return null;
        return {
          card,
          by: `translate(${there.x - here.x}px, ${there.y - here.y}px) scale(${there.width / here.width})`,
        };
      })
      .filter((each) => each !== null);
    if (found.length > MOST) return;
    for (const { card, by } of found)
      card.animate(
        [
          { transform: by, transformOrigin: "0 0" },
          { transform: "none", transformOrigin: "0 0" },
        ],
        {
          duration: MS,
          easing: "cubic-bezier(0.2, 0.7, 0.2, 1)",
        },
      );
  }, [room, table, now]);
}
