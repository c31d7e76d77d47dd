"""What a query asks of a game, and how it answers: in rows, the places of cards."""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal
from typing import Protocol

from dramok.core.cards.schema.card import Card, Value


@dataclass(frozen=True)
class Standing:
    """What is known of a card beyond its document: its verdict (`difference` in points), whether text fits and plays, the kinds of fault on its face."""

    judgement: str
    difference: Decimal
    fits: bool
    written: bool
    unfinished: bool
    faults: frozenset[str] = frozenset()


class Facts(Protocol):
    """What a query asks of the game. Rows are the places of cards in `cards`."""

    @property
    def cards(self) -> Sequence[Card]: ...

    def column(self, field: str) -> Sequence[Value | None]:
        """The value of a field on every card, in the order of `cards`."""
        ...

    def folded(self, field: str) -> Sequence[tuple[str, ...]]:
        """The texts in a field, folded (see `problem.fold`), in the order of `cards`."""
        ...

    def standings(self) -> Sequence[Standing | None]:
        """How every card stands; None while it is not known yet."""
        ...

    def holding(self, text: str) -> Collection[int]:
        """The rows whose texts hold every word that begins so."""
        ...

    def in_deck(self, deck: str) -> Collection[int]:
        """The rows of a deck's cards."""
        ...

    def noted(self, states: Collection[str]) -> Collection[int]:
        """The rows of cards with a note in one of these states: open, answered; or pinned to a moment of a playtest."""
        ...

    def changed_since(self, mark: str) -> Collection[int]:
        """The rows of cards that are not as they were at a mark."""
        ...

    def printed(self, run: str | None) -> Collection[int]:
        """The rows of cards that were printed: by this run, or by any."""
        ...

    def on_paper(self, run: str | None) -> Mapping[int, str]:
        """`current` or `stale` by the row of each card that was printed, where its face is known; of a run, only its cards, by it and those after it."""
        ...


Rows = set[int]
Making = Callable[[Facts], Rows]
