"""Conversion of a field from each kind to each other kind: every value is converted or reported as lost."""

from __future__ import annotations

from itertools import product

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from dramok.core.cards import Card, read_value, shown_value
from dramok.core.cards.values.conversion import convert
from dramok.core.effects import NO_NAMES
from tests.core.test_field_kinds import FIELD, SCHEMA, TYPED

KINDS = [kind for kind in FIELD if FIELD[kind].typed]


@pytest.mark.parametrize(("old", "new"), list(product(KINDS, KINDS)))
def test_every_value_is_converted_or_reported(old, new):
    before, after = FIELD[old], FIELD[new]

    @settings(max_examples=40)  # of each pair of kinds, of which there are a hundred
    @given(st.lists(TYPED[old], max_size=6))
    def holds(texts):
        cards = []
        for number, text in enumerate(texts):
            value, _ = read_value(before, text, SCHEMA, NO_NAMES)
            cards.append(
                Card(f"c{number}", f"C-{number}", "s", "card", {} if value is None else {old: value})
            )
        cards.append(Card("empty", "C-99", "s", "card", {}))
        done = convert(cards, before, SCHEMA, after, SCHEMA, NO_NAMES)
        filled = {card.id for card in cards if old in card.values}
        assert done.values.keys() | {each.card for each in done.lost} == filled
        assert not done.values.keys() & {each.card for each in done.lost}
        for card in cards:
            if card.id in done.values:
                value = done.values[card.id]
                assert after.holds(value) and after.problem(value) is None
                if old == new:
                    assert value == card.values[old], "as it was"
        for each in done.lost:
            card = next(card for card in cards if card.id == each.card)
            assert each.text == shown_value(before, card.values[old], SCHEMA, NO_NAMES) and each.why

    holds()


@pytest.mark.parametrize(
    ("old", "typed", "new", "shown"),
    [
        ("text", "3", "number", "3"), ("number", "3", "text", "3"), ("text", "Wet moss", "choice", "Wet Moss"), ("choice", "Fern", "choices", "Fern"),
        ("choices", "Sand, Fern", "tags", "fern, sand"), ("tags", "fern, sand", "choices", "Fern, Sand"), ("yesno", "yes", "number", None),
        ("text", "27.11.2026", "date", "2026-11-27"), ("date", "2026-11-27", "text", "2026-11-27"), ("number", "1", "yesno", "yes"),
        ("text", "upon play this: draw 1", "effect", "upon play this: draw 1"), ("text", "some prose", "effect", "some prose"), ("text", "tall", "number", None),
    ],
)  # fmt: skip
def test_what_becomes_of_a_value(old, typed, new, shown):
    value, _ = read_value(FIELD[old], typed, SCHEMA, NO_NAMES)
    assert value is not None
    done = convert(
        [Card("c", "C-1", "s", "card", {old: value})], FIELD[old], SCHEMA, FIELD[new], SCHEMA, NO_NAMES
    )
    if shown is None:
        assert (
            not done.values
            and done.lost[0].text == shown_value(FIELD[old], value, SCHEMA, NO_NAMES)
            and done.lost[0].why
        )
    else:
        assert shown_value(FIELD[new], done.values["c"], SCHEMA, NO_NAMES) == shown
