"""Odds for deck-building games: a new hand each turn, and played cards are shuffled in when the draw pile is empty."""

from __future__ import annotations

from dataclasses import dataclass

from dramok.core.odds.chances import STEPS, counts_for, hands, without
from dramok.core.odds.draws import Draws
from dramok.core.odds.groups import Atoms, Event, Work, distinguished

MOST_STEPS = 24_000_000
Pile = tuple[tuple[int, int], ...]


@dataclass(frozen=True)
class CycleTurn:
    """`cycle`: how often the pile has been shuffled by the end of this turn, 1 for the first.

    `hand`: the chance that the event holds for this turn's hand; `by`: that it has held for some hand so far.
    """

    turn: int
    cycle: int
    drawn: int
    hand: float
    by: float


def cycle_odds(
    atoms: Atoms, event: Event, draws: Draws, turns: int, work: Work | None = None
) -> list[CycleTurn]:
    """Turn by turn: draw a hand of `draws.hand` (plus `draws.extra` for the turn) and discard all of it.

    If the pile runs out during a draw, everything but the cards just drawn is shuffled. `draws.each` is not
    used: the hand is the draw of a turn. Raises TooMuch.
    """
    work = work or Work(MOST_STEPS)
    atoms = {mask: count for mask, count in distinguished(atoms, event.groups).items() if count}
    size = sum(atoms.values())
    whole = _pile(atoms)
    # By the remaining pile: the total chance, and the chance without the event so far.
    states: dict[Pile, tuple[float, float]] = {whole: (1.0, 1.0)}
    left, cycle, found = size, 1, []
    for turn in range(1, turns + 1):
        drawn = min(size, draws.hand + draws.extra.get(turn, 0))
        after: dict[Pile, tuple[float, float]] = {}
        held = 0.0
        anew = drawn > left
        for pile, (chance, unmet) in states.items():
            there = dict(pile)
            first = there if anew else {}
            source = without(atoms, there) if anew else there
            for hand, likely in hands(source, drawn - left if anew else drawn, work):
                work.spend(STEPS)
                together = {
                    mask: hand.get(mask, 0) + first.get(mask, 0) for mask in hand.keys() | first.keys()
                }
                holds = event.holds(counts_for(together, event))
                held += chance * likely if holds else 0.0
                place = _pile(without(source, hand))
                before = after.get(place, (0.0, 0.0))
                after[place] = (
                    before[0] + chance * likely,
                    before[1] + (0.0 if holds else unmet * likely),
                )
        cycle += anew
        left = (size - left if anew else left) - (drawn - left if anew else drawn)
        states = after
        by = max(0.0, 1 - sum(unmet for _, unmet in states.values()))
        found.append(CycleTurn(turn, cycle, drawn, held, by))
    return found


def _pile(atoms: Atoms) -> Pile:
    return tuple(sorted((mask, count) for mask, count in atoms.items() if count))
