"""The elements of a face. Lengths in mm from the card's top left corner; colours #rrggbb."""

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


class Segment(NamedTuple):
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
    """A run of text on one baseline from `x` on. `size` is the em in mm; every character is in `font`.

    `words` are the starts of its words, if there are several, so that renderers with different word spacing
    agree.
    """

    x: float
    y: float
    text: str
    font: str
    size: float
    fill: str
    words: tuple[float, ...] = ()


class Drawing(Protocol):
    """The recipe of a picture. Equal recipes draw the same elements; drawing is the most expensive part of a face."""

    def draw(self) -> tuple[Rect | Circle | Segment | Path, ...]: ...


class Picture(NamedTuple):
    """A drawn picture in its own window: `units` wide and `high` high in its own units, it covers the window,
    aligned at the bottom, and is clipped to it.

    `recipe` is hashable and identifies the content, so that renderers can cache it.
    """

    x: float
    y: float
    width: float
    height: float
    units: float
    high: float
    recipe: Drawing


class Art(NamedTuple):
    """An imported picture, by the SHA-256 of its file, in a window that clips it.

    `inner` is the position of the whole picture (x, y, width, height); None: unknown size, it covers the
    window.
    """

    x: float
    y: float
    width: float
    height: float
    sha: str
    inner: tuple[float, float, float, float] | None = None


class Clip(NamedTuple):
    """Elements clipped to an outline: an SVG path `d` in mm."""

    d: str
    elements: tuple[Element, ...]


class Turn(NamedTuple):
    """Elements turned clockwise by `degrees` about a point."""

    degrees: float
    x: float
    y: float
    elements: tuple[Element, ...]


class Field(NamedTuple):
    """The elements of one placement: its field, its box, and its id."""

    field: str
    x: float
    y: float
    width: float
    height: float
    elements: tuple[Element, ...]
    place: str = ""


class Shared(Field):
    """Elements of a placement that are equal on many cards: the page renderer caches its output in `painted`,
    and the face its part of the digest in `named`.
    """

    painted: str | None
    named: str | None

    @staticmethod
    def of(field: Field) -> Shared:
        made = Shared(*field)
        made.painted = made.named = None
        return made


Element = Rect | Circle | Segment | Path | Text | Picture | Art | Clip | Turn | Field
