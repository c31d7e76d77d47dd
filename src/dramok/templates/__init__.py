"""Templates for a new game, one JSON file each. None belongs to a world."""
