"""The marks a face is made of. Lengths in mm from the card's top left corner; colours #rrggbb."""

from __future__ import annotations

from typing import NamedTuple


class Rect(NamedTuple):
    x: float
    y: float
    width: float
    height: float
    fill: str
    radius: float = 0
    opacity: float = 1


class Circle(NamedTuple):
    x: float
    y: float
    radius: float
    fill: str
    opacity: float = 1


class Line(NamedTuple):
    x1: float
    y1: float
    x2: float
    y2: float
    colour: str
    width: float


class Path(NamedTuple):
    """An SVG path `d`, moved to (x, y) and scaled; filled, or stroked where `stroke` is a colour."""

    d: str
    fill: str | None
    x: float = 0
    y: float = 0
    scale: float = 1
    stroke: str | None = None
    width: float = 0
    opacity: float = 1


class Text(NamedTuple):
    """A run of text on one baseline. `size` is the em in mm; `anchor` is start, middle or end."""

    x: float
    y: float
    text: str
    font: str
    size: float
    fill: str
    anchor: str = "start"


class Picture(NamedTuple):
    """Marks in a window of their own: `marks` use units of which `units` fill the window's width; clipped to it.

    `key` names the content, so that a painter may keep what it painted.
    """

    x: float
    y: float
    width: float
    height: float
    units: float
    key: str
    marks: tuple[Rect | Circle | Line | Path, ...]

    def __repr__(self) -> str:
        """The key stands for the content, so that naming a face does not spell out its picture."""
        return f"Picture({self.key!r}, {self.x}, {self.y}, {self.width}, {self.height})"


class Field(NamedTuple):
    """The marks that one field of the card gave rise to, and the box they own."""

    field: str
    x: float
    y: float
    width: float
    height: float
    marks: tuple[Mark, ...]


Mark = Rect | Circle | Line | Path | Text | Picture | Field
