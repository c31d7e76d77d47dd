"""What the costs of a list of cards imply that each price row must be worth, for the prices to make sense.

Every card says: its budget, in points and held fixed, is the sum of what it has, a worth for each row. The declared worths are the prior
mean of a linear model with normal errors (Lindley and Smith 1972), averaged over a grid of how far worths lie from what is declared (tau)
and cards from their budget (sigma), by the evidence of each. Residuals are those of a card left out of the fit, e / (1 - h) (Allen 1974).
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from decimal import Decimal
from itertools import product
from math import exp, sqrt
from statistics import median
from typing import TYPE_CHECKING, Any

from dramok.core.balance.prices import PriceList, PriceRow
from dramok.core.balance.verdict import LedgerLine, verdict
from dramok.core.cards import Card
from dramok.core.effects.verbs import VERBS
from dramok.core.rulebook import Rulebook

if TYPE_CHECKING:
    from numpy.typing import NDArray

TAUS = (0.1, 0.2, 0.4, 0.8, 1.6)
"""Spreads of the true worths about the declared ones, as shares of `_spread`."""
SIGMAS = (0.25, 0.5, 1.0, 2.0, 4.0)
"""Spreads of cards about their budgets, in points."""
FLOOR = 0.5
"""No worth is held more surely than one of so many points would be."""
OPEN = 3.0
"""How much wider a worth is held that nobody declared."""
INFORMED = 0.3
SURE = 1.96
ECHO = 1.25
LEAST = 3


@dataclass(frozen=True)
class ImpliedRow:
    """`row` is a price row's id, or `stat:` and a field's; `declared` the points of one (None: open), `implied` the same by the costs with
    its 95 % interval; `share` of what is known of it that comes from the cards, 0 to 1; `flips`: by the costs it has the other sign."""

    row: str
    declared: float | None
    implied: float
    low: float
    high: float
    share: float
    flips: bool
    cards: int

    @property
    def informed(self) -> bool:
        return self.share >= INFORMED


@dataclass(frozen=True)
class ImpliedCard:
    """`residual`: points by which the card has more than its budget, by worths that the others imply."""

    card: str
    residual: float


@dataclass(frozen=True)
class Implied:
    """`left_out`: how many cards could not take part: text that is not written, no cost, or an effect that no row prices. `echo`: cards
    stand so near to their budgets that the costs were likely set from the declared worths. `spread`: of cards about their budgets, points."""

    rows: tuple[ImpliedRow, ...]
    cards: tuple[ImpliedCard, ...]
    left_out: int
    echo: bool
    spread: float


def implied(cards: Iterable[Card], rulebook: Rulebook, prices: PriceList) -> Implied:
    """Of any list of priced cards that this rulebook can read."""
    import numpy as np

    cards = list(cards)
    names, declared = _rows(rulebook, prices)
    place = {name: number for number, name in enumerate(names)}
    rows = {row.id: row for row in prices.rows}
    taken: list[Card] = []
    design: list[list[float]] = []
    budgets: list[float] = []
    for card in cards:
        found = _features(card, rulebook, prices, rows, place)
        if found is not None:
            taken.append(card)
            design.append(found[0])
            budgets.append(found[1])
    if len(taken) < LEAST or not names:
        return Implied((), (), len(cards), False, 0.0)
    x, y = np.array(design), np.array(budgets)
    used = np.flatnonzero(np.any(x != 0, axis=0))
    x = x[:, used]
    prior = np.array([_known(declared, names, int(number), rows) for number in used])
    spread = np.array([_spread(declared[number], float(mean)) for number, mean in zip(used, prior, strict=True)])
    mean, variance, before, residual, sigma = _averaged(x, y, prior, spread)
    found_rows = []
    for number, name in enumerate(names[each] for each in used):
        value, wide = float(mean[number]), SURE * sqrt(float(variance[number]))
        known = declared[int(used[number])]
        share = max(0.0, 1 - float(variance[number] / before[number]))
        flips = share >= INFORMED and float(prior[number]) * value < 0
        found_rows.append(ImpliedRow(name, known, value, value - wide, value + wide, share, flips, int(np.count_nonzero(x[:, number]))))
    told = tuple(ImpliedCard(card.id, float(each)) for card, each in zip(taken, residual, strict=True))
    return Implied(tuple(found_rows), told, len(cards) - len(taken), _echoes(y, x @ prior, prices), sigma)


def _rows(rulebook: Rulebook, prices: PriceList) -> tuple[list[str], list[float | None]]:
    """The rows by name, and what one of each is declared to be worth."""
    names = [f"stat:{ident}" for ident in rulebook.roles.stats]
    declared: list[float | None] = [None if (each := prices.stats.get(ident)) is None else float(each) for ident in rulebook.roles.stats]
    for row in prices.rows:
        names.append(row.id)
        declared.append(None if row.curve is None else float(_unit(row)))
    return names, declared


def _unit(row: PriceRow) -> Decimal:
    """Points of one; of a curve that begins later, of the first amount that is worth something."""
    assert row.curve is not None
    return next((points for amount in (1, 2, 3, 5, 10) if (points := row.curve.at(Decimal(amount)))), Decimal(0))


def _features(card: Card, rulebook: Rulebook, prices: PriceList, rows: dict[str, PriceRow], place: dict[str, int]) -> tuple[list[float], float] | None:
    """How many of each row's unit the card has, after curves and qualifiers, and its budget. None for a card that can't take part."""
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
        elif f"stat:{line.field}" in place:
            found[place[f"stat:{line.field}"]] += float(card.amount(line.field) or 0)
        else:
            return None
    return found, float(ledger.budget)


def _units(line: LedgerLine, row: PriceRow, prices: PriceList) -> float:
    """Signed: a drawback has less than none."""
    unit = _unit(row) if row.curve is not None else Decimal(0)
    if line.points is not None and unit:
        return float(line.points / unit)
    assert line.aspect is not None
    amount = float(getattr(line.aspect.amount, "value", prices.expected_count)) * float(line.aspect.many)
    return amount if line.aspect.benefit else -amount


def _known(declared: list[float | None], names: list[str], number: int, rows: dict[str, PriceRow]) -> float:
    """The declared worth; of an open row the median of its verb's, else of the family of its verb's form, else of all."""
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


def _spread(declared: float | None, prior: float) -> float:
    return max(abs(prior), FLOOR) * (1 if declared is not None else OPEN)


def _averaged(x: NDArray[Any], y: NDArray[Any], prior: NDArray[Any], spread: NDArray[Any]) -> tuple[Any, Any, Any, Any, float]:
    """Mean and variance of the worths, their variance beforehand, residuals left out of the fit, the likely sigma."""
    import numpy as np

    cards = len(y)
    off = y - x @ prior
    gram, moment, total = x.T @ x, x.T @ off, float(off @ off)
    grid = []
    for tau, sigma in product(TAUS, SIGMAS):
        hold = np.diag(1 / (tau * spread) ** 2)
        precise = gram / sigma**2 + hold
        covariance = np.linalg.inv(precise)
        shift = covariance @ moment / sigma**2
        _, bent = np.linalg.slogdet(precise)
        # log evidence, by the determinant lemma and Woodbury's identity
        evidence = -0.5 * (bent + 2 * float(np.log(tau * spread).sum()) + 2 * cards * np.log(sigma) + total / sigma**2 - float(shift @ moment) / sigma**2)
        leverage = np.einsum("ij,jk,ik->i", x, covariance, x) / sigma**2
        grid.append((evidence, tau, sigma, shift, np.diag(covariance), (off - x @ shift) / np.maximum(1 - leverage, 1e-6)))
    most = max(each[0] for each in grid)
    weights = [exp(each[0] - most) for each in grid]
    whole = sum(weights)
    weights = [each / whole for each in weights]
    mean = sum(weight * each[3] for weight, each in zip(weights, grid, strict=True))
    variance = sum(weight * (each[4] + (each[3] - mean) ** 2) for weight, each in zip(weights, grid, strict=True))
    before = sum(weight * (each[1] * spread) ** 2 for weight, each in zip(weights, grid, strict=True))
    # A card with more than its budget has a positive residual, as in its verdict.
    residual = -sum(weight * each[5] for weight, each in zip(weights, grid, strict=True))
    sigma = sum(weight * each[2] for weight, each in zip(weights, grid, strict=True))
    return prior + mean, variance, before, residual, float(sigma)


def _echoes(budgets: NDArray[Any], worths: NDArray[Any], prices: PriceList) -> bool:
    """Whether cards lie no further from their budgets than rounding to a whole cost leaves them."""
    steps = [float(later - earlier) for budget in prices.budgets.values() for earlier, later in zip(budget.by_cost, budget.by_cost[1:], strict=False)]
    steps += [float(budget.further) for budget in prices.budgets.values() if budget.further]
    if not steps:
        return False
    rounding = sum(map(abs, steps)) / len(steps) / sqrt(12)
    return bool(float(((budgets - worths) ** 2).mean()) ** 0.5 <= ECHO * rounding)
