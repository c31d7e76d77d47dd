"""Decks as a person works on them: edited, judged, read and written as lists, asked for their odds, compared."""
