// One row of the grid and its cells.

import { memo } from "react";
import { recordOf } from "../../fieldkinds";
import { MARK_ALONE } from "../../fieldkinds/choice";
import type { Card, Game, Note, Standing } from "../../state/client";
import { useTypedVerdict } from "../../state/drafts";
import { placeOf, type Unsaved } from "../../state/store";
import type { Leave } from "../../ui/CellInput";
import { Verdict } from "../../ui/Verdict";
import { applies, type Cell, type Column, cellText, editable } from "../columns";
import type { Editing } from "../types";
import { CellEditor } from "./CellEditor";

export const cellId = (card: string, column: string) => `cell-${card}-${column}`;

type RowProps = {
  game: Game;
  id: string;
  card: Card | undefined;
  standing: Standing | undefined;
  notes: Note[] | undefined;
  columns: Column[];
  lefts: number[];
  frozen: number;
  index: number;
  top: number;
  /** The column one stands on, when this is the row. */
  active: string | null;
  /** First and last column that the range covers in this row, or -1. */
  from: number;
  to: number;
  editing: Editing;
  unsaved: Unsaved;
  press: (cell: Cell, event: React.MouseEvent) => void;
  enter: (cell: Cell, event: React.MouseEvent) => void;
  begin: (column: Column, id: string, text: string | null) => void;
  leave: Leave;
};

export const Row = memo(function Row(props: RowProps) {
  const { game, id, card, standing, notes, columns, lefts, frozen, index, top, active, from, to, editing, unsaved } =
    props;
  const { press, enter, begin, leave } = props;
  return (
    <div
      className={`grid-row ${active ? "grid-row-active" : ""} ${index % 2 ? "grid-row-odd" : ""} ${card ? "" : "grid-row-new"}`}
      role="row"
      tabIndex={-1}
      aria-rowindex={index + 2}
      aria-selected={active !== null || from >= 0}
      style={{ transform: `translateY(${top}px)` }}
    >
      {columns.map((column, number) => {
        const has = card ? applies(game, card, column) : editable(column);
        const on = active === column.id;
        const within = number >= from && number <= to && from >= 0;
        const edits = editing?.column === column.id;
        const kept = unsaved[placeOf(id, column.id)];
        return (
          <div
            key={column.id}
            id={cellId(id, column.id)}
            role="gridcell"
            tabIndex={-1}
            aria-colindex={number + 1}
            aria-selected={on || within}
            aria-readonly={!editable(column) || !has}
            className={`grid-cell grid-${column.kind} ${on ? "grid-on" : ""} ${within && !on ? "grid-within" : ""} ${has ? "" : "grid-none"} ${kept ? "grid-unsaved" : ""} ${column.kind === "code" && notes?.some((note) => note.state === "open") ? "grid-noted" : ""} ${column.kind === "code" && standing?.paper === "stale" ? "grid-stale" : ""} ${number < frozen ? "grid-frozen" : ""}`}
            style={{ width: column.width, left: number < frozen ? lefts[number] : undefined }}
            title={kept?.why}
            onMouseDown={(event) => {
              if (!edits) press({ card: id, column: column.id }, event);
            }}
            onMouseEnter={(event) => enter({ card: id, column: column.id }, event)}
            onDoubleClick={() => begin(column, id, null)}
          >
            {edits ? (
              <CellEditor
                game={game}
                card={card}
                column={column}
                value={kept?.text ?? (card ? cellText(game, card, column) : "")}
                first={editing.text}
                leave={leave}
              />
            ) : kept ? (
              kept.text.slice(0, 200)
            ) : !card ? (
              number === 0 && <span className="soft">new card</span>
            ) : column.kind === "verdict" ? (
              <RowVerdict card={id} standing={standing} />
            ) : column.kind === "notes" ? (
              notes && <NoteCount notes={notes} />
            ) : column.kind === "paper" ? (
              standing && <OnPaper state={standing.paper} />
            ) : (
              <Shown game={game} card={card} column={column} standing={standing} />
            )}
          </div>
        );
      })}
    </div>
  );
});

/** The verdict as it stands; while the card is typed in, as it would be. */
function RowVerdict({ card, standing }: { card: string; standing: Standing | undefined }) {
  const typed = useTypedVerdict(card);
  if (typed && (typed.difference !== standing?.difference || typed.judgement !== standing?.judgement))
    return (
      <span className="verdict-typed" title="As it would be with what is being typed">
        <Verdict judgement={typed.judgement} difference={typed.difference} />
      </span>
    );
  return standing ? <Verdict judgement={standing.judgement} difference={standing.difference} /> : null;
}

/** How many notes wait for an answer; or, quieter, how many are answered. */
function NoteCount({ notes }: { notes: Note[] }) {
  const open = notes.filter((note) => note.state === "open").length;
  const told = notes.map((note) => note.text).join("\n\n");
  return (
    <span className={open ? "" : "soft"} title={told.slice(0, 600)}>
      {open ? `${open} open` : `${notes.length} ✓`}
    </span>
  );
}

function OnPaper({ state }: { state: Standing["paper"] }) {
  if (!state) return <span className="soft">–</span>;
  return state === "stale" ? (
    <span className="needs" title="Its face is not as it was printed last">
      out of date
    </span>
  ) : (
    <span className="soft" title="Printed as it is">
      ✓
    </span>
  );
}

type ShownProps = { game: Game; card: Card; column: Column; standing: Standing | undefined };

function Shown({ game, card, column, standing }: ShownProps) {
  const text = cellText(game, card, column);
  const field = column.field;
  const Own = field && recordOf(field).Shown;
  if (Own && field)
    return text ? <Own game={game} card={card} field={field} text={text} narrow={column.width <= MARK_ALONE} /> : null;
  if (column.kind === "effect" && standing && !standing.written && text)
    return <span className="needs">{does(text)}</span>;
  if (column.kind === "effect") return <>{does(text)}</>;
  if (column.long) return <>{oneLine(text)}</>;
  return <span dir="auto">{text.slice(0, 300)}</span>;
}

/** What an effect does, line by line, without the moments at which it happens: those are much alike down the column. */
const does = (text: string): string =>
  text
    .slice(0, 300)
    .split("\n")
    .map((line) => line.replace(/^\s*(upon\b[^:]*|always)\s*:\s*/i, ""))
    .join(" · ");

const oneLine = (text: string): string => text.slice(0, 300).replaceAll("\n", " ⏎ ");
