"""A game's own fonts: every format gives the same letters, the same file gives the same bytes, and unusable files are refused with a fix."""

from __future__ import annotations

import io
import random
import struct

import pytest
from fontTools.ttLib import TTFont

from dramok.core.faces import Typeface
from dramok.formats.own_fonts import KEPT, NoFont, prepared, read_font
from tests.conftest import SEED
from tests.formats.fonts import LETTERS, made_font

FORMS = {"ttf": {}, "otf": {"cubic": True}, "woff": {"flavor": "woff"}, "woff2": {"flavor": "woff2"}}


@pytest.mark.parametrize("form", FORMS)
def test_every_format_becomes_one_that_all_painters_draw(form):
    read = read_font(made_font(**FORMS[form]))
    assert (read.name, read.license, read.notes) == ("Boxes of ours", "2026 Nobody Use it freely", ())
    font = TTFont(io.BytesIO(read.data))
    assert set(font.keys()) <= {"GlyphOrder", *KEPT} and "glyf" in font and font.flavor is None
    face = Typeface("own", read.data)
    assert face.width("Fern", 10) == pytest.approx(4 * 0.6 * 10)
    assert face.lacks(LETTERS) == "" and face.lacks("Q") == "Q" and not face.has_glyph("Q")
    box = font["glyf"][font.getBestCmap()[ord("F")]]
    assert (box.xMin, box.yMin, box.xMax) == (100, 0, 500) and box.yMax > 500
    assert read_font(made_font(**FORMS[form])).sha == read.sha == prepared(read.data), "the same file, the same bytes"


def test_what_is_to_be_known_of_a_font_is_said():
    read = read_font(made_font(letters="Fern 0123", restricted=True))
    assert read.notes == (
        "the file says that it may not be embedded in documents: make sure that your license allows it",
        "it has no H a d g l o v 4 5 6 7 8 9: the usual font is used for what it lacks",
    )


@pytest.mark.parametrize(
    ("data", "what"),
    [
        (b"", "this is not a font"), (b"hello", "this is not a font"), (b"ttcf" + bytes(40), "this is a collection of several fonts"),
        (b"\x00\x01\x00\x00" + bytes(20), "the font has no outlines"), (b"OTTO" + b"\xff" * 300, "the font is damaged"),
        (made_font()[:700], "the font is damaged"), (b"wOF2" + bytes(100), "the font is damaged"), (made_font(letters=""), "the font has no characters"),
        (b"\x00\x01\x00\x00" + bytes(21 * 1024 * 1024), "a font of 21 MB is too large"),
    ],
)  # fmt: skip
def test_what_can_not_be_used_is_refused_with_a_fix(data, what):
    with pytest.raises(NoFont) as refused:
        read_font(data)
    problem = refused.value.problem
    assert problem.what.startswith(what) and problem.mend, problem


def test_a_font_that_claims_to_unpack_to_gigabytes_is_not_unpacked():
    data = bytearray(made_font(flavor="woff"))
    # The table directory begins at byte 44: tag, offset, packed length, length, checksum (WOFF 1.0, section 4).
    struct.pack_into(">I", data, 44 + 12, 2**31)
    with pytest.raises(NoFont, match="unpacks to 2048 MB"):
        read_font(bytes(data))


@pytest.mark.parametrize("seed", [SEED, SEED + 1, SEED + 2])
def test_a_damaged_font_is_refused_or_read_and_nothing_else_happens(seed):
    dice = random.Random(seed)
    whole = made_font(**FORMS[dice.choice(list(FORMS))])
    for _ in range(60):
        data = bytearray(whole)
        for _ in range(dice.randint(1, 12)):
            data[dice.randrange(len(data))] = dice.randrange(256)
        if dice.random() < 0.2:
            del data[dice.randrange(len(data)) :]
        try:
            read = read_font(bytes(data))
        except NoFont as error:
            assert error.problem.what and error.problem.mend
        else:
            assert prepared(read.data) == read.sha


def test_what_an_archive_holds_as_a_font_is_checked_again():
    for data in (made_font(cubic=True), b"\x00\x01\x00\x00" + bytes(60), made_font()[:900]):
        with pytest.raises(NoFont):
            prepared(data)
