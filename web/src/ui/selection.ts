// A range of cells: from the focused cell to the end of the selection.

/** A cell by what stands in its row and the id of its column. */
type Place = { card: string; column: string };

export type Range = { top: number; bottom: number; left: number; right: number };

/** The range's rows and columns by their places; one cell when nothing is drawn. Null when the cell is not in sight. */
export function rangeOf(
  at: Place,
  head: Place | null,
  place: Map<string, number>,
  columns: readonly { id: string }[],
): Range | null {
  const row = place.get(at.card);
  const column = columns.findIndex((each) => each.id === at.column);
  if (row === undefined || column < 0) return null;
  const otherRow = head ? (place.get(head.card) ?? row) : row;
  const otherColumn = head
    ? Math.max(
        0,
        columns.findIndex((each) => each.id === head.column),
      )
    : column;
  return {
    top: Math.min(row, otherRow),
    bottom: Math.max(row, otherRow),
    left: Math.min(column, otherColumn),
    right: Math.max(column, otherColumn),
  };
}

export const inRange = (range: Range | null, row: number, column: number): boolean =>
  range !== null && row >= range.top && row <= range.bottom && column >= range.left && column <= range.right;

export const sizeOf = (range: Range): number => (range.bottom - range.top + 1) * (range.right - range.left + 1);

/** So many cards stand side by side when they are compared. */
export const MOST_COMPARED = 4;
