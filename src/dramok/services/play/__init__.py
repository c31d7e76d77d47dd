"""Playtests and simulations: matches stored as seed and decisions, games between automatic players, what a seat may see."""
