"""A number of a card over a range: the win rate of the side that has it, by the same games for each value."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import sqrt

from dramok.core.balance.measured import SURE


@dataclass(frozen=True)
class SweepPoint:
    """Win rate in percent with its 95 % interval; `more`: points more than at the value that the card has, by the same games, so that
    most of the chance cancels out, with its interval."""

    value: int
    rate: float
    low: float
    high: float
    more: float
    more_low: float
    more_high: float


def swept(values: Sequence[int], won: Sequence[Sequence[float]], now: int) -> tuple[SweepPoint, ...]:
    """`won`: for each value, game by game in the same order, 1 where the side with the card won, a half for a draw. `now` is the place of
    the value that the card has."""
    base = won[now]
    points = []
    for value, games in zip(values, won, strict=True):
        rate, about = _mean(games)
        more, around = _mean([one - other for one, other in zip(games, base, strict=True)])
        points.append(SweepPoint(value, 100 * rate, 100 * (rate - about), 100 * (rate + about), 100 * more, 100 * (more - around), 100 * (more + around)))
    return tuple(points)


def _mean(numbers: Sequence[float]) -> tuple[float, float]:
    """The mean, and half the width of its 95 % interval."""
    count = len(numbers)
    mean = sum(numbers) / count
    spread = sum((each - mean) ** 2 for each in numbers) / max(1, count - 1)
    return mean, SURE * sqrt(spread / count)
