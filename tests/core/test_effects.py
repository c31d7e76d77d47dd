"""The effect language: text -> model -> text is the identity, and mistakes are named where they are."""

from __future__ import annotations

import json

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from dramok.core.balance import PriceList, verdict
from dramok.core.balance.prices import PriceRow
from dramok.core.effects import Line, Script, ability_text, parse_ability, read_script, script_text
from dramok.core.effects.lexer import WORDS
from dramok.core.effects.model import (
    MODELS,
    All,
    ChoiceIs,
    Continuous,
    Count,
    Group,
    HasTag,
    Not,
    Number,
    Other,
    Pick,
    Raise,
    Random,
    StatCompare,
    This,
    Triggered,
)
from dramok.core.effects.verbs import CUES, VERBS
from dramok.core.engine import compile_program, start, told
from dramok.core.engine import state as k
from dramok.core.engine.program import CUE_CODES, VERB_CODES
from dramok.core.engine.steps import DO
from dramok.core.rulebook import Rulebook
from dramok.core.rulebook.formerly import as_now
from dramok.core.wording import printed_text
from tests.core.invented import RULEBOOK, VOCABULARY, card

stats, resources = st.sampled_from(["height", "root", "cost"]), st.sampled_from(["water", "ribbon"])
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
PARTS = {"amount": {}, "target": {"target": targets}, "resource": {"resource": resources}}
steps = st.one_of(
    [
        st.builds(MODELS[verb.word], amount=amounts, **PARTS[verb.form])
        for verb in VERBS.values()
        if verb.word in MODELS
    ]
)
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
        ("upon play this: heal 1 to it", 27, 2, "“it” points at nothing: no pick comes before it", "pick a card first"),
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


# The open sets of the language: every member, in every room that asks about it.


@pytest.mark.parametrize("word", VERBS)
def test_a_verb_is_read_printed_priced_and_played(word):
    verb = VERBS[word]
    line = {
        "amount": f"upon play this: {word} 2",
        "target": f"upon play this: {word} 2 to all own plant",
        "resource": f"upon play this: {word} 2 water",
        "stat": f"always: {word} height of this by 2",
    }[verb.form]
    ability, problems = parse_ability(line, VOCABULARY)
    assert ability is not None and not problems and ability_text(ability, VOCABULARY) == line
    bare = RULEBOOK.model_copy(
        update={"phrases": RULEBOOK.phrases.model_copy(update={"verbs": {}, "cues": {}})}
    )
    for rules in (RULEBOOK, bare):
        (printed,) = printed_text(card("Any", line), rules, VOCABULARY).lines
        assert (
            printed[0].upper() == printed[0]
            and printed.endswith(".")
            and "2" in printed
            and not set("[]") & set(printed)
        )
    ledger = verdict(card("Any", line), RULEBOOK, PriceList(stats={}, rows=(), budgets={}))
    assert any(each.what.startswith((word, f"always {word}")) for each in ledger.lines)
    assert set(DO) == set(VERB_CODES.values())
    match = start(
        compile_program(RULEBOOK, [card("Any", line), card("Moss", kind="plant")]), {"Any": 2, "Moss": 4}, 1
    )
    play = next((each for each in match.options if each.do == "play"), None)
    if play is not None:
        match.decide(play)
        assert all(line.text for line in told(match))


@pytest.mark.parametrize("word", CUES)
def test_a_cue_is_read_printed_and_has_a_number(word):
    line = f"upon {word} this: draw 1"
    ability, _ = parse_ability(line, VOCABULARY)
    assert ability is not None and ability_text(ability, VOCABULARY) == line
    bare = RULEBOOK.model_copy(update={"phrases": RULEBOOK.phrases.model_copy(update={"cues": {}})})
    assert printed_text(card("Any", line), bare, VOCABULARY).lines[0].startswith(CUES[word].phrase.strip())
    assert CUE_CODES == {"play": k.ON_PLAY, "enter": k.ON_ENTER, "leave": k.ON_LEAVE}


def test_words_of_earlier_versions_are_still_read():
    """`restore` became `heal`, toughness the damage limit: old texts, models, phrase books, prices and roles are read."""
    line = "upon play this: restore 2 to all own plant"
    ability, problems = parse_ability(line, VOCABULARY)
    assert ability is not None and not problems
    assert ability_text(ability, VOCABULARY) == "upon play this: heal 2 to all own plant"
    stored = json.loads(
        Script(lines=(Line(ability=ability),)).model_dump_json().replace('"heal"', '"restore"')
    )
    assert Script.model_validate(stored).abilities == (ability,)
    assert PriceRow(id="x", verb="restore").verb == "heal"
    old = RULEBOOK.model_dump(mode="json")
    old["phrases"]["verbs"] = {"restore": "mend {n}", "restores": "mend {n} times"}
    old["roles"]["toughness"] = old["roles"].pop("damage_limit")
    now = Rulebook.model_validate(old)
    assert (
        now.phrases.verb("heal", one=True) == "mend {n}"
        and now.phrases.verb("heal", one=False) == "mend {n} times"
    )
    assert now.roles.damage_limit == "root"
    assert as_now(old)["roles"] == now.model_dump(mode="json")["roles"]
    assert as_now(stored) == Script(lines=(Line(ability=ability),)).model_dump(mode="json")
    assert "restore" not in [word for words in WORDS.values() for word in words], (
        "it is read, and no more offered"
    )
