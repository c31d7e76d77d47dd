"""Decklists, and what a format says is legal."""

from dramok.core.decks.deck import MOST_COPIES, Deck, Format, legality

__all__ = ["MOST_COPIES", "Deck", "Format", "legality"]
