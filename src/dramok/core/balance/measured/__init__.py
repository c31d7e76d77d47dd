"""The measured lens: lifts of cards, worths of effects, deck duels and sweeps, estimated from played games."""
