// A small sheet with the keys of the grid: arrows move, Shift selects a range, typing replaces, Enter and Tab commit, Esc cancels.
import { type ReactNode, useEffect, useId, useMemo, useRef, useState } from "react";
import { CellInput, type Leave, stepped } from "./CellInput";
import { readClipboard, writeClipboard } from "./clipboard";
import { inRange, type Range, rangeOf, sizeOf } from "./selection";
import "./cellsheet.css";

export type SheetColumn = {
  id: string;
  name: string;
  /** In pixels. */
  width: number;
  number?: boolean;
  /** Alt with an arrow steps its numbers by this. */
  step?: number;
  help?: string;
};
export type SheetCell = {
  text: string;
  /** What may stand there; a choice can be typed by its beginning. */
  choices?: string[];
  /** Said softly where nothing is written. */
  hint?: string;
  /** It can't be written: worked out, or of no meaning in this row. */
  locked?: boolean;
  /** Space, Enter and a double click turn it on and off. */
  tick?: boolean;
  /** Enter, Space and a click do this. */
  act?: () => void;
  shown?: ReactNode;
  wrong?: boolean;
};
export type SheetRow = { id: string; name: string; cells: Record<string, SheetCell> };
export type Put = { row: string; column: string; text: string };
export type Stand = { row: string; column: string };
/** The row below the others, in which a new one is begun. */
export const LAST = "";
export const TICK = "✓";
const NOTHING: SheetCell = { text: "", locked: true };
const PAGE = 10;

type Props = {
  label: string;
  rows: SheetRow[];
  columns: SheetColumn[];
  stand: Stand | null;
  setStand: (stand: Stand | null) => void;
  /** Gives the id of the row that was begun in the last one, if any. */
  put: (puts: Put[]) => string | undefined;
  /** What is being typed, at each key; null when it is written or given up. */
  draft?: (put: Put | null) => void;
  remove?: (row: string) => void;
  empty?: string;
  /** Whenever it grows the sheet takes the keys. */
  grab?: number;
};

