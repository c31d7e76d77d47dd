"""Lay out one side of a card as elements, with facts for the proof about each placement."""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property
from math import cos, radians, sin
from typing import Any, NamedTuple

from dramok.core.cards import Back, Card
from dramok.core.faces.elements import Element, Field, Rect, Shared, Turn
from dramok.core.faces.layout.card_context import CardContext, FaceGame
from dramok.core.faces.layout.choice_placements import choice, symbols
from dramok.core.faces.layout.drawing_result import DrawingResult
from dramok.core.faces.layout.panels import backdrop, panel, rule
from dramok.core.faces.layout.picture_placements import window
from dramok.core.faces.layout.text_placements import edges, number, reminders, tags, words
from dramok.core.faces.plan.colours import PAPER
from dramok.core.faces.plan.plan import ChoiceMark, NumberPlace, Panel, Place, Rule, Side, WordsPlace
from dramok.core.faces.plan.plan_set import FacePlan
from dramok.core.faces.plan.sizes import Box, Size
from dramok.core.problem import Problem
from dramok.core.wording import PrintedText

MOST_KEPT = 2_000
"""The number of cached drawings per placement."""
SHARED_WORDS = ("type", "set", "game", "back")
"""Texts up to this number of words are cached across cards."""
ALARM = "#a3283a"
NO_TEXT = PrintedText((), False, True)
DRAW: dict[str, Callable[[Any, Box, CardContext, Size], DrawingResult | None]] = {
    "panel": panel, "line": rule, "ground": backdrop, "number": number, "text": words, "picture": window, "choice": choice,
    "symbols": symbols, "edges": edges, "tags": tags, "reminders": reminders,
}  # fmt: skip


class Placed(NamedTuple):
    """A placement as drawn on one card: its `box`, and the box of its `ink`, in mm."""

    place: Place
    box: Box
    drawn: DrawingResult
    ink: Box | None


@dataclass(frozen=True)
class Face:
    """`width` and `height` in mm; `problems` name what does not fit; `digest` changes exactly when the elements
    change.
    """

    size: Size
    elements: tuple[Element, ...]
    problems: tuple[Problem, ...]
    placed: tuple[Placed, ...] = field(default=(), repr=False, compare=False)

    @property
    def width(self) -> float:
        return self.size.width

    @property
    def height(self) -> float:
        return self.size.height

    @cached_property
    def digest(self) -> str:
        said = f"{self.size!r}{''.join(map(_named, self.elements))}"
        return hashlib.sha256(said.encode()).hexdigest()[:16]


def _named(element: Element) -> str:
    """The contribution of an element to the digest, cached for shared elements."""
    if not isinstance(element, Shared):
        return repr(element)
    if element.named is None:
        element.named = repr(Field(*element))
    return element.named


def lay_out(
    card: Card,
    plan: FacePlan,
    game: FaceGame,
    text: PrintedText = NO_TEXT,
    back: Back | None = None,
    side: Side = "front",
) -> Face:
    """Lay out one side of a card by its plan. Never fails: what does not fit is cut and listed in `problems`."""
    wearing = CardContext(card, game, text, back, side)
    size = plan.size
    bleed = size.bleed
    elements: list[Element] = [Rect(-bleed, -bleed, size.width + 2 * bleed, size.height + 2 * bleed, PAPER)]
    placed: list[Placed] = []
    problems: list[Problem] = []
    for ready in plan.places:
        place = ready.worn_by(card)
        if place.off or (ready.condition is not None and not ready.condition(card)):
            continue
        key = _seen_of(place, wearing)
        made = ready.kept.get((id(place), key)) if key is not None else None
        if made is None:
            made = _draw(place, wearing, size)
            if key is not None and len(ready.kept) < MOST_KEPT:
                if made[0] is not None:
                    made = (Shared.of(made[0]), made[1])
                ready.kept[id(place), key] = made
        element, found = made
        if found is None:
            continue
        if element is not None:
            elements.append(element)
        placed.append(found)
        if not found.drawn.whole:
            problems.append(_overfull(place))
    return Face(size, tuple(elements), tuple(problems), tuple(placed))


