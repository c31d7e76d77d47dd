"""Formulas as people type them: names of all kinds, signs, comparisons, and what stays the same after a choice is renamed."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dramok.core.cards import Card, Schema
from dramok.core.cards.schema.formula_names import renamed_formula, shown_formula, stored_formula
from dramok.core.cards.schema.lexer import Unreadable
from dramok.core.cards.values.derived import derived_values
from dramok.core.problem import fold
from tests.core.test_schema import FIELDS, LISTS, derive, schema


def values_of(*derived: tuple[str, str], **values):
    card = Card("c", "C-1", "s", "card", values)
    return derived_values(card, schema(*derived))[0]


@pytest.mark.parametrize(
    ("first", "second", "values", "result"),
    [
        ("#height > 1", "if #first is yes then 1 else 2", {"height": 2}, 1),
        ("#height > 1", "if #first is no then 1 else 2", {"height": 2}, 2),
        ("if #height > 1 then #bed else 0", "if #first is Fern then 1 else 2", {"height": 2, "bed": "fern"}, 1),
        ("#height / 2", 'if #first = "1.5" then 1 else 2', {"height": 3}, 1),
        ("#height", "if #first is empty then 1 else 2", {}, 1),
    ],
)  # fmt: skip
def test_what_is_derived_is_compared_by_what_it_comes_to(first, second, values, result):
    assert values_of(("first", first), ("second", second), **values)["second"] == result


@pytest.mark.parametrize(
    ("formula", "values", "result"),
    [
        ("if #bed is empty then 1 else 2", {}, 1), ("if #bed is empty then 1 else 2", {"bed": "fern"}, 2), ("if #tags is not empty then count(#tags) else 9", {}, 9),
        ("if #height is empty then 7 else #height", {}, 7), ("if #height is empty then 7 else #height", {"height": 0}, 0), ('if #height = "2.0" then 1 else 2', {"height": 2}, 1),
        ("#height × 2 − 1 ÷ 4", {"height": 3}, 5.75), ("if #height ≥ 2 and #height ≤ 3 and #height ≠ 4 then 1 else 0", {"height": 3}, 1),
        ('if #name is "empty" then 1 else 2', {"name": "Empty"}, 1), ("if #rare is no then 1 else 2", {}, None), ("if #soils is \"peat moss\" then 1 else 2", {"soils": ("peat", "tree")}, 1),
    ],
)  # fmt: skip
def test_emptiness_signs_as_printed_and_values_of_every_kind(formula, values, result):
    assert derive(formula, **values) == (result, [])


@pytest.mark.parametrize(
    ("typed", "stored"),
    [
        ("if Height is Weight then 1 else 0", "if #height is #weight then 1 else 0"), ('Height = "Wet root"', "#height = #root"), ('"Height"-1', "#height -1"),
        ("if Bed is Fern then 1 else 0", "if #bed is Fern then 1 else 0"), ("if Rare is yes then 1 else 0", "if #rare is yes then 1 else 0"), ("2 = Height", "2 = #height"),
        ("Height is not empty", "#height is not empty"), ('if "Name" is "Height" then 1 else 0', 'if #name is "Height" then 1 else 0'), ("#height + 1", "#height + 1"),
    ],
)  # fmt: skip
def test_fields_are_found_on_both_sides_of_a_comparison(typed, stored):
    assert stored_formula(typed, schema(), "card") == stored


@pytest.mark.parametrize(
    ("typed", "column", "what", "mend"),
    [
        ("if Bed is Fren then 1 else 0", 11, "no Bed is called Fren", "did you mean Fern?"), ("if Bed is not Tomato then 1 else 0", 15, "no Bed is called Tomato", "write one of Fern, Wet Moss"),
        ("if Rare is often then 1 else 0", 12, "Rare is yes or no, not often", "write is yes or is no"), ("Height = Fern", 10, "Height is a number, not Fern", "compare it with a number or another field"),
        ("Height + Rooot", 10, "there is no field Rooot", "did you mean Wet root?"),
    ],
)  # fmt: skip
def test_values_that_no_field_can_hold_are_reported_in_their_place(typed, column, what, mend):
    with pytest.raises(Unreadable) as wrong:
        stored_formula(typed, schema(), "card")
    problem = wrong.value.problem
    assert (problem.span.column, problem.what, problem.mend) == (column, what, mend)


ODD = ["If", "Then", "Min", "Count", "is", "and", "Empty", "yes", 'Say "hi"', "2", "2 + 2", "Wet-ish", "a'b", "Größe", "#height", "x" * 60]


@given(st.lists(st.sampled_from(ODD), min_size=2, max_size=4, unique_by=fold), st.integers(1, 9), st.integers(1, 9))
def test_fields_may_be_called_as_the_words_of_formulas_are(names, one, other):
    """Whatever fields are called, a formula is shown so that it reads as the same one again, and the language's words stay words."""
    fields = [{"id": f"f{place}", "name": name, "kind": "number"} for place, name in enumerate(names)]
    made = schema(fields=[*FIELDS, *fields])
    for stored in ("if #f0 > #f1 then min(#f0, 2) else count(#tags) + #f1", "#f0 -#f1", "if not #f0 = #f1 and #f1 is not empty then 1 else 0"):
        shown = shown_formula(stored, made, "card")
        assert stored_formula(shown, made, "card") == stored, shown
    assert stored_formula("if Height > 2 then min(Height, 2) else 0", made, "card") == "if #height > 2 then min(#height, 2) else 0"
    card = Card("c", "C-1", "s", "card", {"height": one, "root": other})
    plain = schema(("sum", "#height -#root"))
    assert derived_values(card, plain)[0]["sum"] == one - other


