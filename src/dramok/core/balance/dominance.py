"""Cards that another does everything better than, and cards that are nearly the same.

A card is dominated where another of its type, of its faction or of one that every deck may have, costs no more, has every stat at least as
high, every line of it at least as good, and no drawback that the first has not; and is better in one of these. (Pareto 1906: the order in
which one thing is above another in no way below it.)
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Iterable, Sequence
from dataclasses import dataclass

from dramok.core.balance.comparable import Comparable, Effect

MOST_BETTER = 3
"""So many of the cards that dominate one are named."""
CLOSE = 1.0
MOST_TWINS = 500


@dataclass(frozen=True)
class Dominated:
    """`better` (ids): some that dominate the card, strong ones first; `reason`: in what the first of them is better."""

    card: str
    better: tuple[str, ...]
    reason: str


@dataclass(frozen=True)
class Twins:
    """Two cards (ids) of one type with the same lines, and what differs, in words; nothing where they are the same."""

    one: str
    other: str
    differs: str


Best = dict[str, list[tuple[float, ...]]]


def dominates(one: Comparable, other: Comparable, free: Collection[str] = ("",)) -> bool:
    """Whether `one` is in nothing below `other`, and above it in something. `free`: factions that every deck may have."""
    if one.type != other.type or (one.faction != other.faction and one.faction not in free):
        return False
    if not _covers(one, other) or not _effects_cover(one.effects, other.effects):
        return False
    return (one.cost, one.stats) != (other.cost, other.stats) or one.effects != other.effects


def dominated(cards: Sequence[Comparable], names: Sequence[str], free: Collection[str] = ("",)) -> list[Dominated]:
    """Every card that is dominated, by the order of `cards`. `names` are the names of the stats.

    Cards with the very same lines are one class. Of a class only those count that none of it is above in cost and stats: few, so that the
    time grows with the cards and not with their pairs.
    """
    classes = _classes(cards)
    above: dict[_Class, tuple[list[Comparable], list[Comparable]]] = {}
    found = []
    for card in cards:
        its = (card.type, card.faction, card.effects)
        if its not in above:
            above[its] = _above(its, classes, free)
        same, more = above[its]
        better = [each for each in same if _covers(each, card) and (each.cost, each.stats) != (card.cost, card.stats)]
        better += [each for each in more if _covers(each, card)]
        if better:
            found.append(Dominated(card.card, tuple(each.card for each in better[:MOST_BETTER]), reason(better[0], card, names)))
    return found


_Class = tuple[str, str, tuple[Effect, ...]]
_Pools = dict[tuple[str, str], tuple[dict[tuple[Effect, ...], list[Comparable]], dict[str, list[tuple[Effect, ...]]]]]


def _classes(cards: Sequence[Comparable]) -> _Pools:
    """By type and faction: the front of each class of lines, and the classes that have each shape."""
    held: dict[tuple[str, str], dict[tuple[Effect, ...], list[Comparable]]] = defaultdict(lambda: defaultdict(list))
    for card in cards:
        held[card.type, card.faction][card.effects].append(card)
    pools: _Pools = {}
    for pool, classes in held.items():
        having: dict[str, list[tuple[Effect, ...]]] = defaultdict(list)
        for effects in classes:
            for shape in {each.shape for each in effects}:
                having[shape].append(effects)
        pools[pool] = ({effects: _front(those) for effects, those in classes.items()}, having)
    return pools


def _above(its: _Class, pools: _Pools, free: Collection[str]) -> tuple[list[Comparable], list[Comparable]]:
    """The fronts of the cards with the same lines, and of those with better ones, strongest first."""
    type_, faction, effects = its
    same: list[Comparable] = []
    more: list[Comparable] = []
    needed = {each.shape for each in effects if each.kind != "drawback"}
    for other in dict.fromkeys([faction, *free]):
        classes, having = pools.get((type_, other), ({}, {}))
        candidates = min([classes, *[having.get(shape, []) for shape in needed]], key=len)
        for each in candidates:
            if each == effects:
                same += classes[each]
            elif _effects_cover(each, effects):
                more += classes[each]
    return _front(same), _front(more)


def _front(cards: Iterable[Comparable]) -> list[Comparable]:
    """Those that none is above in cost and stats, one of those that are alike in both; strongest first."""
    front: list[Comparable] = []
    for card in sorted(cards, key=lambda each: (-_strength(each), each.card)):
        if not any(_covers(each, card) for each in front):
            front.append(card)
    return front


def _covers(one: Comparable, other: Comparable) -> bool:
    return (one.cost or 0) <= (other.cost or 0) and _stats_cover(one.stats, other.stats)


def _strength(card: Comparable) -> float:
    """Falls from a card to those that it is above in cost and stats."""
    return sum(each or 0 for each in card.stats) - (card.cost or 0)


def _stats_cover(one: Sequence[float | None], other: Sequence[float | None]) -> bool:
    for mine, theirs in zip(one, other, strict=True):
        if theirs is None:
            if mine is not None and mine < 0:
                return False
        elif mine is None or mine < theirs:
            return False
    return True


def _effects_cover(mine: Sequence[Effect], theirs: Sequence[Effect]) -> bool:
    if mine == theirs:
        return True
    one, other = _by_shape(mine), _by_shape(theirs)
    kinds = {each.shape: each.kind for each in (*mine, *theirs)}
    for shape, kind in kinds.items():
        here, there = one.get(shape, []), other.get(shape, [])
        # Each helpful line of theirs needs one of mine as good, each harmful line of mine one of theirs as bad.
        if kind != "drawback" and len(here) < len(there) or kind != "benefit" and len(here) > len(there):
            return False
        fewer, more = (there, here) if kind != "drawback" else (here, there)
        if not _matched(fewer, more, better=kind != "drawback"):
            return False
    return True


def _by_shape(effects: Iterable[Effect]) -> Best:
    found: Best = {}
    for each in effects:
        found.setdefault(each.shape, []).append(each.amounts)
    return found


def _matched(fewer: Sequence[tuple[float, ...]], more: Sequence[tuple[float, ...]], better: bool) -> bool:
    """Whether each of `fewer` has one of its own in `more` that is at least as good (or, not `better`, at most): by paths on which those that
    have one already make room (Kuhn 1955), so that lines of one shape take the time of their pairs and not of their orders."""

    def good(mine: tuple[float, ...], theirs: tuple[float, ...]) -> bool:
        return all(one >= other if better else one <= other for one, other in zip(theirs, mine, strict=True))

    has: dict[int, int] = {}

    def placed(number: int, tried: set[int]) -> bool:
        for place, each in enumerate(more):
            if place in tried or not good(fewer[number], each):
                continue
            tried.add(place)
            if place not in has or placed(has[place], tried):
                has[place] = number
                return True
        return False

    return all(placed(number, set()) for number in range(len(fewer)))


def reason(one: Comparable, other: Comparable, names: Sequence[str]) -> str:
    """In what `one` is better, in a few words."""
    said = []
    if (one.cost or 0) < (other.cost or 0):
        said.append(f"costs {one.cost} instead of {other.cost}")
    for name, mine, theirs in zip(names, one.stats, other.stats, strict=True):
        if mine is not None and mine != theirs:
            said.append(f"{name.lower()} {abs(mine):g}" + (f" instead of {abs(theirs):g}" if theirs is not None else ""))
    mine_by, theirs_by = _by_shape(one.effects), _by_shape(other.effects)
    for effect in one.effects:
        rest = theirs_by.get(effect.shape)
        if not rest:
            said.append(f"also: {effect.said}")
        elif effect.amounts not in rest:
            said.append(f"{effect.said} instead of {next(each.said for each in other.effects if each.shape == effect.shape)}")
    said += [f"without: {effect.said}" for effect in other.effects if effect.shape not in mine_by]
    return ", ".join(said)


def twins(cards: Sequence[Comparable], names: Sequence[str], close: float = CLOSE) -> list[Twins]:
    """Pairs of one type whose lines have the same shapes and whose numbers, all together, differ by no more than `close`.

    Each card is paired with its nearest neighbours one step away in one number, so that the time grows with the cards and not with their pairs.
    """
    groups: dict[tuple[object, ...], dict[tuple[float, ...], list[Comparable]]] = defaultdict(lambda: defaultdict(list))
    for card in cards:
        bare = tuple(each is None for each in card.stats)
        groups[(card.type, card.shapes, bare)][_numbers(card)].append(card)
    found: list[Twins] = []
    for group in groups.values():
        for numbers, here in group.items():
            for place, one in enumerate(here):
                found += [Twins(one.card, other.card, "") for other in here[place + 1 :]]
                if len(found) >= MOST_TWINS:
                    return found[:MOST_TWINS]
            for place in range(len(numbers)):
                beside = (*numbers[:place], numbers[place] + close, *numbers[place + 1 :])
                for one in here:
                    found += [Twins(one.card, other.card, _differs(one, other, names)) for other in group.get(beside, ())]
            if len(found) >= MOST_TWINS:
                return found[:MOST_TWINS]
    return found


def _numbers(card: Comparable) -> tuple[float, ...]:
    return (float(card.cost or 0), *[each or 0.0 for each in card.stats], *[amount for each in card.effects for amount in each.amounts])


def _differs(one: Comparable, other: Comparable, names: Sequence[str]) -> str:
    if one.cost != other.cost:
        return f"cost {one.cost} and {other.cost}"
    for name, mine, theirs in zip(names, one.stats, other.stats, strict=True):
        if mine != theirs:
            return f"{name.lower()} {abs(mine or 0):g} and {abs(theirs or 0):g}"
    return next((f"{mine.said} and {theirs.said}" for mine, theirs in zip(one.effects, other.effects, strict=True) if mine.amounts != theirs.amounts), "")
