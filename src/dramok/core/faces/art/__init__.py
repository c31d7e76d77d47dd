"""Generated pictures for cards without art, in packs that a card type chooses.

The same id, faction and type give the same elements on every machine.
"""

from dramok.core.faces.art.scene import UNITS_HIGH, UNITS_WIDE, Scene

__all__ = ["UNITS_HIGH", "UNITS_WIDE", "Scene"]
