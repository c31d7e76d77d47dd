"""Text measurement with HarfBuzz. Font bytes are passed in; no files are opened here."""

from __future__ import annotations

from collections.abc import Mapping
from copy import copy
from typing import NamedTuple
from unicodedata import category, combining

import uharfbuzz as hb

MOST_CACHED = 50_000
REST = "rest"
"""The fallback font for missing glyphs."""
NO_GLYPH = "\u25a1"
"""The character shown for one that no font has."""
FEATURES = {"kern": True, "liga": False, "clig": False, "calt": False}


class Piece(NamedTuple):
    """Characters in one font; `width` in em."""

    font: str
    text: str
    width: float


class Typeface:
    """One font, with a fallback for missing glyphs. Widths are cached per word."""

    def __init__(self, name: str, data: bytes, rest: Typeface | None = None) -> None:
        self.name = name
        self.rest = rest
        face = hb.Face(data)
        self._font = hb.Font(face)
        self._em = face.upem
        self._ascii = all(self.has_glyph(chr(each)) for each in range(0x20, 0x7F))
        self._widths: dict[str, float] = {}
        self._pieces: dict[str, tuple[Piece, ...]] = {}

    def width(self, text: str, size: float) -> float:
        """Width of a run in mm at an em of `size` mm."""
        known = self._widths.get(text)
        if known is None:
            known = sum(piece.width for piece in self.pieces(text))
            if len(self._widths) >= MOST_CACHED:
                self._widths.clear()
            self._widths[text] = known
        return known * size

    def cut(self, text: str, size: float, wide: float) -> str:
        """As much of a text as fits in `wide` mm, at an em of `size` mm, with an ellipsis if it was cut."""
        shown = text
        while shown and self.width(shown, size) > wide:
            shown = shown[:-1]
        return shown if shown == text else f"{shown[:-1].rstrip()}…"

    def pieces(self, text: str) -> tuple[Piece, ...]:
        """The text split by the fonts that have its characters.

        Invisible characters are dropped; missing ones become a box.
        """
        known = self._pieces.get(text)
        if known is None:
            known = self._split(text)
            if len(self._pieces) >= MOST_CACHED:
                self._pieces.clear()
            self._pieces[text] = known
        return known

    def lacks(self, text: str) -> str:
        """The characters without a glyph in the font, each once."""
        if self._ascii and text.isascii():
            return ""
        return "".join(dict.fromkeys(each for each in text if _seen(each) and not self.has_glyph(each)))

    def has_glyph(self, character: str) -> bool:
        return self._font.get_nominal_glyph(ord(character)) is not None

    def shaped(self, text: str) -> list[tuple[int, float]]:
        """The position of each glyph and its advance in em, for renderers without their own shaping."""
        buffer = self._shape(text)
        return [
            (info.cluster, position.x_advance / self._em)
            for info, position in zip(buffer.glyph_infos, buffer.glyph_positions, strict=True)
        ]

    def _split(self, text: str) -> tuple[Piece, ...]:
        if self._ascii and text.isascii() and text.isprintable():
            return (Piece(self.name, text, self._measure(text)),) if text else ()
        held: list[tuple[Typeface, str]] = []
        for each in text:
            if not _seen(each):
                continue
            if held and combining(each) and held[-1][0].has_glyph(each):
                face = held[-1][0]
            else:
                face = self
                while not face.has_glyph(each) and face.rest is not None:
                    face = face.rest
                if face is not self and not face.has_glyph(each):
                    each = NO_GLYPH
            if held and held[-1][0] is face:
                held[-1] = (face, held[-1][1] + each)
            else:
                held.append((face, each))
        return tuple(Piece(face.name, part, face._measure(part)) for face, part in held)

    def _measure(self, text: str) -> float:
        return float(sum(each.x_advance for each in self._shape(text).glyph_positions)) / float(self._em)

    def _shape(self, text: str) -> hb.Buffer:
        buffer = hb.Buffer()
        buffer.add_str(text)
        buffer.guess_segment_properties()
        hb.shape(self._font, buffer, FEATURES)
        return buffer


def _seen(character: str) -> bool:
    return category(character) not in ("Cc", "Cf", "Cs", "Co", "Cn")


class Typefaces:
    """The fonts a face uses, by name, and the symbols (path data in a 256 x 256 box) by name."""

    def __init__(self, fonts: Mapping[str, bytes], symbols: Mapping[str, str]) -> None:
        rest = Typeface(REST, fonts[REST]) if REST in fonts else None
        self._fonts = {
            name: rest if rest and name == REST else Typeface(name, data, rest)
            for name, data in fonts.items()
        }
        self.symbols = dict(symbols)

    def __getitem__(self, name: str) -> Typeface:
        return self._fonts[name]

    def with_own(self, own: Mapping[str, tuple[str, bytes]]) -> Typefaces:
        """These with fonts of a game in place of some, by use: (name on the face, bytes).

        Missing glyphs fall back to the usual font.
        """
        made = copy(self)
        made._fonts = {**self._fonts, **{use: Typeface(name, data, self._fonts[use]) for use, (name, data) in own.items()}}
        return made
