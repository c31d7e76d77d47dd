"""The worth of each price row that the costs of a list of cards imply.

Each card is one equation: its budget, in points and fixed, is the sum of its features times the worths. The
declared worths are the prior mean of a linear model with normal errors (Lindley and Smith 1972), averaged over
a grid of the spread of worths about the declared ones (tau) and of cards about their budget (sigma), weighted
by evidence. Residuals are leave-one-out, e / (1 - h) (Allen 1974).
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from itertools import product
from math import exp, sqrt
from typing import TYPE_CHECKING, Any

from dramok.core.balance.declared.prices import PriceList
from dramok.core.balance.implied.worth_features import Features, features
from dramok.core.cards import Card
from dramok.core.rulebook import Rulebook

if TYPE_CHECKING:
    from numpy.typing import NDArray

TAUS = (0.1, 0.2, 0.4, 0.8, 1.6)
"""Spreads of the true worths about the declared ones, as fractions of the `spread` of `Features`."""
SIGMAS = (0.25, 0.5, 1.0, 2.0, 4.0)
"""Spreads of cards about their budgets, in points."""
INFORMED = 0.3
SURE = 1.96
ECHO = 1.25
LEAST = 3


@dataclass(frozen=True)
class ImpliedRow:
    """`row` is a price row's id, or `stat:` and a field's; `declared` the points of one unit (None: undecided),
    `implied` the same by the costs with its 95 % interval; `share`, 0 to 1: the part of the estimate that
    comes from the cards; `flips`: the sign by the costs is the opposite.
    """

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
    """`residual`: points of the card over its budget, by worths that the other cards imply."""

    card: str
    residual: float


@dataclass(frozen=True)
class Implied:
    """`left_out`: the number of cards that can't be used: unwritten text, no cost, or an unpriced effect.

    `echo`: cards are so close to their budgets that the costs were probably set from the declared worths.
    `spread`: of cards about their budgets, in points.
    """

    rows: tuple[ImpliedRow, ...]
    cards: tuple[ImpliedCard, ...]
    left_out: int
    echo: bool
    spread: float


def implied(cards: Iterable[Card], rulebook: Rulebook, prices: PriceList) -> Implied:
    """For any list of priced cards that this rulebook can read."""
    return implied_by(features(cards, rulebook, prices), prices)


def implied_by(known: Features, prices: PriceList) -> Implied:
    """The same from known features."""
    import numpy as np

    if len(known.cards) < LEAST or not known.names:
        return Implied((), (), known.left_out + len(known.cards), False, 0.0)
    x, y, prior = known.x, known.budgets, known.prior
    mean, variance, before, residual, sigma = _averaged(x, y, prior, known.spread)
    found_rows = []
    for number, name in enumerate(known.names):
        value, wide = float(mean[number]), SURE * sqrt(float(variance[number]))
        share = max(0.0, 1 - float(variance[number] / before[number]))
        flips = share >= INFORMED and float(prior[number]) * value < 0
        found_rows.append(ImpliedRow(name, known.declared[number], value, value - wide, value + wide, share, flips, int(np.count_nonzero(x[:, number]))))
    told = tuple(ImpliedCard(card, float(each)) for card, each in zip(known.cards, residual, strict=True))
    return Implied(tuple(found_rows), told, known.left_out, _echoes(y, x @ prior, prices), sigma)


def _averaged(x: NDArray[Any], y: NDArray[Any], prior: NDArray[Any], spread: NDArray[Any]) -> tuple[Any, Any, Any, Any, float]:
    """Mean and variance of the worths, their prior variance, leave-one-out residuals, and the likely sigma."""
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
        # log evidence, by the matrix determinant lemma and Woodbury's identity
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
    """Whether cards are as close to their budgets as rounding to a whole cost allows."""
    steps = [float(later - earlier) for budget in prices.budgets.values() for earlier, later in zip(budget.by_cost, budget.by_cost[1:], strict=False)]
    steps += [float(budget.further) for budget in prices.budgets.values() if budget.further]
    if not steps:
        return False
    rounding = sum(map(abs, steps)) / len(steps) / sqrt(12)
    return bool(float(((budgets - worths) ** 2).mean()) ** 0.5 <= ECHO * rounding)