export function CellSheet({ label, rows, columns, stand, setStand, put, draft, remove, empty, grab = 0 }: Props) {
  const id = useId();
  const box = useRef<HTMLDivElement>(null);
  const [head, setHead] = useState<Stand | null>(null);
  const [editing, setEditing] = useState<{ at: Stand; first: string | null } | null>(null);
  const [focused, setFocused] = useState(false);
  /** The column in which a run of Tabs began: Enter goes back to it, a row further. */
  const runFrom = useRef<string | null>(null);
  const places = useMemo(() => new Map(rows.map((row, index) => [row.id, index])), [rows]);
  const cellAt = (row: number, column: number): SheetCell => rows[row]?.cells[columns[column]?.id ?? ""] ?? NOTHING;
  const place = (at: Stand | null): [number, number] => {
    const row = at ? (places.get(at.row) ?? -1) : -1;
    const column = at ? columns.findIndex((each) => each.id === at.column) : -1;
    return row < 0 || column < 0 ? [0, 0] : [row, column];
  };
  const [row, column] = place(stand);
  const here = rows[row] && columns[column] ? { row: rows[row].id, column: columns[column].id } : null;
  const [headRow, headColumn] = head ? place(head) : [row, column];
  const range: Range | null = here
    ? rangeOf(cell(here), head && { card: head.row, column: head.column }, places, columns)
    : null;
  const seen = `${id}-${rows[headRow]?.id}-${columns[headColumn]?.id}`;
  // Only when one walks: to look where a cell is lays the page out.
  useEffect(() => {
    if (focused) document.getElementById(seen)?.scrollIntoView({ block: "nearest", inline: "nearest" });
  }, [focused, seen]);
  useEffect(() => {
    if (grab) box.current?.focus({ preventScroll: true });
  }, [grab]);
  const idOf = (at: Stand) => `${id}-${at.row}-${at.column}`;

  const go = (down: number, right: number, draw = false) => {
    const [fromRow, fromColumn] = draw ? [headRow, headColumn] : [row, column];
    const next = {
      row: rows[Math.max(0, Math.min(rows.length - 1, fromRow + down))]?.id ?? LAST,
      column: columns[Math.max(0, Math.min(columns.length - 1, fromColumn + right))]?.id ?? "",
    };
    runFrom.current = null;
    if (draw) setHead(next);
    else {
      setHead(null);
      setStand(next);
    }
  };
  /** Along the row, which may have got an id just now: the column where the run began is remembered. */
  const tab = (right: number, begun?: string) => {
    const from = runFrom.current ?? here?.column ?? null;
    go(0, right);
    if (begun !== undefined)
      setStand({ row: begun, column: columns[Math.max(0, Math.min(columns.length - 1, column + right))]?.id ?? "" });
    runFrom.current = from;
  };
  /** To the next row after Enter: after a run of Tabs, where it began. */
  const enter = (down: number, begun?: string) => {
    const from = columns.findIndex((kind) => kind.id === runFrom.current);
    go(begun === undefined ? down : 0, from < 0 ? 0 : from - column);
  };
  /** Every cell of the range that can be written. */
  const cellsIn = (within: Range) => {
    const found: (Put & { step: number | undefined })[] = [];
    for (let down = within.top; down <= within.bottom; down++)
      for (let right = within.left; right <= within.right; right++) {
        const [of, kind] = [rows[down], columns[right]];
        const held = cellAt(down, right);
        if (of && kind && !held.locked && !held.act)
          found.push({ row: of.id, column: kind.id, text: held.text, step: kind.step });
      }
    return found;
  };
  /** Writes what differs from what stands there. */
  const write = (puts: Put[]): string | undefined => {
    const news = puts.filter((each) => {
      const [down, right] = place(each);
      return cellAt(down, right).text !== each.text;
    });
    return news.length ? put(news) : undefined;
  };
  const begin = (first: string | null) => {
    const held = cellAt(row, column);
    if (!here) return;
    if (held.act) held.act();
    else if (held.tick) write([{ ...here, text: held.text ? "" : TICK }]);
    else if (!held.locked) setEditing({ at: here, first });
  };
  const leave: Leave = (text, way) => {
    const at = editing?.at;
    setEditing(null);
    draft?.(null);
    box.current?.focus({ preventScroll: true });
    let begun: string | undefined;
    if (at && text !== null) {
      const all = way === "all" && range && sizeOf(range) > 1 ? cellsIn(range) : [];
      begun = write(all.length ? all.map((each) => ({ ...each, text })) : [{ ...at, text }]);
    }
    if (way === "down") enter(1, begun);
    else if (way === "up") enter(-1, begun);
    else if (way === "right") tab(1, begun);
    else if (way === "left") tab(-1, begun);
  };
  const fillDown = (within: Range) => {
    const source = within.top === within.bottom ? within.top - 1 : within.top;
    if (source < 0) return;
    write(
      cellsIn({ ...within, top: source + 1 }).map((each) => {
        const right = columns.findIndex((kind) => kind.id === each.column);
        return { ...each, text: cellAt(source, right).text };
      }),
    );
  };

  const press = (event: React.KeyboardEvent) => {
    if (editing || event.target !== event.currentTarget || !range) return;
    const big = event.ctrlKey || event.metaKey;
    const draw = event.shiftKey;
    const moves: Record<string, [number, number]> = {
      ArrowDown: [big ? rows.length : 1, 0],
      ArrowUp: [big ? -rows.length : -1, 0],
      ArrowRight: [0, big ? columns.length : 1],
      ArrowLeft: [0, big ? -columns.length : -1],
      PageDown: [PAGE, 0],
      PageUp: [-PAGE, 0],
      Home: [big ? -rows.length : 0, -columns.length],
      End: [big ? rows.length : 0, columns.length],
    };
    const held = cellAt(row, column);
    if (event.altKey && (event.key === "ArrowUp" || event.key === "ArrowDown")) {
      const by = event.key === "ArrowUp" ? 1 : -1;
      const numbers = cellsIn(range).filter((each) => each.step);
      write(numbers.map((each) => ({ ...each, text: stepped(each.text, by * (each.step ?? 1)) })));
    } else if (moves[event.key]) go(...(moves[event.key] as [number, number]), draw);
    else if (event.key === "Tab") {
      const next = column + (draw ? -1 : 1);
      // At the ends of a row Tab goes on in the page.
      if (next < 0 || next >= columns.length) return;
      tab(draw ? -1 : 1);
    } else if (event.key === "Escape" && head) setHead(null);
    else if (event.key === "Enter" || event.key === "F2") begin(null);
    else if (event.key === " " && (held.tick || held.act)) begin(null);
    else if ((event.key === "Delete" || event.key === "Backspace") && big && remove && here?.row !== LAST)
      remove(here?.row ?? LAST);
    else if (event.key === "Delete" || event.key === "Backspace")
      write(cellsIn(range).map((each) => ({ ...each, text: "" })));
    else if (big && event.key.toLowerCase() === "d") fillDown(range);
    else if (big && event.key.toLowerCase() === "a") {
      setStand({ row: rows[0]?.id ?? LAST, column: columns[0]?.id ?? "" });
      setHead({ row: rows.at(-1)?.id ?? LAST, column: columns.at(-1)?.id ?? "" });
    } else if (event.key.length === 1 && !big && !event.altKey && !held.tick && !held.act) begin(event.key);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };

  const copy = (event: React.ClipboardEvent, cut = false) => {
    if (editing || !range) return;
    const lines = rows
      .slice(range.top, range.bottom + 1)
      .map((of) => columns.slice(range.left, range.right + 1).map((kind) => of.cells[kind.id]?.text ?? ""));
    writeClipboard(event.clipboardData, lines);
    event.preventDefault();
    if (cut) write(cellsIn(range).map((each) => ({ ...each, text: "" })));
  };
  const paste = (event: React.ClipboardEvent) => {
    if (editing || !range) return;
    event.preventDefault();
    const lines = readClipboard(event.clipboardData);
    const wide = Math.max(0, ...lines.map((line) => line.length));
    if (!wide) return;
    // What is copied once fills a range that is larger.
    const bottom = Math.max(range.bottom, range.top + lines.length - 1);
    const right = Math.max(range.right, range.left + wide - 1);
    write(
      cellsIn({ ...range, bottom, right }).flatMap((each) => {
        const [down, over] = place(each);
        const text = lines[(down - range.top) % lines.length]?.[(over - range.left) % wide];
        return text === undefined ? [] : [{ ...each, text: text.trim() }];
      }),
    );
  };

  return (
    <div
      ref={box}
      className="cell-sheet"
      role="grid"
      tabIndex={0}
      aria-label={`${label}, editable`}
      aria-rowcount={rows.length + 1}
      aria-colcount={columns.length}
      aria-activedescendant={here && focused ? idOf(here) : undefined}
      onFocus={(event) => {
        setFocused(true);
        if (event.target === event.currentTarget && here && (stand?.row !== here.row || stand.column !== here.column))
          setStand(here);
      }}
      onBlur={() => setFocused(false)}
      onKeyDown={press}
      onCopy={copy}
      onCut={(event) => copy(event, true)}
      onPaste={paste}
    >
      <div className="cell-sheet-row cell-sheet-head" role="row">
        {columns.map((kind) => (
          <div
            key={kind.id}
            role="columnheader"
            className={kind.number ? "cell-number" : ""}
            style={{ width: kind.width }}
            title={kind.help}
          >
            {kind.name}
          </div>
        ))}
      </div>
      {rows.map((of, down) => (
        <div
          key={of.id}
          role="row"
          aria-rowindex={down + 2}
          className={`cell-sheet-row ${of.id === stand?.row ? "cell-sheet-on" : ""} ${of.id === LAST ? "cell-sheet-last" : ""}`}
        >
          {columns.map((kind, right) => {
            const held = of.cells[kind.id] ?? NOTHING;
            const at = { row: of.id, column: kind.id };
            const on = focused && down === row && right === column;
            const typed = editing && editing.at.row === of.id && editing.at.column === kind.id;
            const state = [
              held.locked ? "cell-locked" : "",
              on ? "cell-on" : "",
              held.wrong ? "cell-wrong" : "",
              kind.number ? "cell-number" : "",
              head && inRange(range, down, right) ? "cell-in" : "",
            ];
            return (
              // biome-ignore lint/a11y/useKeyWithClickEvents: its keys are heard there too
              <div
                key={kind.id}
                id={idOf(at)}
                role="gridcell"
                aria-colindex={right + 1}
                aria-label={`${kind.name}, ${of.name}: ${held.text || held.hint || "empty"}`}
                aria-readonly={held.locked || undefined}
                aria-selected={inRange(range, down, right)}
                className={state.filter(Boolean).join(" ")}
                style={{ width: kind.width }}
                onMouseDown={(event) => {
                  if (typed) return;
                  event.preventDefault();
                  box.current?.focus({ preventScroll: true });
                  runFrom.current = null;
                  if (event.shiftKey) setHead(at);
                  else {
                    setHead(null);
                    setStand(at);
                  }
                }}
                onMouseEnter={(event) => {
                  if (event.buttons === 1 && focused && !editing) setHead(at);
                }}
                onClick={(event) => {
                  if (!event.shiftKey) held.act?.();
                }}
                onDoubleClick={() => {
                  if (held.tick) write([{ ...at, text: held.text ? "" : TICK }]);
                  else if (!held.locked && !held.act) setEditing({ at, first: null });
                }}
              >
                {typed ? (
                  <CellInput
                    id={`${id}-${kind.id}`}
                    label={`${kind.name}, ${of.name}`}
                    value={held.text}
                    first={editing.first}
                    choices={held.choices ?? []}
                    numeric={kind.number ?? false}
                    step={kind.step}
                    shows={(text) => draft?.({ ...at, text })}
                    leave={leave}
                  />
                ) : (
                  (held.shown ?? (held.text || (held.hint && <span className="soft">{held.hint}</span>)))
                )}
              </div>
            );
          })}
        </div>
      ))}
      {!rows.length && empty && <p className="soft cell-sheet-empty">{empty}</p>}
    </div>
  );
}

const cell = (at: Stand) => ({ card: at.row, column: at.column });
