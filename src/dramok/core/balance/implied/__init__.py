"""The implied lens: the worth of each price row that the costs of a list of cards imply."""
