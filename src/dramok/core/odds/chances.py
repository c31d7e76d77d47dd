"""Exact chances: what of some groups a player has seen by a turn, with whatever redraw the game allows."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import product
from math import comb, prod

from dramok.core.odds.draws import Draws, Redraw, WholeHand
from dramok.core.odds.groups import Atoms, BadOdds, Event, Tally, tally

Hand = dict[int, int]
"""How many cards of each atom."""
MOST_HANDS = 40_000


def chances(
    atoms: Atoms, event: Event, draws: Draws, turns: Sequence[int], redraw: Redraw = None
) -> list[float]:
    """The chance that `event` holds of the cards seen by the end of each turn's draws; turn 0 is the opening hand.

    Multivariate hypergeometric, in whole numbers; with a redraw, summed over every opening hand. Raises BadOdds where more hands would
    have to be told apart than can be.
    """
    later = [draws.later(turn) for turn in turns]
    hand = min(draws.hand, sum(atoms.values()))
    if redraw is None:
        found = tally(atoms, event)
        return [found.chance(hand + more) for more in later]
    if isinstance(redraw, WholeHand):
        whole = _whole_before if redraw.returned == "before" else _whole_after
        return whole(atoms, event, redraw.keep, hand, later)
    chosen = _chosen_before if redraw.returned == "before" else _chosen_after
    return chosen(atoms, event, redraw.kept, hand, later)


def keeps(atoms: Atoms, keep: Event, hand: int) -> float:
    """The chance that an opening hand is kept."""
    return tally(atoms, keep).chance(hand)


def _whole_before(atoms: Atoms, event: Event, keep: Event, hand: int, later: Sequence[int]) -> list[float]:
    fresh = tally(atoms, event)
    again = 1 - keeps(atoms, keep, hand)
    kept = [0.0] * len(later)
    for held, chance in hands(atoms, hand):
        if keep.holds(counts_for(held, keep)):
            _add(kept, chance, _rest(atoms, held, event), later)
    return [here + again * fresh.chance(hand + more) for here, more in zip(kept, later, strict=True)]


def _whole_after(atoms: Atoms, event: Event, keep: Event, hand: int, later: Sequence[int]) -> list[float]:
    # The new hand is as likely as any other; given it, the old one is any hand of the cards left.
    size = sum(atoms.values())
    new = min(hand, size - hand)
    found = [0.0] * len(later)
    for held, chance in hands(atoms, hand):
        if keep.holds(counts_for(held, keep)):
            _add(found, chance, _rest(atoms, held, event), later)
    for held, chance in hands(atoms, new):
        given_back = 1 - tally(without(atoms, held), keep).chance(hand)
        # Where the deck is too small for a second hand, the cards missing are drawn from those given back.
        _add(found, chance * given_back, _rest(atoms, held, event), [more + hand - new for more in later])
    return found


def _chosen_before(atoms: Atoms, event: Event, kept: int, hand: int, later: Sequence[int]) -> list[float]:
    wanted, others = _split(atoms, kept)
    found = [0.0] * len(later)
    for held, chance in hands({**wanted, -1: sum(others.values())}, hand):
        stay = {mask: count for mask, count in held.items() if mask >= 0}
        # What is given back is among the cards left, and all later cards are drawn from those.
        _add(found, chance, _rest(atoms, stay, event), [held.get(-1, 0) + more for more in later])
    return found


def _chosen_after(atoms: Atoms, event: Event, kept: int, hand: int, later: Sequence[int]) -> list[float]:
    wanted, others = _split(atoms, kept)
    other = sum(others.values())
    found = [0.0] * len(later)
    for held, chance in hands({**wanted, -1: other}, hand):
        back = held.get(-1, 0)
        stay = {mask: count for mask, count in held.items() if mask >= 0}
        left = without(wanted, stay)
        new = min(back, sum(left.values()) + other - back)
        # Which of the other cards lie aside does not matter: those drawn are any of them.
        for drawn, likely in hands({**left, -1: other - back}, new):
            for some, among in hands(others, drawn.get(-1, 0)):
                seen = {**{mask: count for mask, count in drawn.items() if mask >= 0}, **some}
                together = {mask: stay.get(mask, 0) + seen.get(mask, 0) for mask in stay.keys() | seen.keys()}
                _add(found, chance * likely * among, _rest(atoms, together, event), [back - new + more for more in later])  # fmt: skip
    return found


def _add(into: list[float], chance: float, rest: Tally, later: Sequence[int]) -> None:
    for place, more in enumerate(later):
        into[place] += chance * rest.chance(more)


def _rest(atoms: Atoms, held: Hand, event: Event) -> Tally:
    """What is still to come, when these cards are in hand."""
    return tally(without(atoms, held), event, counts_for(held, event))


def without(atoms: Atoms, held: Hand) -> Hand:
    return {mask: count - held.get(mask, 0) for mask, count in atoms.items()}


def _split(atoms: Atoms, group: int) -> tuple[Hand, Hand]:
    inside = {mask: count for mask, count in atoms.items() if mask >> group & 1}
    return inside, {mask: count for mask, count in atoms.items() if mask not in inside}


def counts_for(held: Hand, event: Event) -> list[int]:
    return [
        sum(count for mask, count in held.items() if mask >= 0 and mask >> each.group & 1)
        for each in event.conditions
    ]


def hands(atoms: Atoms, size: int) -> Iterator[tuple[Hand, float]]:
    """Every hand of so many cards as counts of atoms, with its chance."""
    masks = [mask for mask, count in atoms.items() if count]
    whole = comb(sum(atoms.values()), size)
    if not masks:
        yield {}, 1.0
        return
    # The atom with most cards takes what the others leave.
    *named, last = sorted(masks, key=lambda mask: atoms[mask])
    spans = [range(min(atoms[mask], size) + 1) for mask in named]
    if prod(map(len, spans)) > MOST_HANDS:
        raise BadOdds(
            "groups", "too many different hands to go through", "ask for fewer groups, or without a redraw"
        )
    for counts in product(*spans):
        left = size - sum(counts)
        if 0 <= left <= atoms[last]:
            ways = comb(atoms[last], left)
            for mask, count in zip(named, counts, strict=True):
                ways *= comb(atoms[mask], count)
            yield {**dict(zip(named, counts, strict=True)), last: left}, ways / whole
