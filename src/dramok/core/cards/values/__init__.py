"""Values of one card: typed text to value and back, codes, derived values, completeness, conversion to another kind of field."""
