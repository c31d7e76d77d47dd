"""Limits on text, numbers and nesting: the one check that every entry point uses."""

from __future__ import annotations

import json
import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dramok.core.text_checks import (
    MOST_DEPTH,
    MOST_NUMBER,
    InvalidInput,
    check_document,
    check_json_text,
    check_text,
    number_fault,
    read_json,
    text_fault,
    without_controls,
)

PLAIN = st.recursive(
    st.none() | st.booleans() | st.integers(-MOST_NUMBER, MOST_NUMBER) | st.floats(allow_nan=False, allow_infinity=False)
    | st.text(st.characters(blacklist_categories=("Cs",), blacklist_characters="\x00"), max_size=20),
    lambda inner: st.lists(inner, max_size=4) | st.dictionaries(st.text(st.characters(blacklist_categories=("Cs",), blacklist_characters="\x00"), max_size=8), inner, max_size=4),
    max_leaves=20,
)  # fmt: skip


@given(PLAIN)
def test_plain_data_comes_in_and_is_the_same_when_it_was_text(document):
    check_document(document)
    text = json.dumps(document, ensure_ascii=False)
    check_json_text(text)
    assert json.dumps(read_json(text)) == json.dumps(document)
    assert json.dumps(read_json(json.dumps(document))) == json.dumps(document), "written with escapes, too"


@given(
    PLAIN,
    st.sampled_from(["\x00", "\ud800", "\udfff", "a\udc00b"]),
    st.lists(st.sampled_from(["list", "dict", "key"]), max_size=5),
)
def test_one_bad_character_anywhere_is_found_and_its_place_is_said(document, bad, around):
    wrapped: object = bad
    place: list[str] = []
    for each in around:
        if each == "list":
            wrapped, place = [document, wrapped], ["1", *place]
        else:
            wrapped, place = {"in": wrapped, "beside": document}, ["in", *place]
    with pytest.raises(InvalidInput) as caught:
        check_document(wrapped, "here")
    assert caught.value.where == ".".join(["here", *place])
    assert caught.value.what in ("a text holds a NUL character", "a text holds half of a surrogate pair")
    assert caught.value.mend and not text_fault(caught.value.where), "what is said can itself be shown"
    with pytest.raises(InvalidInput):
        check_json_text(json.dumps(wrapped), "here")


def test_a_bad_key_is_found_too():
    with pytest.raises(InvalidInput, match="NUL"):
        check_document({"a": {"b\x00": 1}})
    with pytest.raises(InvalidInput, match="surrogate"):
        read_json('{"\\udc12": 1}')


@pytest.mark.parametrize(
    ("text", "sound"),
    [
        ("plain", True), ("é ✓ 🌿", True), ("\\u0000", True), ("a\x00", False), ("\ud83c", False), ("\ud83c\udf3f"[:1], False), ("\x07\x1b", True), ("", True),
    ],
)  # fmt: skip
def test_texts(text, sound):
    assert (text_fault(text) is None) == sound
    if sound:
        assert check_text(text, "x") is text
    else:
        with pytest.raises(InvalidInput):
            check_text(text, "x")


@pytest.mark.parametrize(
    ("text", "sound"),
    [
        (r'"\u0041"', True), (r'"\u00e9"', True), (r'"\u0000"', False), (r'"\ud83c\udf3f"', True), (r'"\ud83c"', False), (r'"\uDC00"', False),
        (r'"C:\\u0000"', True), ('"🌿"', True),
    ],
)  # fmt: skip
def test_escapes_are_decoded(text, sound):
    """A backslash that is itself escaped begins none: the quick look is suspicious, the real one is just."""
    if sound:
        check_json_text(text)
    else:
        with pytest.raises(InvalidInput):
            check_json_text(text)


@pytest.mark.parametrize(
    ("number", "said"),
    [
        (0, None), (True, None), (MOST_NUMBER, None), (-MOST_NUMBER, None), (1e308, None), (-0.0, None), ("1", None), (None, None),
        (MOST_NUMBER + 1, "over 64 bits"), (-(2**70), "over 64 bits"), (math.inf, "not finite"), (math.nan, "not finite"),
    ],
)  # fmt: skip
def test_numbers(number, said):
    found = number_fault(number)
    assert found is None if said is None else found is not None and said in found


def nested(deep: int) -> object:
    document: object = 1
    for _ in range(deep):
        document = [document]
    return document


def test_nesting_ends_where_it_is_said_to_end():
    check_document(nested(MOST_DEPTH))
    with pytest.raises(InvalidInput, match=f"nested over {MOST_DEPTH} deep") as caught:
        check_document(nested(MOST_DEPTH + 1))
    assert caught.value.mend == "nest it less"
    with pytest.raises(InvalidInput):
        check_document(nested(5_000))
    with pytest.raises(InvalidInput):
        read_json("[" * 100_000 + "]" * 100_000)


@pytest.mark.parametrize(
    "text", ["", "{", "[1,]", "nul", "NaN", "[Infinity]", b"\xff\xfe{", '{"a":1}x', "'a'"]
)
def test_what_is_no_json_is_said_so(text):
    with pytest.raises(InvalidInput, match="this is not JSON"):
        read_json(text, "file")


@given(st.text())
def test_without_controls_one_kind_of_line_end_is_left_and_nothing_else_is_changed(text):
    clean = without_controls(text)
    assert "\r" not in clean and "\x00" not in clean and without_controls(clean) == clean
    keeps = [each for each in text if each >= " " and each != "\x7f"]
    assert [each for each in clean if each >= " "] == keeps
    assert without_controls("a\r\nb\rc\td\x0b\x1be") == "a\nb\nc\tde"
