"""History: revisions, differences between two moments, undo and redo, marks."""
