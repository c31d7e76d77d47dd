"""The set map: every card by cost and worth, with the budget line."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from decimal import Decimal

from dramok.core.balance.declared.prices import PriceList, shown
from dramok.core.balance.declared.verdict import Judgement, Ledger, LedgerLine, verdict
from dramok.core.cards import Card
from dramok.core.rulebook import Rulebook


@dataclass(frozen=True)
class MapCard:
    """One card.

    `budget` includes the allowance of its rarity; `difference` is worth minus budget. `low` and `high`: the 95
    % interval of an estimated worth.
    """

    card: str
    cost: int
    worth: Decimal
    budget: Decimal
    difference: Decimal
    judgement: Judgement
    reason: str
    low: Decimal | None = None
    high: Decimal | None = None


@dataclass(frozen=True)
class SetMap:
    """`line`: (cost, points) of the budget by card type id, without rarity.

    `unpriced`: cards without a cost. Without costs, all cards are at 0.
    """

    cards: tuple[MapCard, ...]
    lines: dict[str, tuple[tuple[int, Decimal], ...]]
    outliers: tuple[str, ...]
    unpriced: tuple[str, ...]


def set_map(cards: Iterable[Card], rulebook: Rulebook, prices: PriceList) -> SetMap:
    """Outliers are the cards over or under budget, furthest first."""
    return map_of(((card, verdict(card, rulebook, prices)) for card in cards), rulebook, prices)


def map_of(
    ledgers: Iterable[tuple[Card, Ledger]], rulebook: Rulebook, prices: PriceList, reasons: bool = True
) -> SetMap:
    """The map of cards with known ledgers; without `reasons`, no explanations are written."""
    found: list[MapCard] = []
    unpriced: list[str] = []
    for card, ledger in ledgers:
        cost = rulebook.cards.seen(card).number(rulebook.roles.cost) if rulebook.roles.cost else 0
        if cost is None:
            unpriced.append(card.id)
            continue
        found.append(
            MapCard(
                card.id,
                cost,
                ledger.worth,
                ledger.budget,
                ledger.difference,
                ledger.judgement,
                _reason(ledger.lines) if reasons else "",
            )
        )
    costs = [0, *(each.cost for each in found)]
    lines = {
        each.id: tuple((cost, budget.at(cost)) for cost in _costs(min(costs), max(costs), len(budget.by_cost)))
        for each in rulebook.cards.types
        if not each.abstract and (budget := prices.budget_of(each.id)) is not None
    }
    far = sorted(
        (m for m in found if m.judgement in ("over", "under")), key=lambda m: (-abs(m.difference), m.card)
    )
    return SetMap(tuple(found), lines, tuple(each.card for each in far), tuple(unpriced))


@dataclass(frozen=True)
class Estimated:
    """Points of a card over its budget by another lens, with a 95 % interval."""

    points: float
    low: float
    high: float


def map_seen(found: SetMap, by: Mapping[str, Estimated], tolerance: Decimal, said: str) -> SetMap:
    """The map by another lens, with estimated worths.

    Over and under are cards whose whole interval is; cards without an estimate are left out. `said` begins its
    reasons.
    """
    cards = []
    for each in found.cards:
        seen = by.get(each.card)
        if seen is None:
            continue
        points, low, high = (Decimal(str(round(number, 2))) for number in (seen.points, seen.low, seen.high))
        judgement: Judgement = "over" if low > tolerance else "under" if high < -tolerance else "fair"
        reason = f"{said} {shown(points, signed=True)} ({shown(low, signed=True)} to {shown(high, signed=True)})"
        cards.append(MapCard(each.card, each.cost, each.budget + points, each.budget, points, judgement, reason, each.budget + low, each.budget + high))
    far = sorted((each for each in cards if each.judgement != "fair"), key=lambda each: (-abs(each.difference), each.card))
    return SetMap(tuple(cards), found.lines, tuple(each.card for each in far), found.unpriced)


MOST_POINTS = 200
"""The number of points of a budget line; it is straight beyond its table."""


def _costs(least: int, most: int, table: int) -> list[int]:
    """The costs at which the line is drawn, from lowest to highest: each cost of the table, then the end."""
    beyond = min(most, max(table, MOST_POINTS))
    return [*([least] if least < 0 else []), *range(beyond + 1), *([most] if most > beyond else [])]


LONGEST_REASON = 4


def _reason(lines: Iterable[LedgerLine]) -> str:
    """The ledger in a few words that sum to the verdict: the largest lines, the rest together, then the budget."""
    lines = list(lines)
    worth = sorted(
        (line for line in lines if line.part == "worth"), key=lambda line: -abs(line.points or Decimal(0))
    )
    shown_lines = worth if len(worth) <= LONGEST_REASON else worth[: LONGEST_REASON - 1]
    rest = worth[len(shown_lines) :]
    said = [_said(line.what, line.points) for line in shown_lines]
    if rest:
        known = sum((line.points for line in rest if line.points is not None), Decimal(0))
        said.append(_said(f"{len(rest)} more", None if any(line.points is None for line in rest) else known))
    said += [
        _said(line.what[:1].lower() + line.what[1:], line.points) for line in lines if line.part == "budget"
    ]
    return ", ".join(said)


def _said(what: str, points: Decimal | None) -> str:
    return f"{what} open" if points is None else f"{what} {shown(points, signed=True)}"
