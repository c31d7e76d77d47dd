import { Layers, RotateCcw, Undo2 } from "lucide-react";
import { useEffect, useMemo, useRef, useState } from "react";
import { Link } from "react-router";
import { useOwnUndo } from "../shell/undoKeys";
import type { Game } from "../state/client";
import { Face } from "../ui/Face";
import { LogPane } from "./LogPane";
import type { Playtest } from "./PlaytestPage";
import { TableCard } from "./TableCard";

type Props = {
  game: Game;
  table: Playtest;
  decide: (what: string, card?: number) => void;
  takeBack: () => void;
  again: () => void;
  leave: () => void;
};

/** The mat: piles with counts, what is in play, the fanned hand, what is legal now, the log. */
export function Table({ game, table, decide, takeBack, again, leave }: Props) {
  const { view } = table;
  const legal = useMemo(() => new Set(table.options.map((option) => `${option.do} ${option.card}`)), [table.options]);
  const can = (what: string, card = -1) => legal.has(`${what} ${card}`);
  const [open, setOpen] = useState(false);
  const mat = useRef<HTMLElement>(null);
  useOwnUndo(takeBack);
  // A table one comes to, by a new game or a reload, has its first card under the keys.
  // biome-ignore lint/correctness/useExhaustiveDependencies: once for each table
  useEffect(() => {
    const now = document.activeElement;
    if (now && now !== document.body && now.closest("input, textarea, select, [role=dialog]")) return;
    mat.current?.querySelector<HTMLElement>(".hand button.table-face")?.focus({ preventScroll: true });
  }, [table.id]);

  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement;
      if (target.closest("input, textarea, select, [role=dialog], [role=menu]")) return;
      const key = event.key.toLowerCase();
      if (event.ctrlKey || event.metaKey || event.altKey) return;
      else if (key === "d" && legal.has("draw -1")) decide("draw");
      else if (key === "e" && legal.has("end turn -1")) decide("end turn");
      else if (key === "u") takeBack();
      else if (key === "escape" && legal.has("cancel -1")) decide("cancel");
      else return;
      event.preventDefault();
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, [legal, decide, takeBack]);

  // Arrows walk the cards on the table, wherever the focus stands among them.
  const walk = (event: React.KeyboardEvent) => {
    if (!event.key.startsWith("Arrow")) return;
    const cards = [...(mat.current?.querySelectorAll<HTMLElement>(".table-card button.table-face") ?? [])];
    const here = cards.indexOf(document.activeElement as HTMLElement);
    const step = event.key === "ArrowRight" || event.key === "ArrowDown" ? 1 : -1;
    const next = cards[here < 0 ? 0 : (here + step + cards.length) % cards.length];
    if (next) {
      next.focus();
      event.preventDefault();
    }
  };

  const top = view.discard[view.discard.length - 1];
  const over = view.hand_limit != null && view.hand.length > view.hand_limit;
  const middle = (view.hand.length - 1) / 2;
  const pile = game.zones.draw ?? "draw pile";
  const discards = game.zones.discard ?? "discard pile";
  return (
    <div className="table-room">
      <section className="tabletop mat" aria-label="Table" ref={mat} onKeyDown={walk}>
        <header className="table-top">
          <div className="table-who">
            <b>{table.deck_name}</b>
            <span className="on-mat-soft">
              seed {table.seed} · {game.turn} {view.turn}
            </span>
          </div>
          <ul className="purses" aria-label="Resources">
            {game.resources.map((resource) => (
              <li key={resource.id} className={`purse purse-${resource.symbol}`}>
                <b className="num">{view.resources[resource.id]}</b>
                <span>
                  {resource.names}
                  {resource.cap != null && <small> of {resource.cap}</small>}
                </span>
              </li>
            ))}
          </ul>
          <div className="table-doings">
            <button type="button" className="mat-button" disabled={!can("end turn")} onClick={() => decide("end turn")}>
              End {game.turn} <kbd>E</kbd>
            </button>
            <button type="button" className="mat-button" disabled={!table.taken} onClick={takeBack}>
              <Undo2 size={14} aria-hidden="true" /> Undo <kbd>U</kbd>
            </button>
            <button type="button" className="mat-button" onClick={again} title="The same deck and seed from the start">
              <RotateCcw size={14} aria-hidden="true" /> Again
            </button>
            <button type="button" className="mat-button" onClick={leave}>
              Other deck
            </button>
          </div>
        </header>
        <Asked table={table} can={can} decide={decide} />
        <div className="table-middle">
          <div className="in-play">
            <h2 className="zone-name">
              {game.zones.play ?? "in play"} <span className="num">{view.in_play.length}</span>
            </h2>
            <ul className="in-play-cards" aria-label={game.zones.play ?? "in play"}>
              {[...view.in_play, ...view.resolving].map((each) => (
                <TableCard
                  key={each.instance}
                  each={each}
                  table={table}
                  game={game}
                  zone="play"
                  can={can}
                  decide={decide}
                />
              ))}
            </ul>
            {view.in_play.length === 0 && (
              <p className="on-mat-soft zone-empty">Nothing is in play yet. Play a card from your hand.</p>
            )}
          </div>
        </div>
        <div className="table-low">
          <div className="pile">
            <button
              type="button"
              className="pile-stack"
              disabled={!can("draw")}
              onClick={() => decide("draw")}
              style={{ boxShadow: edge(view.draw_count) }}
            >
              <span className="unseen">{`Draw a card; ${view.draw_count} in the ${pile}`}</span>
              <span className="card-back" aria-hidden="true" />
              <b className="pile-count num" aria-hidden="true">
                {view.draw_count}
              </b>
            </button>
            <span className="pile-name">
              {pile} <kbd>D</kbd>
            </span>
          </div>
          <div className="hand-zone">
            <ul className="hand" aria-label={`Hand, ${view.hand.length} cards`}>
              {view.hand.map((each, index) => (
                <TableCard
                  key={each.instance}
                  each={each}
                  table={table}
                  game={game}
                  zone="hand"
                  can={can}
                  decide={decide}
                  turn={(index - middle) * Math.min(4, 26 / Math.max(1, view.hand.length))}
                  drop={Math.abs(index - middle) ** 2 * 1.6}
                />
              ))}
            </ul>
            <span className={`hand-count num ${over ? "hand-over" : ""}`}>
              hand {view.hand.length}
              {view.hand_limit != null ? ` of ${view.hand_limit}` : ""}
            </span>
          </div>
          <div className="pile">
            <button
              type="button"
              className="pile-stack"
              disabled={!top}
              onClick={() => setOpen(!open)}
              aria-expanded={open}
              style={{ boxShadow: edge(view.discard.length) }}
            >
              <span className="unseen">{`Look through the ${discards}, ${view.discard.length} cards`}</span>
              <span aria-hidden="true">
                {top ? <Face card={top.card} title={table.titles[top.card] ?? ""} /> : <span className="pile-none" />}
                <b className="pile-count num">{view.discard.length}</b>
              </span>
            </button>
            <span className="pile-name">{discards}</span>
          </div>
        </div>
        {open && view.discard.length > 0 && (
          <section className="discards" aria-label={discards}>
            <header>
              <b>
                <Layers size={14} aria-hidden="true" /> {discards}, newest first
              </b>
              <button type="button" className="small-button" onClick={() => setOpen(false)}>
                Close
              </button>
            </header>
            <ol>
              {[...view.discard].reverse().map((each) => (
                <li key={each.instance}>{table.titles[each.card]}</li>
              ))}
            </ol>
          </section>
        )}
        {table.outdated.length > 0 && (
          <p className="outdated">
            {table.outdated.length === 1 ? "1 card has" : `${table.outdated.length} cards have`} been edited since this
            game began: it goes on with the cards as they were.{" "}
            <Link to={`/${game.id}/cards?card=${table.outdated[0]}`}>See {table.titles[table.outdated[0] ?? ""]}</Link>
          </p>
        )}
      </section>
      <LogPane table={table} game={game} />
    </div>
  );
}

