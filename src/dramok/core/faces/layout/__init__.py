"""A card and its plan to a list of elements in mm: text, pictures, symbols and panels."""
