"""How many copies are needed, what one more changes, and whether a card can be paid for when it is there."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from dramok.core.odds.chances import chances
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
    amount: Callable[[int], int],
    draws: Draws,
    turns: Sequence[int],
    redraw: Redraw = None,
    card: int = 0,
    source: int | None = None,
    gives: int = 1,
    work: Work | None = None,
) -> list[float]:
    """The chance that on a turn a card of group `card` has been seen and can be paid for with what there is then, nothing having been spent.

    `amount` tells how much of what pays there is on a turn. Cards of group `source` give `gives` more each.
    """
    found = []
    for turn in turns:
        lacking = cost - amount(turn)
        seen = Condition(card)
        if lacking <= 0:
            event = Event((seen,))
        elif source is None or gives <= 0:
            found.append(0.0)
            continue
        else:
            event = Event((seen, Condition(source, "at least", -(-lacking // gives))))
        found += chances(atoms, event, draws, [turn], redraw, work)
    return found
