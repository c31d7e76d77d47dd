"""Pictures for cards that have none, in packs that a card type chooses from: patterns, figures and objects for any game; growth, skies and tools.

The same id, bed and type give the same elements on every machine.
"""

from dramok.core.faces.art.scene import UNITS_HIGH, UNITS_WIDE, Scene

__all__ = ["UNITS_HIGH", "UNITS_WIDE", "Scene"]
