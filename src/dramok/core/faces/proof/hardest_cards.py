"""The cards of a game that are hardest for a plan."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from dramok.core.faces.layout.card_context import CardContext
from dramok.core.faces.layout.text import SYMBOL
from dramok.core.faces.plan.plan import (
    ChoiceMark,
    Edges,
    NumberPlace,
    Place,
    Reminders,
    Symbols,
    Tags,
    WordsPlace,
)
from dramok.core.faces.plan.plan_set import BESIDE, FacePlan

MOST_SHOWN = 10
Measured = tuple[str, float]
"""A reason and its amount."""


@dataclass(frozen=True)
class Hard:
    """A card, and the reasons why it is hard."""

    card: str
    reasons: tuple[str, ...]


def hardest(cards: Iterable[tuple[str, Iterable[Measured]]]) -> list[Hard]:
    """The cards with the longest text, largest number, most symbols, widest tags in any placement, and the
    emptiest one.

    Input: (card's id, its `measures`). Each measure names one card, the first of equals; a card named several
    times is listed once.
    """
    best: dict[str, tuple[float, str]] = {}
    for ident, measured in cards:
        for reason, amount in measured:
            if amount > 0 and amount > best.get(reason, (0.0, ""))[0]:
                best[reason] = (amount, ident)
    held: dict[str, list[str]] = {}
    for reason, (_, ident) in best.items():
        held.setdefault(ident, []).append(reason)
    ranked = [
        (min(map(_rank, reasons)), ident, sorted(reasons, key=_rank)) for ident, reasons in held.items()
    ]
    return [Hard(ident, tuple(reasons)) for _, ident, reasons in sorted(ranked)[:MOST_SHOWN]]


def _rank(reason: str) -> int:
    """The order of reasons: long texts, then symbols, tags, numbers, emptiness."""
    order = ("longest", "most symbols", "most paragraphs", "widest", "largest", "fullest", "most left empty")
    return next((place for place, each in enumerate(order) if reason.startswith(each)), len(order))


def measures(plan: FacePlan, wearing: CardContext) -> Iterable[Measured]:
    """The difficulty of a card for each placement of its plan, in amounts comparable within one reason."""
    empty = filled = 0
    for ready in plan.places:
        place = ready.place
        if place.off or place.furniture or place.kind == "picture":
            continue
        found = list(_of(place, wearing))
        if not found:
            continue
        filled += any(amount > 0 for _, amount in found)
        empty += not any(amount > 0 for _, amount in found)
        yield from found
    if filled:
        yield "most left empty", float(empty)


def _of(place: Place, wearing: CardContext) -> Iterable[Measured]:
    name = (place.name or place.id).lower()
    if getattr(place, "field", "") in BESIDE or (isinstance(place, ChoiceMark) and place.shown != "words"):
        return
    if isinstance(place, WordsPlace):
        texts = wearing.paragraphs(place.field)
        face = wearing.game.typefaces[place.font]
        yield f"longest {name}", sum(face.width(each, 1) for each in texts)
        if place.lines != 1:
            yield f"most symbols in {name}", float(sum(len(SYMBOL.findall(each)) for each in texts))
            yield f"most paragraphs in {name}", float(len(texts)) if len(texts) > 1 else 0.0
    elif isinstance(place, Tags):
        face = wearing.game.typefaces[place.font]
        yield f"widest {name}", face.width(place.between.join(wearing.tags(place.field)), 1)
    elif isinstance(place, NumberPlace):
        number = wearing.number(place.field)
        yield f"largest {name}", float(number) if number is not None else 0.0
    elif isinstance(place, Symbols):
        yield f"most {name}", float(wearing.number(place.field) or 0)
    elif isinstance(place, Edges):
        yield f"fullest {name}", float(sum(len(wearing.said(each)) for each in place.fields if each))
    elif isinstance(place, Reminders):
        yield f"longest {name}", float(sum(len(each) for each in wearing.reminders()))
    else:
        yield (
            f"longest {name}",
            wearing.game.typefaces["body"].width(wearing.said(getattr(place, "field", "")), 1),
        )
