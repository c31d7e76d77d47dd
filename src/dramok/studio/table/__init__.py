"""Matches at the table: kept as seed and decisions, with the decks that come to them and what each seat may see."""
