"""The proof: problems of a card's face before printing."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from functools import lru_cache
from unicodedata import name as glyph_name

from dramok.core.faces.layout.face import Face, Placed
from dramok.core.faces.plan.colours import PAPER
from dramok.core.faces.plan.sizes import INCH, Box

FAULTS = {
    "overflow": "text does not fit its place",
    "small": "text came out smaller than can be read",
    "collision": "two filled placements collide",
    "edge": "text or a symbol is outside the safe edge",
    "picture": "a picture is missing",
    "coarse": "a picture has under 300 dots an inch in print",
    "glyph": "a font lacks a character",
    "contrast": "text has too little contrast with what is under it",
}
"""Kinds of problem, with their meaning."""
READABLE = 1.75
"""The smallest readable em in mm: about 5 points."""
PRINTED_DPI = 300
LARGE = 4.2
"""From this em in mm (12 points) on, text needs less contrast."""
LEAST_CONTRAST, LEAST_CONTRAST_LARGE = 4.5, 3.0
"""Contrast ratios of WCAG 2.2, criterion 1.4.3 (defined for screens, applied to print here)."""
TOUCH = 0.25
"""The allowed overlap of ink boxes in mm: ink does not fill its box."""


@dataclass(frozen=True)
class FaceFault:
    """One problem of one face. `kind` is one of `FAULTS`, `place` the placement's id."""

    kind: str
    place: str
    name: str
    what: str
    mend: str


def faults_of(face: Face, art: Mapping[str, tuple[int, int]]) -> tuple[FaceFault, ...]:
    """All problems of a face. `art` are the sizes of pictures in pixels, by SHA-256."""
    return tuple(_faults(face, art))


def _faults(face: Face, art: Mapping[str, tuple[int, int]]) -> Iterator[FaceFault]:
    for index, placed in enumerate(face.placed):
        yield from _alone(face, index, placed, art)
    yield from _collisions(face)


def _alone(face: Face, index: int, placed: Placed, art: Mapping[str, tuple[int, int]]) -> Iterator[FaceFault]:
    place, drawn = placed.place, placed.drawn
    name = place.name or place.id

    def fault(kind: str, what: str, mend: str) -> FaceFault:
        return FaceFault(kind, place.id, name, what, mend)

    if not drawn.whole:
        yield fault("overflow", "text does not fit", "shorten it, or give it more room")
    if drawn.size and drawn.size < READABLE - 1e-6:
        yield fault("small", f"text of {drawn.size:.2g} mm can't be read in print", f"keep to {READABLE} mm")
    elif drawn.size and drawn.least and drawn.size < drawn.least - 1e-6:
        yield fault(
            "small",
            f"{drawn.size:g} mm is under the plan's least, {drawn.least:g}",
            "reset its size, or shorten the text",
        )
    if any(face.size.beyond_safe(box) for box in _inks(placed)):
        yield fault("edge", f"it is within {face.size.safe:g} mm of the cut", "move it inwards")
    if drawn.wants:
        waits = drawn.wants != "-"
        yield fault(
            "picture", f"missing: {drawn.wants[:60]}" if waits else "there is no picture", "bring one"
        )
    if drawn.art is not None:
        yield from _coarse(fault, drawn.art, art)
    if drawn.lost:
        told = ", ".join(
            f"{each} ({glyph_name(each, f'U+{ord(each):04X}').lower()})" for each in drawn.lost[:4]
        )
        yield fault(
            "glyph", f"its font lacks {told}", "use another character; a stand-in font shows it meanwhile"
        )
    if drawn.colour and placed.ink is not None:
        ground = _beneath(face, index, placed)
        if ground:
            ratio = contrast(drawn.colour, ground)
            least = LEAST_CONTRAST_LARGE if drawn.size >= LARGE else LEAST_CONTRAST
            if ratio < least:
                yield fault(
                    "contrast",
                    f"{drawn.colour} on {ground} has a contrast of {ratio:.1f}",
                    f"{least:g} is the least",
                )


