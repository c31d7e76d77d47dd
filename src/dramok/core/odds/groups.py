"""A deck reduced to groups: how many cards belong to which groups, and conditions on the groups."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from math import comb
from typing import Literal, assert_never

MOST_CARDS = 1_000
MOST_GROUPS = 5
How = Literal["at least", "exactly", "at most"]
Join = Literal["all", "any"]
Atoms = Mapping[int, int]
"""The number of cards in exactly these groups: a bit for each group, 0 for cards of none."""


class BadOdds(ValueError):
    """An impossible request: `where` names the part, `mend` is the fix."""

    def __init__(self, where: str, what: str, mend: str) -> None:
        super().__init__(f"{where}: {what}")
        self.where, self.what, self.mend = where, what, mend


class TooMuch(BadOdds):
    """The computation would take too long."""


class Work:
    """The remaining step budget, shared by all parts of one request."""

    def __init__(self, most: int = 6_000_000) -> None:
        self.left = most

    def spend(self, steps: int) -> None:
        """Raises TooMuch when the budget is used up."""
        self.left -= steps
        if self.left < 0:
            raise TooMuch("odds", "this would take too long to count", "ask for fewer groups, smaller counts, or no redraw")  # fmt: skip


@dataclass(frozen=True)
class Condition:
    """A number of cards of a group (by number, from 0)."""

    group: int
    how: How = "at least"
    count: int = 1

    def holds(self, found: int) -> bool:
        match self.how:
            case "at least":
                return found >= self.count
            case "exactly":
                return found == self.count
            case "at most":
                return found <= self.count
            case _ as never:
                assert_never(never)

    @property
    def enough(self) -> int:
        """The count from which on more cards make no difference."""
        return self.count if self.how == "at least" else self.count + 1


@dataclass(frozen=True)
class Event:
    """Several conditions together. "This without that" is `all` with an "at most 0"."""

    conditions: tuple[Condition, ...]
    join: Join = "all"

    @property
    def groups(self) -> list[int]:
        return [each.group for each in self.conditions]

    def holds(self, found: Sequence[int]) -> bool:
        """`found`: the number of each condition's group, in the order of the conditions."""
        held = (each.holds(count) for each, count in zip(self.conditions, found, strict=True))
        return all(held) if self.join == "all" else any(held)


ALWAYS = Event(())


def atoms_of(members: Sequence[int], deck: int) -> dict[int, int]:
    """Atoms of a deck of `deck` cards with disjoint groups of the given sizes. Raises BadOdds."""
    if not 1 <= deck <= MOST_CARDS:
        raise BadOdds("deck", f"a deck of {deck:,} cards", f"write 1 to {MOST_CARDS:,}")
    for place, count in enumerate(members):
        if count < 0:
            raise BadOdds(f"group {place + 1}", f"{count} cards", "write 0 or more")
    if sum(members) > deck:
        what = f"{sum(members):,} cards in a deck of {deck:,}"
        raise BadOdds("group", what, f"write at most {deck:,}")
    found = {1 << place: count for place, count in enumerate(members) if count}
    return {**found, 0: deck - sum(members)}


def atoms_from(counts: Mapping[str, int], groups: Sequence[frozenset[str]]) -> dict[int, int]:
    """Atoms of a deck that maps card ids to counts; groups are sets of card ids. Raises BadOdds."""
    if len(groups) > MOST_GROUPS:
        raise BadOdds("groups", f"{len(groups)} groups", f"ask for at most {MOST_GROUPS} at once")
    found: dict[int, int] = {0: 0}
    for card, count in counts.items():
        mask = sum(1 << place for place, group in enumerate(groups) if card in group)
        found[mask] = found.get(mask, 0) + count
    size = sum(found.values())
    if not 1 <= size <= MOST_CARDS:
        raise BadOdds(
            "deck",
            "the deck has no cards" if not size else f"a deck of {size:,} cards",
            f"put 1 to {MOST_CARDS:,} in",
        )
    return found


def distinguished(atoms: Atoms, groups: Iterable[int]) -> dict[int, int]:
    """The deck with only these groups distinguished; cards that differ in others are merged."""
    wanted = sum(1 << group for group in set(groups))
    found: dict[int, int] = {}
    for mask, count in atoms.items():
        found[mask & wanted] = found.get(mask & wanted, 0) + count
    return found


def in_group(atoms: Atoms, group: int) -> int:
    return sum(count for mask, count in atoms.items() if mask >> group & 1)


@dataclass(frozen=True)
class Tally:
    """The number of ways in which `n` relevant cards are drawn so that the event holds:

    `ways[n]`; `rest` are the irrelevant cards.
    """

    ways: tuple[int, ...]
    rest: int

    def chance(self, drawn: int) -> float:
        """The chance of the event among a number of drawn cards; beyond the deck size, all are drawn."""
        size = len(self.ways) - 1 + self.rest
        drawn = max(0, min(drawn, size))
        good = sum(
            ways * comb(self.rest, drawn - place)
            for place, ways in enumerate(self.ways)
            if ways and place <= drawn
        )
        return good / comb(size, drawn)


@lru_cache(2_048)
def _ways(size: int) -> tuple[int, ...]:
    """The number of ways to take 0, 1, … of a number of cards."""
    return tuple(comb(size, taken) for taken in range(size + 1))


def tally(atoms: Atoms, event: Event, had: Sequence[int] = (), work: Work | None = None) -> Tally:
    """Count all draws by the number of relevant cards in them. `had`: cards of each condition's group already
    in hand.

    Exact integers. A condition's count is tracked only up to the point where more make no difference, so that
    the work grows with the requested counts and not with the deck. Raises TooMuch.
    """
    work = work or Work()
    wanted = event.conditions
    tops = [each.enough for each in wanted]
    start = tuple(min(top, count) for top, count in zip(tops, had if had else [0] * len(wanted), strict=True))
    states: dict[tuple[int, ...], list[int]] = {start: [1]}
    drawn_of, rest = 0, 0
    for mask, size in atoms.items():
        moves = [mask >> each.group & 1 for each in wanted]
        if not any(moves):
            rest += size
            continue
        ways = _ways(size)
        work.spend(size)
        most = max((top for top, move in zip(tops, moves, strict=True) if move), default=0)
        after: dict[tuple[int, ...], list[int]] = {}
        work.spend(len(states) * (size + 1) * (drawn_of + 1))
        for state, before in states.items():
            # Beyond `most` the state does not change: the rest is counted together.
            for taken in range(min(size, most) + 1):
                place = tuple(
                    min(top, count + taken * move)
                    for count, top, move in zip(state, tops, moves, strict=True)
                )
                into = after.setdefault(place, [0] * (drawn_of + size + 1))
                here = range(taken, size + 1) if taken == most else (taken,)
                for number, count in enumerate(before):
                    if count:
                        for amount in here:
                            into[number + amount] += count * ways[amount]
        states, drawn_of = after, drawn_of + size
    good = [0] * (drawn_of + 1)
    for state, counts in states.items():
        if event.holds(state):
            for number, count in enumerate(counts):
                good[number] += count
    return Tally(tuple(good), rest)
