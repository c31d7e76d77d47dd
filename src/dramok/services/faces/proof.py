"""The proof of a game's faces: problems to fix before printing."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from dramok.core.cards import Card
from dramok.core.faces.proof.proof import FaceFault
from dramok.core.problem import Problem
from dramok.services.cards.card_detail import detail_of
from dramok.services.cards.search import find
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import Refused, Workspace


@dataclass(frozen=True)
class CardFaults:
    """A card with the problems of its face."""

    card: str
    code: str
    title: str
    faults: tuple[FaceFault, ...]


@dataclass(frozen=True)
class Proof:
    """The result of a proof:

    `looked` of `total` cards were checked. `plans` are problems of the plans themselves, by the plan's name.
    """

    total: int
    looked: int
    cards: tuple[CardFaults, ...]
    counts: Mapping[str, int]
    plans: tuple[tuple[str, Problem], ...]

    @property
    def sound(self) -> bool:
        return not self.cards and not self.plans


def proof(workspace: Workspace, game: GameSnapshot, query: str = "", start: int = 0, count: int | None = None) -> Proof:
    """Check the faces of the cards that match a query, from position `start` on.

    Raises Refused for an invalid query.
    """
    cards: Sequence[Card] = tuple(game.cards.values())
    if query.strip():
        found = find(workspace, game, query)
        if found.problem is not None:
            raise Refused(found.problem)
        cards = found.cards
    part = cards[start : None if count is None else start + count]
    faulty: list[CardFaults] = []
    counts: Counter[str] = Counter()
    for card in part:
        faults = detail_of(game, card).faults
        if faults:
            faulty.append(CardFaults(card.id, card.code, game.title(card), faults))
            counts.update({each.kind for each in faults})
    plans = tuple(
        (plan.head.name, problem)
        for plan in game.faces.plans.values()
        for problem in game.faces.plan(plan.id).problems
    )
    return Proof(len(cards), len(part), tuple(faulty), dict(counts), plans if start == 0 else ())
