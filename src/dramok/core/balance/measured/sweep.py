"""A number of a card, or a worth, over a range: the win rate of the side that has it, by the same games for each value."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import sqrt

from dramok.core.balance.measured.lift import SURE


@dataclass(frozen=True)
class SweepPoint:
    """Win rate in percent with its 95 % interval; `more`: points more than at the value as it is now, by the same games, so that
    most of the chance cancels out, with its interval."""

    value: float
    rate: float
    low: float
    high: float
    more: float
    more_low: float
    more_high: float


def swept(values: Sequence[float], won: Sequence[Sequence[float]], now: int) -> tuple[SweepPoint, ...]:
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
    None where the interval reaches to the end of the range."""

    value: float
    low: float | None
    high: float | None


def fair_value(points: Sequence[SweepPoint], now: float) -> Fair | None:
    """Where the win rates, joined by straight lines, cross a half, nearest to the value that the card has; else the value that comes nearest
    to a half where its interval holds one. Its interval is where those of the rates hold a half. None where none does, or all do: then games
    do not tell one value from another."""
    holds = [point.low <= HALF <= point.high for point in points]
    if len(points) < 2 or all(holds):
        return None
    found = [crossing for one, other in zip(points, points[1:], strict=False) if (crossing := _crossing(one.value, one.rate, other.value, other.rate)) is not None]
    if found:
        value = min(found, key=lambda each: abs(each - now))
    elif any(holds):
        value = float(min((point for point, held in zip(points, holds, strict=True) if held), key=lambda each: abs(each.rate - HALF)).value)
    else:
        return None
    return Fair(value, _edge(points, value, -1), _edge(points, value, 1))


HALF = 50.0


def _crossing(x: float, y: float, x2: float, y2: float) -> float | None:
    """Where a line crosses a half between two points; None where it does not."""
    if (y - HALF) * (y2 - HALF) > 0 or y == y2:
        return None
    return x + (HALF - y) / (y2 - y) * (x2 - x)


def _edge(points: Sequence[SweepPoint], value: float, way: int) -> float | None:
    """How far from a value the interval of the rates goes on to hold a half; None where it does to the end of the range."""
    walked = [each for each in (points if way > 0 else reversed(points)) if (each.value - value) * way >= 0]
    before = next((each for each in (reversed(points) if way > 0 else points) if (each.value - value) * way < 0), None)
    for one, other in zip([before, *walked] if before else walked, walked if before else walked[1:], strict=False):
        assert one is not None
        for bound in ("low", "high"):
            edge = _crossing(one.value, getattr(one, bound), other.value, getattr(other, bound))
            if edge is not None and (edge - value) * way >= 0:
                return edge
    return None
