// Adjust one card: move its picture by drag or numbers, change the size of a text.

import { Copy, RotateCcw } from "lucide-react";
import { useEffect, useMemo, useRef, useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../../state/client";
import { useAsked } from "../../state/query";
import { useGame } from "../../state/store";
import { change, signed } from "../../state/writing";
import { SheetFace } from "../../ui/Face";
import { SheetDialog } from "../../ui/Sheet";
import { Picking } from "../../ui/Typing";
import * as requests from "../api";
import { Figure } from "./inputs";

type Look = Schemas["LookOut"];
type Adjust = Schemas["AdjustOut"];
const PLAIN: Look = { across: 0, up: 0, zoom: 1, size: null };
const isPlain = (look: Look) => !look.across && !look.up && look.zoom === 1 && look.size === null;

type Props = { card: string; title: string; close: () => void; others?: string[] };

export function AdjustDialog({ card, title, close, others = [] }: Props) {
  const game = useGame((state) => state.game?.id ?? "");
  const revision = useGame((state) => state.cards[card]?.revision ?? 0);
  const [draft, setDraft] = useState<Record<string, Look>>({});
  const path = { game_id: game, card_id: card };
  const asking = () =>
    Object.keys(draft).length
      ? requests.lookAtAdjusting({
          params: { path },
          body: { cards: [card], looks: draft },
        })
      : requests.adjustable({ params: { path } });
  const found: Adjust | null = useAsked<Adjust>(asking, [game, card, revision, draft]).found;
  const looks = found?.looks ?? {};
  const lookOf = (place: string): Look => draft[place] ?? looks[place] ?? PLAIN;
  /** What was written and is not in the sheet yet: it stays in sight until the sheet has it. */
  const written = useRef<[string, Look][]>([]);
  const write = (place: string, look: Look) => {
    setDraft((now) => ({ ...now, [place]: look }));
    void change((id, key) =>
      requests.putLooks({
        params: signed(id, key),
        body: { cards: [card], looks: { [place]: look } },
      }),
    ).then((done) => {
      if (done) written.current.push([place, look]);
      else setDraft((now) => without(now, [[place, look]]));
    });
  };
  // biome-ignore lint/correctness/useExhaustiveDependencies: only another revision holds what was written
  useEffect(() => {
    const held = written.current;
    written.current = [];
    if (held.length) setDraft((now) => without(now, held));
  }, [found]);
  const windows = found?.places.filter((place) => place.full.kind === "picture") ?? [];
  const texts =
    found?.places.filter(
      (place) => place.full.kind !== "picture" && (place.full.kind !== "choice" || place.full.shown === "words"),
    ) ?? [];
  const adjusted = Object.entries(looks).filter(([, look]) => !isPlain(look));
  return (
    <SheetDialog
      open
      setOpen={(open) => !open && close()}
      title={`${title}: adjustments`}
      about="Drag the picture on the face, or use the figures. 0 keeps the plan's position."
      className="adjust"
    >
      <div className="adjust-body">
        <div className="adjust-face mat">
          {found && (
            <Draggable
              found={found}
              windows={windows}
              lookOf={lookOf}
              draft={(place, look) => setDraft({ ...draft, [place]: look })}
              write={write}
            />
          )}
        </div>
        <div className="adjust-side">
          {windows.map((place) => {
            const look = lookOf(place.id);
            const put = (part: Partial<Look>) => write(place.id, { ...look, ...part });
            const see = (part: Partial<Look> | null) =>
              setDraft((now) => {
                const { [place.id]: _, ...rest } = now;
                return part ? { ...rest, [place.id]: { ...look, ...part } } : rest;
              });
            return (
              <section key={place.id} className="inspector-part" aria-label={String(place.full.name || place.id)}>
                <h3>
                  {String(place.full.name || place.id)}
                  {!isPlain(look) && <span className="adjusted">adjusted</span>}
                </h3>
                <div className="inspector-figures">
                  <Figure
                    label="Across"
                    unit="mm"
                    value={look.across}
                    step={0.5}
                    look={(v) => see(v === null ? null : { across: v })}
                    commit={(across) => put({ across })}
                  />
                  <Figure
                    label="Up"
                    unit="mm"
                    value={look.up}
                    step={0.5}
                    look={(v) => see(v === null ? null : { up: v })}
                    commit={(up) => put({ up })}
                  />
                  <Figure
                    label="Zoom"
                    value={look.zoom}
                    step={0.05}
                    look={(v) => see(v === null ? null : { zoom: v })}
                    commit={(zoom) => put({ zoom })}
                  />
                </div>
                {!isPlain(look) && (
                  <button type="button" className="small-button" onClick={() => write(place.id, PLAIN)}>
                    <RotateCcw size={12} aria-hidden="true" /> As the plan says
                  </button>
                )}
              </section>
            );
          })}
          {texts.length > 0 && (
            <section className="inspector-part" aria-label="Sizes of text">
              <h3>Sizes of text</h3>
              <ul className="text-sizes">
                {texts.map((place) => {
                  const look = lookOf(place.id);
                  return (
                    <li key={place.id}>
                      <span>
                        {String(place.full.name || place.id)}
                        {look.size !== null && <span className="adjusted">adjusted</span>}
                      </span>
                      <Figure
                        label={`${place.full.name || place.id}: size in mm`}
                        hidden
                        value={look.size ?? null}
                        step={0.1}
                        placeholder={`${place.full.largest}–${place.full.least}`}
                        empty={() => write(place.id, { ...look, size: null })}
                        commit={(size) => write(place.id, { ...look, size })}
                      />
                      {look.size !== null && (
                        <button
                          type="button"
                          className="icon-button"
                          aria-label={`${place.full.name || place.id}: as the plan says`}
                          title="As the plan says"
                          onClick={() => write(place.id, { ...look, size: null })}
                        >
                          <RotateCcw size={13} aria-hidden="true" />
                        </button>
                      )}
                    </li>
                  );
                })}
              </ul>
            </section>
          )}
          <p className="adjust-link">
            <Link to={`/${game}/faces?card=${card}`}>Open its face plan</Link>, for all cards that wear it
          </p>
          {adjusted.length > 0 && <CopyTo card={card} others={others} />}
          {found && found.sheet.faults.length > 0 && (
            <ul className="problems">
              {found.sheet.faults.map((fault) => (
                <li key={fault.kind + fault.place}>
                  <b className="needs">
                    {fault.name}: {fault.what}
                  </b>{" "}
                  — {fault.mend}
                </li>
              ))}
            </ul>
          )}
        </div>
      </div>
    </SheetDialog>
  );
}

/** A draft without what was written; what has been typed since stays. */
function without(draft: Record<string, Look>, written: [string, Look][]): Record<string, Look> {
  return Object.fromEntries(
    Object.entries(draft).filter(([place, look]) => !written.some(([at, said]) => at === place && said === look)),
  );
}

type DraggableProps = {
  found: Adjust;
  windows: Adjust["places"];
  lookOf: (place: string) => Look;
  draft: (place: string, look: Look) => void;
  write: (place: string, look: Look) => void;
};

const rounded = (look: Look): Look => ({
  ...look,
  across: Math.round(look.across * 10) / 10,
  up: Math.round(look.up * 10) / 10,
  zoom: Math.round(Math.max(0.1, Math.min(10, look.zoom)) * 100) / 100,
});

/** The face with its picture windows under one's hand: dragged, stepped by arrow keys, zoomed by + and -. */
function Draggable({ found, windows, lookOf, draft, write }: DraggableProps) {
  const [, , wide = 1, high = 1] = found.sheet.box.split(" ").map(Number);
  const held = useRef<{ place: string; from: [number, number]; look: Look; k: number } | null>(null);
  const timer = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
  const stepped = (place: string, look: Look) => {
    const next = rounded(look);
    draft(place, next);
    clearTimeout(timer.current);
    timer.current = setTimeout(() => write(place, next), 500);
  };
  const movedTo = (event: React.PointerEvent): Look | null => {
    const now = held.current;
    if (!now) return null;
    const dx = (event.clientX - now.from[0]) / now.k;
    const dy = (event.clientY - now.from[1]) / now.k;
    return rounded({ ...now.look, across: now.look.across + dx, up: now.look.up - dy });
  };
  return (
    <div
      className="adjust-hold"
      style={{ aspectRatio: `${wide} / ${high}`, width: `min(100%, ${(wide / high) * 62}vh)` }}
    >
      <SheetFace sheet={found.sheet} />
      {windows.map((place) => {
        const box = place.full as { x: number; y: number; width: number; height: number; name?: string };
        return (
          <button
            key={place.id}
            type="button"
            className="adjust-window"
            aria-label={`${box.name || place.id}: drag it, or use arrows, + and -`}
            style={{
              left: `${(box.x / wide) * 100}%`,
              top: `${(box.y / high) * 100}%`,
              width: `${(box.width / wide) * 100}%`,
              height: `${(box.height / high) * 100}%`,
            }}
            onPointerDown={(event) => {
              const frame = event.currentTarget.getBoundingClientRect();
              held.current = {
                place: place.id,
                from: [event.clientX, event.clientY],
                look: lookOf(place.id),
                k: frame.width / box.width,
              };
              event.currentTarget.setPointerCapture(event.pointerId);
            }}
            onPointerMove={(event) => {
              const look = movedTo(event);
              if (look) draft(place.id, look);
            }}
            onPointerUp={(event) => {
              const look = movedTo(event);
              const before = held.current?.look;
              held.current = null;
              if (look && before && (look.across !== before.across || look.up !== before.up)) write(place.id, look);
            }}
            onPointerCancel={() => {
              held.current = null;
            }}
            onKeyDown={(event) => {
              const look = lookOf(place.id);
              const step = event.shiftKey ? 5 : 0.5;
              const next: Record<string, Look> = {
                ArrowLeft: { ...look, across: look.across - step },
                ArrowRight: { ...look, across: look.across + step },
                ArrowUp: { ...look, up: look.up + step },
                ArrowDown: { ...look, up: look.up - step },
                "+": { ...look, zoom: look.zoom + 0.05 },
                "=": { ...look, zoom: look.zoom + 0.05 },
                "-": { ...look, zoom: look.zoom - 0.05 },
              };
              const found = next[event.key];
              if (found) {
                event.preventDefault();
                stepped(place.id, found);
              }
            }}
          />
        );
      })}
    </div>
  );
}

/** Gives other cards what this one has otherwise: those chosen in the grid, or all of a type. */
function CopyTo({ card, others }: { card: string; others: string[] }) {
  const cards = useGame((state) => state.cards);
  const types = useGame((state) => state.game?.types ?? []);
  const mine = cards[card];
  const groups = useMemo(() => {
    const all = Object.values(cards).filter((each) => each.id !== card);
    const found: [string, string, string[]][] = [];
    const chosen = others.filter((id) => id !== card);
    if (chosen.length) found.push(["chosen", `the ${chosen.length} chosen cards`, chosen]);
    const same = all.filter((each) => each.type === mine?.type);
    const name = types.find((type) => type.id === mine?.type)?.name ?? "this type";
    if (same.length) found.push(["type", `all other cards of ${name}`, same.map((each) => each.id)]);
    const set = all.filter((each) => each.set === mine?.set && each.type === mine?.type);
    if (set.length && set.length < same.length) found.push(["set", `those of this set`, set.map((each) => each.id)]);
    return found;
  }, [cards, card, mine, others, types]);
  const [to, setTo] = useState("");
  const [one, setOne] = useState("");
  const code = Object.values(cards).find(
    (each) => each.code.toLowerCase() === one.trim().toLowerCase() && each.id !== card,
  );
  const ids = to === "one" ? (code ? [code.id] : []) : (groups.find(([key]) => key === to)?.[2] ?? []);
  return (
    <section className="inspector-part" aria-label="Copy to other cards">
      <h3>Copy to other cards</h3>
      <div className="adjust-copy">
        <Picking
          label="To"
          hidden
          value={to}
          options={[
            ["", "choose cards"],
            ...groups.map(([key, name]) => [key, name] as const),
            ["one", "one card, by its code"],
          ]}
          commit={setTo}
        />
        {to === "one" && (
          <input
            className="input figure"
            aria-label="Code of the card"
            value={one}
            onChange={(event) => setOne(event.target.value)}
          />
        )}
        <button
          type="button"
          className="small-button"
          disabled={!ids.length}
          onClick={() =>
            void change((id, key) =>
              requests.copyCardLooks({
                params: signed(id, key),
                body: { source: card, cards: ids },
              }),
            )
          }
        >
          <Copy size={12} aria-hidden="true" /> Copy
        </button>
      </div>
    </section>
  );
}
