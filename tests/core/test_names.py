"""Names: when two are one, which is near to what was typed, and the lasting ids that are made of them."""

from __future__ import annotations

import re
from unicodedata import normalize

import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from dramok.core.cards.naming import MOST, id_from
from dramok.core.problem import fold, nearest_name, plural

names = st.text(max_size=30)


@given(names)
@example("\u0390")
@example("\u1fb3\u0313")
@example("İI ıi")
def test_the_form_in_which_names_are_compared_is_its_own(name):
    once = fold(name)
    assert fold(once) == once
    assert once == " ".join(once.split())
    assert fold(f"  {name}\u00a0 ") == once, "blanks around a name are none of it"


@given(names)
def test_a_name_is_one_however_its_letters_are_put_together(name):
    assert fold(normalize("NFD", name)) == fold(normalize("NFC", name)) == fold(name)


@pytest.mark.parametrize(
    ("one", "other"),
    [("Copper  Larch", "copper larch"), ("STRASSE", "Straße"), ("É", "e\u0301"), ("Ωmega", "ωMEGA"), ("\tMoss\n", "moss"), ("ﬁn", "FIN")],
)
def test_names_that_are_one(one, other):
    assert fold(one) == fold(other)


@pytest.mark.parametrize(("one", "other"), [("Moss", "Mos"), ("a b", "ab"), ("e", "é"), ("1", "l"), ("", "-")])
def test_names_that_are_two(one, other):
    assert fold(one) != fold(other)


@given(st.lists(st.text(min_size=1, max_size=12), min_size=1, max_size=12), st.data())
def test_a_known_name_is_the_nearest_to_itself_in_any_case_and_no_other_is_made_up(known, data):
    typed = data.draw(st.sampled_from(known))
    if fold(typed):
        assert fold(nearest_name(typed, known) or "") == fold(typed)
        assert fold(nearest_name(fold(typed), known) or "") == fold(typed)
    assert nearest_name(data.draw(names), known) in (None, *known)


@pytest.mark.parametrize(
    ("typed", "near"),
    [("copper larch", "Copper Larch"), ("Coper Larhc", "Copper Larch"), ("moos", "Moss"), ("zzz", None), ("", None), ("M" * 10_000, None)],
)
def test_the_nearest_by_example(typed, near):
    assert nearest_name(typed, ["Copper Larch", "Moss", "Ladder Frond"]) == near


@given(st.lists(names, max_size=25), st.sampled_from(["field", "list", "x"]))
def test_ids_made_of_names_are_plain_begin_with_a_letter_and_none_comes_twice(called, fallback):
    used: list[str] = []
    for name in called:
        ident = id_from(name, used, fallback)
        assert re.fullmatch(r"[a-z][a-z0-9-]*", ident) and not ident.endswith("-") and "--" not in ident
        assert ident not in used and len(ident) <= MOST + len(fallback) + 4
        used.append(ident)


@pytest.mark.parametrize(
    ("name", "used", "ident"),
    [
        ("Copper Larch", [], "copper-larch"), ("Copper Larch", ["copper-larch"], "copper-larch-2"), ("Copper Larch", ["copper-larch", "copper-larch-2"], "copper-larch-3"),
        ("Höhe (cm)", [], "hohe-cm"), ("2nd cost", [], "field-2nd-cost"), ("", [], "field"), ("鶴", [], "field"), ("鶴", ["field"], "field-2"), ("x" * 60, [], "x" * 40),
    ],
)  # fmt: skip
def test_ids_by_example(name, used, ident):
    assert id_from(name, used, "field") == ident


@pytest.mark.parametrize(
    ("count", "noun", "nouns", "said"),
    [(1, "card", None, "1 card"), (0, "card", None, "0 cards"), (3, "copy", "copies", "3 copies"), (1, "copy", "copies", "1 copy"), (-1, "card", None, "-1 cards")],
)
def test_counts_agree_with_their_nouns(count, noun, nouns, said):
    assert plural(count, noun, nouns) == said
