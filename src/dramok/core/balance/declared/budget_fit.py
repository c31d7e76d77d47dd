"""Fits a budget to existing cards: the points that each cost buys now, as values that never fall."""

from __future__ import annotations

from collections.abc import Iterable
from decimal import ROUND_HALF_EVEN, Decimal
from statistics import median

from dramok.core.balance.declared.prices import MOST_POINTS, Budget

GRAIN = Decimal("0.25")
"""Fitted budgets are multiples of this number of points."""
MOST_COSTS = 40


def fitted_budget(cards: Iterable[tuple[int, Decimal]], rarity: dict[str, Decimal] | None = None) -> Budget | None:
    """The budget that fits cards given as (cost, worth without the allowance of their rarity); None without a
    card of cost 0 to 39.

    At each cost it is the median worth; if a higher cost is worth less, the costs are pooled, weighted by their
    cards (isotonic regression by pooling adjacent violators, Ayer et al. 1955). Costs without a card are
    interpolated, or extrapolated at the ends, not below 0 before the first card. Points are limited to what a
    budget can hold.
    """
    by_cost: dict[int, list[Decimal]] = {}
    for cost, worth in cards:
        if 0 <= cost < MOST_COSTS:
            by_cost.setdefault(cost, []).append(worth)
    if not by_cost:
        return None
    known = dict(zip(sorted(by_cost), _rising([(median(by_cost[cost]), len(by_cost[cost])) for cost in sorted(by_cost)]), strict=True))
    costs = list(known)
    slope = (known[costs[-1]] - known[costs[0]]) / (costs[-1] - costs[0]) if len(costs) > 1 else Decimal(0)
    table = [_grained(_between(known, costs, cost, slope)) for cost in range(costs[-1] + 1)]
    return Budget(by_cost=tuple(table), further=_grained(slope), rarity=rarity or {})


def _rising(weighted: list[tuple[Decimal, int]]) -> list[Decimal]:
    """Values that never fall, closest to the given (value, weight) by weighted squares."""
    pools: list[tuple[Decimal, int, int]] = []
    for value, weight in weighted:
        pools.append((value, weight, 1))
        while len(pools) > 1 and pools[-2][0] > pools[-1][0]:
            (low, light, few), (high, heavy, many) = pools[-2:]
            pools[-2:] = [((low * light + high * heavy) / (light + heavy), light + heavy, few + many)]
    return [value for value, _, size in pools for _ in range(size)]


def _between(known: dict[int, Decimal], costs: list[int], cost: int, slope: Decimal) -> Decimal:
    if cost in known:
        return known[cost]
    if cost < costs[0]:
        return max(min(Decimal(0), known[costs[0]]), known[costs[0]] - slope * (costs[0] - cost))
    before = max(each for each in costs if each < cost)
    after = min(each for each in costs if each > cost)
    return known[before] + (known[after] - known[before]) * (cost - before) / (after - before)


def _grained(value: Decimal) -> Decimal:
    """The nearest multiple of the grain that a budget can hold."""
    held = max(Decimal(-MOST_POINTS), min(Decimal(MOST_POINTS), value))
    return (held / GRAIN).quantize(Decimal(1), ROUND_HALF_EVEN) * GRAIN
