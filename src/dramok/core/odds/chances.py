"""Exact chances of having seen cards of groups by a turn, with any redraw rule of the game."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import product
from math import comb, prod

from dramok.core.engine.kernel.draws import at_once
from dramok.core.odds.draws import Draws, Redraw, WholeHand
from dramok.core.odds.groups import Atoms, Event, Tally, Work, distinguished, tally

Hand = dict[int, int]
"""The number of cards of each atom; `OTHERS` is all cards that are not distinguished."""
OTHERS = -1
STEPS = 20
"""The cost of one more hand in units of `Work`."""
EACH = 400
"""The extra cost of the tally of the remaining cards."""


def chances(
    atoms: Atoms,
    event: Event,
    draws: Draws,
    turns: Sequence[int],
    redraw: Redraw = None,
    work: Work | None = None,
) -> list[float]:
    """The chance that `event` holds for the cards seen by the end of each turn's draws; turn 0 is the opening
    hand.

    Multivariate hypergeometric in integers; with a redraw, summed over every opening hand. Raises TooMuch if
    that exceeds `work`.
    """
    return after_drawing(atoms, event, draws.hand, [draws.later(turn) for turn in turns], redraw, work)


def after_drawing(
    atoms: Atoms, event: Event, opening: int, later: Sequence[int], redraw: Redraw = None, work: Work | None = None
) -> list[float]:
    """The same for each of `later` cards drawn after an opening hand of `opening` cards. Raises TooMuch."""
    also = [] if redraw is None else redraw.keep.groups if isinstance(redraw, WholeHand) else [redraw.kept]
    atoms = distinguished(atoms, [*event.groups, *also])
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
    """The chance to keep an opening hand."""
    return tally(atoms, keep, work=work).chance(hand)


@dataclass(frozen=True)
class _Asked:
    """One request: `later` are the cards drawn after the opening `hand`, by turn."""

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
        # The new hand has the usual distribution; given it, the old one is a random hand of the other cards.
        new = at_once(self.hand, sum(self.atoms.values()) - self.hand)
        # If the deck is too small for a second hand, the missing cards are drawn from those returned.
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
            # The returned cards are among the remaining ones, and all later cards are drawn from those.
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
            # Which of the other cards are set aside does not matter: the drawn ones are random.
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
        """What is still needed, given these cards in hand."""
        return tally(without(self.atoms, held), self.event, counts_for(held, self.event), self.work)


def _add(into: list[float], chance: float, rest: Tally, later: Sequence[int], work: Work) -> None:
    work.spend(EACH + 4 * len(rest.ways) * len(later))
    for place, more in enumerate(later):
        into[place] += chance * rest.chance(more)


def _split(atoms: Atoms, group: int) -> tuple[Hand, Hand]:
    inside = {mask: count for mask, count in atoms.items() if mask >> group & 1}
    return inside, {mask: count for mask, count in atoms.items() if mask not in inside}


def without(atoms: Atoms, held: Hand) -> Hand:
    """The remaining cards without these."""
    return {mask: count - held.get(mask, 0) for mask, count in atoms.items()}


def counts_for(held: Hand, event: Event) -> list[int]:
    """The number of cards of each condition's group in a hand."""
    return [sum(count for mask, count in held.items() if mask >> each.group & 1) for each in event.conditions]


def hands(atoms: Atoms, size: int, work: Work) -> Iterator[tuple[Hand, float]]:
    """Every hand of a size as counts of atoms, with its chance. Raises TooMuch."""
    masks = [mask for mask, count in atoms.items() if count]
    whole = comb(sum(atoms.values()), size)
    if not masks:
        yield {}, 1.0
        return
    # The largest atom takes the remainder.
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