def _draw(place: Place, wearing: CardContext, size: Size) -> tuple[Field | None, Placed | None]:
    """One placement: its elements and its result; nothing if the card has nothing to show there."""
    box = (place.x, place.y, place.width, place.height)
    drawn = DRAW[place.kind](place, _unturned(box, place.turn), wearing, size)
    if drawn is None:
        return None, None
    inner = drawn.elements
    if not drawn.whole:
        inner = (*inner, _alarm(_unturned(box, place.turn)))
    if place.turn:
        inner = (Turn(place.turn, place.x + place.width / 2, place.y + place.height / 2, inner),)
    shown = drawn.field if drawn.field is not None else getattr(place, "field", "")
    element = Field(shown or "", *_held(box), inner, place.id) if inner else None
    return element, Placed(place, box, drawn, _turned(drawn.ink, place))


def _seen_of(place: Place, wearing: CardContext) -> tuple[object, ...] | None:
    """The cache key of a placement's drawing if many cards share it; None otherwise."""
    colour = wearing.colour
    match place:
        case Panel():
            return colour(place.fill), colour(place.stroke)
        case Rule():
            return (colour(place.ink),)
        case NumberPlace():
            own = wearing.look(place.id).size
            has = wearing.schema.has_field(wearing.card.type, place.field)
            return (
                wearing.said(place.field),
                colour(place.fill),
                colour(place.ink),
                colour(place.symbol_ink),
                own,
                has,
            )
        case WordsPlace() if place.field in SHARED_WORDS:
            own = wearing.look(place.id).size
            inks = (place.ink, place.rule_ink, place.head_ink, place.symbol_ink)
            told = tuple(wearing.reminders()) if place.reminders else ()
            return wearing.said(place.field), place.also and wearing.said(place.also), *map(colour, inks), told, own
        case ChoiceMark() if place.shown != "picture":
            own = wearing.look(place.id).size
            chosen = wearing.choice(place.field)
            return (
                chosen.id if chosen else None,
                place.shown == "words" and wearing.said(place.field),
                wearing.card.type,
                colour(place.fill),
                colour(place.ink),
                own,
            )
        case _:
            return None


def _held(box: Box) -> Box:
    """The outline that a page draws around a placement: slightly larger than its box."""
    x, y, wide, high = box
    return x - 0.6, y - 0.6, wide + 1.2, high + 1.2


def _unturned(box: Box, turn: int) -> Box:
    """The box for the content of a turned placement before it is turned about its middle."""
    x, y, wide, high = box
    if turn not in (90, 270):
        return box
    return x + (wide - high) / 2, y + (high - wide) / 2, high, wide


def _turned(ink: Box | None, place: Place) -> Box | None:
    """The box of the ink after the placement is turned."""
    if ink is None or not place.turn:
        return ink
    cx, cy = place.x + place.width / 2, place.y + place.height / 2
    angle = radians(place.turn)
    x, y, wide, high = ink
    points = [
        (
            cx + (px - cx) * cos(angle) - (py - cy) * sin(angle),
            cy + (px - cx) * sin(angle) + (py - cy) * cos(angle),
        )
        for px, py in ((x, y), (x + wide, y), (x, y + high), (x + wide, y + high))
    ]
    left, top = min(px for px, _ in points), min(py for _, py in points)
    return left, top, max(px for px, _ in points) - left, max(py for _, py in points) - top


def _alarm(box: Box) -> Rect:
    """A red line under cut text."""
    x, y, wide, high = box
    return Rect(x - 0.6, y + high - 0.5, wide + 1.2, 0.9, ALARM)


def _overfull(place: Place) -> Problem:
    name = place.name or place.id.replace("-", " ")
    what = (
        "the text does not fit the face" if place.flows else f"the {name.lower()} is too long for its place"
    )
    return Problem(where=name, what=what, mend="shorten it, or give it more room in the face plan")
