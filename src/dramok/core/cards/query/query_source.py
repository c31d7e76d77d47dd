"""Data source interface for query evaluation; rows are positions of cards."""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal
from typing import Protocol

from dramok.core.cards.schema.card import Card, Value


@dataclass(frozen=True)
class Standing:
    """The computed state of a card: its verdict (`difference` in points), whether text fits and plays, the
    kinds of face problems.
    """

    judgement: str
    difference: Decimal
    fits: bool
    written: bool
    unfinished: bool
    faults: frozenset[str] = frozenset()


class Facts(Protocol):
    """The data that queries need. Rows are positions of cards in `cards`."""

    @property
    def cards(self) -> Sequence[Card]: ...

    def column(self, field: str) -> Sequence[Value | None]:
        """The values of a field for every card, in order."""
        ...

    def folded(self, field: str) -> Sequence[tuple[str, ...]]:
        """The folded texts of a field (see `problem.fold`), in order."""
        ...

    def standings(self) -> Sequence[Standing | None]:
        """The state of every card; None if it is not computed yet."""
        ...

    def holding(self, text: str) -> Collection[int]:
        """The rows whose texts contain every word as a prefix."""
        ...

    def in_deck(self, deck: str) -> Collection[int]:
        """The rows of a deck's cards."""
        ...

    def noted(self, states: Collection[str]) -> Collection[int]:
        """The rows of cards with a note in one of these states: open, answered; or pinned to a moment of a playtest."""
        ...

    def changed_since(self, mark: str) -> Collection[int]:
        """The rows of cards that changed since a mark."""
        ...

    def printed(self, run: str | None) -> Collection[int]:
        """The rows of printed cards: in this print run, or in any."""
        ...

    def on_paper(self, run: str | None) -> Mapping[int, str]:
        """`current` or `stale` by the row of each printed card with a known face; for a run, only its cards, by
        that run and later ones.
        """
        ...


Rows = set[int]
Making = Callable[[Facts], Rows]
