"""Picture windows: an imported picture with fit and focus, adjusted on one card, or a generated one."""

from __future__ import annotations

from dramok.core.faces.art import UNITS_HIGH, UNITS_WIDE, Scene
from dramok.core.faces.elements import Art, Clip, Element, Picture
from dramok.core.faces.layout.card_context import NEUTRAL, CardContext
from dramok.core.faces.layout.drawing_result import DrawingResult
from dramok.core.faces.layout.panels import bled
from dramok.core.faces.plan.adjustments import Adjustment
from dramok.core.faces.plan.plan import Window
from dramok.core.faces.plan.sizes import Box, Size, rounded


def drawn_by(ident: str) -> str:
    """The recipe id of a card's generated picture: its id without the suffix of a restored copy."""
    return ident.partition("~")[0]


def window(place: Window, box: Box, wearing: CardContext, size: Size) -> DrawingResult | None:
    """A picture in its window; None if there is nothing to show."""
    look = wearing.look(place.id)
    whole = bled(box, size)
    field, sha = wearing.picture(place.field)
    if sha:
        return brought(sha, whole, place, look, wearing, field)
    wants = wearing.awaited(place.field)
    if not place.stand_in:
        return DrawingResult((), wants=wants or ("-" if place.field else ""), field=field or place.field)
    faction = wearing.choice(wearing.roles.faction)
    card_type = wearing.schema.type(wearing.card.type)
    scene = Scene(
        drawn_by(wearing.card.id), card_type.picture, faction.form if faction else "", faction.colour if faction else NEUTRAL,
        hint_of(wearing, card_type.hint),
    )  # fmt: skip
    x, y, wide, high = whole
    if look.plain:
        element: Element = Picture(x, y, wide, high, UNITS_WIDE, UNITS_HIGH, scene)
    else:
        w, h = wide * max(1.0, look.zoom), high * max(1.0, look.zoom)
        left, top = x + (wide - w) / 2 + look.across, y + (high - h) / 2 - look.up
        element = Clip(rounded(*whole, 0), (Picture(left, top, w, h, UNITS_WIDE, UNITS_HIGH, scene),))
    return DrawingResult((_cut(element, whole, place.radius),), wants=wants, field=field or place.field, ground="?")


def hint_of(wearing: CardContext, field: str) -> str:
    """The description of a card's picture: the field named by its type, if filled; its tags and name."""
    said = wearing.said(field) if field else ""
    return " ".join(
        [said, *wearing.card.tags(wearing.roles.tags), wearing.card.text(wearing.roles.name)]
    ).strip()


def brought(sha: str, box: Box, place: Window, look: Adjustment, wearing: CardContext, field: str) -> DrawingResult:
    """An imported picture, fitted."""
    x, y, wide, high = box
    inner = fitted(box, wearing.game.art.get(sha), place.fit, (place.focus_x, place.focus_y), look)
    art: Element = Art(x, y, wide, high, sha, inner)
    printed = (sha, inner[2], inner[3]) if inner else None
    return DrawingResult((_cut(art, box, place.radius),), art=printed, field=field, ground="?")


def _cut(element: Element, box: Box, radius: float) -> Element:
    return Clip(rounded(*box, radius), (element,)) if radius else element


def fitted(
    box: Box, measures: tuple[int, int] | None, fit: str, focus: tuple[float, float], look: Adjustment
) -> Box | None:
    """The position of the whole picture behind its window. None: unknown size."""
    if measures is None or not measures[0] or not measures[1]:
        return None
    x, y, wide, high = box
    if fit == "stretch":
        w, h = wide * look.zoom, high * look.zoom
    else:
        across, down = wide / measures[0], high / measures[1]
        scale = (max(across, down) if fit == "cover" else min(across, down)) * look.zoom
        w, h = measures[0] * scale, measures[1] * scale
    return (
        round(x + (wide - w) * focus[0] + look.across, 4),
        round(y + (high - h) * focus[1] - look.up, 4),
        round(w, 4),
        round(h, 4),
    )
