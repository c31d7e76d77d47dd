"""A deck is cards with counts, in sections."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field, replace

MOST_COPIES = 99
MAIN = ""
"""The section of every deck that is shuffled and drawn from."""
Counts = Mapping[str, int]


@dataclass(frozen=True)
class Deck:
    """`cards` maps card id to count (1 or more); `sections` has the same for each other section, by its id.

    `format` is the id of its deck rules, empty for the first of the game. `note` is the user's note. `seq` is
    the journal number of the latest edit.
    """

    id: str
    name: str
    cards: Counts
    seq: int = 0
    format: str = ""
    sections: Mapping[str, Counts] = field(default_factory=dict)
    note: str = ""

    @property
    def size(self) -> int:
        """The number of cards in the main section."""
        return sum(self.cards.values())

    def every(self) -> Iterator[tuple[str, Counts]]:
        """(section, its counts): the main section first."""
        yield MAIN, self.cards
        yield from self.sections.items()

    def section(self, ident: str) -> Counts:
        """The counts of a section; empty if it has no cards."""
        return self.cards if ident == MAIN else self.sections.get(ident, {})

    @property
    def holds(self) -> frozenset[str]:
        """Every card id in any section."""
        return frozenset(card for _, counts in self.every() for card in counts)

    def copies(self, card: str) -> int:
        """Copies of a card in all sections together."""
        return sum(counts.get(card, 0) for _, counts in self.every())

    def with_count(self, card: str, count: int, section: str = MAIN) -> Deck:
        """The deck with the count of one card in a section, limited to 0 (removed) to `MOST_COPIES`."""
        counts = {**self.section(section), card: max(0, min(MOST_COPIES, count))}
        counts = {key: value for key, value in counts.items() if value > 0}
        if section == MAIN:
            return replace(self, cards=counts)
        sections = {**self.sections, section: counts}
        return replace(self, sections={key: value for key, value in sections.items() if value})
