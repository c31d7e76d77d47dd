"""How cards lie on a page: as many as fit, cut marks between them, backs where the fronts come to lie when the sheet is turned."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal, NamedTuple

from pydantic import Field

from dramok.core.faces.sizes import Size
from dramok.core.problem import Frozen, Problem

PAPERS: dict[str, tuple[float, float]] = {
    "A4": (210.0, 297.0),
    "A3": (297.0, 420.0),
    "Letter": (215.9, 279.4),
}
"""Widths and heights of upright sheets (ISO 216; ANSI/ASME Y14.1)."""
MARK, MARK_GAP = 4.0, 1.0
"""Length of a cut mark, and how far from the cut it begins."""
HAIR = 1e-6
Box = tuple[float, float, float, float]


class NoRoom(ValueError):
    """Not one card fits the paper. `problem` says by how much."""

    def __init__(self, problem: Problem) -> None:
        super().__init__(problem.what)
        self.problem = problem


class Paper(Frozen):
    """`margin` is what the printer can't reach, `gutter` lies between two cards beside their bleeds. `turned`: auto takes what holds more."""

    width: float = Field(default=210.0, ge=30, le=1200, allow_inf_nan=False)
    height: float = Field(default=297.0, ge=30, le=1200, allow_inf_nan=False)
    margin: float = Field(default=6.0, ge=0, le=100, allow_inf_nan=False)
    gutter: float = Field(default=0.0, ge=0, le=50, allow_inf_nan=False)
    bleed: bool = False
    turned: Literal["auto", "portrait", "landscape"] = "auto"
    scale: float = Field(default=1.0, ge=0.1, le=4, allow_inf_nan=False)


class Slot(NamedTuple):
    """Where a card's cut corner lies on the page."""

    x: float
    y: float


@dataclass(frozen=True)
class Imposition:
    """`page` is the sheet as it lies; `card` the printed width and height of a card's cut; `bleed` what is printed around it."""

    page: tuple[float, float]
    card: tuple[float, float]
    bleed: float
    columns: int
    rows: int
    slots: tuple[Slot, ...]

    def behind(self, edge: Literal["long", "short"]) -> tuple[Slot, ...]:
        """Where the back of each front comes to lie when the sheet is turned over along an edge."""
        wide, high = self.page
        along_height = (edge == "long") == (high >= wide)
        return tuple(
            Slot(wide - slot.x - self.card[0], slot.y)
            if along_height
            else Slot(slot.x, high - slot.y - self.card[1])
            for slot in self.slots
        )

    def pages(self, cards: int) -> int:
        """How many pages so many cards need."""
        return -(-cards // len(self.slots))

    def cut_marks(self) -> Iterator[tuple[float, float, float, float]]:
        """Lines (x1, y1, x2, y2) at the ends of every cut, outside all cards."""
        wide, high = self.card
        left = min(slot.x for slot in self.slots) - self.bleed - MARK_GAP
        top = min(slot.y for slot in self.slots) - self.bleed - MARK_GAP
        right = max(slot.x for slot in self.slots) + wide + self.bleed + MARK_GAP
        foot = max(slot.y for slot in self.slots) + high + self.bleed + MARK_GAP
        for x in sorted({round(at, 4) for slot in self.slots for at in (slot.x, slot.x + wide)}):
            yield x, max(0.0, top - MARK), x, top
            yield x, foot, x, min(self.page[1], foot + MARK)
        for y in sorted({round(at, 4) for slot in self.slots for at in (slot.y, slot.y + high)}):
            yield max(0.0, left - MARK), y, left, y
            yield right, y, min(self.page[0], right + MARK), y


def impose(size: Size, paper: Paper) -> Imposition:
    """As many cards to a page as fit, in the middle of it; the sheet upright or lying, whichever holds more. Raises NoRoom."""
    upright = (min(paper.width, paper.height), max(paper.width, paper.height))
    ways = {"portrait": [upright], "landscape": [upright[::-1]], "auto": [upright, upright[::-1]]}[
        paper.turned
    ]
    best = max((_laid(size, paper, page) for page in ways), key=lambda found: found.columns * found.rows)
    if not best.slots:
        wide, high = best.card
        bleed = 2 * best.bleed
        raise NoRoom(
            Problem(
                where="paper",
                what=f"a card of {wide + bleed:g} x {high + bleed:g} mm does not fit {best.page[0]:g} x {best.page[1]:g} mm with a margin of {paper.margin:g}",
                mend="choose a larger paper, a smaller margin, or leave the bleed out",
            )
        )
    return best


def _laid(size: Size, paper: Paper, page: tuple[float, float]) -> Imposition:
    wide, high = size.width * paper.scale, size.height * paper.scale
    bleed = size.bleed * paper.scale if paper.bleed else 0.0
    step = (wide + 2 * bleed + paper.gutter, high + 2 * bleed + paper.gutter)
    room = (page[0] - 2 * paper.margin, page[1] - 2 * paper.margin)
    columns, rows = (max(0, int((room[axis] + paper.gutter) / step[axis] + HAIR)) for axis in (0, 1))
    taken = (columns * step[0] - paper.gutter, rows * step[1] - paper.gutter)
    left, top = (page[0] - taken[0]) / 2 + bleed, (page[1] - taken[1]) / 2 + bleed
    slots = tuple(
        Slot(round(left + column * step[0], 4), round(top + row * step[1], 4))
        for row in range(rows)
        for column in range(columns)
    )
    return Imposition(page, (wide, high), bleed, columns, rows, slots)
