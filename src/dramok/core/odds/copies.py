"""How many copies are needed, what one more changes, and whether a card can be paid for when it is there."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from dramok.core.odds.chances import after_drawing, chances
from dramok.core.odds.draws import Draws, Redraw
from dramok.core.odds.groups import Atoms, BadOdds, Condition, Event, Work, in_group

MOST_SCAN = 2_000_000
"""Steps for all counts of copies together: about a second."""


def with_copies(atoms: Atoms, group: int, count: int) -> dict[int, int]:
    """The deck with so many cards of a group. Its size stays: they take the place of cards of no group, or give it to them.

    Cards that are of other groups too stay as they are. Raises BadOdds where that cannot be.
    """
    only = 1 << group
    change = count - in_group(atoms, group)
    found = {**atoms, only: atoms.get(only, 0) + change, 0: atoms.get(0, 0) - change}
    if found[only] < 0 or found[0] < 0:
        size = sum(atoms.values())
        raise BadOdds(
            f"group {group + 1}", f"{count} copies do not fit in the deck of {size}", "ask for another count"
        )
    return found


def copies_needed(
    atoms: Atoms,
    event: Event,
    draws: Draws,
    turn: int,
    wanted: float,
    redraw: Redraw = None,
    group: int = 0,
    work: Work | None = None,
) -> int | None:
    """The fewest cards of a group with which the event's chance is at least `wanted` (0 to 1) by a turn; None where no count does it. Raises TooMuch."""
    work = work or Work(MOST_SCAN)
    if not 0 <= wanted <= 1:
        raise BadOdds("wanted", f"{wanted:g}", "write a chance from 0 to 1, such as 0.8")
    fixed = in_group(atoms, group) - atoms.get(1 << group, 0)
    most = fixed + atoms.get(1 << group, 0) + atoms.get(0, 0)
    return next(
        (
            count
            for count in range(fixed, most + 1)
            if chances(with_copies(atoms, group, count), event, draws, [turn], redraw, work)[0]
            >= wanted - 1e-12
        ),
        None,
    )


def one_more(
    atoms: Atoms,
    event: Event,
    draws: Draws,
    turns: Sequence[int],
    redraw: Redraw = None,
    group: int = 0,
    work: Work | None = None,
) -> list[float] | None:
    """The chances with one card more of a group, in place of a card of none; None where none is left."""
    if not atoms.get(0):
        return None
    return chances(with_copies(atoms, group, in_group(atoms, group) + 1), event, draws, turns, redraw, work)


def payable(
    atoms: Atoms,
    cost: int,
    hand: int,
    times: Sequence[tuple[int, Mapping[int, float]] | None],
    redraw: Redraw = None,
    card: int = 0,
    source: int | None = None,
    gives: int = 1,
    work: Work | None = None,
) -> list[float]:
    """The chance, for each of `times`, that a card of group `card` has been seen and can be paid for, nothing having been spent.

    A time is the number of cards drawn by then after the opening hand of `hand` cards, and how much of what pays there is, with the chance of each
    amount; None: nothing can be played then, and the chance is 0. Cards of group `source` give `gives` more each. Raises TooMuch.
    """
    found = []
    for time in times:
        drawn, amounts = time or (0, {})
        needed: dict[int, float] = {}
        for amount, likely in amounts.items():
            lacking = max(0, cost - amount)
            if lacking == 0 or source is not None and gives > 0:
                helpers = -(-lacking // gives) if lacking else 0
                needed[helpers] = needed.get(helpers, 0.0) + likely
        total = 0.0
        for helpers, likely in needed.items():
            help_too = (Condition(source, "at least", helpers),) if helpers and source is not None else ()
            total += likely * after_drawing(atoms, Event((Condition(card), *help_too)), hand, [drawn], redraw, work)[0]
        found.append(total)
    return found