BEDS = [value["id"] for value in next(each for each in LISTS if each["id"] == "beds")["values"]]


def named(names: dict[str, str]) -> Schema:
    document = schema().model_dump(mode="json")
    for each in document["lists"]:
        for value in each["values"]:
            value["name"] = names.get(value["id"], value["name"])
    return Schema.model_validate(document)


@given(
    st.lists(st.sampled_from(["Fern", "Wet moss", "then", "empty", "else 2", "Größe", "not", "7", "a-b", "is"]), min_size=len(BEDS), max_size=len(BEDS), unique_by=fold),
    st.sampled_from(["if #bed is Fern then 1 else 2", 'if #bed is not "wet moss" then 1 else 2', "if #height = 1 and #bed = fern then 3 else count(#tags)", 'if #name is Fern or #bed is "Fern" then 1 else 0']),
    st.sampled_from([None, *BEDS]),
)  # fmt: skip
def test_a_formula_comes_to_the_same_whatever_choices_are_called(fresh, formula, bed):
    after = named(dict(zip(BEDS, fresh, strict=True)))
    said = renamed_formula(formula, schema(), after, "card", {})
    assert stored_formula(shown_formula(said, after, "card"), after, "card") == said

    def come_to(text: str, by: Schema):
        document = by.model_dump(mode="json")
        document["types"][0]["fields"].append({"id": "sum", "name": "Sum", "kind": "derived", "formula": text})
        card = Card("c", "C-1", "s", "card", {"height": 1, "name": "Fern", **({"bed": bed} if bed else {})})
        return derived_values(card, Schema.model_validate(document))

    assert come_to(said, after) == come_to(formula, schema())
    back = renamed_formula(said, after, schema(), "card", {})
    assert come_to(back, schema()) == come_to(formula, schema())


def test_choices_that_give_way_and_names_that_no_quotes_hold():
    formula = "if #bed is Fern then 1 else 2"
    assert renamed_formula(formula, schema(), schema(), "card", {("beds", "fern"): "moss"}) == 'if #bed is "Wet Moss" then 1 else 2'
    with pytest.raises(Unreadable) as wrong:
        renamed_formula(formula, schema(), named({"fern": 'The "old" one'}), "card", {})
    assert wrong.value.problem.what == "its formula names Fern, and can't hold a name with quotes"
