"""The elements a face is made of. Lengths in mm from the card's top left corner; colours #rrggbb."""

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
    """A run of text on one baseline from `x` on. `size` is the em in mm; every character of it is in `font`.

    `words` is where each of its words begins, where there are several: painters that space words otherwise do not drift apart.
    """

    x: float
    y: float
    text: str
    font: str
    size: float
    fill: str
    words: tuple[float, ...] = ()


class Drawing(Protocol):
    """What a picture is drawn from. Equal recipes draw the same elements; drawing costs more than all else on a face."""

    def draw(self) -> tuple[Rect | Circle | Segment | Path, ...]: ...


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
    recipe: Drawing


class Art(NamedTuple):
    """A picture that somebody brought, by the SHA-256 of its file, in a window that clips it.

    `inner` is where the whole picture would lie (x, y, width, height); None: its measures are not known, it covers the window.
    """

    x: float
    y: float
    width: float
    height: float
    sha: str
    inner: tuple[float, float, float, float] | None = None


class Clip(NamedTuple):
    """Elements seen only within an outline: an SVG path `d` in mm."""

    d: str
    elements: tuple[Element, ...]


class Turn(NamedTuple):
    """Elements turned clockwise by `degrees` about a point."""

    degrees: float
    x: float
    y: float
    elements: tuple[Element, ...]


class Field(NamedTuple):
    """The elements of one placement: the field it shows, the box it owns, and its own id."""

    field: str
    x: float
    y: float
    width: float
    height: float
    elements: tuple[Element, ...]
    place: str = ""


class Shared(Field):
    """The elements of a placement that come out the same on many cards: the page's painter keeps what it made of them in `painted`, and the face its share of a digest in `named`."""

    painted: str | None
    named: str | None

    @staticmethod
    def of(field: Field) -> Shared:
        made = Shared(*field)
        made.painted = made.named = None
        return made


Element = Rect | Circle | Segment | Path | Text | Picture | Art | Clip | Turn | Field
