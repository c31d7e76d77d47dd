"""Symbols on a face: built-in ones as a path in one colour, own ones as a picture."""

from __future__ import annotations

from typing import NamedTuple

from dramok.core.faces.elements import Art, Path

SYMBOL_BOX = 256
"""The size of the box of symbol paths."""


class Mark(NamedTuple):
    """The content of a symbol: an SVG path in a box of 256 x 256, or the SHA-256 of a picture with its size in
    pixels.
    """

    path: str = ""
    art: str = ""
    measures: tuple[int, int] | None = None

    def at(self, x: float, y: float, side: float, ink: str) -> Path | Art:
        """The symbol in a square box, from its top left corner. Pictures are shown whole."""
        if not self.art:
            return Path(self.path, ink, x, y, side / SYMBOL_BOX)
        inner = None
        if self.measures and all(self.measures):
            scale = side / max(self.measures)
            wide, high = self.measures[0] * scale, self.measures[1] * scale
            inner = (round(x + (side - wide) / 2, 4), round(y + (side - high) / 2, 4), round(wide, 4), round(high, 4))
        return Art(round(x, 4), round(y, 4), round(side, 4), round(side, 4), self.art, inner)
