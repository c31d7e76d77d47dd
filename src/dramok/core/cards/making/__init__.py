"""Many cards at once: generated from one card or from ranges, and find and replace."""
