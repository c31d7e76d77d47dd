"""Cards that another card dominates, and near-identical cards.

A card is dominated if another one of its type, and of its faction or one that every deck can have, costs no
more, has every stat at least as high, every line at least as good, no additional drawback, and is better in one
of these (Pareto 1906).
"""

from __future__ import annotations

from bisect import bisect_left
from collections import defaultdict
from collections.abc import Collection, Iterable, Iterator, Sequence
from dataclasses import dataclass
from math import inf

from dramok.core.balance.comparable import Comparable, Effect, Kind

MOST_BETTER = 3
"""The number of dominating cards that are named."""
CLOSE = 1.0
MOST_TWINS = 500


@dataclass(frozen=True)
class Dominated:
    """`better` (ids): some cards that dominate it, strong ones first; `reason`: where the first one is better."""

    card: str
    better: tuple[str, ...]
    reason: str


@dataclass(frozen=True)
class Twins:
    """Two cards (ids) of one type with the same lines, and their differences in words; empty if identical."""

    one: str
    other: str
    differs: str


Best = dict[str, list[tuple[float, ...]]]


def dominates(one: Comparable, other: Comparable, free: Collection[str] = ("",)) -> bool:
    """Whether `one` is nowhere below `other`, and above it somewhere. `free`: factions that every deck can have."""
    if one.type != other.type or (one.faction != other.faction and one.faction not in free):
        return False
    if not _covers(one, other) or not _effects_cover(one.effects, other.effects):
        return False
    return (one.cost, one.stats) != (other.cost, other.stats) or one.effects != other.effects


def dominated(cards: Sequence[Comparable], names: Sequence[str], free: Collection[str] = ("",)) -> list[Dominated]:
    """Every dominated card, in the order of `cards`. `names` are the names of the stats.

    For each number, the set of cards that reach it is precomputed, so that a card is compared with all others
    at once.
    """
    standing = _Standing(cards)
    found = []
    for card in cards:
        better = standing.better(card, free)
        if better:
            found.append(Dominated(card.card, tuple(each.card for each in better), reason(better[0], card, names)))
    return found


_Column = tuple[object, ...]
_Bits = int
"""A set of cards as bits, ordered by strength."""


class _Standing:
    """Index of cards: for each number of a column the cards with at least that much (`columns`), and those that
    share a type, a faction, lines, a harm, or everything (`sharing`).
    """

    def __init__(self, cards: Sequence[Comparable]) -> None:
        self.cards = sorted(cards, key=lambda each: (-_strength(each), each.card))
        self.columns: dict[_Column, dict[float, _Bits]] = {}
        self.sharing: dict[tuple[object, ...], _Bits] = defaultdict(int)
        self.harms: list[frozenset[str]] = []
        self.harmless: _Bits = 0
        self._bounded: dict[frozenset[str], _Bits] = {}
        self._least: dict[_Column, list[float]] = {}
        rows: dict[_Column, dict[float, _Bits]] = defaultdict(lambda: defaultdict(int))
        for place, card in enumerate(self.cards):
            bit = 1 << place
            for shared in (("type", card.type), ("faction", card.faction), ("lines", card.effects), _alike(card)):
                self.sharing[shared] |= bit
            for column, number in _numbers_of(card):
                rows[column][number] |= bit
            harms = frozenset(each.shape for each in card.effects if each.kind != "benefit")
            self.harms.append(harms)
            self.harmless |= 0 if harms else bit
            for shape in harms:
                self.sharing["harm", shape] |= bit
        for column, held in rows.items():
            self._least[column] = sorted(held)
            more, as_much = 0, {}
            for number in reversed(self._least[column]):
                more |= held[number]
                as_much[number] = more
            self.columns[column] = as_much

    def at_least(self, column: _Column, number: float) -> _Bits:
        """The cards with at least this much; none for an unknown column."""
        known = self._least.get(column, [])
        place = bisect_left(known, number)
        return self.columns[column][known[place]] if place < len(known) else 0

    def better(self, card: Comparable, free: Collection[str]) -> list[Comparable]:
        """Some cards that dominate a card: those with the same lines first, each group by strength."""
        bits = self.sharing["type", card.type] & ~self.sharing[_alike(card)]
        homes = 0
        for faction in {card.faction, *free}:
            homes |= self.sharing.get(("faction", faction), 0)
        bits &= homes & self.at_least(("cost",), -(card.cost or 0))
        for place, stat in enumerate(card.stats):
            if stat is None:
                # A card without the number counts as 0; a negative number is worse.
                bits &= ~(self.at_least(("stat", place), -inf) & ~self.at_least(("stat", place), 0))
            else:
                bits &= self.at_least(("stat", place), stat)
        sure, kinds = True, _kinds(card.effects)
        for shape, amounts in _by_shape(card.effects).items():
            kind, count = kinds[shape], len(amounts)
            # The best of each amount may come from different lines: those are compared line by line.
            sure &= len(amounts[0]) < 2 or count < 2 and kind != "benefit"
            if kind != "drawback":
                bits &= self.at_least(("count", shape), count)
            if kind != "benefit":
                bits &= ~self.at_least(("count", shape), count + 1)
            for column, number in _amounts_of(shape, kind, amounts):
                as_good = self.at_least(column, number)
                bits &= as_good if kind != "drawback" else as_good | ~self.at_least(column, -inf)
        bits &= self._no_more_harm(frozenset(each.shape for each in card.effects if each.kind != "benefit"))
        found: list[Comparable] = []
        same = self.sharing["lines", card.effects]
        for some in (bits & same, bits & ~same):
            while some and len(found) < MOST_BETTER:
                lowest = some & -some
                some ^= lowest
                each = self.cards[lowest.bit_length() - 1]
                if sure or _effects_cover(each.effects, card.effects):
                    found.append(each)
        return found

    def _no_more_harm(self, harms: frozenset[str]) -> _Bits:
        """The cards whose harmful or possibly harmful lines all have these shapes."""
        known = self._bounded.get(harms)
        if known is None:
            known, some = self.harmless, 0
            for shape in harms:
                some |= self.sharing["harm", shape]
            while some:
                lowest = some & -some
                some ^= lowest
                if self.harms[lowest.bit_length() - 1] <= harms:
                    known |= lowest
            self._bounded[harms] = known
        return known


