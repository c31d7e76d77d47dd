"""Sweep a number of a card, or a worth, over a range: win rates with the same games for each value."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import sqrt

from dramok.core.balance.measured.lift import SURE


@dataclass(frozen=True)
class SweepPoint:
    """Win rate in percent with its 95 % interval; `more`: points above the current value in the same games,
    which cancels most of the chance, with its interval.
    """

    value: float
    rate: float
    low: float
    high: float
    more: float
    more_low: float
    more_high: float


def sweep_points(values: Sequence[float], won: Sequence[Sequence[float]], now: int) -> tuple[SweepPoint, ...]:
    """`won`: for each value, game by game in the same order, 1 if the side with the card won, 0.5 for a draw.

    `now` is the index of the current value.
    """
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
    """The value at which the side wins half of its games, interpolated, with a 95 % interval; `low` and `high`
    are None if the interval reaches the end of the range.
    """

    value: float
    low: float | None
    high: float | None


def fair_value(points: Sequence[SweepPoint], now: float) -> Fair | None:
    """Where the interpolated win rates cross one half, nearest to the current value; otherwise the value
    nearest to one half whose interval contains it. The result's interval is where those of the rates contain
    one half. None if none does, or all do: games then do not distinguish the values.
    """
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
    """Where the line between two points crosses one half; None if it does not."""
    if (y - HALF) * (y2 - HALF) > 0 or y == y2:
        return None
    return x + (HALF - y) / (y2 - y) * (x2 - x)


def _edge(points: Sequence[SweepPoint], value: float, way: int) -> float | None:
    """The distance from a value over which the intervals contain one half; None if up to the end of the range."""
    walked = [each for each in (points if way > 0 else reversed(points)) if (each.value - value) * way >= 0]
    before = next((each for each in (reversed(points) if way > 0 else points) if (each.value - value) * way < 0), None)
    for one, other in zip([before, *walked] if before else walked, walked if before else walked[1:], strict=False):
        assert one is not None
        for bound in ("low", "high"):
            edge = _crossing(one.value, getattr(one, bound), other.value, getattr(other, bound))
            if edge is not None and (edge - value) * way >= 0:
                return edge
    return None
