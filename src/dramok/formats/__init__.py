"""To and from files: tables, SVG, fonts. Knows the core's models, no database and no web."""
