"""Dramok: a card is written once, and its text, its behaviour in play, its worth and its strength follow."""

__version__ = "0.16.0"
