"""Import fonts: read, validate, and prepare them for every renderer.

A prepared font is TrueType with only the tables that drawing needs: no ligatures, hinting programs or
variations.
"""

from __future__ import annotations

import io
from dataclasses import dataclass
from hashlib import sha256
from typing import Any

from fontTools.pens.basePen import NullPen
from fontTools.pens.cu2quPen import Cu2QuPen
from fontTools.pens.recordingPen import RecordingPen
from fontTools.pens.ttGlyphPen import TTGlyphPen
from fontTools.ttLib import TTFont, newTable
from fontTools.ttLib.tables._n_a_m_e import NameRecord
from fontTools.varLib.instancer import instantiateVariableFont

from dramok.core.faces.layout.typeface import Typeface
from dramok.core.problem import Problem

MOST_BYTES = 20 * 1024 * 1024
MOST_UNPACKED = 60 * 1024 * 1024
MOST_GLYPHS = 30_000
MOST_CONVERTED = 8_000
"""The glyph limit of a font with cubic outlines (OTF), each of which is converted."""
KEPT = ("head", "hhea", "maxp", "OS/2", "hmtx", "cmap", "loca", "glyf", "name", "post", "kern", "GPOS", "GDEF")
"""The tables of a prepared font (OpenType names); others are removed."""
MAGIC = (b"\x00\x01\x00\x00", b"true", b"OTTO", b"wOFF", b"wOF2")
SAMPLE = "Handglove 0123456789"
"""The sample that every renderer must draw, except for missing characters."""
RESTRICTED = 0x0002
EPOCH = 0x7C25B080
"""1 January 1970 in seconds since 1904, the epoch of fonts: a fixed date keeps the bytes reproducible."""
_COPYRIGHT, _FAMILY, _FULL, _LICENSE = 0, 1, 4, 13
"""Entries of the name table (OpenType, table `name`)."""


class NoFont(ValueError):
    """The file is not a usable font. `problem` has the reason and the fix."""

    def __init__(self, what: str, mend: str) -> None:
        super().__init__(what)
        self.problem = Problem(where="font", what=what, mend=mend)


@dataclass(frozen=True)
class ReadFont:
    """A prepared font: its bytes with their SHA-256, its name, the license line of the file, and warnings."""

    sha: str
    data: bytes
    name: str
    license: str
    notes: tuple[str, ...]


def read_font(data: bytes) -> ReadFont:
    """Read a TTF, OTF, WOFF or WOFF2 and prepare it. The same file gives the same bytes. Raises NoFont."""
    if len(data) > MOST_BYTES:
        raise NoFont(f"a font of {len(data) // 1048576} MB is too large", f"choose one under {MOST_BYTES // 1048576} MB")
    if data[:4] == b"ttcf":
        raise NoFont("this is a collection of several fonts", "save one of them as a TTF or OTF, and choose that")
    if data[:4] not in MAGIC:
        raise NoFont("this is not a font", "choose a TTF, OTF, WOFF or WOFF2 file")
    try:
        font = _opened(data)
        name, license, notes = _named(font), _license(font), _notes(font)
        _made_plain(font)
        ready = _saved(font)
        lacking = _check_drawn(ready)
    except NoFont:
        raise
    except RecursionError as error:
        raise NoFont("the font is damaged: its glyphs contain one another", "choose another file") from error
    except Exception as error:  # the library raises many kinds of errors for damaged tables
        raise NoFont(f"the font is damaged: {str(error)[:120] or type(error).__name__}", "choose another file, or save it again") from error
    if lacking:
        notes.append(f"it has no {' '.join(lacking)}: the usual font is used for what it lacks")
    return ReadFont(sha256(ready).hexdigest(), ready, name, license, tuple(notes))


def prepared(data: bytes) -> str:
    """The SHA-256 of an already prepared font, validated again, such as one in an archive. Raises NoFont."""
    if data[:4] != MAGIC[0] or len(data) > MOST_UNPACKED:
        raise NoFont("this is not a font as Dramok keeps it", "choose another archive")
    try:
        font = TTFont(io.BytesIO(data))
        if set(font.keys()) - {"GlyphOrder", *KEPT}:
            raise NoFont("this font has tables that faces do not use", "choose another archive")
        _check_drawn(data)
    except NoFont:
        raise
    except Exception as error:
        raise NoFont(f"the font is damaged: {str(error)[:120]}", "choose another archive") from error
    return sha256(data).hexdigest()


def _opened(data: bytes) -> TTFont:
    font = TTFont(io.BytesIO(data), recalcTimestamp=False)
    reader: Any = font.reader
    unpacked = sum(int(getattr(each, "origLength", 0) or each.length) for each in reader.tables.values())
    if unpacked > MOST_UNPACKED:
        raise NoFont(f"the font unpacks to {unpacked // 1048576} MB", "choose a smaller one, or one of fewer characters")
    missing = {"head", "hhea", "maxp", "hmtx", "cmap", "name"} - set(font.keys())
    if missing or not {"glyf", "CFF ", "CFF2"} & set(font.keys()):
        raise NoFont("the font has no outlines, or lacks tables that every font has", "choose a font with outlines")
    if font["maxp"].numGlyphs > MOST_GLYPHS:
        raise NoFont(f"the font has {font['maxp'].numGlyphs:,} glyphs", f"choose one with up to {MOST_GLYPHS:,}")
    if not font.getBestCmap():
        raise NoFont("the font has no characters", "choose another file")
    return font


