"""Untrusted SVG: the sanitized result neither runs scripts nor refers outside the file, and draws the same."""

from __future__ import annotations

import io
from xml.etree import ElementTree
from xml.sax.saxutils import quoteattr

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from dramok.formats.pictures import read_picture
from dramok.formats.svg_sanitizer import KEPT, SVG, XLINK, UnsafeSvg, cleaned

HEAD = f'<svg xmlns="{SVG}" xmlns:xlink="{XLINK}" width="40" height="60" viewBox="0 0 40 60">'
OUT = "//elsewhere.example/x"

names = st.sampled_from([*sorted(KEPT), "script", "foreignObject", "a", "animate", "set", "feImage", "iframe", "STYLE", "handler"])
attributes = st.sampled_from(
    ["fill", "stroke", "style", "filter", "mask", "clip-path", "href", "xlink:href", "onload", "onClick", "xlink:onfocus", "id", "class", "cursor", "d",
     "numOctaves", "stdDeviation"]
)  # fmt: skip
pieces = st.sampled_from(
    ["url(", "URL( ", "u\\72l(", "\\75\\72\\6c(", "\\000075 rl(", "u\\rl(", "ur\\\\6cl(", "\\5c 75rl(", "@import ", "@\\69mport ", "@im", "port ", "image-set(", "src(",
     "s\\72 c(", "image(", "-webkit-cross-fade(", "expression(", "javascript:", "java", "script:", "data:image/png;base64,AAAA", "data:text/html,", "#here", "'", '"', "'#here'",
     ")", ";", " ", "none", "red", "}", "{", "rect", ":", "fill:", "/*", "*/", "\\", "\n", "é", OUT, f"http:{OUT}", "9e9"]
)  # fmt: skip
values = st.lists(pieces, max_size=6).map("".join)


@st.composite
def elements(draw, deep=0):
    name = draw(names)
    held = {draw(attributes): draw(values) for _ in range(draw(st.integers(0, 3)))}
    inside = draw(values.map(lambda text: text.replace("<", "").replace("&", ""))) if name.lower() in ("style", "text", "script") else ""
    if deep < 3:
        inside += "".join(draw(st.lists(elements(deep=deep + 1), max_size=3)))
    return f"<{name} {' '.join(f'{key}={quoteattr(value)}' for key, value in held.items())}>{inside}</{name}>"


def read_as_css(text: str) -> list[str]:
    """What a style reaches for: the places that its calls and its imports name, by a plain reading sign after sign (CSS Syntax, 4.3)."""
    said, at, marks = [], 0, ""
    # Signs by their number stand for themselves in a name; they are marked, so that no second reading takes them for more.
    plain: list[tuple[str, bool]] = []
    while at < len(text):
        if text[at] == "\\" and at + 1 < len(text) and text[at + 1] not in "\n\r\f":
            digits = ""
            while len(digits) < 6 and at + 1 + len(digits) < len(text) and text[at + 1 + len(digits)] in "0123456789abcdefABCDEF":
                digits += text[at + 1 + len(digits)]
            if digits:
                number = int(digits, 16)
                plain.append((chr(number) if 0 < number < 0x110000 and not 0xD800 <= number < 0xE000 else "\ufffd", True))
                at += 1 + len(digits)
                at += at < len(text) and text[at] in " \t\n\r\f"
            else:
                plain.append((text[at + 1], True))
                at += 2
        else:
            plain.append((text[at], False))
            at += 1
    letters = "".join(letter if not meant or letter.isalnum() or letter in "-_" else "\ufffd" for letter, meant in plain).lower()
    for place, letter in enumerate(letters + " "):
        if letter.isalnum() or letter in "-_@\ufffd" or letter > "\x7f":
            marks += letter
            continue
        if marks.endswith("@import"):
            said.append(letters[place:])
        if letter == "(" and marks.endswith(("url", "src", "image", "image-set", "cross-fade", "expression")):
            name = marks[-len("cross-fade") :]
            if name.endswith("url") or marks in ("src", "image") or name.endswith(("image-set", "cross-fade", "expression")):
                said.append(letters[place + 1 :].lstrip(" \t\n\r'\""))
        marks = ""
    return said


