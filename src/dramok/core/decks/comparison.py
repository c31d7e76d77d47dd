"""Compare decks: the difference of two, their similarity, and the decks that hold each card."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from dramok.core.decks.deck import Counts, Deck


@dataclass(frozen=True)
class DeckChange:
    """A card whose count differs between two decks, by section."""

    section: str
    card: str
    before: int
    after: int


def differences(before: Deck, after: Deck) -> tuple[DeckChange, ...]:
    """The differences, section by section, in the order of `before` and then of `after`."""
    sections = dict.fromkeys([ident for ident, _ in before.every()] + [ident for ident, _ in after.every()])
    found = []
    for section in sections:
        one, other = before.section(section), after.section(section)
        for card in dict.fromkeys([*one, *other]):
            if one.get(card, 0) != other.get(card, 0):
                found.append(DeckChange(section, card, one.get(card, 0), other.get(card, 0)))
    return tuple(found)


def shared(one: Counts, other: Counts) -> float:
    """The similarity of two decks, 0 to 1: shared copies divided by all copies (weighted Jaccard)."""
    cards = one.keys() | other.keys()
    both = sum(min(one.get(card, 0), other.get(card, 0)) for card in cards)
    either = sum(max(one.get(card, 0), other.get(card, 0)) for card in cards)
    return both / either if either else 0.0


MOST_COMPARED_DECKS = 60
"""The number of decks compared in pairs; cards are counted over all decks."""


@dataclass(frozen=True)
class DeckOverview:
    """`decks` are the first of them, and `overlap[i][j]` is `shared` of their main sections; `decks_of` counts
    the decks with a card (id) in any section; `copies_of` the copies.
    """

    decks: tuple[str, ...]
    overlap: tuple[tuple[float, ...], ...]
    decks_of: Mapping[str, int]
    copies_of: Mapping[str, int]


def across(decks: Sequence[Deck]) -> DeckOverview:
    """Compare the first decks in pairs, and count cards over all."""
    decks_of: dict[str, int] = {}
    copies_of: dict[str, int] = {}
    for deck in decks:
        for card in deck.holds:
            decks_of[card] = decks_of.get(card, 0) + 1
        for _, counts in deck.every():
            for card, count in counts.items():
                copies_of[card] = copies_of.get(card, 0) + count
    first = decks[:MOST_COMPARED_DECKS]
    overlap = tuple(tuple(shared(one.cards, other.cards) for other in first) for one in first)
    return DeckOverview(tuple(each.id for each in first), overlap, decks_of, copies_of)
