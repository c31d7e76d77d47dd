// The piles of one side with their depth and counts, and its resources as pieces.
import { useState } from "react";
import type { Game, Schemas } from "../../state/client";
import { Face } from "../../ui/Face";
import { counted } from "../../ui/plural";
import { SymbolMark } from "../../ui/SymbolMark";
import { spoken } from "../options";
import type { Deciding, Playtest } from "../types";

type Props = {
  seat: Schemas["SeatOut"];
  table: Playtest;
  game: Game;
  mine: boolean;
  decide: (found: Deciding) => void;
};

export function PileRack({ seat, table, game, mine, decide }: Props) {
  const [open, setOpen] = useState("");
  const zone = (id: string) => seat.zones.find((each) => each.zone === id);
  const draw = zone("draw");
  const discard = zone("discard");
  const others = seat.zones.filter(
    (each) => !["draw", "discard", "hand", "play"].includes(each.zone) && (each.count > 0 || each.zone !== "removed"),
  );
  const looked = [discard, ...others].find((each) => each?.zone === open);
  const can = mine && spoken(table).some((option) => option.do === "draw");
  const top = discard?.cards?.at(-1);
  return (
    <section className={`rack ${mine ? "rack-mine" : "rack-rival"}`} aria-label={mine ? "Your piles" : "Rival's piles"}>
      <div className="rack-piles">
        <button
          type="button"
          className="rack-pile pile-stack"
          disabled={!can}
          onClick={() => decide((now) => spoken(now).find((option) => option.do === "draw") ?? null)}
        >
          <span className="unseen">
            {can
              ? `Draw a card; ${draw?.count ?? 0} in the ${draw?.name}`
              : `${mine ? "Your" : "Rival's"} ${draw?.name}, ${counted(draw?.count ?? 0, "card")}`}
          </span>
          <span className="card-back" aria-hidden="true" style={{ boxShadow: edge(draw?.count ?? 0) }} />
          <span className="rack-label" aria-hidden="true">
            {draw?.name} <b className="pile-count num">{draw?.count ?? 0}</b> {can && <kbd>D</kbd>}
          </span>
        </button>
        <button
          type="button"
          className="rack-pile"
          disabled={!discard?.count}
          aria-expanded={open === "discard"}
          onClick={() => setOpen(open === "discard" ? "" : "discard")}
        >
          <span className="unseen">{`Look through the ${discard?.name}, ${counted(discard?.count ?? 0, "card")}`}</span>
          <span className="rack-top" aria-hidden="true" style={{ boxShadow: edge(discard?.count ?? 0) }}>
            {top ? <Face card={top.card} title={table.titles[top.card] ?? ""} /> : <span className="pile-none" />}
          </span>
          <span className="rack-label" aria-hidden="true">
            {discard?.name} <b className="pile-count num">{discard?.count ?? 0}</b>
          </span>
        </button>
      </div>
      {mine && (draw?.count ?? 0) > 0 && (
        <button
          type="button"
          className="rack-other"
          aria-expanded={open === "left"}
          onClick={() => setOpen(open === "left" ? "" : "left")}
        >
          Left to draw
        </button>
      )}
      {others.map((each) => (
        <button
          key={each.zone}
          type="button"
          className="rack-other"
          disabled={!each.cards?.length}
          onClick={() => setOpen(open === each.zone ? "" : each.zone)}
        >
          {each.name} <b className="num">{each.count}</b>
        </button>
      ))}
      <ul className="purses" aria-label={mine ? "What you hold" : "What they hold"}>
        {game.resources
          .filter((each) => !each.shared || mine)
          .map((each) => (
            <Purse key={each.id} resource={each} count={seat.resources[each.id] ?? 0} game={game} />
          ))}
      </ul>
      {open === "left" && (
        <section className="rack-open" aria-label="Left to draw">
          <header>
            <b>Left in the {draw?.name}, in any order</b>
            <button type="button" className="small-button" onClick={() => setOpen("")}>
              Close
            </button>
          </header>
          <ul>
            {Object.entries(table.view.left).map(([card, count]) => (
              <li key={card}>
                {count} × {table.titles[card]}
              </li>
            ))}
          </ul>
        </section>
      )}
      {looked && (
        <section className="rack-open" aria-label={looked.name}>
          <header>
            <b>{looked.name}, newest first</b>
            <button type="button" className="small-button" onClick={() => setOpen("")}>
              Close
            </button>
          </header>
          <ol>
            {[...(looked.cards ?? [])].reverse().map((each) => (
              <li key={each.instance}>{table.titles[each.card]}</li>
            ))}
          </ol>
        </section>
      )}
    </section>
  );
}

/** So many pieces are laid out; more are told by the number alone. */
const MOST_PIECES = 12;

/** What has no symbol is a round piece. */
const PIECE = { path: "M32 128a96 96 0 1 0 192 0a96 96 0 1 0-192 0Z" };

function Purse({ resource, count, game }: { resource: Game["resources"][number]; count: number; game: Game }) {
  const symbol = game.symbols.find((each) => each.id === resource.id);
  return (
    <li className={`purse purse-${resource.symbol}`}>
      <b className="num">{count}</b>
      <span className="purse-name">
        {count === 1 ? resource.name : resource.names}
        {resource.cap != null && <small> of {resource.cap}</small>}
      </span>
      <span className="pieces" aria-hidden="true">
        {Array.from({ length: Math.min(count, MOST_PIECES) }, (_, place) => (
          <SymbolMark key={place} symbol={symbol ?? PIECE} size={10} />
        ))}
      </span>
    </li>
  );
}

/** A pile shows its depth by its edge. */
function edge(count: number): string {
  const layers = Math.min(8, Math.ceil(count / 5));
  return Array.from(
    { length: layers },
    (_, layer) =>
      `${(layer + 1) * 1.5}px ${(layer + 1) * 1.5}px 0 ${layer % 2 ? "var(--pile-dark)" : "var(--pile-light)"}`,
  ).join(", ");
}
