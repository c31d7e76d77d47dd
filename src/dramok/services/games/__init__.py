"""Games: created, renamed, copied, removed; the demo games; the first steps of a new game."""
