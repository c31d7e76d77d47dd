"""The marks a face is made of. Lengths in mm from the card's top left corner; colours #rrggbb."""

from __future__ import annotations

from typing import NamedTuple, Protocol


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


class Recipe(Protocol):
    """What a picture is drawn from. Equal recipes draw the same marks; drawing costs more than all else on a face."""

    def draw(self) -> tuple[Rect | Circle | Line | Path, ...]: ...


class Picture(NamedTuple):
    """A drawing in a window of its own: it is `units` wide and `high` high in units of its own, covers the window with its
    foot at the window's foot, and is clipped to it.

    `recipe` is hashable and names the content, so that a painter draws it once and keeps what it painted.
    """

    x: float
    y: float
    width: float
    height: float
    units: float
    high: float
    recipe: Recipe


class Art(NamedTuple):
    """A picture that somebody brought, by the SHA-256 of its file; it fills its window and is clipped to it."""

    x: float
    y: float
    width: float
    height: float
    sha: str


class Field(NamedTuple):
    """The marks that one field of the card gave rise to, and the box they own."""

    field: str
    x: float
    y: float
    width: float
    height: float
    marks: tuple[Mark, ...]


Mark = Rect | Circle | Line | Path | Text | Picture | Art | Field
