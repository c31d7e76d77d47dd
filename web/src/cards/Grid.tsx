import { useVirtualizer } from "@tanstack/react-virtual";
import { forwardRef, memo, useCallback, useEffect, useImperativeHandle, useMemo, useRef, useState } from "react";
import type { Card, Game, Standing } from "../state/client";
import { dropUnsaved, editField, placeOf, type Unsaved, useGame } from "../state/game";
import type { Typed } from "../state/sheet";
import { Verdict } from "../ui/Verdict";
import { CellEditor, type Leave } from "./CellEditor";
import { applies, type Cell, type Column, cellText, editable } from "./columns";

const ROW = 30;
const HEAD = 32;
const OVERSCAN = 12;

export type GridHandle = { focus: () => void };
type Props = {
  rows: string[];
  columns: Column[];
  at: Cell;
  setAt: (at: Cell) => void;
  preview: (typed: Typed) => void;
};
type Editing = { card: string; column: string; text: string | null } | null;

/** The cards as a sheet: arrows walk it, typing replaces, Enter and Tab commit, Esc gives up. */
export const Grid = memo(
  forwardRef<GridHandle, Props>(function Grid({ rows, columns, at, setAt, preview }, handle) {
    const game = useGame((state) => state.game) as Game;
    const cards = useGame((state) => state.cards);
    const standings = useGame((state) => state.standings);
    const unsaved = useGame((state) => state.unsaved);
    const scroller = useRef<HTMLDivElement>(null);
    const [editing, setEditing] = useState<Editing>(null);
    const place = rows.indexOf(at.card);
    const virtual = useVirtualizer({
      count: rows.length,
      getScrollElement: () => scroller.current,
      estimateSize: () => ROW,
      overscan: OVERSCAN,
    });
    useImperativeHandle(handle, () => ({ focus: () => scroller.current?.focus() }), []);

    const lefts = useMemo(() => {
      let left = 0;
      return columns.map((column) => {
        const mine = left;
        left += column.width;
        return mine;
      });
    }, [columns]);
    const width = columns.reduce((sum, column) => sum + column.width, 0);
    const frozen = (columns[0]?.width ?? 0) + (columns[1]?.width ?? 0);

    // scrollTop by hand: measured far cheaper than asking the virtualizer at each key.
    useEffect(() => {
      const box = scroller.current;
      if (!box || place < 0) return;
      const top = place * ROW;
      if (top < box.scrollTop) box.scrollTop = top;
      else if (top + ROW + HEAD > box.scrollTop + box.clientHeight) box.scrollTop = top + ROW + HEAD - box.clientHeight;
      const index = columns.findIndex((column) => column.id === at.column);
      const left = lefts[index] ?? 0;
      const wide = columns[index]?.width ?? 0;
      if (index < 2) box.scrollLeft = 0;
      else if (left - frozen < box.scrollLeft) box.scrollLeft = left - frozen;
      else if (left + wide > box.scrollLeft + box.clientWidth) box.scrollLeft = left + wide - box.clientWidth;
    }, [place, at.column, columns, lefts, frozen]);

    const move = useCallback(
      (down: number, right: number) => {
        const row = Math.max(0, Math.min(rows.length - 1, (place < 0 ? 0 : place) + down));
        const column = Math.max(
          0,
          Math.min(columns.length - 1, columns.findIndex((each) => each.id === at.column) + right),
        );
        const card = rows[row];
        if (card) setAt({ card, column: columns[column]?.id ?? "name" });
      },
      [rows, columns, place, at.column, setAt],
    );

    const begin = useCallback(
      (column: Column, card: Card, text: string | null) => {
        if (!editable(column) || !applies(game, card, column)) return;
        if (column.long) {
          document.getElementById(`editor-${column.id}`)?.focus();
          return;
        }
        setEditing({ card: card.id, column: column.id, text });
      },
      [game],
    );

    const leave: Leave = useCallback(
      (text, way) => {
        const now = editing;
        setEditing(null);
        scroller.current?.focus();
        const card = now ? cards[now.card] : undefined;
        const column = columns.find((each) => each.id === now?.column);
        const was = now ? unsaved[placeOf(now.card, now.column)]?.text : undefined;
        if (was !== undefined && card && column && text === cellText(game, card, column))
          dropUnsaved(card.id, column.id);
        if (
          now &&
          card &&
          column &&
          text !== null &&
          text !== (was ?? cellText(game, card, column)) &&
          text !== cellText(game, card, column)
        ) {
          void editField(card.id, column.id, text).finally(() => preview(null));
        } else preview(null);
        if (way === "down") move(1, 0);
        else if (way === "up") move(-1, 0);
        else if (way === "right") move(0, 1);
        else if (way === "left") move(0, -1);
      },
      [editing, cards, columns, game, move, preview, unsaved],
    );

    const press = (event: React.KeyboardEvent) => {
      if (editing || event.target !== event.currentTarget) return;
      const card = cards[at.card];
      const column = columns.find((each) => each.id === at.column);
      if (!card || !column) return;
      const page = Math.max(1, Math.floor(((scroller.current?.clientHeight ?? 300) - HEAD) / ROW) - 1);
      const big = event.ctrlKey || event.metaKey;
      const moves: Record<string, [number, number]> = {
        ArrowDown: [big ? rows.length : 1, 0],
        ArrowUp: [big ? -rows.length : -1, 0],
        ArrowRight: [0, big ? columns.length : 1],
        ArrowLeft: [0, big ? -columns.length : -1],
        PageDown: [page, 0],
        PageUp: [-page, 0],
        Home: [big ? -rows.length : 0, -columns.length],
        End: [big ? rows.length : 0, columns.length],
      };
      if (event.altKey && column.kind === "number" && (event.key === "ArrowUp" || event.key === "ArrowDown")) {
        const number = Number.parseInt(cellText(game, card, column) || "0", 10) + (event.key === "ArrowUp" ? 1 : -1);
        if (applies(game, card, column)) void editField(card.id, column.id, String(number));
      } else if (moves[event.key]) move(...(moves[event.key] as [number, number]));
      else if (event.key === "Tab" && !leavesGrid(event, at.column, columns, place, rows))
        move(0, event.shiftKey ? -1 : 1);
      else if (event.key === "Escape" && unsaved[placeOf(card.id, column.id)]) dropUnsaved(card.id, column.id);
      else if (event.key === "Enter" || event.key === "F2") begin(column, card, null);
      else if ((event.key === "Delete" || event.key === "Backspace") && editable(column) && column.kind !== "code")
        void editField(card.id, column.id, "");
      else if (event.key.length === 1 && !big && !event.altKey) begin(column, card, event.key);
      else return;
      event.preventDefault();
    };

    const copy = (event: React.ClipboardEvent) => {
      const card = cards[at.card];
      const column = columns.find((each) => each.id === at.column);
      if (editing || !card || !column) return;
      event.clipboardData.setData("text/plain", cellText(game, card, column));
      event.preventDefault();
    };
    const paste = (event: React.ClipboardEvent) => {
      const card = cards[at.card];
      const column = columns.find((each) => each.id === at.column);
      if (editing || !card || !column || !editable(column) || !applies(game, card, column)) return;
      event.preventDefault();
      void editField(card.id, column.id, event.clipboardData.getData("text/plain").replace(/\r?\n$/, ""));
    };

    return (
      <div
        ref={scroller}
        className="grid"
        role="grid"
        tabIndex={0}
        aria-label="Cards, editable"
        aria-rowcount={rows.length + 1}
        aria-colcount={columns.length}
        aria-activedescendant={place >= 0 ? cellId(at.card, at.column) : undefined}
        onKeyDown={press}
        onCopy={copy}
        onPaste={paste}
      >
        <div className="grid-head" role="row" aria-rowindex={1} style={{ width, height: HEAD }}>
          {columns.map((column, index) => (
            <div
              key={column.id}
              role="columnheader"
              tabIndex={-1}
              className={`grid-th grid-${column.kind} ${index < 2 ? "grid-frozen" : ""}`}
              style={{ width: column.width, left: index < 2 ? lefts[index] : undefined }}
              title={column.field?.help || undefined}
            >
              {column.name}
            </div>
          ))}
        </div>
        <div className="grid-body" role="presentation" style={{ height: virtual.getTotalSize(), width }}>
          {virtual.getVirtualItems().map((item) => {
            const id = rows[item.index] as string;
            const card = cards[id];
            if (!card) return null;
            const active = id === at.card;
            return (
              <Row
                key={item.index % 64}
                game={game}
                card={card}
                standing={standings[id]}
                columns={columns}
                lefts={lefts}
                index={item.index}
                top={item.start}
                active={active ? at.column : null}
                editing={editing?.card === id ? editing : null}
                unsaved={unsaved}
                setAt={setAt}
                begin={begin}
                leave={leave}
                preview={preview}
              />
            );
          })}
        </div>
      </div>
    );
  }),
);