def _alike(card: Comparable) -> tuple[object, ...]:
    return ("alike", card.cost, card.stats, card.effects)


def _numbers_of(card: Comparable) -> Iterator[tuple[_Column, float]]:
    """All numbers of a card, of which more is better or equal."""
    yield ("cost",), -(card.cost or 0)
    for place, stat in enumerate(card.stats):
        if stat is not None:
            yield ("stat", place), stat
    kinds = _kinds(card.effects)
    for shape, amounts in _by_shape(card.effects).items():
        yield ("count", shape), len(amounts)
        yield from _amounts_of(shape, kinds[shape], amounts)


def _amounts_of(shape: str, kind: Kind, amounts: list[tuple[float, ...]]) -> Iterator[tuple[_Column, float]]:
    """The amounts of lines of one shape, sorted: helpful ones best first, harmful ones worst first.

    Lines of one amount each can be matched exactly if these orders are; for several amounts, this is a
    necessary condition for each.
    """
    for place in range(len(amounts[0])):
        in_order = sorted((each[place] for each in amounts), reverse=kind != "drawback")
        for rank, number in enumerate(in_order):
            yield ("amount", shape, place, rank), number


def _covers(one: Comparable, other: Comparable) -> bool:
    return (one.cost or 0) <= (other.cost or 0) and _stats_cover(one.stats, other.stats)


def _strength(card: Comparable) -> float:
    """A measure that decreases from a card to those it beats in cost and stats."""
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
    for shape, kind in _kinds((*mine, *theirs)).items():
        here, there = one.get(shape, []), other.get(shape, [])
        # Each helpful line of the other needs one here as good, each harmful line here one there as bad.
        if kind != "drawback" and len(here) < len(there) or kind != "benefit" and len(here) > len(there):
            return False
        fewer, more = (there, here) if kind != "drawback" else (here, there)
        if not _matched(fewer, more, better=kind != "drawback"):
            return False
    return True


def _kinds(effects: Iterable[Effect]) -> dict[str, Kind]:
    return {each.shape: each.kind for each in effects}


def _by_shape(effects: Iterable[Effect]) -> Best:
    found: Best = {}
    for each in effects:
        found.setdefault(each.shape, []).append(each.amounts)
    return found


def _matched(fewer: Sequence[tuple[float, ...]], more: Sequence[tuple[float, ...]], better: bool) -> bool:
    """Whether each of `fewer` can be paired with its own of `more` that is at least as good (or, not `better`,
    at most), by augmenting paths (Kuhn 1955): polynomial in the number of lines.
    """

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
    """Where `one` is better, in a few words."""
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
    """Pairs of one type with the same line shapes whose numbers differ in total by at most `close`.

    Each card is paired with its nearest neighbours one step away in one number, so that the time is linear in
    the cards.
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
