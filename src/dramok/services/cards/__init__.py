"""Cards: edits of cells and whole cards, previews while typing, search, saved views, notes, and the ripples of an edit."""
