"""Every card by cost and worth, against the budget line."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from decimal import Decimal

from dramok.core.balance.prices import PriceList, shown
from dramok.core.balance.verdict import Judgement, LedgerLine, verdict
from dramok.core.cards import Card
from dramok.core.rulebook import Rulebook


@dataclass(frozen=True)
class Mark:
    """One card on the map. `budget` includes the allowance for rarity; `difference` is worth minus budget."""

    card: str
    cost: int
    worth: Decimal
    budget: Decimal
    difference: Decimal
    judgement: Judgement
    reason: str


@dataclass(frozen=True)
class SetMap:
    """`line`: (cost, points) of the budget by card type id, rarity left out. `unpriced`: cards without a cost. In a game without costs all stand at 0."""

    marks: tuple[Mark, ...]
    lines: dict[str, tuple[tuple[int, Decimal], ...]]
    outliers: tuple[str, ...]
    unpriced: tuple[str, ...]


def set_map(cards: Iterable[Card], rulebook: Rulebook, prices: PriceList) -> SetMap:
    """Outliers are the cards judged over or under, the furthest from their budget first."""
    marks, unpriced = [], []
    for card in cards:
        cost = card.number(rulebook.roles.cost) if rulebook.roles.cost else 0
        if cost is None:
            unpriced.append(card.id)
            continue
        ledger = verdict(card, rulebook, prices)
        marks.append(
            Mark(
                card.id,
                cost,
                ledger.worth,
                ledger.budget,
                ledger.difference,
                ledger.judgement,
                _reason(ledger.lines),
            )
        )
    most = max((mark.cost for mark in marks), default=0)
    lines = {
        key: tuple((cost, budget.at(cost)) for cost in range(most + 1))
        for key, budget in prices.budgets.items()
    }
    far = sorted(
        (m for m in marks if m.judgement in ("over", "under")), key=lambda m: (-abs(m.difference), m.card)
    )
    return SetMap(tuple(marks), lines, tuple(mark.card for mark in far), tuple(unpriced))


def _reason(lines: Iterable[LedgerLine]) -> str:
    """The worth lines in a few words, the largest first."""
    parts = [line for line in lines if line.part == "worth"]
    parts.sort(key=lambda line: -abs(line.points or Decimal(0)))
    return ", ".join(
        f"{line.what} {shown(line.points, signed=True)}" if line.points is not None else f"{line.what} open"
        for line in parts[:3]
    )
