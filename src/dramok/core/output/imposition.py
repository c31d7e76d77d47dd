"""Imposition: positions of cards on a page, as many as fit, with cut marks, and backs where the fronts are when
the sheet is turned.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property
from typing import Literal, NamedTuple

from pydantic import Field

from dramok.core.faces.plan.sizes import Size
from dramok.core.problem import Frozen, Problem

PAPERS: dict[str, tuple[float, float]] = {
    "A4": (210.0, 297.0),
    "A3": (297.0, 420.0),
    "Letter": (215.9, 279.4),
}
"""Widths and heights of upright sheets (ISO 216; ANSI/ASME Y14.1)."""
MARK, MARK_GAP = 4.0, 1.0
"""The length of a cut mark, and its distance from the cut."""
LEAST_MARK = 1.5
FOOT = 3.0
"""The height of the line with ruler and colophon."""
HAIR = 1e-6
Box = tuple[float, float, float, float]
Edge = Literal["long", "short"]


class NoRoom(ValueError):
    """Not a single card fits. `problem` says by how much."""

    def __init__(self, problem: Problem) -> None:
        super().__init__(problem.what)
        self.problem = problem


class Paper(Frozen):
    """`margin` is the unprintable border, `gutter` the space between two cards beyond their bleeds.

    `turned`: auto takes the orientation with more cards.
    """

    width: float = Field(default=210.0, ge=30, le=1200, allow_inf_nan=False)
    height: float = Field(default=297.0, ge=30, le=1200, allow_inf_nan=False)
    margin: float = Field(default=5.0, ge=0, le=100, allow_inf_nan=False)
    gutter: float = Field(default=0.0, ge=0, le=50, allow_inf_nan=False)
    bleed: bool = False
    turned: Literal["auto", "portrait", "landscape"] = "auto"
    scale: float = Field(default=1.0, ge=0.1, le=4, allow_inf_nan=False)


class Slot(NamedTuple):
    """The position of a card's cut corner on the page; `turned`: upside down."""

    x: float
    y: float
    turned: bool = False


@dataclass(frozen=True)
class Imposition:
    """`page` is the sheet in its orientation; `card` the printed width and height of a card's cut; `bleed` the
    printed area around it.

    With `pairs` the slots alternate: a front and its back next to it, or under it and upside down, so that they
    align when the sheet is folded between them.
    """

    page: tuple[float, float]
    card: tuple[float, float]
    bleed: float
    margin: float
    columns: int
    rows: int
    slots: tuple[Slot, ...]
    pairs: bool = False
    scale: float = 1.0

    @property
    def each(self) -> int:
        """The number of cards on a page."""
        return len(self.slots) // 2 if self.pairs else len(self.slots)

    def behind(self, edge: Edge) -> tuple[Slot, ...]:
        """The position of each back when the sheet is turned over along an edge.

        Turned along an edge across the page, the back is printed upside down, so that both tops align.
        """
        wide, high = self.page
        along_height = (edge == "long") == (high >= wide)
        return tuple(
            Slot(wide - slot.x - self.card[0], slot.y)
            if along_height
            else Slot(slot.x, high - slot.y - self.card[1], turned=True)
            for slot in self.slots
        )

    def pages(self, cards: int) -> int:
        """The number of pages for a number of cards."""
        return -(-cards // self.each)

    @cached_property
    def block(self) -> Box:
        """The printed area of cards: left, top, right, bottom."""
        (wide, high), bleed = self.card, self.bleed
        xs, ys = [slot.x for slot in self.slots], [slot.y for slot in self.slots]
        return (min(xs) - bleed, min(ys) - bleed, max(xs) + wide + bleed, max(ys) + high + bleed)

    @property
    def foot(self) -> float | None:
        """The position of the line with ruler and colophon, within the printable area; None if there is no space."""
        at = self.page[1] - max(self.margin, MARK_GAP) - 0.6
        return at if at - FOOT >= self.block[3] else None

    def cut_marks(self, keep_foot: bool = False) -> Iterator[Box]:
        """Lines (x1, y1, x2, y2) at the ends of every cut, outside all cards; with `keep_foot` they end above
        the line at the bottom.
        """
        wide, high = self.card
        left, top, right, foot = self.block
        left, top, right, foot = left - MARK_GAP, top - MARK_GAP, right + MARK_GAP, foot + MARK_GAP
        lowest = self.page[1]
        if keep_foot and self.foot is not None:
            lowest = self.foot - FOOT
        for x in sorted({round(at, 4) for slot in self.slots for at in (slot.x, slot.x + wide)}):
            if top > 0:
                yield x, max(0.0, top - MARK), x, top
            if lowest - foot >= LEAST_MARK:
                yield x, foot, x, min(lowest, foot + MARK)
        for y in sorted({round(at, 4) for slot in self.slots for at in (slot.y, slot.y + high)}):
            if left > 0:
                yield max(0.0, left - MARK), y, left, y
            if right < self.page[0]:
                yield right, y, min(self.page[0], right + MARK), y


def impose(size: Size, paper: Paper, pairs: bool = False) -> Imposition:
    """As many cards per page as fit, centred; the sheet upright or landscape, whichever holds more.

    With `pairs` each card takes two places, side by side or one above the other. Raises NoRoom.
    """
    upright = (min(paper.width, paper.height), max(paper.width, paper.height))
    ways = {"portrait": [upright], "landscape": [upright[::-1]], "auto": [upright, upright[::-1]]}[
        paper.turned
    ]
    lays = [_laid(size, paper, page, unit) for page in ways for unit in ([(2, 1), (1, 2)] if pairs else [(1, 1)])]  # fmt: skip
    best = max(lays, key=lambda found: found.columns * found.rows)
    if not best.slots:
        wide, high = best.card
        bleed = 2 * best.bleed
        what = (
            "a card and its back beside it do"
            if pairs
            else f"a card of {wide + bleed:g} x {high + bleed:g} mm does"
        )
        raise NoRoom(
            Problem(
                where="paper",
                what=f"{what} not fit {best.page[0]:g} x {best.page[1]:g} mm with a margin of {paper.margin:g}",
                mend="choose a larger paper, a smaller margin, or leave the bleed out",
            )
        )
    return best


def _laid(size: Size, paper: Paper, page: tuple[float, float], unit: tuple[int, int]) -> Imposition:
    """Cards in units of a number across and down."""
    wide, high = size.width * paper.scale, size.height * paper.scale
    bleed = size.bleed * paper.scale if paper.bleed else 0.0
    step = (wide + 2 * bleed + paper.gutter, high + 2 * bleed + paper.gutter)
    room = (page[0] - 2 * paper.margin, page[1] - 2 * paper.margin)
    columns, rows = (
        max(0, int((room[axis] + paper.gutter) / step[axis] + HAIR)) // unit[axis] * unit[axis]
        for axis in (0, 1)
    )
    taken = (columns * step[0] - paper.gutter, rows * step[1] - paper.gutter)
    left, top = (page[0] - taken[0]) / 2 + bleed, (page[1] - taken[1]) / 2 + bleed
    slots = tuple(
        Slot(round(left + (column + across) * step[0], 4), round(top + (row + down) * step[1], 4), turned=down == 1)
        for row in range(0, rows, unit[1])
        for column in range(0, columns, unit[0])
        for down in range(unit[1])
        for across in range(unit[0])
    )
    return Imposition(page, (wide, high), bleed, paper.margin, columns, rows, slots, unit != (1, 1), paper.scale)
