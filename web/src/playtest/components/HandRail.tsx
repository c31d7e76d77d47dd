// The hand as a row of tiles with names and numbers; more than five cards are in two rows with small faces.
import { useContext, useRef, useState } from "react";
import type { Game, Schemas } from "../../state/client";
import { Face } from "../../ui/Face";
import { counted } from "../../ui/plural";
import { useWidth } from "../../ui/useWidth";
import { type Grasp, useDrag } from "../drag";
import { heightOver, isFlat, type Laid, laid } from "../handLayout";
import { HandsContext } from "../manualMoves";
import { useLively } from "../motion";
import { hears, likeliest, of, whyNot, wordFor } from "../options";
import type { Deciding, Playtest, ReadCard } from "../types";

type Props = { table: Playtest; game: Game; decide: (found: Deciding) => void; read: ReadCard };

/** So many tiles have room for their pictures. */
const WITH_PICTURES = 5;
/** More than two rows of so many scroll. */
const IN_A_ROW = 7;
/** A tile's width and height, in pixels, where the hand is not flat. */
const WIDE = 150;
const TALL = 208;

export function HandRail({ table, game, decide, read }: Props) {
  const { view } = table;
  const over = view.hand_limit != null && view.hand.length > view.hand_limit;
  const look = useLively((state) => state.hand);
  const outlines = useLively((state) => state.outlines);
  const flat = isFlat(look);
  const compact = flat && view.hand.length > WITH_PICTURES;
  const rail = useRef<HTMLUListElement>(null);
  const room = useWidth(rail, 700);
  const places = flat ? [] : laid(view.hand.length, room, WIDE, TALL, look);
  const [held, setHeld] = useState<Grasp | null>(null);
  const drag = useDrag(setHeld, (card, to) => {
    const found = to === "table" ? of(table, card).find((option) => option.do === "play") : null;
    if (found) decide(() => found);
  });
  const carried = view.hand.find((each) => each.instance === held?.card);
  return (
    <div className="hand-zone">
      <ul
        ref={rail}
        className={`hand ${compact ? "hand-compact" : ""} ${flat ? "" : "hand-laid"} ${outlines ? "hand-outlined" : ""}`}
        aria-label={`Hand, ${counted(view.hand.length, "card")}`}
        style={
          compact
            ? {
                gridTemplateColumns: `repeat(${Math.min(IN_A_ROW, Math.ceil(view.hand.length / 2))}, minmax(104px, 1fr))`,
              }
            : flat
              ? undefined
              : { height: TALL + heightOver(WIDE, look) }
        }
      >
        {view.hand.map((each, place) => (
          <HandTile
            key={each.instance}
            each={each}
            table={table}
            game={game}
            decide={decide}
            read={read}
            compact={compact}
            laid={places[place] ?? null}
            gone={held?.card === each.instance && held.moving}
            grasp={(event) => of(table, each.instance).length > 0 && drag.grasp(event, each.instance)}
          />
        ))}
      </ul>
      <span className={`hand-count num ${over ? "hand-over" : ""}`}>
        <b>
          {table.seat && table.players.filter((player) => player === "person").length > 1
            ? table.rival
            : table.deck_name}
        </b>{" "}
        {game.zones.hand ?? "hand"} {view.hand.length}
        {view.hand_limit != null ? ` of ${view.hand_limit}` : ""}
      </span>
      {held?.moving && carried && (
        <div
          className="carried"
          aria-hidden="true"
          style={{ transform: `translate(${held.x}px, ${held.y}px) rotate(${held.lean}deg)`, width: held.width }}
        >
          <Face card={carried.card} title="" />
        </div>
      )}
    </div>
  );
}

type TileProps = Props & {
  each: Schemas["TableCardOut"];
  compact: boolean;
  laid: Laid | null;
  gone: boolean;
  grasp: (event: React.PointerEvent) => void;
};

function HandTile({ each, table, game, decide, read, compact, laid, gone, grasp }: TileProps) {
  const { choose, chosen } = useContext(HandsContext);
  const id = each.instance;
  const tile = useRef<HTMLLIElement>(null);
  const words = table.words[each.card];
  const title = table.titles[each.card] ?? "";
  const found = likeliest(table, id);
  const mine = of(table, id);
  const away = mine.find((option) => option.do === "discard");
  const why = found ? "" : whyNot(table, game, "hand");
  return (
    <li
      ref={tile}
      className={`table-card table-hand ${found ? "" : "table-still"} ${found?.do === "pick" || found?.do === "discard" ? "pegged" : ""} ${gone ? "hand-gone" : ""} ${chosen === id ? "table-chosen" : ""}`}
      style={laid ? { left: laid.left, top: laid.top, rotate: `${laid.turn}deg` } : undefined}
      data-instance={id}
      onPointerEnter={() => read(each)}
      onPointerDown={choose ? undefined : grasp}
    >
      <button
        type="button"
        className="table-face hand-tile"
        aria-disabled={!found && !choose}
        aria-pressed={choose ? chosen === id : undefined}
        title={why || undefined}
        {...hears(each, table, away, decide, read, choose)}
      >
        <span className="unseen">{`${title}${found ? `, ${wordFor(found.do, game).toLowerCase()}` : why && table.options.length ? `. ${why}` : ""}`}</span>
        {compact && (
          <span className="hand-spine" aria-hidden="true">
            {words?.cost && <b className="hand-cost num">{words.cost}</b>}
            {(words?.stats ?? []).slice(0, 4).map(({ name, value }) => (
              <span key={name} className="hand-stat num">
                <small>{name.slice(0, 1)}</small> {value}
              </span>
            ))}
          </span>
        )}
        {!compact && (
          <span className="hand-picture" aria-hidden="true">
            <Face card={each.card} title={title} />
          </span>
        )}
        <span className="hand-words" aria-hidden="true">
          {compact && (
            <span className="hand-name">
              <b>{title}</b>
            </span>
          )}
          <span className="hand-text">
            {(words?.lines ?? []).map((line) => (
              <span key={line}>{line}</span>
            ))}
            {!words?.lines.length && <i>{words?.kind}</i>}
          </span>
        </span>
        {compact && (
          <span className="hand-small" aria-hidden="true">
            <Face card={each.card} title="" />
          </span>
        )}
      </button>
      {!choose && mine.length > 1 && (
        <div className="table-acts">
          {mine
            .filter((option) => option.do !== "pick")
            .map((option) => (
              <button
                key={`${option.do} ${option.other}`}
                type="button"
                tabIndex={-1}
                onClick={() => decide(() => option)}
              >
                {wordFor(option.do, game)}
              </button>
            ))}
        </div>
      )}
    </li>
  );
}
