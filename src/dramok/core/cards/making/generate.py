"""Generate many cards: variants of one card, or cards drawn from ranges by a seed."""

from __future__ import annotations

import hashlib
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from itertools import accumulate, product

from dramok.core.problem import Problem, plural

MOST_CARDS = 500
MOST_TRIES = 200


class CannotGenerate(ValueError):
    """The request can't be satisfied; `problem` has the reason."""

    def __init__(self, where: str, what: str, mend: str) -> None:
        super().__init__(what)
        self.problem = Problem(where=where, what=what, mend=mend)


@dataclass(frozen=True)
class Range:
    """A number field drawn from `least` to `most`, each whole number with equal probability."""

    field: str
    least: int
    most: int


@dataclass(frozen=True)
class OneOf:
    """A choice field drawn from values with equal probability; a repeated value counts once."""

    field: str
    values: tuple[str, ...]


@dataclass(frozen=True)
class Recipe:
    """`total_least` to `total_most` bound the sum of all ranges; with `distinct`, no two cards are equal."""

    count: int
    seed: int
    ranges: tuple[Range, ...] = ()
    picks: tuple[OneOf, ...] = ()
    total_least: int | None = None
    total_most: int | None = None
    distinct: bool = True


def steps(first: int, count: int, step: int, least: int, most: int) -> list[int]:
    """The numbers of `count` variants. Raises CannotGenerate if one is out of the field's bounds."""
    if not 1 <= count <= MOST_CARDS:
        raise CannotGenerate("count", f"{count} variants", f"ask for 1 to {MOST_CARDS}")
    numbers = [first + step * index for index in range(count)]
    if any(not least <= number <= most for number in numbers):
        raise CannotGenerate(
            "step",
            f"the numbers would run from {numbers[0]} to {numbers[-1]}",
            f"stay between {least} and {most}",
        )
    return numbers


def generate(recipe: Recipe) -> list[dict[str, int | str]]:
    """The values of each card by field id. The same recipe gives the same cards on every machine.

    Every combination with a total within bounds has equal probability. Raises CannotGenerate.
    """
    _check(recipe)
    recipe = replace(recipe, picks=tuple(replace(each, values=tuple(dict.fromkeys(each.values))) for each in recipe.picks))
    least = (
        recipe.total_least if recipe.total_least is not None else sum(each.least for each in recipe.ranges)
    )
    most = recipe.total_most if recipe.total_most is not None else sum(each.most for each in recipe.ranges)
    ways = _ways(recipe.ranges, least, most)
    if not ways[0].get(0):
        lowest, highest = sum(each.least for each in recipe.ranges), sum(each.most for each in recipe.ranges)
        raise CannotGenerate(
            "total",
            f"no numbers in these ranges sum to {least} to {most}",
            f"they can sum to {lowest} to {highest}",
        )
    chance = _Chance(recipe.seed)
    found: list[dict[str, int | str]] = []
    seen: set[tuple[int | str, ...]] = set()
    tries = 0
    while len(found) < recipe.count:
        card: dict[str, int | str] = dict(_numbers(recipe.ranges, ways, chance))
        card |= {pick.field: pick.values[chance.below(len(pick.values))] for pick in recipe.picks}
        key = tuple(card.values())
        tries = tries + 1 if key in seen else 0
        if tries > MOST_TRIES and recipe.distinct:
            # After this many repeats in a row, few combinations are left: enumerate them.
            found += _others(recipe, ways, seen, recipe.count - len(found), chance)
            break
        if not recipe.distinct or key not in seen:
            seen.add(key)
            found.append(card)
    return found


def _others(
    recipe: Recipe, ways: Sequence[dict[int, int]], seen: set[tuple[int | str, ...]], count: int, chance: _Chance
) -> Iterator[dict[str, int | str]]:
    """A number of cards that are not in `seen`. Raises CannotGenerate if there are fewer."""
    names = [*(each.field for each in recipe.ranges), *(each.field for each in recipe.picks)]
    left = [key for key in _every(recipe, ways) if key not in seen]
    if count > len(left):
        raise CannotGenerate(
            "count",
            f"there {'is' if len(left) + len(seen) == 1 else 'are'} only {plural(len(left) + len(seen), 'different card')}",
            "widen the ranges, ask for fewer, or allow the same card twice",
        )
    for _ in range(count):
        yield dict(zip(names, left.pop(chance.below(len(left))), strict=True))


