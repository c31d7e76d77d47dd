"""The declared lens: the price list, the worth of a card by it, budgets, verdicts and the set map. All in points."""
