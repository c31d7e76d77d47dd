"""Sheets of paper: the cards on the front and back, with cut marks, ruler and colophon. Faces are added last."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass
from typing import Literal, NamedTuple

from dramok.core.faces import Face, Size
from dramok.core.faces.layout.typeface import Typeface
from dramok.core.faces.plan.plan import Side
from dramok.core.output.imposition import Box, Imposition, Paper, Slot, impose

Backs = Literal["none", "long", "short", "beside"]
RULER = 50.0
"""The length of the ruler in mm at the scale of the cards: if that corrects the printer, it measures this on paper."""
TICK, TICK_TEN = 0.8, 1.4
LETTERS = 2.1
"""The em of the bottom line in mm."""
LEAST_FOOT_LEFT = 5.0
RULER_SAID = 12.0
"""The width of the ruler's label in mm."""


class Spot(NamedTuple):
    """A side of a card in a slot."""

    card: str
    side: Side
    slot: Slot


class Painted(NamedTuple):
    """A face with its cut corner at (x, y); `turned`: upside down."""

    face: Face
    x: float
    y: float
    turned: bool = False


class Page(NamedTuple):
    """A page to print: faces, hairlines (x1, y1, x2, y2), texts (x, y, text) with an em of LETTERS. Lengths in mm."""

    width: float
    height: float
    faces: tuple[Painted, ...]
    lines: tuple[Box, ...] = ()
    words: tuple[tuple[float, float, str], ...] = ()


@dataclass(frozen=True)
class Leaf:
    """A sheet of paper: `cards` in the order of its slots; `number` counts from 1."""

    number: int
    laid: Imposition
    cards: tuple[str, ...]
    backs: Backs

    @property
    def pages(self) -> int:
        return 2 if self.backs in ("long", "short") else 1

    def front(self) -> tuple[Spot, ...]:
        """The cards on the front, including backs next to them."""
        slots = self.laid.slots
        if not self.laid.pairs:
            return tuple(Spot(card, "front", slot) for card, slot in zip(self.cards, slots, strict=False))
        found = []
        for place, card in enumerate(self.cards):
            found += [Spot(card, "front", slots[2 * place]), Spot(card, "back", slots[2 * place + 1])]
        return tuple(found)

    def back(self) -> tuple[Spot, ...]:
        """The cards on the back; none unless both sides are printed."""
        if self.backs not in ("long", "short"):
            return ()
        slots = self.laid.behind("long" if self.backs == "long" else "short")
        return tuple(Spot(card, "back", slot) for card, slot in zip(self.cards, slots, strict=False))


def leaves(cards: Iterable[tuple[str, Size, int]], paper: Paper, backs: Backs) -> list[Leaf]:
    """The sheets for the copies of each card (card, size, copies), cards of one size per sheet. Raises NoRoom."""
    sizes: dict[tuple[float, float, str, float], tuple[Size, list[str]]] = {}
    for card, size, copies in cards:
        bleed = size.bleed if paper.bleed else 0.0
        held = sizes.setdefault((size.width, size.height, size.outline, bleed), (size, []))
        held[1].extend([card] * copies)
    made: list[Leaf] = []
    for size, held_cards in sizes.values():
        laid = impose(size, paper, pairs=backs == "beside")
        for start in range(0, len(held_cards), laid.each):
            made.append(Leaf(len(made) + 1, laid, tuple(held_cards[start : start + laid.each]), backs))
    return made


def ruler_fits(laid: Imposition) -> bool:
    """Whether there is space for the ruler with its label at the bottom."""
    left = max(laid.margin, LEAST_FOOT_LEFT)
    return laid.foot is not None and left + RULER * laid.scale + RULER_SAID <= laid.page[0] - laid.margin


def page_of(
    leaf: Leaf,
    spots: Sequence[Spot],
    face: Callable[[str, Side], Face],
    elements: bool,
    ruler: bool,
    said: Sequence[str],
    letters: Typeface,
) -> Page:
    """A page with its faces.

    `said` is the colophon, from its longest wording to its shortest: the first that fits after the ruler at the
    bottom is used, unless cards reach that far. `letters` measure it.
    """
    wide, high = leaf.laid.page
    faces = tuple(Painted(face(spot.card, spot.side), *spot.slot) for spot in spots)
    ruler = ruler and ruler_fits(leaf.laid)
    foot = leaf.laid.foot if ruler or said else None
    lines = list(leaf.laid.cut_marks(keep_foot=foot is not None)) if elements else []
    words: list[tuple[float, float, str]] = []
    if foot is not None:
        left = max(leaf.laid.margin, LEAST_FOOT_LEFT)
        if ruler:
            lines += _ruler(left, foot, leaf.laid.scale)
            left += RULER * leaf.laid.scale
            words.append((left + 1.5, foot, f"{RULER:g} mm"))
            left += RULER_SAID
        room = wide - leaf.laid.margin - left
        if said and (fits := next((each for each in said if letters.width(each, LETTERS) <= room), None)):
            words.append((left, foot, fits))
    return Page(wide, high, faces, tuple(lines), tuple(words))


def _ruler(left: float, foot: float, scale: float) -> Iterator[Box]:
    yield left, foot, left + RULER * scale, foot
    for step in range(0, int(RULER) + 1, 5):
        at = left + step * scale
        yield at, foot - (TICK_TEN if step % 10 == 0 else TICK), at, foot