const cellId = (card: string, column: string) => `cell-${card}-${column}`;

/** Tab at the last cell (or back at the first) leaves the grid, so that the keyboard is never caught in it. */
function leavesGrid(
  event: React.KeyboardEvent,
  column: string,
  columns: Column[],
  place: number,
  rows: string[],
): boolean {
  const index = columns.findIndex((each) => each.id === column);
  if (event.shiftKey) return index === 0;
  return index === columns.length - 1 || (place < 0 && rows.length === 0);
}

type RowProps = {
  game: Game;
  card: Card;
  standing: Standing | undefined;
  columns: Column[];
  lefts: number[];
  index: number;
  top: number;
  active: string | null;
  editing: Editing;
  unsaved: Unsaved;
  setAt: (at: Cell) => void;
  begin: (column: Column, card: Card, text: string | null) => void;
  leave: Leave;
  preview: (typed: Typed) => void;
};

const Row = memo(function Row({
  game,
  card,
  standing,
  columns,
  lefts,
  index,
  top,
  active,
  editing,
  unsaved,
  setAt,
  begin,
  leave,
  preview,
}: RowProps) {
  return (
    <div
      className={`grid-row ${active ? "grid-row-active" : ""} ${index % 2 ? "grid-row-odd" : ""}`}
      role="row"
      tabIndex={-1}
      aria-rowindex={index + 2}
      aria-selected={active !== null}
      style={{ transform: `translateY(${top}px)` }}
    >
      {columns.map((column, number) => {
        const has = applies(game, card, column);
        const on = active === column.id;
        const edits = editing?.column === column.id;
        const kept = unsaved[placeOf(card.id, column.id)];
        return (
          <div
            key={column.id}
            id={cellId(card.id, column.id)}
            role="gridcell"
            tabIndex={-1}
            aria-colindex={number + 1}
            aria-selected={on}
            aria-readonly={!editable(column) || !has}
            className={`grid-cell grid-${column.kind} ${on ? "grid-on" : ""} ${has ? "" : "grid-none"} ${kept ? "grid-unsaved" : ""} ${number < 2 ? "grid-frozen" : ""}`}
            style={{ width: column.width, left: number < 2 ? lefts[number] : undefined }}
            title={kept?.why}
            onMouseDown={() => {
              if (!edits) setAt({ card: card.id, column: column.id });
            }}
            onDoubleClick={() => begin(column, card, null)}
          >
            {edits ? (
              <CellEditor
                game={game}
                card={card}
                column={column}
                first={editing.text}
                kept={kept?.text}
                leave={leave}
                preview={preview}
              />
            ) : kept ? (
              kept.text.slice(0, 200)
            ) : column.kind === "verdict" ? (
              standing && <Verdict judgement={standing.judgement} difference={standing.difference} />
            ) : (
              <Shown game={game} card={card} column={column} standing={standing} />
            )}
          </div>
        );
      })}
    </div>
  );
});

