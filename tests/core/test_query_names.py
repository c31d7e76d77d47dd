"""Names: equality, the nearest known name to a typed one, and the permanent ids made from names."""

from __future__ import annotations

import re
from difflib import SequenceMatcher, get_close_matches
from random import Random
from unicodedata import normalize

import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from dramok.core.cards.schema.ids import MOST, id_from
from dramok.core.problem import FEW, close_names, fold, nearest_name, plural
from tests.conftest import SEED

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


# Of many names only some are compared letter by letter.

PARTS = ("Copper", "Ladder", "Winding", "Slow", "Hedge", "Glass", "Seed", "Tall"), ("Fern", "Frond", "Root", "Ledger", "Pup", "Bracken", "Case", "Reed")


def likeness(one: str, other: str) -> float:
    return SequenceMatcher(None, one, other).ratio()


def test_among_thousands_of_names_a_slip_finds_one_at_least_as_near_as_the_one_meant():
    dice = Random(SEED)
    names = [fold(f"{one} {other} {number}") for one in PARTS[0] for other in PARTS[1] for number in range(40)]
    for _ in range(60):
        meant = dice.choice(names)
        at = dice.randrange(len(meant))
        typed = dice.choice([meant[:at] + meant[at + 1 :], meant[:at] + dice.choice("abcxyz 7") + meant[at:], meant[: at - 1] + meant[at : at + 1] + meant[at - 1 : at] + meant[at + 1 :] if at else meant])  # fmt: skip
        (found,) = close_names(typed, names, 1, 0.6)
        assert likeness(typed, found) >= likeness(typed, meant), (SEED, meant, typed, found)


def test_few_names_are_all_compared():
    dice = Random(f"few {SEED}")
    for _ in range(40):
        names = list({"".join(dice.choices("abcd ", k=dice.randint(1, 12))).strip() or "a" for _ in range(dice.randint(1, FEW))})
        typed = "".join(dice.choices("abcd ", k=dice.randint(0, 12)))
        assert close_names(typed, names, 3, 0.5) == get_close_matches(typed, names, n=3, cutoff=0.5), SEED


def test_what_is_like_no_name_finds_none():
    assert close_names("qqq", [f"name {number}" for number in range(1_000)], 3, 0.6) == []
    assert close_names("", ["a"] * (FEW + 1), 3, 0.6) == []
