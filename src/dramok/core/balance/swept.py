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


@dataclass(frozen=True)
class Fair:
    """The value at which the side wins half of its games, between the values that were played, with a 95 % interval; `low` and `high` are
    None where the interval reaches beyond the range."""

    value: float
    low: float | None
    high: float | None


def fair_value(values: Sequence[int], won: Sequence[Sequence[float]]) -> Fair | None:
    """Where a straight line through the win rates (least squares, game by game, so that what the same shuffles share counts once) crosses a
    half; by Fieller's theorem (1954) for its interval. None where the rates do not rise or fall with the value, or cross nowhere near."""
    games = len(won[0]) if won else 0
    if len(values) < 2 or games < 2:
        return None
    middle = sum(values) / len(values)
    width = sum((each - middle) ** 2 for each in values)
    # Of every game its own slope and mean over the values: independent from game to game.
    slopes = [sum((value - middle) * (row[game] - 0.5) for value, row in zip(values, won, strict=True)) / width for game in range(games)]
    means = [sum(row[game] for row in won) / len(values) - 0.5 for game in range(games)]
    slope, mean = sum(slopes) / games, sum(means) / games
    vs = sum((each - slope) ** 2 for each in slopes) / (games - 1) / games
    vm = sum((each - mean) ** 2 for each in means) / (games - 1) / games
    both = sum((a - slope) * (b - mean) for a, b in zip(slopes, means, strict=True)) / (games - 1) / games
    sure = slope**2 - SURE**2 * vs
    if sure <= 0:
        return None
    root = middle - mean / slope
    reach = values[-1] - values[0]
    if not values[0] - reach <= root <= values[-1] + reach:
        return None
    # (mean + slope x)^2 <= SURE^2 var(mean + slope x), for x from the middle.
    b = mean * slope - SURE**2 * both
    c = mean**2 - SURE**2 * vm
    under = max(0.0, b * b - sure * c)
    low, high = middle + (-b - sqrt(under)) / sure, middle + (-b + sqrt(under)) / sure
    return Fair(root, low if low >= values[0] - reach else None, high if high <= values[-1] + reach else None)
