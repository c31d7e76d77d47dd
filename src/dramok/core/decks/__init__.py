"""Decks, deck lists, deck rules and random decks."""

from dramok.core.decks.comparison import DeckChange, DeckOverview, across, differences, shared
from dramok.core.decks.deck import MAIN, MOST_COPIES, Deck
from dramok.core.decks.deck_rules import Cap, Count, Format, Section, Share
from dramok.core.decks.legality import DeckProblem, Fix, legality
from dramok.core.decks.random_deck import random_deck
from dramok.core.decks.satisfiability import clashes

__all__ = [
    "MAIN", "MOST_COPIES", "DeckOverview", "Cap", "Count", "Deck", "DeckChange", "DeckProblem", "Fix", "Format", "Section", "Share", "across",
    "clashes", "differences", "legality", "random_deck", "shared",
]  # fmt: skip
