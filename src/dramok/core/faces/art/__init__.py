"""Pictures for cards that have none: growth, skies and tools, drawn from the card's id alone.

The same id, bed and type give the same elements on every machine.
"""

from dramok.core.faces.art.scene import UNITS_HIGH, UNITS_WIDE, Scene

__all__ = ["UNITS_HIGH", "UNITS_WIDE", "Scene"]
