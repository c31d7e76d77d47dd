"""Cards as feature vectors for estimating worths: the units of each price row, and the budget."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from decimal import Decimal
from statistics import median
from typing import TYPE_CHECKING, Any

from dramok.core.balance.declared.prices import PriceList, PriceRow
from dramok.core.balance.declared.verdict import LedgerLine, multipliers, sign_of, verdict
from dramok.core.cards import Card
from dramok.core.effects.pronouns import expected
from dramok.core.effects.verbs import VERBS
from dramok.core.rulebook import Rulebook

if TYPE_CHECKING:
    from numpy.typing import NDArray

FLOOR = 0.5
"""The least prior spread of a worth, as for one of this many points."""
OPEN = 3.0
"""The factor of the prior spread for an undecided worth."""
STAT = "stat:"


@dataclass(frozen=True)
class Features:
    """`names`: ids of price rows, or `stat:` and a field's, for rows that some card uses; `declared` points of
    one unit, None while undecided.

    `x`: cards x names, after curves and qualifiers; a drawback is negative. `budgets` in points. `prior`: the
    prior mean of each worth, `spread` its deviation. `left_out`: cards with unwritten text, no cost, or an
    effect with no row or several.
    """

    names: tuple[str, ...]
    declared: tuple[float | None, ...]
    cards: tuple[str, ...]
    x: NDArray[Any]
    budgets: NDArray[Any]
    prior: NDArray[Any]
    spread: NDArray[Any]
    left_out: int


def features(cards: Iterable[Card], rulebook: Rulebook, prices: PriceList) -> Features:
    import numpy as np

    names, declared = _rows(rulebook, prices)
    place = {name: number for number, name in enumerate(names)}
    rows = {row.id: row for row in prices.rows}
    taken: list[str] = []
    design: list[list[float]] = []
    budgets: list[float] = []
    left_out = 0
    for card in cards:
        found = _of_card(card, rulebook, prices, rows, place)
        if found is None:
            left_out += 1
            continue
        taken.append(card.id)
        design.append(found[0])
        budgets.append(found[1])
    x = np.array(design).reshape(len(taken), len(names))
    used = [int(each) for each in np.flatnonzero(np.any(x != 0, axis=0))]
    prior = np.array([_thought(declared, names, number, rows) for number in used])
    spread = np.array([max(abs(float(mean)), FLOOR) * (1 if declared[number] is not None else OPEN) for number, mean in zip(used, prior, strict=True)])
    return Features(
        tuple(names[number] for number in used), tuple(declared[number] for number in used), tuple(taken), x[:, used], np.array(budgets), prior, spread, left_out
    )


def _rows(rulebook: Rulebook, prices: PriceList) -> tuple[list[str], list[float | None]]:
    """The rows by name, and the declared worth of one unit of each."""
    found: dict[str, float | None] = {}
    for ident in rulebook.roles.stats:
        found[f"{STAT}{ident}"] = None if (each := prices.stats.get(ident)) is None else float(each)
    for row in prices.rows:
        found[row.id] = None if row.curve is None else float(unit_of(row))
    return [*found], [*found.values()]


def unit_of(row: PriceRow) -> Decimal:
    """The points of one unit; for a curve that begins later, of its first positive amount."""
    assert row.curve is not None
    return next((points for amount in (1, 2, 3, 5, 10) if (points := row.curve.at(Decimal(amount)))), Decimal(0))


def _of_card(card: Card, rulebook: Rulebook, prices: PriceList, rows: dict[str, PriceRow], place: dict[str, int]) -> tuple[list[float], float] | None:
    """The units of each row on the card, after curves and qualifiers, and its budget.

    None for a card that can't be used.
    """
    ledger = verdict(card, rulebook, prices)
    found = [0.0] * len(place)
    for line in ledger.lines:
        if line.part == "budget":
            if line.points is None:
                return None
        elif line.aspect is not None:
            if len(line.rows) != 1:
                return None
            found[place[line.rows[0]]] += _units(line, rows[line.rows[0]], prices)
        elif f"{STAT}{line.field}" in place:
            found[place[f"{STAT}{line.field}"]] += float(card.amount(line.field) or 0)
        else:
            return None
    return found, float(ledger.budget)


def _units(line: LedgerLine, row: PriceRow, prices: PriceList) -> float:
    """Signed: a drawback is negative."""
    unit = unit_of(row) if row.curve is not None else Decimal(0)
    if line.points is not None and unit:
        return float(line.points / unit)
    assert line.aspect is not None
    amount = float(expected(line.aspect.amount, prices.expected_count, {})) * float(line.aspect.many)
    for times in multipliers(line.aspect, row, prices):
        amount *= float(times)
    return amount * sign_of(line.aspect, row)


def _thought(declared: list[float | None], names: list[str], number: int, rows: dict[str, PriceRow]) -> float:
    """The declared worth; for an undecided row the median of its verb, else of its verb's form, else of all."""
    worth = declared[number]
    if worth is not None:
        return worth
    told = [(rows.get(name), each) for name, each in zip(names, declared, strict=True) if each is not None]
    row = rows.get(names[number])
    if row is None:
        same = [each for other, each in told if other is None]
    else:
        same = [each for other, each in told if other is not None and other.verb == row.verb] or [
            each for other, each in told if other is not None and _form(other) == _form(row)
        ]
    return median(same or [each for _, each in told] or [1.0])


def _form(row: PriceRow) -> str:
    return VERBS[row.verb].form if row.verb in VERBS else "has"
