"""Repeated patterns for the backs of cards."""

from __future__ import annotations

from functools import lru_cache

from dramok.core.faces.elements import Circle, Element, Segment

Box = tuple[float, float, float, float]


@lru_cache(maxsize=512)
def ground(name: str, box: Box, colour: str) -> tuple[Element, ...]:
    """The elements of a pattern within a box (x, y, width, height in mm). Many cards share one: it is drawn once."""
    return tuple(_drawn(name, box, colour))


def _drawn(name: str, box: Box, colour: str) -> list[Element]:
    x, y, width, height = box
    match name:
        case "trellis":
            return _trellis(x, y, width, height, colour)
        case "furrows":
            return [
                Segment(x + 2, y + row, x + width - 2, y + row, colour, 0.7) for row in _rows(height, 3.2)
            ]
        case "panes":
            across: list[Element] = [
                Segment(x + step, y, x + step, y + height, colour, 0.5) for step in _rows(width, 9.6)
            ]
            return across + [
                Segment(x, y + step, x + width, y + step, colour, 0.5) for step in _rows(height, 13.6)
            ]
        case "plain":
            return []
        case other:
            raise AssertionError(f"no ground {other} can be drawn")


def _rows(length: float, step: float) -> list[float]:
    """Places along a length, evenly from edge to edge, about `step` apart."""
    count = max(2, round(length / step))
    return [length * place / count for place in range(1, count)]


def _trellis(x: float, y: float, width: float, height: float, colour: str) -> list[Element]:
    """Laths both ways across the corners, with a nail where they cross."""
    elements: list[Element] = []
    columns, rows = max(2, round(width / 7)), max(2, round(height / 7))
    wide, high = width / columns, height / rows
    for row in range(rows):
        for column in range(columns):
            left, top = x + column * wide, y + row * high
            elements.append(Segment(left, top, left + wide, top + high, colour, 0.42))
            elements.append(Segment(left + wide, top, left, top + high, colour, 0.42))
            elements.append(Circle(left + wide / 2, top + high / 2, 0.6, colour))
    return elements
