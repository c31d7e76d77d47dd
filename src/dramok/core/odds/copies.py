"""The number of copies needed, the gain from one more, and whether a card can be paid for."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from dramok.core.odds.chances import after_drawing, chances
from dramok.core.odds.draws import Draws, Redraw
from dramok.core.odds.groups import Atoms, BadOdds, Condition, Event, Work, in_group

MOST_SCAN = 2_000_000
"""The step limit for all counts of copies together: about a second."""


def with_copies(atoms: Atoms, group: int, count: int) -> dict[int, int]:
    """The deck with a number of cards of a group. Its size stays: they replace cards of no group, or are
    replaced by them.

    Cards that are in other groups as well stay. Raises BadOdds if that is impossible.
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
    """The fewest cards of a group for a chance of at least `wanted` (0 to 1) by a turn; None if no count
    reaches it. Raises TooMuch.
    """
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
    """The chances with one more card of a group in place of a card of no group; None if none is left."""
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
    """The chance, for each of `times`, that a card of group `card` has been seen and can be paid for, if
    nothing was spent before.

    A time is the number of cards drawn after the opening hand of `hand` cards, and the chance of each amount of
    the paying resource; None: nothing can be played, and the chance is 0. Cards of group `source` each give
    `gives` more. Raises TooMuch.
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
