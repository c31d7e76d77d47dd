"""The kinds of field: each kind in each room that handles it, with generated values."""

from __future__ import annotations

import json
import re
from datetime import date
from typing import get_args

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dramok.core.cards import Card, Schema, read_value, shown_value
from dramok.core.cards.query.column_index import CardIndex
from dramok.core.cards.query.ordering import SortBy, sorted_cards
from dramok.core.cards.query.query import read_query
from dramok.core.cards.query.query_names import Names
from dramok.core.cards.query.wall import NoGroups, wall
from dramok.core.cards.schema.fields import KINDS, FieldKind
from dramok.core.cards.schema.fields.base import FieldBase, Grouping
from dramok.core.cards.schema.fields.date import day_of
from dramok.core.cards.sheets.schema_guess import GUESSED, field_document, kind_of
from dramok.core.cards.values.completeness import unfinished
from dramok.core.effects import NO_NAMES, Script
from dramok.core.faces.plan.new_placement import new_place
from dramok.core.faces.plan.plan import read_place
from dramok.core.faces.plan.sizes import Size

MORE = {"choice": {"list": "beds"}, "choices": {"list": "beds"}, "derived": {"formula": "1"}}
FIELDS = [
    {"id": kind, "name": f"Of {kind}", "kind": kind, **MORE.get(kind, {})}
    for kind in (each.model_fields["kind"].default for each in KINDS)
]
SCHEMA = Schema.model_validate(
    {
        "types": [{"id": "card", "name": "Card", "fields": [*FIELDS, {"id": "prose", "name": "Prose", "kind": "text", "long": True}]}],
        "lists": [{"id": "beds", "name": "Beds", "values": [{"id": "fern", "name": "Fern"}, {"id": "moss", "name": "Wet Moss"}, {"id": "sand", "name": "Sand"}]}],
    }
)  # fmt: skip
FIELD = {field.kind: field for field in SCHEMA.fields if field.id != "prose"}
words = st.text(
    st.characters(codec="utf-8", exclude_categories=("Cc", "Cs", "Zl", "Zp", "Zs")), min_size=1, max_size=12
)
TYPED = {
    "number": st.integers(0, 99).map(str),
    "choice": st.sampled_from(["Fern", "Wet Moss", "Sand"]),
    "choices": st.lists(st.sampled_from(["Fern", "Wet Moss", "Sand"]), min_size=1).map(", ".join),
    "tags": st.lists(words.filter(lambda word: not set(word) & set(",;|")), min_size=1, max_size=4).map(
        ", ".join
    ),
    "text": words,
    "effect": st.sampled_from(
        ["upon play this: draw 2", "upon leave this: discard 1", "a draft that nobody can read"]
    ),
    "picture": st.one_of(
        st.just("a" * 64), words.map(lambda word: re.sub(r'[/\\<>"|?*]', "", word) + "x.png")
    ),
    "yesno": st.sampled_from(["yes", "no", "x", "FALSE"]),
    "date": st.dates(date(1000, 1, 1)).map(date.isoformat),
    "derived": st.nothing(),
}


def test_every_kind_is_in_the_union_and_has_test_values():
    assert set(get_args(get_args(FieldKind)[0])) == set(KINDS)
    assert TYPED.keys() == FIELD.keys()


@pytest.mark.parametrize("kind", [each for each in FIELD if FIELD[each].typed])
def test_what_is_typed_is_read_held_shown_sorted_queried_and_said(kind):
    field = FIELD[kind]

    @given(st.lists(TYPED[kind], min_size=2, max_size=6))
    def holds(texts):
        cards = []
        for place, text in enumerate(texts):
            value, problems = read_value(field, text, SCHEMA, NO_NAMES)
            assert value is not None and (not problems or isinstance(value, Script)), problems
            assert field.holds(value) and field.problem(value) is None
            shown = shown_value(field, value, SCHEMA, NO_NAMES)
            assert read_value(field, shown, SCHEMA, NO_NAMES)[0] == value, (
                "what is shown is read as the same again"
            )
            json.dumps(field.in_json(shown))
            assert isinstance(field.said(value, SCHEMA), str)
            cards.append(Card(f"c{place}", f"C-{place}", "s", "card", {kind: value}))
        empty = Card("none", "C-9", "s", "card", {})
        for down in (False, True):
            found = sorted_cards(
                [empty, *cards],
                [SortBy(kind, down)],
                SCHEMA,
                lambda ident: lambda each: each.values.get(ident),
            )
            keys = [field.order(card.values[kind], SCHEMA) for card in found[:-1]]
            assert keys == sorted(keys, reverse=down) and found[-1] is empty
        if field.groupable:
            sides = wall([empty, *cards], SCHEMA, kind, kind)
            assert sum(map(len, sides.cells.values())) + sides.cut == len(cards) + 1
            assert sides.cells[("", "")] == ("none",) and all(
                isinstance(each, Grouping) for each in sides.across
            )
        else:
            with pytest.raises(NoGroups):
                wall(cards, SCHEMA, kind, kind)

    holds()