function Shown({
  game,
  card,
  column,
  standing,
}: {
  game: Game;
  card: Card;
  column: Column;
  standing: Standing | undefined;
}) {
  const text = cellText(game, card, column);
  if (column.field?.kind === "choice") {
    const list = column.field.list;
    const choice = game.lists.find((each) => each.id === list)?.values.find((value) => value.name === text);
    if (!choice) return <>{text}</>;
    return choice.notches ? (
      <>
        <Notches count={choice.notches} />
        {text}
      </>
    ) : (
      <>
        <span className="dot" style={{ background: choice.colour }} aria-hidden="true" />
        {text}
      </>
    );
  }
  if (column.kind === "effect" && standing && !standing.written && text)
    return <span className="needs">{text.replaceAll("\n", " ⏎ ")}</span>;
  if (column.long) return <>{text.replaceAll("\n", " ⏎ ")}</>;
  return <>{text}</>;
}

/** A rarity's notches, as they are cut in the spine. */
function Notches({ count }: { count: number }) {
  const cuts = Array.from({ length: count }, (_, cut) => `M${cut * 5} 2L${cut * 5 + 4} 5L${cut * 5} 8Z`).join("");
  return (
    <svg className="notches" width="20" height="10" viewBox="0 0 20 10" aria-hidden="true">
      <path d={cuts} fill="currentColor" />
    </svg>
  );
}
