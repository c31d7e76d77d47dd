"""Text as outlines, for files that are opened without the fonts of faces."""

from __future__ import annotations

from functools import cache, lru_cache
from io import BytesIO
from typing import Any

from fontTools.pens.svgPathPen import SVGPathPen
from fontTools.pens.transformPen import TransformPen
from fontTools.ttLib import TTFont

from dramok.core.faces import Text, Typeface
from dramok.formats.font_files import font_files, load_typefaces, own_font


def outline(element: Text) -> str:
    """A text's glyphs as one SVG path in mm, y downward."""
    words = (
        zip(element.words, element.text.split(" "), strict=False)
        if element.words
        else [(element.x, element.text)]
    )
    return "".join(
        _word(element.font, word, element.size, round(x, 3), round(element.y, 3)) for x, word in words
    )


def _word(name: str, word: str, size: float, x: float, y: float) -> str:
    font, glyphs, names = _font(name)
    step = size / font["head"].unitsPerEm
    pen = SVGPathPen(glyphs, lambda number: f"{number:.3f}".rstrip("0").rstrip("."))
    for cluster, advance in _shaped(name, word):
        glyph = names.get(ord(word[cluster]))
        if glyph is not None:
            glyphs[glyph].draw(TransformPen(pen, (step, 0, 0, -step, x, y)))
        x += advance * size
    return str(pen.getCommands())


@lru_cache(maxsize=20_000)
def _shaped(name: str, word: str) -> tuple[tuple[int, float], ...]:
    data = own_font(name)
    face = Typeface(name, data) if data is not None else load_typefaces()[name]
    return tuple(face.shaped(word))


@cache
def _font(name: str) -> tuple[TTFont, Any, dict[int, str]]:
    data = own_font(name)
    font = TTFont(font_files()[name] if data is None else BytesIO(data))
    return font, font.getGlyphSet(), font.getBestCmap()
