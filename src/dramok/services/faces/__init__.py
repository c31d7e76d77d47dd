"""Faces: plans, adjustments of single cards, pictures, symbols and fonts, drawing with its cache, and the proof."""
