"""Text placements: text, numbers, tags, values at edges."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from dramok.core.faces.elements import Circle, Element, Rect, Segment, Text, Turn
from dramok.core.faces.layout.card_context import CardContext
from dramok.core.faces.layout.drawing_result import DrawingResult
from dramok.core.faces.layout.panels import plate
from dramok.core.faces.layout.text import Fitted, Fitting, Fonts, Word, fit
from dramok.core.faces.plan.plan import ChoiceMark, Edges, NumberPlace, Reminders, Tags, WordsPlace
from dramok.core.faces.plan.sizes import Box, Size, edges_of

CAPITAL, DROP = 0.68, 0.2
"""The extent of ink above and below the baseline, in em, for the proof."""
MIDDLE = 0.34
"""The distance from the middle of a line to its baseline, in em."""
WORDED = {
    "name": Fonts("name", "name", "italic"),
    "body": Fonts("body", "figures", "italic"),
    "italic": Fonts("italic", "figures", "body"),
    "figures": Fonts("figures", "figures", "italic"),
}
Worded = NumberPlace | WordsPlace | ChoiceMark | Edges | Tags | Reminders


class Set(NamedTuple):
    """Text set into a box."""

    elements: list[Element]
    ink: Box | None
    fitted: Fitted
    lost: str
    top: float


def lost_in(texts: Sequence[str], font: str, wearing: CardContext) -> str:
    """The characters missing from a font, each once."""
    return "".join(dict.fromkeys(c for text in texts for c in wearing.game.typefaces[font].lacks(text)))


def set_text(
    paragraphs: Sequence[str],
    place: Worded,
    box: Box,
    wearing: CardContext,
    most_lines: int = 0,
    symbol: tuple[float, float, str] = (1.0, 0.0, ""),
    keyed: bool = False,
) -> Set:
    """Fit paragraphs into a box by a placement's style and the card's adjustments.

    `symbol`: size and rise in em, colour.
    """
    x, y, wide, high = box
    fonts = WORDED[place.font]
    size, rise, symbol_ink = symbol
    words: list[tuple[Word, ...]] = [wearing.words(each, fonts, size * 1.05, keyed) for each in paragraphs]
    own = wearing.look(place.id).size
    largest, least = (own, own) if own else (place.largest, place.least)
    space = wearing.game.typefaces[place.font].width(" ", 1)
    to = Fitting(wide, high, largest, least, place.leading, most_lines, place.balanced)
    fitted = fit(words, space, to, wearing.game.typefaces)
    em = fitted.size
    step = em * place.leading
    tall = len(fitted.lines) * step
    top = y if place.rise == "top" else y + (high - tall) / (2 if place.rise == "middle" else 1)
    ink = wearing.colour(place.ink) or "#000000"
    elements: list[Element] = []
    left, right = x + wide, x
    for number, line in enumerate(fitted.lines):
        baseline = top + step * number + step / 2 + em * MIDDLE
        start = (
            x if place.align == "start" else x + (wide - line.width) / (2 if place.align == "middle" else 1)
        )
        left, right = min(left, start), max(right, start + line.width)
        for run in line.runs:
            if run.text:
                words_at = tuple([start + each for each in run.words])
                elements.append(Text(start + run.x, baseline, run.text, run.font, em, ink, words_at))
            else:
                elements.append(
                    _inline(run.symbol, start + run.x, baseline, em, size, rise, symbol_ink or ink, wearing)
                )
    lines = len(fitted.lines)
    box_of_ink = None
    if lines:
        first = top + step / 2 + em * MIDDLE
        head = first - em * CAPITAL
        foot = first + step * (lines - 1) + em * DROP
        box_of_ink = (left, head, right - left, foot - head)
    return Set(elements, box_of_ink, fitted, lost_in(paragraphs, place.font, wearing), top)


def _inline(
    ident: str, x: float, baseline: float, em: float, size: float, rise: float, ink: str, wearing: CardContext
) -> Element:
    """An inline symbol, `size` em high and raised by `rise` em."""
    high = em * size
    mark = wearing.symbol(ident)
    middle = baseline - em * (MIDDLE + rise)
    if mark is None:
        return Circle(x + high * 0.525, middle, high * 0.4, ink)
    return mark.at(x + high * 0.025, middle - high / 2, high, ink)


def _drawn(
    made: Set, place: Worded, wearing: CardContext, before: Sequence[Element] = (), **more: object
) -> DrawingResult:
    return DrawingResult(
        (*before, *made.elements), ink=made.ink, colour=wearing.colour(place.ink), size=made.fitted.size, least=place.least,
        whole=made.fitted.whole, lost=made.lost, **more,  # type: ignore[arg-type]
    )  # fmt: skip


def words(place: WordsPlace, box: Box, wearing: CardContext, size: Size) -> DrawingResult | None:
    """A text; with ruled lines like a plant label if the plan has them. None if it is empty."""
    paragraphs = wearing.paragraphs(place.field)
    more = wearing.said(place.also) if place.also else ""
    if more:
        paragraphs = [*paragraphs[:-1], f"{paragraphs[-1]} · {more}" if paragraphs else more]
    if place.reminders:
        paragraphs = [*paragraphs, *(f"_{each}_" for each in wearing.reminders())]
    if not paragraphs and not place.ruled:
        return None
    if paragraphs and (place.before or place.after):
        paragraphs[0] = place.before + paragraphs[0]
        paragraphs[-1] += place.after
    ink = wearing.colour(place.symbol_ink)
    made = set_text(
        paragraphs, place, box, wearing, place.lines, (place.symbol_size, place.symbol_rise, ink), keyed=True
    )
    rules: list[Element] = []
    if place.ruled:
        x, y, wide, high = box
        step = made.fitted.size * place.leading
        head = wearing.colour(place.head_ink)
        if head:
            rules.append(Segment(x - 0.6, y - 1.2, x + wide + 0.6, y - 1.2, head, 0.28))
        faint = wearing.colour(place.rule_ink)
        top = made.top if paragraphs else y
        for line in range(int((high - (top - y)) / step + 1e-6) if faint else 0):
            under = top + step * (line + 1) - step * 0.02
            rules.append(Segment(x - 0.6, under, x + wide + 0.6, under, faint, 0.14))
    field = (
        wearing.roles.printed
        if wearing.text.overridden and place.field == wearing.roles.effect
        else place.field
    )
    return _drawn(made, place, wearing, rules, field=field)


def reminders(place: Reminders, box: Box, wearing: CardContext, size: Size) -> DrawingResult | None:
    texts = wearing.reminders()
    if not texts:
        return None
    return _drawn(
        set_text(texts, place, box, wearing, place.lines), place, wearing, field=wearing.roles.effect
    )


def tags(place: Tags, box: Box, wearing: CardContext, size: Size) -> DrawingResult | None:
    held = wearing.tags(place.field)
    if not held:
        return None
    if place.shown == "words":
        return _drawn(set_text([place.between.join(held)], place, box, wearing, place.lines), place, wearing)
    return _chips(held, place, box, wearing)


def _chips(held: Sequence[str], place: Tags, box: Box, wearing: CardContext) -> DrawingResult:
    """Each tag on a chip, in as many rows as needed; smaller until they fit."""
    x, y, wide, high = box
    face = wearing.game.typefaces[place.font]
    own = wearing.look(place.id).size
    largest, least = (own, own) if own else (place.largest, min(place.least, place.largest))
    rows: list[list[tuple[str, float]]] = []
    em, whole = largest, False
    for step in range(8):
        em = largest - (largest - least) * step / 7
        rows = [[]]
        used = 0.0
        for tag in held:
            each = face.width(tag, em) + em * 1.1
            if rows[-1] and used + each > wide:
                rows.append([])
                used = 0.0
            rows[-1].append((tag, each))
            used += each + em * 0.4
        whole = len(rows) * em * 1.75 <= high + 1e-6 and all(w <= wide for row in rows for _, w in row)
        if whole:
            break
    room = max(1, int(high / (em * 1.75) + 1e-6))
    elements: list[Element] = []
    fill, ink = wearing.colour(place.fill), wearing.colour(place.ink)
    farthest = x
    for number, row in enumerate(rows[:room]):
        length = sum(w for _, w in row) + em * 0.4 * (len(row) - 1)
        left = x if place.align == "start" else x + (wide - length) / (2 if place.align == "middle" else 1)
        top = y + number * em * 1.75
        for tag, w in row:
            if fill:
                elements.append(Rect(left, top, w, em * 1.5, fill, em * 0.4))
            at = left + em * 0.55
            for piece in face.pieces(tag):
                elements.append(Text(at, top + em * 0.75 + em * MIDDLE, piece.text, piece.font, em, ink))
                at += piece.width * em
            left += w + em * 0.4
            farthest = max(farthest, left - em * 0.4)
    foot = min(len(rows), room) * em * 1.75 - em * 0.25
    return DrawingResult(
        tuple(elements), ink=(x, y, farthest - x, foot), ground=fill, ground_box=(x, y, farthest - x, foot), colour=ink, size=em, least=place.least,
        whole=whole, lost=lost_in(held, place.font, wearing),
    )  # fmt: skip


def number(place: NumberPlace, box: Box, wearing: CardContext, size: Size) -> DrawingResult | None:
    """A number on its plate, as large as fits."""
    found = wearing.said(place.field)
    if not found and (place.empty == "hide" or not wearing.schema.has_field(wearing.card.type, place.field)):
        return None
    x, y, wide, high = box
    below = place.symbol == "below"
    stand = high - place.symbol_size - 0.5 if below and high > place.symbol_size + 2 else high
    ground = (x, y, wide, stand)
    elements = plate(place.plate, ground, wearing.colour(place.fill), place.radius)
    mark = wearing.field_symbol(place.field) if place.symbol != "none" else None
    symbol_ink = wearing.colour(place.symbol_ink)
    left = 0.0
    side = place.symbol_size
    if mark and below:
        elements.append(mark.at(x + (wide - side) / 2, y + stand + 0.5, side, symbol_ink))
    elif mark:
        left = side + 0.6
        elements.append(mark.at(x, y + (stand - side) / 2, side, symbol_ink))
    margin = 0.8 if place.plate != "none" else 0.0
    inner = (x + margin + left, y, max(1.0, wide - 2 * margin - left), stand)
    shown = place.model_copy(update={"rise": "middle"}) if place.rise != "middle" else place
    made = set_text([found or "–"], shown, inner, wearing, 1)
    filled = place.plate != "none" and bool(place.fill)
    return _drawn(
        made, place, wearing, elements, ground=wearing.colour(place.fill) if filled else "", ground_box=ground if filled else None
    )  # fmt: skip


def edges(place: Edges, box: Box, wearing: CardContext, size: Size) -> DrawingResult | None:
    """Values along the edges, each with its bottom towards the middle of the card."""
    elements: list[Element] = []
    whole, em, boxes, lost = True, place.largest, [], ""
    side = place.plate_size
    for field, (x, y, degrees) in zip(place.fields, edges_of(size), strict=False):
        text = wearing.said(field) if field else ""
        if not text:
            continue
        cx, cy = _inwards(x, y, size, place.inset)
        square = (cx - side / 2, cy - side / 2, side, side)
        inner: list[Element] = plate(place.plate, square, wearing.colour(place.fill), 1.2)
        made = set_text([text], place, square, wearing, 1)
        inner += made.elements
        elements.append(Turn(degrees, cx, cy, tuple(inner)) if degrees else inner[0])
        if not degrees:
            elements += inner[1:]
        whole, em = whole and made.fitted.whole, min(em, made.fitted.size)
        boxes.append(square)
        lost += made.lost
    if not boxes:
        return None
    filled = place.plate != "none" and bool(place.fill)
    return DrawingResult(
        tuple(elements), ink=None, colour=wearing.colour(place.ink), ground=wearing.colour(place.fill) if filled else "", ground_box=boxes[0] if filled else None,
        size=em, least=place.least, whole=whole, lost=lost, inks=tuple(boxes),
    )  # fmt: skip


def _inwards(x: float, y: float, size: Size, inset: float) -> tuple[float, float]:
    """A point of the edge moved towards the middle of the card."""
    dx, dy = size.width / 2 - x, size.height / 2 - y
    length = (dx * dx + dy * dy) ** 0.5 or 1.0
    return x + dx / length * inset, y + dy / length * inset
