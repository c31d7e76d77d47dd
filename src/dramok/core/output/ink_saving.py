"""Ink-saving faces for test prints: no pictures or backgrounds, black text on white."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from dramok.core.faces import (
    Art,
    Circle,
    Clip,
    Element,
    Face,
    Field,
    Path,
    Picture,
    Rect,
    Segment,
    Shared,
    Text,
    Turn,
)
from dramok.core.faces.plan.sizes import rounded

WHITE, BLACK, EDGE = "#ffffff", "#000000", "#8a8a8a"
HAIR = 0.12
GROUND = 0.6
"""A shape that covers more than this part of the card is a background."""
DOT = 2.0
"""Circles with a smaller radius in mm are signs, larger ones plates."""


def sparing(face: Face) -> Face:
    """The face as black lines and text. Sizes and positions stay."""
    return Face(face.size, tuple(_spare(face.elements, face.width * face.height)), face.problems, face.placed)


def _spare(elements: Iterable[Element], card: float) -> Iterator[Element]:
    for element in elements:
        match element:
            case Shared() | Field():
                inner = tuple(_spare(element.elements, card))
                yield Field(
                    element.field, element.x, element.y, element.width, element.height, inner, element.place
                )
            case Clip():
                yield Clip(element.d, tuple(_spare(element.elements, card)))
            case Turn():
                yield element._replace(elements=tuple(_spare(element.elements, card)))
            case Rect():
                yield element._replace(fill=WHITE, opacity=1)
                yield from _edge(element.x, element.y, element.width, element.height, element.radius, card)
            case Picture() | Art():
                yield Rect(element.x, element.y, element.width, element.height, WHITE)
                yield from _edge(element.x, element.y, element.width, element.height, 0, card)
            case Circle():
                if element.radius <= DOT:
                    yield element._replace(fill=BLACK)
                else:
                    yield element._replace(fill=BLACK, opacity=1)
                    yield element._replace(fill=WHITE, radius=element.radius - HAIR, opacity=1)
            case Path():
                if element.fill and element.scale == 1:
                    yield element._replace(fill=WHITE, stroke=EDGE, width=HAIR, opacity=1)
                else:
                    yield element._replace(
                        fill=element.fill and BLACK, stroke=element.stroke and EDGE, opacity=1
                    )
            case Text():
                yield element._replace(fill=BLACK)
            case Segment():
                yield element._replace(colour=EDGE)


def _edge(x: float, y: float, wide: float, high: float, radius: float, card: float) -> Iterator[Element]:
    if wide * high < GROUND * card and min(wide, high) > 2 * HAIR:
        half = HAIR / 2
        yield Path(
            rounded(x + half, y + half, wide - HAIR, high - HAIR, radius), None, stroke=EDGE, width=HAIR
        )
