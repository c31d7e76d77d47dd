"""Decklists, and what a format says is legal."""

from dramok.core.decks.deck import Deck, Format, legality

__all__ = ["Deck", "Format", "legality"]
