"""The worth of each price row that played games imply: the second stage, after the lifts of cards.

A card's lift includes its cost, so that it estimates the verdict: lift = a (sum of worth x feature - budget),
where a converts points to points of win rate. Generalised least squares with the first stage's covariance and a
spread of cards about it (Aitken 1935; the spread by moments, DerSimonian and Laird 1986), with the declared
worths as a wide prior mean.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import sqrt
from typing import TYPE_CHECKING, Any

from dramok.core.balance.implied.worth_features import Features

if TYPE_CHECKING:
    from numpy.typing import NDArray

WIDE = 0.8
"""The spread of true worths about the declared ones, as a fraction of the `spread` of `Features`."""
SURE = 1.96
ROUNDS = 4
LEAST = 8


@dataclass(frozen=True)
class MeasuredRow:
    """Points of one unit by the games, with a 95 % interval; `share`, 0 to 1: the part of the estimate that
    comes from the games.
    """

    row: str
    worth: float
    low: float
    high: float
    share: float


@dataclass(frozen=True)
class MeasuredWorths:
    """`scale`: points of win rate per copy for one point of worth, with its 95 % interval.

    No rows if it can't be distinguished from 0.
    """

    rows: tuple[MeasuredRow, ...]
    scale: float
    low: float
    high: float


def measured_worths(known: Features, cards: Sequence[str], lifts: Sequence[float], covariance: NDArray[Any]) -> MeasuredWorths:
    """`cards` are those of the lifts (points of win rate, before pooling) and of their covariance, in the same
    order.
    """
    import numpy as np

    place = {card: number for number, card in enumerate(known.cards)}
    both = [(number, place[card]) for number, card in enumerate(cards) if card in place]
    if len(both) < LEAST:
        return MeasuredWorths((), 0.0, 0.0, 0.0)
    mine, theirs = [each[0] for each in both], [each[1] for each in both]
    lift, errors = np.array(lifts)[mine], np.array(covariance)[np.ix_(mine, mine)]
    x, budgets = known.x[theirs], known.budgets[theirs]
    used = np.flatnonzero(np.any(x != 0, axis=0))
    x, prior, spread = x[:, used], known.prior[used], known.spread[used] * WIDE
    verdicts = x @ prior - budgets
    scale, around = _line(verdicts, lift, errors)
    if scale - SURE * around <= 0:
        return MeasuredWorths((), scale, scale - SURE * around, scale + SURE * around)
    # The unknowns are worths times scale, the scale, and an intercept: all linear.
    design = np.hstack([x, -budgets[:, None], np.ones((len(lift), 1))])
    middle = np.concatenate([scale * prior, [scale, 0.0]])
    hold = np.diag([*(1 / (scale * spread) ** 2), 1 / scale**2, 1e-6])
    more = 0.0
    for _ in range(ROUNDS):
        weight = np.linalg.inv(errors + (more + 1e-6) * np.eye(len(lift)))
        precise = design.T @ weight @ design + hold
        bent = np.linalg.inv(precise)
        found = middle + bent @ design.T @ weight @ (lift - design @ middle)
        off = lift - design @ found
        free = max(1.0, len(lift) - float(np.trace(bent @ design.T @ weight @ design)))
        more = max(0.0, float(off @ off) / free - float(np.mean(np.diag(errors))))
    a = max(float(found[len(used)]), 1e-6)
    rows = []
    for number, column in enumerate(used):
        worth = float(found[number]) / a
        # The worth is a quotient: delta method.
        slope = np.zeros(len(found))
        slope[number], slope[len(used)] = 1 / a, -worth / a
        variance = float(slope @ bent @ slope)
        wide = SURE * sqrt(max(0.0, variance))
        share = max(0.0, 1 - variance / float(spread[number]) ** 2)
        rows.append(MeasuredRow(known.names[int(column)], worth, worth - wide, worth + wide, share))
    error = SURE * sqrt(float(bent[len(used), len(used)]))
    return MeasuredWorths(tuple(rows), a, a - error, a + error)


def _line(verdicts: NDArray[Any], lift: NDArray[Any], errors: NDArray[Any]) -> tuple[float, float]:
    """The slope of lifts by declared verdicts and its standard error, with a spread of cards about the line."""
    import numpy as np

    design = np.stack([verdicts, np.ones(len(lift))], axis=1)
    more = 0.0
    for _ in range(ROUNDS):
        weight = np.linalg.inv(errors + (more + 1e-6) * np.eye(len(lift)))
        bent = np.linalg.pinv(design.T @ weight @ design)
        found = bent @ design.T @ weight @ lift
        off = lift - design @ found
        more = max(0.0, float(off @ off) / max(1, len(lift) - 2) - float(np.mean(np.diag(errors))))
    return float(found[0]), sqrt(max(0.0, float(bent[0, 0])))


@dataclass(frozen=True)
class CardLenses:
    """One card by each lens, in points of worth over its budget; None without data.

    `apart`: the largest disagreement of two lenses, `surely` the part of it beyond chance at 95 % (0: none),
    `which` the two.
    """

    card: str
    declared: float | None
    implied: float | None
    measured: float | None
    error: float | None
    apart: float
    surely: float
    which: str


def side_by_side(
    declared: Mapping[str, float], implied: Mapping[str, float], lifts: Mapping[str, tuple[float, float]], scale: float, spread: float
) -> tuple[CardLenses, ...]:
    """The lenses of each card with any data, the most certain and largest disagreement first.

    `lifts`: lift and its standard error in points of win rate, converted to points by `scale` (0: unknown).
    `spread`: of cards about their implied worth, points.
    """
    rows = []
    for card in dict.fromkeys([*declared, *implied, *lifts]):
        one, two = declared.get(card), implied.get(card)
        lift = lifts.get(card) if scale > 0 else None
        three, error = (lift[0] / scale, lift[1] / scale) if lift else (None, None)
        pairs = []
        if one is not None and three is not None:
            pairs.append(("declared and measured", one - three, error or 0.0))
        if two is not None and three is not None:
            pairs.append(("implied and measured", two - three, sqrt((error or 0.0) ** 2 + spread**2)))
        if one is not None and two is not None:
            pairs.append(("declared and implied", one - two, spread))
        told = [(max(0.0, abs(apart) - SURE * wide), abs(apart), which) for which, apart, wide in pairs]
        surely, apart, which = max(told, default=(0.0, 0.0, ""))
        rows.append(CardLenses(card, one, two, three, error, apart, surely, which))
    return tuple(sorted(rows, key=lambda each: (-each.surely, -each.apart, each.card)))
