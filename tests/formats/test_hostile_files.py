"""Untrusted files: pictures, workbooks and archives that are damaged, huge, or malicious."""

from __future__ import annotations

import io
import struct
import zipfile
import zlib

import pytest
from PIL import Image

from dramok.formats.pictures import MOST_KEPT, NoPicture, read_picture
from dramok.formats.svg_sanitizer import UnsafeSvg, cleaned
from dramok.formats.tables import MIXED, ReadAs, UnreadableFile, read_table
from dramok.formats.zip_archives import UnsafeArchive, open_archive

SVG = 'xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="40" height="60" viewBox="0 0 40 60"'


def drawn(kind: str, mode: str = "RGB", **options) -> bytes:
    out = io.BytesIO()
    Image.new(mode, (40, 60), "#336699" if mode != "RGBA" else (50, 100, 150, 128)).save(out, kind, **options)
    return out.getvalue()


@pytest.mark.parametrize("kind", ["PNG", "JPEG", "WEBP", "GIF", "BMP", "TIFF", "AVIF"])
def test_any_common_format_is_known_by_what_it_is(kind):
    found = read_picture(drawn(kind))
    assert (found.width, found.height) == (40, 60) and found.media == f"image/{kind.lower()}"
    assert Image.open(io.BytesIO(found.drawn)).format in ("PNG", "JPEG")


def test_pictures_are_turned_upright_made_small_and_large_originals_let_go():
    turned = Image.Exif()
    turned[0x0112] = 8
    out = io.BytesIO()
    Image.effect_noise((3000, 2000), 90).convert("RGB").save(out, "PNG", exif=turned)
    assert len(out.getvalue()) > MOST_KEPT
    found = read_picture(out.getvalue())
    small = Image.open(io.BytesIO(found.drawn))
    assert small.size == (733, 1100) and (found.width, found.height) == (2000, 3000)
    assert found.kept == found.drawn and read_picture(found.kept).sha == found.sha
    assert Image.open(io.BytesIO(read_picture(drawn("PNG", "RGBA")).drawn)).mode == "RGBA"


def png_of(width: int, height: int) -> bytes:
    def chunk(kind: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))

    head = struct.pack(">IIBBBBB", width, height, 8, 0, 0, 0, 0)
    return (
        b"\x89PNG\r\n\x1a\n"
        + chunk(b"IHDR", head)
        + chunk(b"IDAT", zlib.compress(b"\0" * 1000))
        + chunk(b"IEND", b"")
    )


@pytest.mark.parametrize(
    ("data", "what"),
    [
        (png_of(30_000, 30_000), "too many"), (b"", "not a picture"), (b"%PDF-1.7 hello", "not a picture"), (drawn("PNG")[:60], "not a picture"),
        (b"x" * 41_000_000, "too large"), (b"<svg onload='alert(1)'/>", "it is not an SVG"), (f"<svg {SVG}>".encode(), "not well-formed XML"),
        (f"<svg {SVG}>{'<g>' * 300}{'</g>' * 300}</svg>".encode(), "too deep"),
        (f'<!DOCTYPE svg [<!ENTITY a "aaaa">]><svg {SVG}><text>&a;</text></svg>'.encode(), "entities"),
        (f"<svg {SVG.replace('60', '600000')}></svg>".encode(), "too tall|can't be used"),
    ],
    ids=["30,000 x 30,000", "empty", "pdf", "cut off", "41 MB", "no namespace", "unclosed", "deep", "entities", "endless"],
)  # fmt: skip
def test_what_is_no_picture_is_refused_plainly(data, what):
    with pytest.raises(NoPicture, match=what) as refused:
        read_picture(data)
    assert refused.value.problem.mend


def test_an_svg_keeps_its_drawing_and_nothing_that_runs_or_reaches_out():
    dirty = f"""<?xml version="1.0"?><svg {SVG} onload="alert(1)"><script>alert(2)</script><style>@import url(http://x/y.css); rect {{ fill: red }}</style>
      <foreignObject><body xmlns="http://www.w3.org/1999/xhtml"/></foreignObject><rect width="40" height="60" onclick="x()" style="fill:url(http://x/f)"/>
      <a href="javascript:alert(3)"><rect width="9" height="9"/></a><image href="/etc/passwd"/><image xlink:href="http://x/p.png"/><use href="#here"/>
      <image href="data:image/png;base64,AAAA"/><image href="data:image/svg+xml;base64,AAAA"/><linearGradient id="g"/><rect fill="url(#g)"/></svg>"""
    safe = cleaned(dirty.encode())
    text = safe.decode()
    for bad in (
        "script",
        "onload",
        "onclick",
        "javascript",
        "http://x",
        "/etc/passwd",
        "foreignObject",
        "@import",
        "svg+xml;",
    ):
        assert bad not in text, bad
    for good in ("#here", "data:image/png;base64", "url(#g)", "fill: red"):
        assert good in text, good
    assert cleaned(safe) == safe
    red = f'<svg {SVG}><rect width="40" height="60" fill="#ff0000"/></svg>'.encode()
    found = read_picture(red)
    assert (
        found.media == "image/svg+xml"
        and Image.open(io.BytesIO(found.drawn)).convert("RGB").getpixel((200, 200))[0] > 240
    )
    assert read_picture(found.kept).sha == found.sha
    assert read_picture(safe).drawn
    with pytest.raises(UnsafeSvg):
        cleaned(b"<html/>")


