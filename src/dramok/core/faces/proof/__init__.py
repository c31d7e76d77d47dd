"""Checks of faces before they are printed, and the cards that are hardest for a plan."""