def _named(font: TTFont) -> str:
    names = font["name"]
    found = names.getDebugName(_FULL) or names.getDebugName(_FAMILY) or "Font"
    return " ".join("".join(each if each.isprintable() else " " for each in found).split())[:80] or "Font"


def _license(font: TTFont) -> str:
    names = font["name"]
    found = [names.getDebugName(each) for each in (_COPYRIGHT, _LICENSE)]
    line = " ".join(" ".join(each.split()) for each in found if each)
    return "".join(each for each in line if each.isprintable())[:400]


def _notes(font: TTFont) -> list[str]:
    notes = []
    if "OS/2" in font and font["OS/2"].fsType & RESTRICTED:
        notes.append("the file says that it may not be embedded in documents: make sure that your license allows it")
    if "fvar" in font:
        notes.append("it is a variable font: its default style is used")
    return notes


def _made_plain(font: TTFont) -> None:
    """Remove variations, ligatures, hinting and everything else that drawing does not need; convert outlines to
    TrueType.
    """
    if "fvar" in font:
        instantiateVariableFont(font, {each.axisTag: each.defaultValue for each in font["fvar"].axes}, inplace=True)
    if "glyf" not in font:
        if font["maxp"].numGlyphs > MOST_CONVERTED:
            raise NoFont(f"the font has {font['maxp'].numGlyphs:,} glyphs with cubic outlines", f"choose its TTF, or one of up to {MOST_CONVERTED:,} glyphs")
        _outlines_as_truetype(font)
    glyphs = font["glyf"]
    for each in font.getGlyphOrder():
        glyphs[each].removeHinting()
    for tag in set(font.keys()) - {"GlyphOrder", *KEPT}:
        del font[tag]
    font["maxp"].maxSizeOfInstructions = 0
    font.flavor = None
    if "OS/2" in font:
        font["OS/2"].usWeightClass, font["OS/2"].fsSelection = 400, 0x40
    font["head"].macStyle = 0
    font["head"].created = font["head"].modified = EPOCH
    font["post"] = post = newTable("post")
    post.formatType, post.italicAngle, post.underlinePosition, post.underlineThickness = 3.0, 0, 0, 0
    post.isFixedPitch = post.minMemType42 = post.maxMemType42 = post.minMemType1 = post.maxMemType1 = 0


def _outlines_as_truetype(font: TTFont) -> None:
    order = font.getGlyphOrder()
    source = font.getGlyphSet()
    most = font["head"].unitsPerEm / 1000
    glyphs = {}
    for name in order:
        pen = TTGlyphPen(None)
        source[name].draw(Cu2QuPen(pen, most, reverse_direction=True))
        glyphs[name] = pen.glyph()
    font["loca"] = newTable("loca")
    font["glyf"] = table = newTable("glyf")
    table.glyphOrder, table.glyphs = order, glyphs
    metrics = font["hmtx"].metrics
    for name, glyph in glyphs.items():
        glyph.recalcBounds(table)
        metrics[name] = (metrics[name][0], getattr(glyph, "xMin", 0) if glyph.numberOfContours else 0)
    maxp = font["maxp"] = newTable("maxp")
    maxp.tableVersion, maxp.numGlyphs = 0x00010000, len(order)
    for each in ("maxZones", "maxTwilightPoints", "maxStorage", "maxFunctionDefs", "maxInstructionDefs", "maxStackElements", "maxSizeOfInstructions", "maxComponentElements", "maxPoints", "maxContours", "maxCompositePoints", "maxCompositeContours", "maxComponentDepth"):  # fmt: skip
        setattr(maxp, each, 1 if each == "maxZones" else 0)
    font["head"].glyphDataFormat = 0
    font.sfntVersion = "\x00\x01\x00\x00"


def _saved(font: TTFont) -> bytes:
    """The bytes of a font under a neutral name: the page and the renderers identify it by its file."""
    font["name"] = table = newTable("name")
    table.names = []
    for ident, said in ((_FAMILY, "Dramok own"), (2, "Regular"), (_FULL, "Dramok own"), (6, "DramokOwn")):
        record = NameRecord()
        record.nameID, record.platformID, record.platEncID, record.langID, record.string = ident, 3, 1, 0x409, said
        table.names.append(record)
    out = io.BytesIO()
    font.save(out)
    return out.getvalue()


def _check_drawn(data: bytes) -> list[str]:
    """Draw a sample as the renderers do: measured by the text engine, outlined for PDF and PNG. Returns the
    missing characters.

    Raises NoFont if the measured and drawn results differ, or nothing is drawn.
    """
    face = Typeface("check", data)
    font = TTFont(io.BytesIO(data))
    glyphs, names = font.getGlyphSet(), font.getBestCmap()
    # Find a glyph that can't be drawn now, not on a card.
    for name in set(names.values()):
        glyphs[name].draw(NullPen())
    lacking, drawn = [], 0
    for each in dict.fromkeys(SAMPLE.replace(" ", "")):
        name = names.get(ord(each))
        if name is None or not face.has_glyph(each):
            lacking.append(each)
            continue
        pen = RecordingPen()
        glyphs[name].draw(pen)
        drawn += bool(pen.value)
        if abs(face.width(each, 1) - glyphs[name].width / font["head"].unitsPerEm) > 0.002:
            raise NoFont(f"“{each}” is drawn at another width than it is measured at", "choose another font")
    if not drawn and len(lacking) < len(set(SAMPLE)) - 1:
        raise NoFont("its letters are empty", "choose a font with outlines")
    return lacking

