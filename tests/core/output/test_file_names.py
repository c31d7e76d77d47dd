"""File names from a pattern: valid on every common file system, unique; a bad pattern is refused with a fix."""

from __future__ import annotations

import re

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dramok.core.output import NoPattern, each_once, file_name, file_names, read_pattern
from dramok.core.problem import fold

RESERVED = {"con", "prn", "aux", "nul", "com1", "lpt9"}
hostile = st.lists(st.sampled_from(["con", "CON", "lpt9", "con.0", "a", "..", ".", " ", "-", "/", "\\", ":", "\x00", "\x7f", "é", "ﬁ", "🌿" * 20, "x" * 90])).map("".join)


@given(st.text(max_size=200) | hostile)
def test_any_text_becomes_a_name_that_every_common_file_system_takes(text):
    name = file_name(text)
    assert name and len(name.encode()) <= 121 and name == name.strip() and not name.endswith(".") and not name.startswith((".", " "))
    assert not re.search(r'[\x00-\x1f\x7f<>:"/\\|?*]', name)
    assert name.split(".")[0].strip().casefold() not in RESERVED
    assert file_name(name) == name, "a name that was made is kept"


@pytest.mark.parametrize(
    ("text", "name"),
    [
        ("RS-001 Copper Larch", "RS-001 Copper Larch"), ("Who? / Which", "Who- - Which"), ("../../etc", "etc"), ("", "card"), (" .. ", "card"),
        ("aux", "aux-"), ("Con.jpg", "Con-.jpg"), ("CON.0", "CON-.0"), ("nul .x.y", "nul -.x.y"), ("COM\u00b9.x", "COM\u00b9-.x"),
        ("con." + "0" * 130, "con-." + "0" * 115), ("con. " + "- " * 80 + "z", "con-"), ("e\u0301clair", "\u00e9clair"), ("x" * 300, "x" * 120),
    ],
)  # fmt: skip
def test_names_by_example(text, name):
    assert file_name(text) == name


@given(st.lists(st.sampled_from(["Fern", "fern", "FERN", "Fern 2", "fern 3", "Moss", "Straße", "STRASSE", "é", "e\u0301"]) | st.text(max_size=4), max_size=30))
def test_no_name_comes_twice_whatever_its_case_and_the_first_of_each_keeps_its_own(names):
    made = each_once(names)
    assert len({fold(each) for each in made}) == len(made) == len(names)
    for place, (asked, got) in enumerate(zip(names, made, strict=True)):
        assert re.fullmatch(rf"{re.escape(asked)}( \d+)?", got)
        assert each_once(names[: place + 1])[-1] == got, "what comes later changes no name before it"
    assert made[:1] == names[:1]


def test_ten_thousand_cards_of_one_name_are_numbered_without_counting_all_over(monkeypatch):
    asked = 0

    def counting(text: str) -> str:
        nonlocal asked
        asked += 1
        return fold(text)

    monkeypatch.setattr(file_names, "fold", counting)
    made = each_once(["plant", "Plant"] * 5_000)
    assert (made[:3], made[-1], asked < 60_000) == (["plant", "Plant 2", "plant 3"], "Plant 10000", True)


WORDS = {"code": "", "Name": "", "side": ""}


@given(st.lists(st.sampled_from(["{code}", "{ NAME }", "{Side}"]) | st.text("ab -_", max_size=5), min_size=1, max_size=8).map("".join))
def test_a_pattern_of_known_words_is_filled_in(pattern):
    if not pattern.strip():
        return
    filled = read_pattern(pattern, WORDS)(lambda word: f"<{word}>")
    assert filled == pattern.replace("{code}", "<code>").replace("{ NAME }", "<Name>").replace("{Side}", "<side>")


@given(st.text("{}coden x", max_size=30))
def test_any_pattern_is_parsed_or_refused_with_a_fix(pattern):
    try:
        assert isinstance(read_pattern(pattern, WORDS)(lambda word: word), str)
    except NoPattern as refused:
        assert refused.problem.where == "names" and refused.problem.mend


@pytest.mark.parametrize(
    ("pattern", "what", "mend"),
    [
        ("", "there is no pattern", "write up to 200 characters, such as {code} {name}"), ("x" * 201, "a pattern of 201 characters is too long", "write up to 200"),
        ("{cod}", "nothing is called {cod}", "did you mean {code}?"), ("{zzzzzz}", "nothing is called {zzzzzz}", "write one of {code}, {Name}, {side}"),
        ("{code", "a bracket has no partner", "write each word as {code}"), ("a } b", "a bracket has no partner", "write each word as {code}"),
    ],
)  # fmt: skip
def test_what_a_pattern_lacks_is_said(pattern, what, mend):
    with pytest.raises(NoPattern) as refused:
        read_pattern(pattern, WORDS)
    assert refused.value.problem.what == what and refused.value.problem.mend.startswith(mend)
