"""Placements of choices: notches, symbol, picture, colour or words; and symbols repeated by a number."""

from __future__ import annotations

from dramok.core.faces.elements import Art, Element, Path, Rect
from dramok.core.faces.layout.card_context import CardContext
from dramok.core.faces.layout.drawing_result import DrawingResult
from dramok.core.faces.layout.panels import bled
from dramok.core.faces.layout.picture_placements import fitted
from dramok.core.faces.layout.text_placements import set_text
from dramok.core.faces.plan.adjustments import Adjustment
from dramok.core.faces.plan.plan import ChoiceMark, Symbols, WordsPlace
from dramok.core.faces.plan.sizes import Box, Size

DEEP, HALF = 2.9, 1.5


def choice(place: ChoiceMark, box: Box, wearing: CardContext, size: Size) -> DrawingResult | None:
    """None if the card has no value, or the value has nothing of this kind."""
    chosen = wearing.choice(place.field)
    x, y, wide, high = box
    if place.shown == "words":
        said = wearing.said(place.field)
        if not said:
            return None
        made = set_text([said], place, box, wearing, 1)
        return DrawingResult(
            tuple(made.elements), ink=made.ink, colour=wearing.colour(place.ink), size=made.fitted.size, least=place.least,
            whole=made.fitted.whole, lost=made.lost,
        )  # fmt: skip
    if chosen is None:
        return None
    if place.shown == "colour":
        whole = bled(box, size)
        return DrawingResult((Rect(*whole, chosen.colour, place.radius),), ground=chosen.colour)
    if place.shown == "notches":
        return DrawingResult(tuple(_notches(place, box, chosen.notches, wearing.colour(place.fill) or "#ffffff")))
    if place.shown == "symbol":
        mark = wearing.game.mark(chosen.symbol)
        if mark is None:
            return None
        side = min(wide, high)
        at = (x + (wide - side) / 2, y + (high - side) / 2)
        return DrawingResult(
            (mark.at(*at, side, wearing.colour(place.ink) or chosen.colour),),
            ink=(*at, side, side),
        )
    if not chosen.art:
        return None
    inner = fitted(box, wearing.game.art.get(chosen.art), "contain", (0.5, 0.5), Adjustment())
    printed = (chosen.art, inner[2], inner[3]) if inner else None
    return DrawingResult((Art(x, y, wide, high, chosen.art, inner),), art=printed)


def _notches(place: ChoiceMark, box: Box, count: int, fill: str) -> list[Element]:
    """Notches in an edge of the box, counted from its far end."""
    x, y, wide, high = box
    elements: list[Element] = []
    for number in range(count):
        back = place.gap * (count - 1 - number) + HALF
        if place.edge in ("left", "right"):
            middle = y + high - back
            edge, tip = (x - 0.1, x + DEEP) if place.edge == "left" else (x + wide + 0.1, x + wide - DEEP)
            d = f"M{edge:.2f} {middle - HALF:.2f}L{tip:.2f} {middle:.2f}L{edge:.2f} {middle + HALF:.2f}Z"
        else:
            middle = x + wide - back
            edge, tip = (y - 0.1, y + DEEP) if place.edge == "top" else (y + high + 0.1, y + high - DEEP)
            d = f"M{middle - HALF:.2f} {edge:.2f}L{middle:.2f} {tip:.2f}L{middle + HALF:.2f} {edge:.2f}Z"
        elements.append(Path(d, fill))
    return elements


def symbols(place: Symbols, box: Box, wearing: CardContext, size: Size) -> DrawingResult | None:
    """One symbol for each unit of a number; a large or fractional number is shown next to one symbol."""
    amount = wearing.number(place.field)
    mark = wearing.symbol(place.symbol) if place.symbol else wearing.field_symbol(place.field)
    if not amount or amount < 0 or mark is None:
        return None
    count = int(amount)
    x, y, wide, high = box
    side, step = place.symbol_size, place.symbol_size + place.gap
    ink = wearing.colour(place.ink)
    if count > place.most or count != amount:
        element = mark.at(x, y + (high - side) / 2, side, ink)
        told = WordsPlace(
            id=place.id,
            field=place.field,
            font="figures",
            largest=side,
            least=side * 0.4,
            ink=place.ink,
            rise="middle",
        )
        made = set_text([f"× {amount:g}"], told, (x + step, y, max(1.0, wide - step), high), wearing, 1)
        return DrawingResult(
            (element, *made.elements),
            ink=(x, y, wide, high),
            colour=ink,
            size=made.fitted.size,
            whole=made.fitted.whole,
        )
    along = max(1, int(((high if place.upright else wide) + place.gap) / step + 1e-6))
    elements: list[Element] = []
    for number in range(count):
        row, column = divmod(number, along)
        at = (row, column) if place.upright else (column, row)
        elements.append(mark.at(x + at[0] * step, y + at[1] * step, side, ink))
    rows = (count + along - 1) // along
    deep, long = rows * step - place.gap, min(count, along) * step - place.gap
    ink_box = (x, y, deep, long) if place.upright else (x, y, long, deep)
    fits = deep <= (wide if place.upright else high) + 0.01
    return DrawingResult(tuple(elements), ink=ink_box, whole=fits)
