"""Read and write files: tables, decks, archives, pictures, fonts, SVG, PNG, PDF.

Knows the models of the core, but no database and no web.
"""
