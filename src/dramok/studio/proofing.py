"""The proof of a game's faces: what is wrong with them before they are printed."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from dramok.core.cards import Card
from dramok.core.faces.proof import FaceFault
from dramok.core.problem import Problem
from dramok.studio.desk import Desk, Refused
from dramok.studio.finding import find
from dramok.studio.sheets import sheet_of
from dramok.studio.snapshot import GameSnapshot


@dataclass(frozen=True)
class CardFaults:
    """A card with what is wrong with its face."""

    card: str
    code: str
    title: str
    faults: tuple[FaceFault, ...]


@dataclass(frozen=True)
class Proof:
    """`looked` of `total` cards were looked at. `plans` are what can't be drawn of the plans themselves, by the plan's name."""

    total: int
    looked: int
    cards: tuple[CardFaults, ...]
    counts: Mapping[str, int]
    plans: tuple[tuple[str, Problem], ...]

    @property
    def sound(self) -> bool:
        return not self.cards and not self.plans


def proof(desk: Desk, game: GameSnapshot, query: str = "", start: int = 0, count: int | None = None) -> Proof:
    """Looks through the faces of the cards that answer to a query, from place `start` on. Raises Refused for a query that can't be read."""
    cards: Sequence[Card] = tuple(game.cards.values())
    if query.strip():
        found = find(desk, game, query)
        if found.problem is not None:
            raise Refused(found.problem)
        cards = found.cards
    part = cards[start : None if count is None else start + count]
    faulty: list[CardFaults] = []
    counts: Counter[str] = Counter()
    for card in part:
        faults = sheet_of(game, card).faults
        if faults:
            faulty.append(CardFaults(card.id, card.code, game.title(card), faults))
            counts.update({each.kind for each in faults})
    plans = tuple(
        (plan.head.name, problem)
        for plan in game.faces.plans.values()
        for problem in game.faces.plan(plan.id).problems
    )
    return Proof(len(cards), len(part), tuple(faulty), dict(counts), plans if start == 0 else ())
