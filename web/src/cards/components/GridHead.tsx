// The column headers: click to sort, drag to move, drag the edge to resize.
import { useRef, useState } from "react";
import type { Sort } from "../../query/useFound";
import type { Column } from "../columns";

type Props = {
  columns: Column[];
  lefts: number[];
  frozen: number;
  width: number;
  height: number;
  sort: Sort[];
  sortBy: (column: string, more: boolean) => void;
  resize: (column: string, width: number) => void;
  move: (column: string, by: number) => void;
};

export function GridHead({ columns, lefts, frozen, width, height, sort, sortBy, resize, move }: Props) {
  const [dragged, setDragged] = useState<string | null>(null);
  const [over, setOver] = useState<string | null>(null);
  return (
    <div className="grid-head" role="row" aria-rowindex={1} style={{ width, height }}>
      {columns.map((column, index) => {
        const place = sort.findIndex((each) => each.field === column.id);
        const by = sort[place];
        return (
          <div
            key={column.id}
            role="columnheader"
            tabIndex={-1}
            aria-sort={by ? (by.down ? "descending" : "ascending") : "none"}
            className={`grid-th grid-${column.kind} ${index < frozen ? "grid-frozen" : ""} ${over === column.id && dragged !== column.id ? "grid-th-over" : ""}`}
            style={{ width: column.width, left: index < frozen ? lefts[index] : undefined }}
            title={`${column.field?.help ? `${column.field.help}. ` : ""}Press to sort, with Shift to sort by this too; drag to move`}
            draggable
            onClick={(event) => sortBy(column.id, event.shiftKey)}
            onKeyDown={(event) => event.key === "Enter" && sortBy(column.id, event.shiftKey)}
            onDragStart={(event) => {
              event.dataTransfer.effectAllowed = "move";
              event.dataTransfer.setData("text/plain", column.name);
              setDragged(column.id);
            }}
            onDragOver={(event) => {
              if (!dragged) return;
              event.preventDefault();
              setOver(column.id);
            }}
            onDrop={(event) => {
              event.preventDefault();
              if (dragged) move(dragged, index - columns.findIndex((each) => each.id === dragged));
            }}
            onDragEnd={() => {
              setDragged(null);
              setOver(null);
            }}
          >
            <span className="grid-th-name">{column.name}</span>
            {by && (
              <span className="grid-th-sort" aria-hidden="true">
                {by.down ? "▾" : "▴"}
                {sort.length > 1 ? place + 1 : ""}
              </span>
            )}
            <Edge width={column.width} resize={(to) => resize(column.id, to)} />
          </div>
        );
      })}
    </div>
  );
}

/** The right edge of a head: drawn to size its column. */
function Edge({ width, resize }: { width: number; resize: (width: number) => void }) {
  const from = useRef<{ x: number; width: number } | null>(null);
  return (
    <span
      className="grid-edge"
      aria-hidden="true"
      draggable
      onDragStart={(event) => {
        event.preventDefault();
        event.stopPropagation();
      }}
      onClick={(event) => event.stopPropagation()}
      onPointerDown={(event) => {
        event.stopPropagation();
        event.currentTarget.setPointerCapture(event.pointerId);
        from.current = { x: event.clientX, width };
      }}
      onPointerMove={(event) => {
        if (from.current) resize(from.current.width + event.clientX - from.current.x);
      }}
      onPointerUp={() => {
        from.current = null;
      }}
    />
  );
}