@settings(max_examples=150)
@given(st.lists(elements(), max_size=4).map("".join))
def test_whatever_is_in_it_what_is_kept_stays_within_the_file(inside):
    try:
        safe = cleaned(f"{HEAD}{inside}</svg>".encode())
    except UnsafeSvg as refused:
        assert "no sound XML" in str(refused)
        return
    for each in ElementTree.fromstring(safe).iter():
        space, _, name = each.tag.rpartition("}")
        assert space == f"{{{SVG}" and name in KEPT
        for key, value in each.attrib.items():
            plain = key.rpartition("}")[2].lower()
            assert not plain.startswith("on"), key
            if plain == "href":
                assert value.strip().startswith("#") or (name == "image" and value.strip().startswith("data:image/png;base64,")), value
            elif plain not in ("id", "class"):
                assert all(reached.startswith("#") for reached in read_as_css(value)), value
        if name == "style":
            assert all(reached.startswith("#") for reached in read_as_css(each.text or "")), each.text
    assert cleaned(safe) == safe, "cleaned again it is as it was"


def test_the_plain_reading_sees_what_it_looks_for():
    assert read_as_css("fill: URL( 'http://x' )") == ["http://x' )"]
    assert read_as_css("fill:u\\72l(x") == read_as_css("\\000075 r\\6c(x") == ["x"]
    assert read_as_css('@\\69mport "y"') == [' "y"'] and read_as_css("a image-set('z')") == ["z')"]
    assert read_as_css("fill:red url(#a)") == ["#a)"] and read_as_css("ur\\5c 6cl(x) @import-no") == []


@pytest.mark.parametrize(
    ("value", "kept"),
    [
        ("url(#g)", "url(#g)"), ("url('#g')", "url('#g')"), ('url( "#g" )', 'url( "#g" )'), ("URL(#g) red", "URL(#g) red"), (f"url({OUT})", "none"),
        (f"url({OUT}", "none"), (f"url('{OUT}') red", "none red"), (r"u\72l(//x) red", "none red"), (r"\red", r"\red"), (r"\5c 75rl(//x)", r"\5c 75rl(//x)"),
        (f"image-set('{OUT}' 1x)", f"none'{OUT}' 1x)"), ("translate(3) rotate(4)", "translate(3) rotate(4)"), (r"\1 url(//x)", "\ufffdnone"),
        (r"url(\'#g)", "none"), (r"url(\#g)", "none"),
    ],
)  # fmt: skip
def test_places_of_the_files_own_stay_and_others_go_however_they_are_written(value, kept):
    root = ElementTree.fromstring(cleaned(f"{HEAD}<rect fill={quoteattr(value)}/></svg>".encode()))
    assert root[0].get("fill") == kept


@pytest.mark.parametrize(("octaves", "kept"), [("3", "3"), ("9", "8"), ("1e99", "8"), ("9e99e9", "8"), ("9e9 7 800", "8 7 8"), ("9url(//x)", "8none"), ("-4", "-4"), ("9e9" * 100_000, "8")])
def test_figures_that_would_take_a_filter_long_are_cut_however_they_are_written(octaves, kept):
    root = ElementTree.fromstring(cleaned(f'{HEAD}<filter id="f"><feTurbulence numOctaves="{octaves}"/></filter></svg>'.encode()))
    assert root[0][0].get("numOctaves") == kept


@pytest.mark.parametrize("fill", ["url(#g)", "url('#g')", "url(&quot;#g&quot;)"])
def test_a_fill_from_the_file_is_drawn_with_or_without_quotes(fill):
    ramp = '<linearGradient id="g"><stop offset="0" stop-color="#00ff00"/><stop offset="1" stop-color="#00ff00"/></linearGradient>'
    drawn = read_picture(f'{HEAD}{ramp}<rect width="40" height="60" fill="{fill}"/></svg>'.encode()).drawn
    red, green, blue = Image.open(io.BytesIO(drawn)).convert("RGB").getpixel((100, 100))
    assert green > 240 > 20 > red and blue < 20


def test_entities_are_seen_in_whatever_signs_they_are_written():
    told = '<!DOCTYPE svg [<!EnTiTy a "aaaa"><!ENTITY b "&a;&a;">]>'
    for encoding, what in (("utf-8", "entities"), ("windows-1252", "entities"), ("utf-16", "not UTF-8"), ("utf-32", "not UTF-8")):
        data = f'<?xml version="1.0" encoding="{encoding}"?>{told}{HEAD}<text>&b;</text></svg>'.encode(encoding)
        with pytest.raises(UnsafeSvg, match=what):
            cleaned(data)
    for data in (b'<?xml version="1.0" encoding="no-such"?><svg/>', b'<?xml version="1.0" encoding="utf-8"?><svg a="\xff"/>', b"<svg/>"):
        with pytest.raises(UnsafeSvg):
            cleaned(data)
    assert "\u00e9" in cleaned(f'<?xml version="1.0" encoding="windows-1252"?>{HEAD}<text>\u00e9</text></svg>'.encode("cp1252")).decode()
