"""Panels, lines and backgrounds. Panels at the edge of the card extend into the bleed."""

from __future__ import annotations

from dramok.core.faces.art.grounds import ground
from dramok.core.faces.elements import Circle, Element, Path, Rect, Segment
from dramok.core.faces.layout.card_context import CardContext
from dramok.core.faces.layout.drawing_result import DrawingResult
from dramok.core.faces.plan.colours import followed
from dramok.core.faces.plan.plan import Ground, Panel, Rule
from dramok.core.faces.plan.sizes import HAIR, Box, Size, hexagon_in, rounded


def bled(box: Box, size: Size) -> Box:
    """A box with the sides at the card's edge extended into the bleed."""
    x, y, wide, high = box
    right, foot = x + wide, y + high
    if size.bleed:
        x = -size.bleed if abs(x) <= HAIR else x
        y = -size.bleed if abs(y) <= HAIR else y
        right = size.width + size.bleed if abs(right - size.width) <= HAIR else right
        foot = size.height + size.bleed if abs(foot - size.height) <= HAIR else foot
    return x, y, right - x, foot - y


def plate(kind: str, box: Box, fill: str, radius: float) -> list[Element]:
    """The plate behind a value."""
    x, y, wide, high = box
    if not fill or kind == "none":
        return []
    if kind == "round":
        return [Circle(x + wide / 2, y + high / 2, min(wide, high) / 2, fill)]
    if kind == "hexagon":
        return [Path(hexagon_in(x, y, wide, high), fill)]
    return [Rect(x, y, wide, high, fill, min(radius, wide / 2, high / 2))]


def panel(place: Panel, box: Box, wearing: CardContext, size: Size) -> DrawingResult:
    fill, stroke = wearing.colour(place.fill), wearing.colour(place.stroke)
    whole = bled(box, size)
    elements: list[Element] = []
    if fill:
        outline = place.outline if place.outline != "round" or whole[2] == whole[3] else "ellipse"
        elements += (
            [Path(_ellipse(whole), fill)]
            if outline == "ellipse"
            else plate(outline, whole, fill, place.radius)
        )
    if stroke and place.thick:
        half = place.thick / 2
        x, y, wide, high = box
        inner = (x + half, y + half, max(0.0, wide - place.thick), max(0.0, high - place.thick))
        d = (
            _ellipse(inner)
            if place.outline == "round"
            else hexagon_in(*inner)
            if place.outline == "hexagon"
            else rounded(*inner, max(0.0, place.radius - half))
        )
        elements.append(Path(d, None, stroke=stroke, width=place.thick))
    field = followed(place.fill) or followed(place.stroke)
    return DrawingResult(tuple(elements), ground=fill if place.outline == "rectangle" else "", field=field)


def _ellipse(box: Box) -> str:
    x, y, wide, high = box
    rx, ry = wide / 2, high / 2
    return f"M{x:g} {y + ry:g}a{rx:g} {ry:g} 0 1 1 {wide:g} 0a{rx:g} {ry:g} 0 1 1 {-wide:g} 0Z"


def rule(place: Rule, box: Box, wearing: CardContext, size: Size) -> DrawingResult:
    x, y, wide, high = box
    ink = wearing.colour(place.ink)
    if not ink or not place.thick:
        return DrawingResult(())
    if wide >= high:
        return DrawingResult((Segment(x, y + high / 2, x + wide, y + high / 2, ink, place.thick),))
    return DrawingResult((Segment(x + wide / 2, y, x + wide / 2, y + high, ink, place.thick),))


def backdrop(place: Ground, box: Box, wearing: CardContext, size: Size) -> DrawingResult:
    pattern = wearing.back.ground if place.pattern == "back" else place.pattern
    return DrawingResult(ground(pattern, bled(box, size), wearing.colour(place.ink) or "#ffffff"))
