"""The effect language: text -> model -> text is the identity, and mistakes are named where they are."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from dramok.core.effects import Script, ability_text, parse_ability, read_script, script_text
from dramok.core.effects.model import (
    All,
    ChoiceIs,
    Continuous,
    Count,
    Deal,
    Discard,
    Draw,
    Gain,
    Group,
    HasTag,
    Lose,
    Not,
    Number,
    Other,
    Pick,
    Raise,
    Random,
    Restore,
    StatCompare,
    This,
    Triggered,
)
from tests.core.invented import VOCABULARY

stats, resources = st.sampled_from(["reach", "root", "cost"]), st.sampled_from(["water", "ribbon"])
plain_filters = st.one_of(
    st.just(Other()),
    st.builds(HasTag, tag=st.sampled_from(["climber", "night bloom"])),
    st.builds(ChoiceIs, field=st.just("bed"), value=st.sampled_from(["fern", "moss"])),
    st.builds(
        StatCompare,
        field=stats,
        compare=st.sampled_from(["is", "above", "under"]),
        number=st.integers(0, 999),
    ),
)
filters = st.one_of(plain_filters, st.builds(Not, filter=plain_filters))
groups = st.builds(
    Group,
    side=st.sampled_from(["own", "rival", "any"]),
    type=st.sampled_from([None, "plant", "weather"]),
    filters=st.lists(filters, max_size=3).map(tuple),
)
amounts = st.one_of(st.builds(Number, value=st.integers(0, 999)), st.builds(Count, group=groups))
picks = st.tuples(st.integers(0, 9), st.integers(1, 9), groups).map(
    lambda t: Pick(least=min(t[0], t[1]), most=t[1], group=t[2])
)
targets = st.one_of(
    st.just(This()),
    picks,
    st.builds(All, group=groups),
    st.builds(Random, number=st.integers(1, 9), group=groups),
)
steps = st.one_of(
    st.builds(Draw, amount=amounts), st.builds(Discard, amount=amounts), st.builds(Deal, amount=amounts, target=targets),
    st.builds(Restore, amount=amounts, target=targets), st.builds(Gain, amount=amounts, resource=resources), st.builds(Lose, amount=amounts, resource=resources),
)  # fmt: skip
abilities = st.one_of(
    st.builds(
        Triggered,
        cue=st.sampled_from(["play", "enter", "leave"]),
        steps=st.lists(steps, min_size=1, max_size=2).map(tuple),
    ),
    st.builds(
        Continuous,
        raises=st.lists(st.builds(Raise, stat=stats, amount=amounts), min_size=1, max_size=2).map(tuple),
    ),
)


@given(abilities)
def test_text_of_a_model_parses_to_the_same_model(ability):
    text = ability_text(ability, VOCABULARY)
    if len(text) <= 500:
        again, problems = parse_ability(text, VOCABULARY)
        assert (again, problems) == (ability, ())
        assert ability_text(again, VOCABULARY) == text
        assert type(ability).model_validate_json(ability.model_dump_json(exclude_none=True)) == ability


@settings(max_examples=300)
@given(
    st.text(max_size=200)
    | st.lists(
        st.sampled_from(
            [
                "upon",
                "play",
                "this",
                ":",
                "draw",
                "2",
                ";",
                "deal",
                "to",
                "pick",
                "own",
                "plant",
                "[",
                "]",
                "(",
                ")",
                '"x',
                "count",
                "of",
            ]
        ),
        max_size=14,
    ).map(" ".join)
)
def test_no_text_breaks_the_parser_and_every_mistake_lies_inside_it(text):
    ability, problems = parse_ability(text, VOCABULARY)
    assert (ability is None) == bool(problems)
    for problem in problems:
        assert problem.mend and problem.span and 1 <= problem.span.column <= len(text) + 1


@pytest.mark.parametrize(
    ("text", "column", "length", "what", "mend"),
    [
        ("upon plya this: draw 1", 6, 4, "“plya” can't stand here", "write play"),
        ("upon play this: drw 1", 17, 3, "“drw” can't stand here", "write draw"),
        ("upon play this: gain 2 ribon", 24, 5, "this game has no resource called “ribon”", "did you mean ribbon?"),
        ("upon play this: deal 1 to all own plant [bed is Fren]", 49, 4, "this game has no value of bed called “Fren”", "did you mean Fern?"),
        ("upon play this: restore 1 to it", 30, 2, "“it” points at nothing: no pick comes before it", "pick a card first"),
        ("upon play this: draw", 21, 1, "the line ends too early", "expected a whole number or count"),
        ('upon play this: gain 1 "water', 24, 6, "this quote is never closed", 'close it with "'),
        ("upon play this: deal 1 to pick 3..2 own plant", 32, 1, "3 is more than 2", "write 2..3"),
        ("upon play this: draw 1000", 22, 4, "1000 is out of range", "write a number from 0 to 999"),
    ],
)  # fmt: skip
def test_a_mistake_is_shown_where_it_is_with_its_mend(text, column, length, what, mend):
    ability, problems = parse_ability(text, VOCABULARY)
    assert ability is None
    assert (problems[0].span.column, problems[0].span.length, problems[0].what, problems[0].mend) == (
        column,
        length,
        what,
        mend,
    )


def test_several_mistakes_of_a_line_are_all_named():
    _, problems = parse_ability("upon leave this: gain 2 ribon; drw 2; lose x water", VOCABULARY)
    assert [(p.span.column, p.nearest) for p in problems] == [(25, "ribbon"), (32, "draw"), (44, None)]


def test_names_need_no_capitals_and_quotes_only_where_they_must():
    ability, _ = parse_ability(
        'UPON play This: deal 1 to all own PLANT [bed is "wet  moss", tag "Night Bloom"]', VOCABULARY
    )
    assert (
        ability_text(ability, VOCABULARY)
        == 'upon play this: deal 1 to all own plant [bed is "Wet Moss", tag "night bloom"]'
    )


def test_a_draft_is_kept_as_typed_beside_its_last_good_version():
    good, _ = read_script("upon play this: draw 1\nupon leave this: gain 1 water", VOCABULARY)
    broken, problems = read_script(
        "upon play this: draw 1\n  upon leave this: gain one water", VOCABULARY, good
    )
    assert broken.abilities == good.abilities and broken.has_draft
    assert script_text(broken, VOCABULARY) == "upon play this: draw 1\nupon leave this: gain one water"
    assert [(p.span.line, p.span.column) for p in problems] == [(2, 25)]
    mended, _ = read_script("upon play this: draw 1\nupon leave this: gain 2 water", VOCABULARY, broken)
    assert not mended.has_draft and Script.model_validate_json(mended.model_dump_json()) == mended


def test_a_text_of_a_hundred_thousand_characters_is_refused_plainly_and_changes_nothing():
    good, _ = read_script("upon play this: draw 1", VOCABULARY)
    kept, problems = read_script("upon play this: draw 1; " * 4200, VOCABULARY, good)
    assert kept == good and "too long" in problems[0].what and "12 lines" in problems[0].mend
    deep, problems = parse_ability(
        "upon play this: deal 1 to all own plant [" + "not " * 40 + "other]", VOCABULARY
    )
    assert deep is None and "levels" in problems[0].what
