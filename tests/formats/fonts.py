"""Small fonts made for tests: letters as boxes, in every supported format."""

from __future__ import annotations

import io

from fontTools.fontBuilder import FontBuilder
from fontTools.pens.t2CharStringPen import T2CharStringPen
from fontTools.pens.ttGlyphPen import TTGlyphPen
from fontTools.ttLib import TTFont

LETTERS = "Handglove 0123456789Fern"
EM = 1000


def _box(pen, wide: int, high: int) -> None:
    pen.moveTo((100, 0))
    pen.lineTo((100, high))
    pen.lineTo((wide - 100, high))
    pen.lineTo((wide - 100, 0))
    pen.closePath()


def made_font(flavor: str | None = None, cubic: bool = False, letters: str = LETTERS, wide: int = 600, restricted: bool = False) -> bytes:
    """A font in which each letter is a box; `flavor` woff or woff2; `cubic` with the outlines of an OTF."""
    names = {each: f"u{ord(each):04x}" for each in dict.fromkeys(letters)}
    order = [".notdef", *names.values()]
    builder = FontBuilder(EM, isTTF=not cubic)
    builder.setupGlyphOrder(order)
    builder.setupCharacterMap({ord(each): name for each, name in names.items()})
    drawn = {}
    for place, name in enumerate(order):
        pen = T2CharStringPen(wide, None) if cubic else TTGlyphPen(None)
        if name != names.get(" "):
            _box(pen, wide, 500 + 10 * place)
        drawn[name] = pen.getCharString() if cubic else pen.glyph()
    if cubic:
        builder.setupCFF("Boxes", {"FullName": "Boxes"}, drawn, {})
    else:
        builder.setupGlyf(drawn)
    builder.setupHorizontalMetrics({name: (wide, 100) for name in order})
    builder.setupHorizontalHeader(ascent=800, descent=-200)
    builder.setupNameTable({"familyName": "Boxes", "styleName": "Regular", "fullName": "Boxes of ours", "copyright": "2026 Nobody", "licenseDescription": "Use it\nfreely"})
    builder.setupOS2(fsType=2 if restricted else 0)
    builder.setupPost()
    out = io.BytesIO()
    builder.save(out)
    if flavor is None:
        return out.getvalue()
    font = TTFont(io.BytesIO(out.getvalue()))
    font.flavor = flavor
    out = io.BytesIO()
    font.save(out)
    return out.getvalue()
