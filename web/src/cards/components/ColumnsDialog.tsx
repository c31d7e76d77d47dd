// Every column: shown or hidden, its order and width, sorted by or not, how many stay at the left.
import { ArrowDown, ArrowUp } from "lucide-react";
import type { Sort } from "../../query/useFound";
import { SheetDialog } from "../../ui/Sheet";
import { type Layout, moved, NARROWEST, ordered, WIDEST } from "../columnLayout";
import type { Column } from "../columns";

type Props = {
  open: boolean;
  setOpen: (open: boolean) => void;
  columns: Column[];
  layout: Layout;
  change: (by: (before: Layout) => Layout) => void;
  sort: Sort[];
  setSort: (sort: Sort[]) => void;
};

export function ColumnsDialog({ open, setOpen, columns, layout, change, sort, setSort }: Props) {
  const all = ordered(columns, layout);
  const toggle = (id: string) =>
    change((before) => ({
      ...before,
      hidden: before.hidden.includes(id) ? before.hidden.filter((each) => each !== id) : [...before.hidden, id],
    }));
  return (
    <SheetDialog
      open={open}
      setOpen={setOpen}
      title="Columns"
      about="Kept in this browser; a saved view carries its own."
      className="columns-sheet"
    >
      <label className="columns-frozen">
        Columns that stay at the left
        <input
          type="number"
          className="input num-input"
          min={0}
          max={6}
          value={layout.frozen}
          onChange={(event) =>
            change((before) => ({ ...before, frozen: Math.max(0, Math.min(6, Number(event.target.value) || 0)) }))
          }
        />
      </label>
      <div className="columns-list">
        {all.map((column, place) => {
          const by = sort.find((each) => each.field === column.id);
          const turn = sort.findIndex((each) => each.field === column.id);
          return (
            <div key={column.id} className="columns-row">
              <label className="columns-name">
                <input
                  type="checkbox"
                  checked={!layout.hidden.includes(column.id)}
                  onChange={() => toggle(column.id)}
                />
                {column.name}
              </label>
              <button
                type="button"
                className="icon-button"
                disabled={place === 0}
                aria-label={`Move ${column.name} left`}
                onClick={() => change((before) => moved(columns, before, column.id, -1))}
              >
                <ArrowUp size={14} aria-hidden="true" />
              </button>
              <button
                type="button"
                className="icon-button"
                disabled={place === all.length - 1}
                aria-label={`Move ${column.name} right`}
                onClick={() => change((before) => moved(columns, before, column.id, 1))}
              >
                <ArrowDown size={14} aria-hidden="true" />
              </button>
              <input
                type="number"
                className="input num-input"
                aria-label={`Width of ${column.name} in pixels`}
                min={NARROWEST}
                max={WIDEST}
                step={10}
                value={Math.round(layout.widths[column.id] ?? column.width)}
                onChange={(event) =>
                  change((before) => ({
                    ...before,
                    widths: { ...before.widths, [column.id]: Number(event.target.value) },
                  }))
                }
              />
              <select
                className="select"
                aria-label={`Sort by ${column.name}`}
                value={by ? (by.down ? "down" : "up") : ""}
                onChange={(event) => {
                  const rest = sort.filter((each) => each.field !== column.id);
                  const mine = { field: column.id, down: event.target.value === "down" };
                  if (!event.target.value) setSort(rest);
                  else if (turn >= 0) setSort(sort.map((each, index) => (index === turn ? mine : each)));
                  else setSort([...rest, mine]);
                }}
              >
                <option value="">not sorted</option>
                <option value="up">rising{turn >= 0 && sort.length > 1 ? ` (${turn + 1})` : ""}</option>
                <option value="down">falling{turn >= 0 && sort.length > 1 ? ` (${turn + 1})` : ""}</option>
              </select>
            </div>
          );
        })}
      </div>
      <div className="small-sheet-foot">
        <button
          type="button"
          className="button"
          onClick={() => change(() => ({ order: [], hidden: [], widths: {}, frozen: 2 }))}
        >
          Reset columns
        </button>
        <span className="small-sheet-said" />
        <button type="button" className="button button-main" onClick={() => setOpen(false)}>
          Done
        </button>
      </div>
    </SheetDialog>
  );
}
