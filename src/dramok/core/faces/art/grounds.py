"""Repeated patterns for the backs of cards."""

from __future__ import annotations

from collections.abc import Iterator
from functools import lru_cache

from dramok.core.faces.elements import Circle, Element, Segment

Box = tuple[float, float, float, float]


@lru_cache(maxsize=512)
def ground(name: str, box: Box, colour: str) -> tuple[Element, ...]:
    """The elements of a pattern within a box (x, y, width, height in mm). Many cards share one: it is cached."""
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
        case "diamonds":
            return _diamonds(x, y, width, height, colour)
        case "dots":
            return [
                Circle(x + left + (4 if number % 2 else 0), y + top, 0.85, colour)
                for number, top in enumerate(_rows(height, 4))
                for left in _rows(width - 4, 8)
            ]
        case "weave":
            return _weave(x, y, width, height, colour)
        case "plain":
            return []
        case other:
            raise AssertionError(f"no ground {other} can be drawn")


def _rows(length: float, step: float) -> list[float]:
    """Positions along a length, evenly from edge to edge, about `step` apart."""
    count = max(2, round(length / step))
    return [length * place / count for place in range(1, count)]


def _cells(x: float, y: float, width: float, height: float, across: float, down: float) -> Iterator[Box]:
    """A box divided into even cells of about `across` x `down` mm, row by row: (left, top, width, height)."""
    columns, rows = max(2, round(width / across)), max(2, round(height / down))
    wide, high = width / columns, height / rows
    for row in range(rows):
        for column in range(columns):
            yield x + column * wide, y + row * high, wide, high


def _trellis(x: float, y: float, width: float, height: float, colour: str) -> list[Element]:
    """Laths in both diagonals, with a nail at each crossing."""
    elements: list[Element] = []
    for left, top, wide, high in _cells(x, y, width, height, 7, 7):
        elements.append(Segment(left, top, left + wide, top + high, colour, 0.42))
        elements.append(Segment(left + wide, top, left, top + high, colour, 0.42))
        elements.append(Circle(left + wide / 2, top + high / 2, 0.6, colour))
    return elements


def _diamonds(x: float, y: float, width: float, height: float, colour: str) -> list[Element]:
    """Diamonds in diamonds, corner to corner."""
    elements: list[Element] = []
    for left, top, wide, high in _cells(x, y, width, height, 9, 12):
        middle, level = left + wide / 2, top + high / 2
        for share in (0.46, 0.22):
            a, b = wide * share, high * share
            corners = ((middle, level - b), (middle + a, level), (middle, level + b), (middle - a, level))
            for one, other in zip(corners, (*corners[1:], corners[0]), strict=True):
                elements.append(Segment(*one, *other, colour, 0.4))
    return elements


def _weave(x: float, y: float, width: float, height: float, colour: str) -> list[Element]:
    """Short strokes, three across and three down by turns."""
    elements: list[Element] = []
    for left, top, wide, high in _cells(x, y, width, height, 8, 8):
        lying = (round((left - x) / wide) + round((top - y) / high)) % 2
        for share in (0.25, 0.5, 0.75):
            if lying:
                ends = (left + wide * 0.14, top + high * share, left + wide * 0.86, top + high * share)
            else:
                ends = (left + wide * share, top + high * 0.14, left + wide * share, top + high * 0.86)
            elements.append(Segment(*ends, colour, 0.5))
    return elements