def zipped(*entries: tuple[str, bytes]) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, content in entries:
            archive.writestr(name, content)
    return out.getvalue()


def test_archives_are_looked_through_before_they_are_unpacked():
    assert open_archive(zipped(("a/b.png", b"x"))).namelist() == ["a/b.png"]
    many = b"PK\x01\x02" * 1_000_001
    bad = {
        b"": "damaged", zipped(("../x", b"")): "leave", zipped(("/etc/x", b"")): "leave", zipped(("C:\\x", b"")): "leave", zipped(("a/../../x", b"")): "leave",
        zipped(("bomb", b"\0" * 50_000_000)): "grows", many: "over 20,000 files", zipped(*((f"{n}", b"") for n in range(20_001))): "over 20,000 files",
    }  # fmt: skip
    for data, what in bad.items():
        with pytest.raises(UnsafeArchive, match=what):
            open_archive(data)
    with pytest.raises(UnsafeArchive, match="unpacks to"):
        open_archive(zipped(*((f"{n}", bytes([n]) * 900_000) for n in range(4))), most_unpacked=2_000_000)


def workbook(rows: str) -> bytes:
    import openpyxl

    book = openpyxl.Workbook()
    book.active.append(["Name", "Cost"])
    out = io.BytesIO()
    book.save(out)
    with zipfile.ZipFile(out) as made:
        entries = [(name, made.read(name)) for name in made.namelist()]
    sheet = f'<worksheet xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"><sheetData>{rows}</sheetData></worksheet>'
    return zipped(
        *((name, sheet.encode() if name == "xl/worksheets/sheet1.xml" else data) for name, data in entries)
    )


def test_a_workbook_of_a_million_empty_rows_and_formulas_without_values():
    text = '<row r="1"><c r="A1" t="inlineStr"><is><t>Name</t></is></c><c r="B1" t="inlineStr"><is><t>Cost</t></is></c></row>'
    text += '<row r="2"><c r="A2" t="inlineStr"><is><t>=1+1</t></is></c><c r="B2"><f>SUM(1,2)</f><v>3</v></c></row>'
    text += '<row r="3" hidden="1"><c r="A3" t="inlineStr"><is><t>Fern</t></is></c><c r="B3"><f>SUM(1,2)</f><v/></c></row>'
    found = read_table(workbook(text + "".join(f'<row r="{n}"/>' for n in range(4, 1_000_000))))
    assert found.rows == (("Name", "Cost"), ("=1+1", "3"), ("Fern",))
    assert ["without a value" in found.notes[0], "row 3 is hidden" in found.notes[1]] == [True, True]
    far = read_table(workbook(text + '<row r="1048576"><c r="A1048576"><v>9</v></c></row>'))
    assert len(far.rows) == 3
    for bad in (zipped(("xl/workbook.xml", b"<nonsense")), zipped(("notes.txt", b"hello"))):
        with pytest.raises(UnreadableFile, match="not a workbook"):
            read_table(bad)


def test_encodings_are_found_mixed_ones_too_and_can_be_chosen():
    mixed = "Name;Cost\nÀ l'ombre;1\n".encode() + "Bégonia;2\n".encode("cp1252")
    found = read_table(mixed)
    assert (found.encoding, [row[0] for row in found.rows]) == (MIXED, ["Name", "À l'ombre", "Bégonia"])
    assert (
        read_table("Name;Cost\nПапоротник;1\n".encode("cp1251"), ReadAs("Windows-1251", ";")).rows[1][0]
        == "Папоротник"
    )
    json_rows = read_table(
        b'{"cards": [{"Name": "Fern", "tags": ["a", "b"], "values": {"Cost": 3, "Tall": true}}, {"Name": "Moss", "x": null}]}'
    )
    assert json_rows.rows == (
        ("Name", "tags", "Cost", "Tall", "x"),
        ("Fern", "a, b", "3", "yes", ""),
        ("Moss", "", "", "", ""),
    )
    for bad, what in (
        (b"<!doctype html><p>Sign in", "web page"),
        (b'[{"a": 1},]', "JSON"),
        (b"[1, 2]", "no list of objects"),
    ):
        with pytest.raises(UnreadableFile, match=what):
            read_table(bad)
