"""Table sheets: cells in columns and rows, as few sheets as the limits allow, each with the best grid for its count."""

from __future__ import annotations

from math import ceil, log
from typing import NamedTuple

from pydantic import Field

from dramok.core.output.imposition import NoRoom
from dramok.core.problem import Frozen, Problem

MOST_ACROSS = 60
MOST_PIXELS = 36_000_000
"""The pixel limit of a sheet: programs need four bytes for each."""
OFF_SQUARE = 0.25
"""The penalty of an elongated sheet, as a fraction of empty cells."""


class Limits(Frozen):
    """Limits of a virtual table:

    `side` the longest side of a sheet in pixels; the largest number of columns and rows.
    """

    side: int = Field(default=4096, ge=64, le=16_384)
    columns: int = Field(default=MOST_ACROSS, ge=1, le=MOST_ACROSS)
    rows: int = Field(default=MOST_ACROSS, ge=1, le=MOST_ACROSS)


class Grid(NamedTuple):
    """A sheet: its cells of `width` x `height` pixels hold `cards` from the top left, row by row."""

    columns: int
    rows: int
    cards: int
    width: int
    height: int

    @property
    def size(self) -> tuple[int, int]:
        """Width and height of the sheet in pixels."""
        return self.columns * self.width, self.rows * self.height

    @property
    def last(self) -> int:
        """The index of the last cell, from 0."""
        return self.columns * self.rows - 1

    def corner(self, place: int) -> tuple[int, int]:
        """The pixel at which a cell begins."""
        return place % self.columns * self.width, place // self.columns * self.height


def fit_grids(count: int, width: int, height: int, limits: Limits, keep_last: bool = False) -> list[Grid]:
    """Grids for `count` cells of `width` x `height` pixels; with `keep_last` the last cell of each stays free.

    All sheets but the last are as full as the limits allow. Raises NoRoom if a sheet can't hold one card.
    """
    columns = min(limits.columns, limits.side // width, MOST_PIXELS // (width * height))
    rows = min(limits.rows, limits.side // height, MOST_PIXELS // (width * height * max(1, columns)))
    spare = int(keep_last)
    each = columns * rows - spare
    if each < 1:
        raise NoRoom(_too_small(width, height, limits, keep_last))
    full, rest = divmod(count, each)
    grids = [Grid(columns, rows, each, width, height)] * full
    if rest:
        across, down = _best(rest + spare, columns, rows, height / width)
        grids.append(Grid(across, down, rest, width, height))
    return grids


def _too_small(width: int, height: int, limits: Limits, keep_last: bool) -> Problem:
    cells = 2 if keep_last else 1
    across, down = min(cells, limits.columns), 1
    if across * down < cells:
        down = min(cells, limits.rows)
    what = "a card and the hidden face do" if keep_last else f"a cell of {width} x {height} pixels does"
    if across * down < cells:
        mend = "allow a second column or row"
    else:
        most = max(1, int(limits.side * min(1.0, width / height)) // cells)
        mend = f"make cells at most {most} pixels wide, or allow a longer side"
    return Problem(where="side", what=f"{what} not fit a side of {limits.side}", mend=mend)


def _best(cells: int, most_columns: int, most_rows: int, shape: float) -> tuple[int, int]:
    """Columns and rows with few empty cells and a nearly square shape; `shape` is a cell's height by its width."""

    def price(columns: int) -> tuple[float, int]:
        rows = ceil(cells / columns)
        empty = (columns * rows - cells) / cells
        return empty + OFF_SQUARE * abs(log(columns / (rows * shape))), columns

    columns = min((each for each in range(1, most_columns + 1) if ceil(cells / each) <= most_rows), key=price)
    return columns, ceil(cells / columns)
