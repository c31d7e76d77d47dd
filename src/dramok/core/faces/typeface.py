"""Measuring text with HarfBuzz. Font bytes are handed in; this room opens no file."""

from __future__ import annotations

from collections.abc import Mapping

import uharfbuzz as hb

MOST_CACHED = 50_000


class Typeface:
    """One font. Widths are cached per word."""

    def __init__(self, name: str, data: bytes) -> None:
        self.name = name
        face = hb.Face(data)
        self._font = hb.Font(face)
        self._em = face.upem
        self._widths: dict[str, float] = {}

    def width(self, text: str, size: float) -> float:
        """Width of a run in mm at an em of `size` mm."""
        known = self._widths.get(text)
        if known is None:
            known = self._measure(text)
            if len(self._widths) >= MOST_CACHED:
                self._widths.clear()
            self._widths[text] = known
        return known * size

    def has_glyph(self, character: str) -> bool:
        return self._font.get_nominal_glyph(ord(character)) is not None

    def _measure(self, text: str) -> float:
        buffer = hb.Buffer()
        buffer.add_str(text)
        buffer.guess_segment_properties()
        hb.shape(self._font, buffer, {"kern": True, "liga": True})
        return float(sum(position.x_advance for position in buffer.glyph_positions)) / float(self._em)


class Typefaces:
    """The fonts a face uses, by name, and the symbols (path data in a 256 x 256 box) by name."""

    def __init__(self, fonts: Mapping[str, bytes], symbols: Mapping[str, str]) -> None:
        self._fonts = {name: Typeface(name, data) for name, data in fonts.items()}
        self.symbols = dict(symbols)

    def __getitem__(self, name: str) -> Typeface:
        return self._fonts[name]
