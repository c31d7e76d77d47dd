"""Balance: measurements, sweeps, deck duels, the three lenses side by side, and the health of a set."""
