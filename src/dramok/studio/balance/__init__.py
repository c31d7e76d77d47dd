"""Balance as a person asks for it: cards measured, numbers swept, edits and decks compared by games; lenses side by side; the health of a set."""
