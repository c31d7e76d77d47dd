"""Faces for quick prints: no pictures, no grounds; what is to be read stands in black on white."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from dramok.core.faces import (
    Art,
    Circle,
    Clip,
    Face,
    Field,
    Line,
    Mark,
    Path,
    Picture,
    Rect,
    Shared,
    Text,
    Turn,
)
from dramok.core.faces.sizes import rounded

WHITE, BLACK, EDGE = "#ffffff", "#000000", "#8a8a8a"
HAIR = 0.12
GROUND = 0.6
"""What covers a larger part of the card than this is a ground."""
DOT = 2.0
"""Circles of a smaller radius in mm are signs, larger ones plates."""


def sparing(face: Face) -> Face:
    """The face as black lines and text. Sizes and places stay."""
    return Face(face.size, tuple(_spare(face.marks, face.width * face.height)), face.problems, face.placed)


def _spare(marks: Iterable[Mark], card: float) -> Iterator[Mark]:
    for mark in marks:
        match mark:
            case Shared() | Field():
                inner = tuple(_spare(mark.marks, card))
                yield Field(mark.field, mark.x, mark.y, mark.width, mark.height, inner, mark.place)
            case Clip():
                yield Clip(mark.d, tuple(_spare(mark.marks, card)))
            case Turn():
                yield mark._replace(marks=tuple(_spare(mark.marks, card)))
            case Rect():
                yield mark._replace(fill=WHITE, opacity=1)
                yield from _edge(mark.x, mark.y, mark.width, mark.height, mark.radius, card)
            case Picture() | Art():
                yield Rect(mark.x, mark.y, mark.width, mark.height, WHITE)
                yield from _edge(mark.x, mark.y, mark.width, mark.height, 0, card)
            case Circle():
                if mark.radius <= DOT:
                    yield mark._replace(fill=BLACK)
                else:
                    yield mark._replace(fill=BLACK, opacity=1)
                    yield mark._replace(fill=WHITE, radius=mark.radius - HAIR, opacity=1)
            case Path():
                if mark.fill and mark.scale == 1:
                    yield mark._replace(fill=WHITE, stroke=EDGE, width=HAIR, opacity=1)
                else:
                    yield mark._replace(fill=mark.fill and BLACK, stroke=mark.stroke and EDGE, opacity=1)
            case Text():
                yield mark._replace(fill=BLACK)
            case Line():
                yield mark._replace(colour=EDGE)


def _edge(x: float, y: float, wide: float, high: float, radius: float, card: float) -> Iterator[Mark]:
    if wide * high < GROUND * card and min(wide, high) > 2 * HAIR:
        half = HAIR / 2
        yield Path(
            rounded(x + half, y + half, wide - HAIR, high - HAIR, radius), None, stroke=EDGE, width=HAIR
        )