def _every(recipe: Recipe, ways: Sequence[dict[int, int]]) -> Iterator[tuple[int | str, ...]]:
    """Every combination with a total within bounds."""
    begun: list[tuple[tuple[int, ...], int]] = [((), 0)]
    for index, each in enumerate(recipe.ranges):
        begun = [
            ((*numbers, number), total + number)
            for numbers, total in begun
            for number in range(each.least, each.most + 1)
            if ways[index + 1].get(total + number)
        ]
    for numbers, _ in begun:
        for chosen in product(*(each.values for each in recipe.picks)):
            yield (*numbers, *chosen)


def _check(recipe: Recipe) -> None:
    if not 1 <= recipe.count <= MOST_CARDS:
        raise CannotGenerate("count", f"{recipe.count} cards", f"ask for 1 to {MOST_CARDS}")
    if not recipe.ranges and not recipe.picks:
        raise CannotGenerate("fields", "no field is to be drawn", "choose at least one field")
    for each in recipe.ranges:
        if each.least > each.most or each.most - each.least > 1_000:
            raise CannotGenerate(
                each.field,
                f"{each.least} to {each.most} is not a range",
                "write the lower number first, at most 1,000 apart",
            )
    named = [*(each.field for each in recipe.ranges), *(each.field for each in recipe.picks)]
    twice = next((each for each in named if named.count(each) > 1), None)
    if twice is not None:
        raise CannotGenerate(twice, "it is to be drawn twice", "name it once")
    if any(not pick.values for pick in recipe.picks):
        raise CannotGenerate("fields", "a choice has no values to draw from", "tick at least one")
    if len(recipe.ranges) > 20:
        raise CannotGenerate("fields", "too many number fields", "draw at most 20")


def _ways(ranges: Sequence[Range], least: int, most: int) -> list[dict[int, int]]:
    """`ways[i][sum so far]`: the number of ways in which ranges i onwards bring the total within bounds.

    Computed backwards, each as the difference of two running sums.
    """
    lowest = list(accumulate((each.least for each in ranges), initial=0))
    highest = list(accumulate((each.most for each in ranges), initial=0))
    ways: list[dict[int, int]] = [{} for _ in range(len(ranges) + 1)]
    ways[-1] = {total: 1 for total in range(max(least, lowest[-1]), min(most, highest[-1]) + 1)}
    for index in range(len(ranges) - 1, -1, -1):
        after, each = ways[index + 1], ranges[index]
        first = lowest[index + 1]
        running = list(accumulate((after.get(total, 0) for total in range(first, highest[index + 1] + 1)), initial=0))
        ways[index] = {
            total: count
            for total in range(lowest[index], highest[index] + 1)
            if (count := running[total + each.most + 1 - first] - running[total + each.least - first])
        }
    return ways


def _numbers(
    ranges: Sequence[Range], ways: Sequence[dict[int, int]], chance: _Chance
) -> Iterator[tuple[str, int]]:
    total = 0
    for index, each in enumerate(ranges):
        place = chance.below(ways[index][total])
        for number in range(each.least, each.most + 1):
            count = ways[index + 1].get(total + number, 0)
            if place < count:
                yield each.field, number
                total += number
                break
            place -= count


class _Chance:
    """Random numbers of any size from a seed: SHA-256 over seed and counter, the same on every machine."""

    def __init__(self, seed: int) -> None:
        self.seed, self.count = seed, 0

    def below(self, limit: int) -> int:
        """0 to limit - 1. 256 bits against limits far below them: the bias is under 2**-100."""
        self.count += 1
        return int.from_bytes(hashlib.sha256(f"{self.seed}:{self.count}".encode()).digest()) % limit
