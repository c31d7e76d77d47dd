"""Printed cards that are not cards of the game: blank ones, and labels for boxes and dividers, in card size."""

from __future__ import annotations

from collections.abc import Iterator
from functools import lru_cache

from dramok.core.faces import Element, Face, Path, Rect, Segment, Size, Text, Typefaces

BLANK = ""
"""The id of a blank card."""
LABEL = "label/"
"""The prefix of the id of a label, followed by its text."""
EDGE, INK, SOFT, BAND = "#9a9a9a", "#22281f", "#5f6154", "#24463b"
PALE = "#f7f1e3"
HAIR = 0.15
LARGEST, LEAST, SMALL = 6.5, 2.6, 3.0
"""Ems in mm: of a label's title, and of the lines under it."""


def is_card(ident: str) -> bool:
    """Whether it is a card of the game."""
    return ident != BLANK and not ident.startswith(LABEL)


@lru_cache(maxsize=16)
def blank_face(size: Size) -> Face:
    """White paper with a thin line at the cut, and one at the safe edge."""
    lines = [
        Path(size.path(-grow), None, stroke=EDGE, width=HAIR, opacity=opacity)
        for grow, opacity in ((HAIR / 2, 1.0), (size.safe, 0.35))
    ]
    return Face(size, (_ground(size, "#ffffff"), *lines), ())


def label_face(size: Size, title: str, lines: tuple[str, ...], typefaces: Typefaces) -> Face:
    """A label: its title in a band at the top, visible above the cards behind it, and lines under it."""
    inner = size.width - 2 * max(size.safe, 2.0)
    if size.outline != "rectangle":
        inner = size.width * 0.55
    em = LARGEST
    while em > LEAST and typefaces["name"].width(title, em) > inner:
        em -= 0.2
    title = typefaces["name"].cut(title, em, inner)
    high = 1.9 * LARGEST
    top = 0.0 if size.outline == "rectangle" else size.height / 2 - high
    elements: list[Element] = [
        _ground(size, PALE),
        Rect(-size.bleed, top - size.bleed, size.width + 2 * size.bleed, high + size.bleed, BAND),
        *_middle(title, "name", em, top + high / 2 + em * 0.34, size, PALE, typefaces),
    ]
    y = top + high + 2 * SMALL
    for line in lines:
        said = typefaces["body"].cut(line, SMALL, inner)
        elements += _middle(said, "body", SMALL, y, size, INK, typefaces)
        y += 1.6 * SMALL
    elements.append(Segment(size.width * 0.3, y - SMALL * 0.6, size.width * 0.7, y - SMALL * 0.6, SOFT, 0.2))
    elements.append(Path(size.path(-HAIR / 2), None, stroke=EDGE, width=HAIR))
    return Face(size, tuple(elements), ())


def _ground(size: Size, colour: str) -> Rect:
    bleed = size.bleed
    return Rect(-bleed, -bleed, size.width + 2 * bleed, size.height + 2 * bleed, colour)


def _middle(
    text: str, font: str, em: float, y: float, size: Size, ink: str, typefaces: Typefaces
) -> Iterator[Text]:
    x = (size.width - typefaces[font].width(text, em)) / 2
    for piece in typefaces[font].pieces(text):
        yield Text(x, y, piece.text, piece.font, em, ink)
        x += piece.width * em
