"""Exact chances: what of some groups a player has seen by a turn, with whatever redraw the game allows."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import product
from math import comb, prod

from dramok.core.engine.kernel.draws import at_once
from dramok.core.odds.draws import Draws, Redraw, WholeHand
from dramok.core.odds.groups import Atoms, Event, Tally, Work, tally, told_apart

Hand = dict[int, int]
"""How many cards of each atom; `OTHERS` stands for all cards that need not be told apart."""
OTHERS = -1
STEPS = 20
"""What going on to another hand costs, as `Work` counts it."""
EACH = 400
"""What the tally of the cards left costs beside its own steps."""


def chances(
    atoms: Atoms,
    event: Event,
    draws: Draws,
    turns: Sequence[int],
    redraw: Redraw = None,
    work: Work | None = None,
) -> list[float]:
    """The chance that `event` holds of the cards seen by the end of each turn's draws; turn 0 is the opening hand.

    Multivariate hypergeometric, in whole numbers; with a redraw, summed over every opening hand. Raises TooMuch where that would take more
    than `work` allows.
    """
    return after_drawing(atoms, event, draws.hand, [draws.later(turn) for turn in turns], redraw, work)


def after_drawing(
    atoms: Atoms, event: Event, opening: int, later: Sequence[int], redraw: Redraw = None, work: Work | None = None
) -> list[float]:
    """The same for each of `later` cards drawn after an opening hand of `opening` cards. Raises TooMuch."""
    also = [] if redraw is None else redraw.keep.groups if isinstance(redraw, WholeHand) else [redraw.kept]
    atoms = told_apart(atoms, [*event.groups, *also])
    hand = min(opening, sum(atoms.values()))
    asked = _Asked(atoms, event, hand, tuple(later), work or Work())
    if redraw is None:
        found = tally(atoms, event, work=asked.work)
        return [found.chance(hand + more) for more in later]
    if isinstance(redraw, WholeHand):
        before = redraw.returned == "before"
        return asked.whole_before(redraw.keep) if before else asked.whole_after(redraw.keep)
    before = redraw.returned == "before"
    return asked.chosen_before(redraw.kept) if before else asked.chosen_after(redraw.kept)


def keeps(atoms: Atoms, keep: Event, hand: int, work: Work | None = None) -> float:
    """The chance that an opening hand is kept."""
    return tally(atoms, keep, work=work).chance(hand)


@dataclass(frozen=True)
class _Asked:
    """One question: `later` are the cards drawn after the opening `hand`, by turn asked for."""

    atoms: Atoms
    event: Event
    hand: int
    later: tuple[int, ...]
    work: Work

    def whole_before(self, keep: Event) -> list[float]:
        fresh = tally(self.atoms, self.event, work=self.work)
        again = 1 - keeps(self.atoms, keep, self.hand, self.work)
        kept = self._kept(keep)
        return [
            here + again * fresh.chance(self.hand + more) for here, more in zip(kept, self.later, strict=True)
        ]

    def whole_after(self, keep: Event) -> list[float]:
        # The new hand is as likely as any other; given it, the old one is any hand of the cards left.
        new = at_once(self.hand, sum(self.atoms.values()) - self.hand)
        # Where the deck is too small for a second hand, the cards missing are drawn from those given back.
        later = [more + self.hand - new for more in self.later]
        found = self._kept(keep)
        for held, chance in hands(self.atoms, new, self.work):
            given_back = 1 - tally(without(self.atoms, held), keep, work=self.work).chance(self.hand)
            _add(found, chance * given_back, self._rest(held), later, self.work)
        return found

    def chosen_before(self, kept: int) -> list[float]:
        wanted, others = _split(self.atoms, kept)
        found = [0.0] * len(self.later)
        for held, chance in hands({**wanted, OTHERS: sum(others.values())}, self.hand, self.work):
            back = held.pop(OTHERS, 0)
            # What is given back is among the cards left, and all later cards are drawn from those.
            _add(found, chance, self._rest(held), [back + more for more in self.later], self.work)
        return found

    def chosen_after(self, kept: int) -> list[float]:
        wanted, others = _split(self.atoms, kept)
        other = sum(others.values())
        found = [0.0] * len(self.later)
        for stay, chance in hands({**wanted, OTHERS: other}, self.hand, self.work):
            back = stay.pop(OTHERS, 0)
            left = without(wanted, stay)
            new = at_once(back, sum(left.values()) + other - back)
            later = [back - new + more for more in self.later]
            # Which of the other cards lie aside does not matter: those drawn are any of them.
            for drawn, likely in hands({**left, OTHERS: other - back}, new, self.work):
                for some, among in hands(others, drawn.pop(OTHERS, 0), self.work):
                    seen = {**drawn, **some}
                    together = {
                        mask: stay.get(mask, 0) + seen.get(mask, 0) for mask in stay.keys() | seen.keys()
                    }
                    _add(found, chance * likely * among, self._rest(together), later, self.work)
        return found

    def _kept(self, keep: Event) -> list[float]:
        """The chance that the first hand is kept and the event holds."""
        found = [0.0] * len(self.later)
        for held, chance in hands(self.atoms, self.hand, self.work):
            if keep.holds(counts_for(held, keep)):
                _add(found, chance, self._rest(held), self.later, self.work)
        return found

    def _rest(self, held: Hand) -> Tally:
        """What is still to come, when these cards are in hand."""
        return tally(without(self.atoms, held), self.event, counts_for(held, self.event), self.work)


def _add(into: list[float], chance: float, rest: Tally, later: Sequence[int], work: Work) -> None:
    work.spend(EACH + 4 * len(rest.ways) * len(later))
    for place, more in enumerate(later):
        into[place] += chance * rest.chance(more)


def _split(atoms: Atoms, group: int) -> tuple[Hand, Hand]:
    inside = {mask: count for mask, count in atoms.items() if mask >> group & 1}
    return inside, {mask: count for mask, count in atoms.items() if mask not in inside}


def without(atoms: Atoms, held: Hand) -> Hand:
    """The cards that are left when these are taken."""
    return {mask: count - held.get(mask, 0) for mask, count in atoms.items()}


def counts_for(held: Hand, event: Event) -> list[int]:
    """How many of each condition's group are in a hand."""
    return [sum(count for mask, count in held.items() if mask >> each.group & 1) for each in event.conditions]


def hands(atoms: Atoms, size: int, work: Work) -> Iterator[tuple[Hand, float]]:
    """Every hand of so many cards as counts of atoms, with its chance. Raises TooMuch."""
    masks = [mask for mask, count in atoms.items() if count]
    whole = comb(sum(atoms.values()), size)
    if not masks:
        yield {}, 1.0
        return
    # The atom with most cards takes what the others leave.
    *named, last = sorted(masks, key=lambda mask: atoms[mask])
    spans = [range(min(atoms[mask], size) + 1) for mask in named]
    work.spend(STEPS * prod(map(len, spans)))
    for counts in product(*spans):
        left = size - sum(counts)
        if 0 <= left <= atoms[last]:
            ways = comb(atoms[last], left)
            for mask, count in zip(named, counts, strict=True):
                ways *= comb(atoms[mask], count)
            yield {**dict(zip(named, counts, strict=True)), last: left}, ways / whole
