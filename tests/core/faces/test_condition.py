"""Conditions of placements: those about one card work as in a query; all others are refused by name."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dramok.core.cards.schema.lexer import Unreadable
from dramok.core.faces.plan.condition import read_condition
from tests.core.invented_world import RULEBOOK, card

SETS = {"s": "First", "w": "Winter"}
LARCH = card("Copper Larch", cost=3, height=2, bed="fern", tags=("night bloom",), rarity="rare")
BARE = card("Bare").with_value("cost", None).with_value("bed", None)


def condition(text: str):
    return read_condition(text, RULEBOOK.cards, "name", SETS)


@pytest.mark.parametrize(
    ("text", "larch", "bare"),
    [
        ("cost >= 3", True, False), ("cost is empty", False, True), ("bed is Fern", True, False), ("not rarity is Heirloom", False, True),
        ("type is Plant and height is 2", True, False), ("tags has night", True, False), ('name is "copper larch"', True, False),
        ("copper", True, False), ("Copper", True, False), ("LARCH", True, False), ("cost is 9 or height is 2", True, False), ("set is First", False, False),
    ],
)  # fmt: skip
def test_a_card_is_asked_by_itself(text, larch, bare):
    holds = condition(text)
    assert (holds(LARCH), holds(BARE)) == (larch, bare)


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("outlier", "this can't be used here: it depends on the face"), ("verdict > 1", "this can't be used here: it depends on the face"), ("any fault", "this can't be used here: it depends on the face"),
        ("in no deck", "a deck can't be checked for a single card"), ("open notes", "a note can't be checked for a single card"), ("never printed", "a print run can't be checked for a single card"),
        ("stale on paper", "this can't be used here: it depends on the face"), ("cost >", "which number?"), ("beds is Fern", None),
    ],
)  # fmt: skip
def test_conditions_beyond_the_card_are_refused_with_a_fix(text, said):
    if said is None:
        assert condition(text)(LARCH) is False, "words that name nothing are looked for"
        return
    with pytest.raises(Unreadable) as wrong:
        condition(text)
    assert wrong.value.problem.what == said and wrong.value.problem.mend


@given(st.integers(0, 12), st.integers(0, 12), st.sampled_from(["<", "<=", ">", ">=", "is", "is not"]))
def test_numbers_compare_as_numbers_do(cost, other, sign):
    wanted = {
        "<": cost < other,
        "<=": cost <= other,
        ">": cost > other,
        ">=": cost >= other,
        "is": cost == other,
        "is not": cost != other,
    }
    assert condition(f"cost {sign} {other}")(card("Any", cost=cost)) == wanted[sign]


PLAIN = st.sampled_from(["cost > 90", "cost >= 0", "bed is Fern", "rarity is empty", "larch", "set is First", "type is Plant"])
BEYOND = st.sampled_from(["never printed", "in no deck", "open notes", "any notes", "table notes", "outlier", "stale on paper", "verdict > 1", "any fault"])


@st.composite
def asking_beyond(draw) -> str:
    """A condition in which somewhere, within whatever else, one asks for what is not on the card."""
    text = draw(BEYOND)
    for _ in range(draw(st.integers(1, 5))):
        beside = draw(PLAIN)
        text = draw(st.sampled_from(["{0} and {1}", "{1} and {0}", "{1} {0}", "{0} or {1}", "{1} or {0}", "not ({1} {0})", "({0} or {1})", "{1} and not ({0})"])).format(text, beside)
    return text


@given(asking_beyond())
def test_conditions_beyond_the_card_are_refused_in_every_place(text):
    """Not only where a card is found that gets as far as to be asked."""
    with pytest.raises(Unreadable) as wrong:
        condition(text)
    assert wrong.value.problem.what.endswith(("can't be checked for a single card", "depends on the face"))


@given(st.lists(PLAIN, min_size=1, max_size=6), st.sampled_from([" ", " and ", " or "]), st.booleans())
def test_whatever_is_read_answers_for_every_card(parts, between, turned):
    text = between.join(parts)
    holds = condition(f"not ({text})" if turned else text)
    for each in (LARCH, BARE, card("Any", cost=99)):
        one_by_one = [condition(part)(each) for part in parts]
        assert holds(each) == ((any if between == " or " else all)(one_by_one) != turned)
