"""Routes, one module for each subject."""
