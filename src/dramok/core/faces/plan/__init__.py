"""Face plans as documents: placements, sizes, conditions, adjustments of single cards, and which plan a card uses."""