def _coarse(
    fault: object, shown: tuple[str, float, float], art: Mapping[str, tuple[int, int]]
) -> Iterator[FaceFault]:
    sha, wide, high = shown
    pixels = art.get(sha)
    if not pixels or wide <= 0 or high <= 0:
        return
    dpi = min(pixels[0] / wide, pixels[1] / high) * INCH
    if dpi < PRINTED_DPI - 0.5:
        need = max(wide, high) / INCH * PRINTED_DPI
        yield fault(
            "coarse",
            f"{dpi:.0f} dots an inch in print",
            f"bring a picture about {need:.0f} pixels on its longer side",
        )  # type: ignore[operator]


def _beneath(face: Face, index: int, placed: Placed) -> str:
    """The colour under a text: its own plate, else the topmost box below it; empty for a picture."""
    if placed.drawn.ground and placed.drawn.ground != "?":
        return placed.drawn.ground
    ink = placed.ink
    assert ink is not None
    x, y = ink[0] + ink[2] / 2, ink[1] + ink[3] / 2
    for other in reversed(face.placed[:index]):
        if other.drawn.ground and _holds(other.drawn.ground_box or other.box, x, y):
            return "" if other.drawn.ground == "?" else other.drawn.ground
    return PAPER


def _holds(box: Box, x: float, y: float) -> bool:
    return box[0] <= x <= box[0] + box[2] and box[1] <= y <= box[1] + box[3]


def _collisions(face: Face) -> Iterator[FaceFault]:
    """Content over content, and content under a panel or picture that is drawn later."""
    content = [
        (index, placed, boxes)
        for index, placed in enumerate(face.placed)
        if not placed.place.furniture and placed.place.kind != "picture" and (boxes := _solid(placed))
    ]
    for number, (index, placed, boxes) in enumerate(content):
        name = placed.place.name or placed.place.id
        for _, other, others in content[number + 1 :]:
            if _overlap(boxes, others):
                what = f"it collides with {other.place.name or other.place.id}"
                yield FaceFault("collision", placed.place.id, name, what, "move one of them")
        for other in face.placed[index + 1 :]:
            if (
                other.drawn.ground
                and _may_hide(face, other)
                and _overlap(boxes, (other.drawn.ground_box or other.box,))
            ):
                what = f"{other.place.name or other.place.id} hides a part of it"
                yield FaceFault(
                    "collision", placed.place.id, name, what, "bring it to the front, or move one"
                )


def _may_hide(face: Face, placed: Placed) -> bool:
    """Whether hidden content is a mistake: a picture over the whole card replaces all of it intentionally."""
    if placed.place.kind != "picture":
        return placed.place.furniture
    x, y, wide, high = placed.box
    whole = x <= 0.01 and y <= 0.01 and x + wide >= face.width - 0.01 and y + high >= face.height - 0.01
    return not whole


def _inks(placed: Placed) -> tuple[Box, ...]:
    """The boxes of readable content."""
    return placed.drawn.inks or ((placed.ink,) if placed.ink is not None else ())


def _solid(placed: Placed) -> tuple[Box, ...]:
    """The filled area of a placement: its plate, or its ink."""
    if placed.drawn.ground_box is not None and not placed.drawn.inks and not placed.place.turn:
        return (placed.drawn.ground_box,) if placed.ink is not None else ()
    return _inks(placed)


def _overlap(ones: tuple[Box, ...], others: tuple[Box, ...]) -> bool:
    return any(
        min(one[0] + one[2], other[0] + other[2]) - max(one[0], other[0]) > TOUCH
        and min(one[1] + one[3], other[1] + other[3]) - max(one[1], other[1]) > TOUCH
        for one in ones
        for other in others
    )


@lru_cache(maxsize=4096)
def contrast(one: str, other: str) -> float:
    """The contrast ratio of two #rrggbb colours, 1 to 21 (WCAG 2.2, relative luminance)."""
    lighter, darker = sorted((_luminance(one), _luminance(other)), reverse=True)
    return (lighter + 0.05) / (darker + 0.05)


def _luminance(colour: str) -> float:
    red, green, blue = (_linear(int(colour[at : at + 2], 16) / 255) for at in (1, 3, 5))
    return 0.2126 * red + 0.7152 * green + 0.0722 * blue


def _linear(share: float) -> float:
    return share / 12.92 if share <= 0.04045 else float(((share + 0.055) / 1.055) ** 2.4)
