"""A match: a program, a deck, a seed and the decisions taken. Undo is replay without the last decision."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import NamedTuple

from dramok.core.engine import kernel
from dramok.core.engine import state as k
from dramok.core.engine.program import Program
from dramok.core.engine.zones import card_at, count

DOINGS = ("draw", "play", "discard", "dismiss", "end turn", "pick", "done", "cancel")
MOST_SEED = 2**63 - 1


class Option(NamedTuple):
    """One legal decision: what is done, and to which card of the table (-1: none)."""

    do: str
    card: int = -1


class NotAnOption(ValueError):
    """The decision is not among the options."""


class Match:
    """`state` is the kernel's; it is moved on only by `decide`. `decisions` are all that were taken, in order."""

    def __init__(self, program: Program, deck: Sequence[str], seed: int, state: k.State) -> None:
        self.program = program
        self.deck = tuple(deck)
        self.seed = seed
        self.state = state
        self.decisions: list[Option] = []
        self.ends = [len(state.events)]

    @property
    def options(self) -> tuple[Option, ...]:
        """Every legal decision of the seat whose turn it is to decide."""
        return tuple(
            Option(DOINGS[what], card) for what, card in kernel.options(self.program.compiled, self.state)
        )

    @property
    def asked(self) -> str:
        """What is to be decided: act, pick, discard, hand limit, declare; over when the match was cut off."""
        if self.state.over:
            return "over"
        return ("nothing", "act", "pick", "discard", "hand limit", "declare")[self.state.waiting]

    def dealt(self) -> tuple[tuple[str, ...], tuple[str, ...]]:
        """The hand of the first seat in the order in which it was drawn, and its draw pile from the top."""
        cards, s = self.program.cards, self.state
        hand, pile = (
            [cards[s.card_def[card_at(s, 0, zone, place)]].id for place in range(count(s, 0, zone))]
            for zone in (k.HAND, k.DRAW_PILE)
        )
        return tuple(hand), tuple(reversed(pile))

    def decide(self, option: Option) -> list[tuple[int, int, int, int, int]]:
        """Takes one of the options; gives the events that followed. Raises NotAnOption and changes nothing otherwise."""
        if option not in self.options:
            raise NotAnOption(f"{option.do} is not possible now")
        before = len(self.state.events)
        kernel.decide(self.program.compiled, self.state, DOINGS.index(option.do), option.card)
        self.decisions.append(option)
        self.ends.append(len(self.state.events))
        return self.state.events[before:]


def start(program: Program, deck: Mapping[str, int] | Sequence[str], seed: int) -> Match:
    """Shuffles the deck by the seed and draws the opening hand.

    `deck` lists card ids, or maps them to counts. The order it is given in does not matter. Raises KeyError for a card
    that the program lacks and ValueError for a seed out of range or a deck of no or over 400 cards.
    """
    ids = (
        [card for card, count in deck.items() for _ in range(count)]
        if isinstance(deck, Mapping)
        else list(deck)
    )
    if not 0 <= seed <= MOST_SEED:
        raise ValueError(f"the seed must be a whole number from 0 to {MOST_SEED}")
    if not 1 <= len(ids) <= k.MOST_CARDS:
        raise ValueError(f"a deck of {len(ids)} cards can't be played; take from 1 to {k.MOST_CARDS}")
    definitions = sorted(program.definition(card) for card in ids)
    state = k.State(1, len(definitions), program.compiled.resources)
    kernel.begin(program.compiled, state, [definitions], seed)
    return Match(program, sorted(ids), seed, state)


def replay(
    program: Program, deck: Mapping[str, int] | Sequence[str], seed: int, decisions: Iterable[Option]
) -> Match:
    """The same match again, to the same events. Raises NotAnOption where a decision does not belong to it."""
    match = start(program, deck, seed)
    for option in decisions:
        match.decide(option)
    return match