@pytest.mark.parametrize("field", FIELD.values(), ids=FIELD)
def test_a_kind_is_described_invented_placed_and_counted_as_finished(field: FieldBase):
    assert field.described(SCHEMA) and json.dumps(field.described(SCHEMA))
    sample_value = field.sample_value(SCHEMA)
    assert sample_value is None or field.holds(sample_value)
    ident, document = new_place(field.id, SCHEMA, Size(), set(), 1.0)
    assert read_place(ident, document).kind and document["field"] == field.id
    card = Card("c", "C-1", "s", "card", {} if sample_value is None else {field.id: sample_value})
    assert [each for each in unfinished(card, SCHEMA) if each.where == field.name] == []


@pytest.mark.parametrize(
    "values, kind",
    [
        (["3", "-4", "1,5"], "number"),
        (["larch.png", "Fern 2.JPG"], "picture"),
        (["yes", "No", "x"], "yesno"),
        (["2026-11-27", "1.3.2026", "4 May 2027"], "date"),
        (["Fern", "Moss", "Fern", "Moss"], "choice"),
        (["a, b", "b, c", "c, a", "a", "b", "a, b, c"], "tags"),
        (["2026-11-27", "soon"], "text"),
        (["A line of its own", "another"], "text"),
    ],
)
def test_a_column_becomes_the_kind_that_holds_it(values, kind):
    assert kind_of(values) == kind in GUESSED
    document = field_document("Some Name", kind, values, {"some-name"}, "list")
    assert document["id"] != "some-name" and document["kind"] == kind


@pytest.mark.parametrize("guess", GUESSED)
def test_what_the_import_can_make_is_a_field(guess):
    document = field_document("Made", guess, ["1", "2"], (), "beds")
    (made,) = Schema.model_validate({"types": [{"id": "c", "name": "C", "fields": [document]}], "lists": [SCHEMA.lists[0].model_dump()]}).fields  # fmt: skip
    assert made.kind == document["kind"]


# Dates.


@pytest.mark.parametrize(
    "text, day",
    [
        ("2026-11-27", "2026-11-27"), ("2026-1-7", "2026-01-07"), ("7.1.2026", "2026-01-07"), ("07. 01. 2026", "2026-01-07"), ("7 January 2026", "2026-01-07"),
        ("Jan 7, 2026", "2026-01-07"), ("2026-11-27 00:00:00", "2026-11-27"), ("29.2.2028", "2028-02-29"), ("29.2.2026", None), ("2026-13-01", None),
        ("1/2/2026", None), ("soon", None), ("7 Foo 2026", None), ("2026", None), ("0000-01-01", None), ("9" * 5_000, None),
    ],
)  # fmt: skip
def test_a_day_is_read_where_only_one_can_be_meant(text, day):
    found = day_of(text)
    assert (found.isoformat() if found else None) == day
    value, problems = read_value(FIELD["date"], text, SCHEMA, NO_NAMES)
    assert value == day and bool(problems) == (day is None)
    if "/" in text:
        assert "which is the month is not clear" in problems[0].mend


class Facts:
    """Just enough for a query of fields."""

    def __init__(self, days: list[str | None]) -> None:
        self.cards = [
            Card(f"c{n}", f"C-{n}", "s", "card", {"date": day} if day else {}) for n, day in enumerate(days)
        ]
        self.column = CardIndex(self.cards, SCHEMA).column


DAYS = ["2026-01-07", "2026-03-01", "2025-12-31", None, "2026-03-01"]


@pytest.mark.parametrize(
    "query, rows",
    [
        ("of date is 2026-03-01", {1, 4}), ('of date is "1 March 2026"', {1, 4}), ("of date is not 2026-03-01", {0, 2}), ("of date < 2026-01-07", {2}),
        ("of date <= 7.1.2026", {0, 2}), ("of date > 2025-12-31 of date < 2026-03-01", {0}), ("of date from 2026-01-01 to 2026-02-28", {0}),
        ("of date is 2026-01-07, 2025-12-31", {0, 2}), ("of date is empty", {3}), ("(of date >= 2026-03-01)", {1, 4}), ("not of date > 2000-01-01", {3}),
    ],
)  # fmt: skip
def test_days_are_compared_in_queries(query, rows):
    names = Names(SCHEMA, {}, {}, "text", {}, {})
    assert read_query(query, names).make(Facts(DAYS)) == rows


@pytest.mark.parametrize(
    "query",
    [
        "of date > soon",
        "of date is 1/2/2026",
        "of date has 2026-01-01",
        "of date from 2026-01-01",
        "of date <",
    ],
)
def test_a_comparison_with_an_invalid_day_reports_the_fix(query):
    with pytest.raises(ValueError) as wrong:
        read_query(query, Names(SCHEMA, {}, {}, "text", {}, {}))
    assert wrong.value.problem.mend and wrong.value.problem.span