/** What is to be decided, when it is not simply your move. */
function Asked({
  table,
  can,
  decide,
}: {
  table: Playtest;
  can: (what: string, card?: number) => boolean;
  decide: (what: string) => void;
}) {
  const said: Record<string, string> = {
    pick: "Pick a flagged card.",
    declare: "Choose a target (nothing is paid yet).",
    discard: "Discard a card.",
    "hand limit": "Your hand is over its limit: discard a card.",
    over: "This game was cut off: its effects would never end. See the log.",
  };
  const text = said[table.asked];
  return (
    <div className={`asked ${text ? "asked-needs" : ""}`} role="status" aria-live="assertive">
      {text ?? "Your move."}
      {can("done") && (
        <button type="button" className="small-button" onClick={() => decide("done")}>
          Done picking
        </button>
      )}
      {can("cancel") && (
        <button type="button" className="small-button" onClick={() => decide("cancel")}>
          Cancel <kbd>Esc</kbd>
        </button>
      )}
    </div>
  );
}

/** A pile shows its depth by its edge. */
function edge(count: number): string {
  const layers = Math.min(7, Math.ceil(count / 5));
  return Array.from(
    { length: layers },
    (_, layer) =>
      `${(layer + 1) * 1.6}px ${(layer + 1) * 1.6}px 0 ${layer % 2 ? "var(--pile-dark)" : "var(--pile-light)"}`,
  ).join(", ");
}
