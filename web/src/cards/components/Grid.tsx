// The cards as a grid: arrows move, Shift selects a range, typing replaces, Enter and Tab commit, Esc cancels.

import { defaultRangeExtractor, useVirtualizer, type Range as VirtualRange } from "@tanstack/react-virtual";
import {
  type Dispatch,
  forwardRef,
  memo,
  type SetStateAction,
  useCallback,
  useEffect,
  useImperativeHandle,
  useLayoutEffect,
  useMemo,
  useRef,
  useState,
} from "react";
import { recordOf } from "../../fieldkinds";
import type { Sort } from "../../query/useFound";
import { writeCells } from "../../state/cells";
import type { Game } from "../../state/client";
import { typing, typingDone } from "../../state/drafts";
import { editField } from "../../state/edits";
import { dropUnsaved, placeOf, useGame } from "../../state/store";
import type { Leave, Way } from "../../ui/CellInput";
import { focusInPane } from "../../ui/drawer";
import { type Range, rangeOf, sizeOf } from "../../ui/selection";
import { applies, type Cell, type Column, cellText, editable, NEW } from "../columns";
import { empty, fill, type RangeCell, stepAll } from "../rangeEdits";
import type { Editing, GridHandle } from "../types";
import { useGridClipboard } from "../useGridClipboard";
import { GridHead } from "./GridHead";
import { cellId, Row } from "./GridRow";

const ROW = 30;
const HEAD = 32;
const OVERSCAN = 6;

type Props = {
  rows: string[];
  columns: Column[];
  frozen: number;
  at: Cell;
  setAt: Dispatch<SetStateAction<Cell>>;
  head: Cell | null;
  setHead: (head: Cell | null) => void;
  sort: Sort[];
  sortBy: (column: string, more: boolean) => void;
  resize: (column: string, width: number) => void;
  moveColumn: (column: string, by: number) => void;
  /** The set that a card typed into the last line goes to. */
  setId: string;
  made: (ids: string[]) => void;
  /** Brings the side pane to the card that the grid stands on, at once. */
  paneCatchUp: () => void;
};

