"""Decks: edits, legality reports, deck lists in and out, odds, comparison."""