export const Grid = memo(
  forwardRef<GridHandle, Props>(function Grid(props, handle) {
    const { rows, columns, frozen, at, setAt, head, setHead, sort, sortBy, resize, moveColumn, setId } = props;
    const { made, paneCatchUp } = props;
    const game = useGame((state) => state.game) as Game;
    const cards = useGame((state) => state.cards);
    const standings = useGame((state) => state.standings);
    const unsaved = useGame((state) => state.unsaved);
    const notes = useGame((state) => state.notes);
    const scroller = useRef<HTMLDivElement>(null);
    const picker = useRef<HTMLInputElement>(null);
    const [editing, setEditing] = useState<Editing>(null);
    /** The column in which a run of Tabs began: Enter goes back to it, a row further. */
    const runFrom = useRef<string | null>(null);
    const places = useMemo(() => new Map([...rows, NEW].map((id, index) => [id, index])), [rows]);
    const place = places.get(at.card) ?? -1;
    const range = useMemo(() => rangeOf(at, head, places, columns), [at, head, places, columns]);
    const virtual = useVirtualizer({
      count: rows.length + 1,
      getScrollElement: () => scroller.current,
      estimateSize: () => ROW,
      overscan: OVERSCAN,
      // The row one stands on is always there, in sight or not yet: a key opens its cell at once, and none is lost.
      rangeExtractor: useCallback(
        (shown: VirtualRange) => {
          const found = defaultRangeExtractor(shown);
          return place < 0 || found.includes(place) ? found : [...found, place].sort((one, other) => one - other);
        },
        [place],
      ),
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
    const held = columns.slice(0, frozen).reduce((sum, column) => sum + column.width, 0);

    // scrollTop by hand: measured far cheaper than asking the virtualizer at each key; and what it knows of the
    // scroller is used, since reading it off the element would lay the page out at each key.
    const target = head ?? at;
    const shownColumn = useRef<string | null>(null);
    const targetPlace = places.get(target.card) ?? -1;
    useEffect(() => {
      const box = scroller.current;
      if (!box || targetPlace < 0) return;
      const high = virtual.scrollRect?.height ?? box.clientHeight;
      const from = virtual.scrollOffset ?? box.scrollTop;
      const top = targetPlace * ROW;
      if (top < from) box.scrollTop = top;
      else if (top + ROW + HEAD > from + high) box.scrollTop = top + ROW + HEAD - high;
    }, [targetPlace, virtual]);
    useEffect(() => {
      const box = scroller.current;
      if (!box) return;
      const index = columns.findIndex((column) => column.id === target.column);
      const left = lefts[index] ?? 0;
      const wide = columns[index]?.width ?? 0;
      // Columns that became narrower, as they do once the room for them is known, are shown from the first on where that is possible.
      const same = shownColumn.current === target.column;
      shownColumn.current = target.column;
      if (index < frozen || (same && left + wide <= box.clientWidth)) box.scrollLeft = 0;
      else if (left - held < box.scrollLeft) box.scrollLeft = left - held;
      else if (left + wide > box.scrollLeft + box.clientWidth) box.scrollLeft = left + wide - box.clientWidth;
    }, [target.column, columns, lefts, held, frozen]);

    // Rows that come or go above, as another window's do, leave the row at hand where it is on the screen.
    const stood = useRef<{ id: string; index: number } | null>(null);
    useLayoutEffect(() => {
      const box = scroller.current;
      const high = virtual.scrollRect?.height ?? 0;
      const from = virtual.scrollOffset ?? 0;
      const before = stood.current;
      const now = before ? places.get(before.id) : undefined;
      if (box && before && now !== undefined && now !== before.index && now < rows.length)
        box.scrollTop = from + (now - before.index) * ROW;
      const top = Math.ceil(from / ROW);
      const seen = place >= 0 && place < rows.length && place * ROW >= from && place * ROW < from + high;
      const index = seen ? place : Math.min(rows.length - 1, top);
      const id = rows[index];
      stood.current = id ? { id, index } : null;
    });

    const idAt = useCallback((row: number) => (row >= rows.length ? NEW : (rows[row] as string)), [rows]);

    const move = useCallback(
      (down: number, right: number, draw = false) => {
        const from = draw ? target : at;
        const fromRow = places.get(from.card) ?? 0;
        const lastRow = draw ? rows.length - 1 : rows.length;
        const row = Math.max(0, Math.min(lastRow, fromRow + down));
        const index = columns.findIndex((each) => each.id === from.column);
        const column = Math.max(0, Math.min(columns.length - 1, index + right));
        const cell = { card: idAt(row), column: columns[column]?.id ?? "code" };
        runFrom.current = null;
        if (draw) setHead(cell);
        else {
          setHead(null);
          setAt(cell);
        }
      },
      [rows, columns, places, at, target, setAt, setHead, idAt],
    );

    const beginNow = (column: Column, id: string, text: string | null) => {
      const card = cards[id];
      // The pane walks behind the grid: whoever steps into it meets the card that the grid stands on.
      if ((column.kind === "notes" || column.long) && card) paneCatchUp();
      if (column.kind === "notes" && card) {
        focusInPane("new-note", text ?? "");
        return;
      }
      if (!editable(column) || (card && !applies(game, card, column))) return;
      if (column.kind === "picture") {
        if (card) picker.current?.click();
        return;
      }
      if (column.long && card && focusInPane(`editor-${column.id}`, text ?? "")) return;
      setEditing({ card: id, column: column.id, text });
    };

    /** Every cell of a range that can be written, with its column. */
    const cellsIn = useCallback(
      (within: Range) => {
        const found: RangeCell[] = [];
        for (let row = within.top; row <= Math.min(within.bottom, rows.length - 1); row++) {
          const card = cards[rows[row] as string];
          for (let index = within.left; index <= within.right; index++) {
            const column = columns[index];
            if (card && column && editable(column) && applies(game, card, column))
              found.push({ card: card.id, column, text: cellText(game, card, column) });
          }
        }
        return found;
      },
      [rows, cards, columns, game],
    );

    /** Along the row: the column where the run began is remembered. */
    const tab = (right: number) => {
      const from = runFrom.current ?? at.column;
      move(0, right);
      runFrom.current = from;
    };
    /** To the next row after Enter: after a run of Tabs, where it began. */
    const enter = (down: number) => {
      const column = runFrom.current ?? at.column;
      const row = Math.max(0, Math.min(rows.length, place + down));
      setHead(null);
      setAt({ card: idAt(row), column });
      runFrom.current = null;
    };

    const clear = (within: Range) => empty(cellsIn(within));
    const { copy, paste, putPicture, newCard } = useGridClipboard({
      game,
      rows,
      columns,
      range,
      at,
      setHead,
      setId,
      made,
      editing: editing !== null,
      clear,
      idAt,
    });

    /** Makes a card of what was typed into the last line; it is there at once, under an id of this page's own. */
    const addInLastLine = (column: string, text: string, way: Way) => {
      const fresh = newCard({ [column]: text });
      void writeCells([], [fresh]);
      made([fresh.id]);
      const index = columns.findIndex((each) => each.id === column);
      const next = columns[Math.max(0, Math.min(columns.length - 1, index + (way === "left" ? -1 : 1)))];
      if (way === "down") setAt({ card: NEW, column: runFrom.current ?? column });
      else if (way === "right" || way === "left") {
        runFrom.current ??= column;
        setAt({ card: fresh.id, column: next?.id ?? column });
      }
      // Whoever went elsewhere by the mouse is there already.
      else setAt((now) => (now.card === NEW ? { card: fresh.id, column } : now));
      if (way === "down") runFrom.current = null;
    };

    const leaveNow: Leave = (text, way) => {
      const now = editing;
      setEditing(null);
      scroller.current?.focus();
      const card = now ? cards[now.card] : undefined;
      const column = columns.find((each) => each.id === now?.column);
      if (now && column && now.card === NEW && text?.trim()) {
        typing(null);
        addInLastLine(column.id, text, way);
        return;
      }
      if (now && card && column && text !== null) {
        const was = unsaved[placeOf(card.id, column.id)]?.text;
        const stands = cellText(game, card, column);
        if (was !== undefined && text === stands) dropUnsaved(card.id, column.id);
        if (way === "all" && range && sizeOf(range) > 1) {
          const cells = cellsIn(range).map((cell) => ({ card: cell.card, field: cell.column.id, typed: text }));
          void writeCells(cells).finally(() => typingDone(card.id, column.id, text));
        } else if (text !== (was ?? stands) && text !== stands)
          void editField(card.id, column.id, text).finally(() => typingDone(card.id, column.id, text));
        else typing(null);
      } else typing(null);
      if (way === "down") enter(1);
      else if (way === "up") enter(-1);
      else if (way === "right") tab(1);
      else if (way === "left") tab(-1);
    };
    // Rows are painted anew only for what they show: what they call stays the same function.
    const latest = useRef({ leave: leaveNow, begin: beginNow });
    latest.current = { leave: leaveNow, begin: beginNow };
    const leave: Leave = useCallback((text, way) => latest.current.leave(text, way), []);
    const begin = useCallback(
      (column: Column, id: string, text: string | null) => latest.current.begin(column, id, text),
      [],
    );

    /** Every cell below the range's first row takes that row's value; of one row, the row above it. */
    const fillDown = (within: Range) => {
      const source = within.top === within.bottom ? within.top - 1 : within.top;
      const model = cards[idAt(source)];
      if (source >= 0 && model) fill(game, model, cellsIn({ ...within, top: source + 1 }));
    };
    /** Alt with an arrow steps every number of the range. */
    const step = (within: Range, by: number) => stepAll(cellsIn(within), by);

    const press = (event: React.KeyboardEvent) => {
      if (editing || event.target !== event.currentTarget) return;
      const column = columns.find((each) => each.id === at.column);
      const card = cards[at.card];
      if (!column || !range) {
        if (event.key.startsWith("Arrow") && rows[0]) setAt({ card: rows[0], column: columns[0]?.id ?? "code" });
        return;
      }
      const page = Math.max(1, Math.floor(((scroller.current?.clientHeight ?? 300) - HEAD) / ROW) - 1);
      const big = event.ctrlKey || event.metaKey;
      const draw = event.shiftKey;
      const moves: Record<string, [number, number]> = {
        ArrowDown: [big ? rows.length : 1, 0],
        ArrowUp: [big ? -rows.length - 1 : -1, 0],
        ArrowRight: [0, big ? columns.length : 1],
        ArrowLeft: [0, big ? -columns.length : -1],
        PageDown: [page, 0],
        PageUp: [-page, 0],
        Home: [big ? -rows.length - 1 : 0, -columns.length],
        End: [big ? rows.length - 1 - place : 0, columns.length],
      };
      const key = event.key.toLowerCase();
      const toggles = column.field ? recordOf(column.field).toggles : undefined;
      if (event.altKey && (event.key === "ArrowUp" || event.key === "ArrowDown"))
        step(range, event.key === "ArrowUp" ? 1 : -1);
      else if (moves[event.key]) move(...(moves[event.key] as [number, number]), draw);
      else if (event.key === "Tab" && !leavesGrid(event, at.column, columns)) tab(draw ? -1 : 1);
      else if (event.key === "Escape" && head) setHead(null);
      else if (event.key === "Escape" && card && unsaved[placeOf(card.id, column.id)]) dropUnsaved(card.id, column.id);
      else if (event.key === "Enter" || event.key === "F2") begin(column, at.card, null);
      else if (event.key === "Delete" || event.key === "Backspace") clear(range);
      else if (big && key === "d") fillDown(range);
      else if (big && key === "a") {
        setAt({ card: idAt(0), column: columns[0]?.id ?? "code" });
        setHead({ card: idAt(rows.length - 1), column: columns.at(-1)?.id ?? "code" });
      } else if (event.key === " " && draw) {
        setAt({ card: at.card, column: columns[0]?.id ?? "code" });
        setHead({ card: target.card, column: columns.at(-1)?.id ?? "code" });
      } else if (event.key === " " && toggles && card)
        void editField(card.id, column.id, card.values[column.id] === toggles[0] ? toggles[1] : toggles[0]);
      else if (event.key.length === 1 && !big && !event.altKey) begin(column, at.card, event.key);
      else return;
      event.preventDefault();
    };

    const pressCell = useCallback(
      (cell: Cell, event: React.MouseEvent) => {
        // Else the cell itself is focused, and the grid hears no key.
        event.preventDefault();
        scroller.current?.focus({ preventScroll: true });
        runFrom.current = null;
        if (event.shiftKey) setHead(cell);
        else {
          setHead(null);
          setAt(cell);
        }
      },
      [setAt, setHead],
    );
    const enterCell = useCallback(
      (cell: Cell, event: React.MouseEvent) => {
        if (event.buttons === 1 && cell.card !== NEW) setHead(cell);
      },
      [setHead],
    );

    return (
      <div
        ref={scroller}
        className="grid"
        role="grid"
        data-main
        tabIndex={0}
        aria-label="Cards, editable"
        aria-multiselectable="true"
        aria-rowcount={rows.length + 2}
        aria-colcount={columns.length}
        aria-activedescendant={place >= 0 ? cellId(at.card, at.column) : undefined}
        onKeyDown={press}
        onCopy={copy}
        onCut={(event) => copy(event, true)}
        onPaste={paste}
      >
        <GridHead
          columns={columns}
          lefts={lefts}
          frozen={frozen}
          width={width}
          height={HEAD}
          sort={sort}
          sortBy={sortBy}
          resize={resize}
          move={moveColumn}
        />
        <div className="grid-body" role="presentation" style={{ height: virtual.getTotalSize(), width }}>
          {virtual.getVirtualItems().map((item) => {
            const id = idAt(item.index);
            const covered = range && head !== null && item.index >= range.top && item.index <= range.bottom;
            return (
              <Row
                key={item.index % 64}
                game={game}
                id={id}
                card={cards[id]}
                standing={standings[id]}
                notes={notes[id]}
                columns={columns}
                lefts={lefts}
                frozen={frozen}
                index={item.index}
                top={item.start}
                active={id === at.card ? at.column : null}
                from={covered ? range.left : -1}
                to={covered ? range.right : -1}
                editing={editing?.card === id ? editing : null}
                unsaved={unsaved}
                press={pressCell}
                enter={enterCell}
                begin={begin}
                leave={leave}
              />
            );
          })}
        </div>
        <input
          ref={picker}
          type="file"
          accept="image/*"
          className="unseen"
          tabIndex={-1}
          aria-hidden="true"
          onChange={(event) => {
            const file = event.target.files?.[0];
            event.target.value = "";
            if (file) void putPicture(file, at.column);
          }}
        />
      </div>
    );
  }),
);

/** Tab at the last cell (or back at the first) leaves the grid, so that the keyboard is never caught in it. */
function leavesGrid(event: React.KeyboardEvent, column: string, columns: Column[]): boolean {
  const index = columns.findIndex((each) => each.id === column);
  return event.shiftKey ? index === 0 : index === columns.length - 1;
}
