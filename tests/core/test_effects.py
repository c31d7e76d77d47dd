"""The effect language: text -> model -> text is the identity, and errors carry their position."""

from __future__ import annotations

import json
import re

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from dramok.core.balance import PriceList, verdict
from dramok.core.balance.declared.prices import PriceRow
from dramok.core.effects import Line, Script, ability_text, parse_ability, read_script, script_text
from dramok.core.effects.lexer import WORDS
from dramok.core.effects.model import (
    EVERYWHERE,
    All,
    ChoiceIs,
    Combined,
    Comparison,
    Continuous,
    CostPart,
    Count,
    Group,
    Half,
    HasKeyword,
    HasTag,
    HeldTotal,
    InState,
    Keyworded,
    Limit,
    Not,
    Number,
    Offered,
    Other,
    Pick,
    Random,
    StatCompare,
    StatOf,
    Step,
    SumOf,
    Target,
    This,
    Together,
    Triggered,
    Unless,
    When,
    Zone,
)
from dramok.core.effects.verbs import ALLOWED, CUES, FORBIDDEN, VERBS, Slot
from dramok.core.engine import compile_program, start, told
from dramok.core.engine.ability_program import CUE_CODES, VERB_CODES
from dramok.core.engine.kernel import codes as k
from dramok.core.rulebook import Rulebook
from dramok.core.rulebook.legacy_names import as_now
from dramok.core.wording import printed_text
from tests.core.invented_world import RULEBOOK, VOCABULARY, card

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
keywords = st.sampled_from(["grafted", "night bloom"])
plain_filters = plain_filters | st.builds(HasKeyword, keyword=keywords) | st.builds(InState, state=st.sampled_from(["tilted", "hurt", "created"]))
filters = st.one_of(plain_filters, st.builds(Not, filter=plain_filters))
zones = st.sampled_from(["draw", "hand", "discard", "play", "removed"])
sides = st.sampled_from(["own", "rival", "any"])
groups = st.builds(
    Group, side=sides, type=st.sampled_from([None, "plant", "weather"]), filters=st.lists(filters, max_size=3).map(tuple),
    zone=st.none() | zones,
)  # fmt: skip
counted = groups | groups.map(lambda group: group.model_copy(update={"zone": EVERYWHERE}))
plain_amounts = st.one_of(
    st.builds(Number, value=st.integers(0, 999)), st.builds(Count, group=counted), st.builds(SumOf, field=stats, group=counted),
    st.builds(StatOf, field=stats, of=st.sampled_from(["this", "host"])), st.builds(HeldTotal, resource=resources, side=st.sampled_from(["own", "rival"])),
)  # fmt: skip
amounts = st.recursive(
    plain_amounts,
    lambda inner: st.builds(Combined, how=st.sampled_from(["+", "-", "x", "least", "most"]), left=inner, right=inner) | st.builds(Half, up=st.booleans(), of=inner),
    max_leaves=3,
)  # fmt: skip
comparisons = st.builds(Comparison, left=plain_amounts, compare=st.sampled_from(["is", "above", "under"]), right=plain_amounts)
negated = comparisons | st.builds(Unless, part=comparisons)
boths = negated | st.builds(Together, kind=st.just("all"), parts=st.lists(negated, min_size=2, max_size=2).map(tuple))
conditions = boths | st.builds(Together, kind=st.just("any"), parts=st.lists(boths, min_size=2, max_size=2).map(tuple))
moments = st.builds(When, at=st.sampled_from(["begin", "end"]), side=sides, phase=st.sampled_from([None, "turn"]))
picks = st.tuples(st.integers(0, 9), st.integers(1, 9), groups).map(
    lambda t: Pick(least=min(t[0], t[1]), most=t[1], group=t[2])
)
targets = st.one_of(
    st.just(This()), picks, st.builds(All, group=groups), st.builds(Random, number=st.integers(1, 9), group=groups)
)
costs = st.lists(
    st.one_of(
        st.builds(CostPart, how=st.just("pay"), number=st.integers(0, 999), resource=resources),
        st.builds(CostPart, how=st.sampled_from(["tilt", "destroy", "return"])),
        st.builds(CostPart, how=st.just("discard"), number=st.integers(1, 9)),
    ),
    min_size=1,
    max_size=2,
).map(tuple)
SLOTS: dict[Slot, dict[str, st.SearchStrategy]] = {
    "amount": {"amount": amounts}, "resource": {"resource": resources}, "seats": {"seats": st.sampled_from([None, "rival", "all"])},
    "to": {"target": targets}, "target": {"target": targets}, "stat": {"stat": stats, "target": targets, "amount": amounts},
    "until": {"until": st.none() | moments}, "put": {"zone": st.builds(Zone, side=sides, zone=zones, place=st.sampled_from(["top", "bottom"]))},
    "zone": {"zone": st.builds(Zone, side=sides, zone=zones)}, "from_zone": {"zone": st.none() | st.builds(Zone, side=sides, zone=zones)},
    "made": {"card": st.sampled_from(["Sprig", "Old Root"])}, "grant": {"keyword": keywords, "target": targets}, "strip": {"keyword": keywords, "target": targets},
    "group": {"group": groups}, "condition": {"condition": conditions}, "cost": {"cost": costs}, "moment": {"moment": moments},
}  # fmt: skip


def in_play(target: Target) -> Target:
    """The same target among cards in play: all that verbs which change cards take."""
    group = getattr(target, "group", None)
    return target if group is None else target.model_copy(update={"group": group.model_copy(update={"zone": None})})


def filled(word: str, inner: st.SearchStrategy | None) -> st.SearchStrategy:
    """Steps of one verb with anything that its record says may follow."""
    parts: dict[str, st.SearchStrategy] = {}
    for slot in VERBS[word].slots:
        parts |= SLOTS.get(slot, {})
    if "act" in VERBS[word].slots:
        parts |= {"act": st.sampled_from(list(FORBIDDEN if word == "forbid" else ALLOWED)), "target": targets}
    if word == "search":
        parts["target"] = picks
    if VERBS[word].in_play:
        parts["target"] = targets.map(in_play)
    if inner is not None:
        block = st.lists(inner, min_size=1, max_size=2).map(tuple)
        if "steps" in VERBS[word].slots:
            parts["steps"] = block
        if "otherwise" in VERBS[word].slots:
            parts["otherwise"] = st.none() | block
        if "options" in VERBS[word].slots:
            parts |= {"options": st.lists(block, min_size=2, max_size=3).map(tuple), "choose": st.integers(1, 2)}
    return st.builds(Step, verb=st.just(word), **parts)


flat_steps = st.one_of([filled(word, None) for word, verb in VERBS.items() if verb.form != "block"])
steps = st.recursive(
    flat_steps, lambda inner: st.one_of([filled(word, inner) for word, verb in VERBS.items() if verb.form == "block"]), max_leaves=3
)
limits = st.none() | st.builds(Limit, number=st.integers(1, 9), each=st.sampled_from(["turn", "game"]))
ABOUT = {
    "card": {"of": st.none() | groups}, "whose": {"when": st.builds(When, at=st.just("begin"), side=sides, phase=st.sampled_from([None, "turn"]))},
    "match": {}, "total": {"resource": resources, "side": st.sampled_from([None, "rival"]), "compare": st.just("above"), "number": st.integers(0, 999)},
}  # fmt: skip


def moment_of(word: str) -> st.SearchStrategy:
    """Abilities of one cue."""
    parts = dict(ABOUT[CUES[word].about])
    if word == "end":
        parts["when"] = parts["when"].map(lambda when: when.model_copy(update={"at": "end"}))
    if word == "falling":
        parts["compare"] = st.just("under")
    if word in ("gaining", "losing"):
        bound = st.sampled_from([(None, None), ("above", 3), ("under", 7)])
        made = st.builds(lambda bound, **rest: Triggered(compare=bound[0], number=bound[1], **rest), bound=bound, cue=st.just(word),
                         **{key: parts[key] for key in ("resource", "side")}, limit=limits, condition=st.none() | conditions, steps=some_steps)  # fmt: skip
        return made
    if word == "hurt":
        parts["source"] = st.none() | groups
    return st.builds(Triggered, cue=st.just(word), limit=limits, condition=st.none() | conditions, steps=some_steps, **parts)


some_steps = st.lists(steps, min_size=1, max_size=2).map(tuple)
lasting = st.one_of([filled(word, None) for word, verb in VERBS.items() if verb.lasting]).map(
    lambda step: step.model_copy(update={"until": None})
)
abilities = st.one_of(
    st.one_of([moment_of(word) for word in CUES]),
    st.builds(Offered, cost=costs, limit=limits, condition=st.none() | conditions, steps=some_steps),
    st.builds(Continuous, condition=st.none() | conditions, lasting=st.lists(lasting, min_size=1, max_size=2).map(tuple)),
    st.builds(Keyworded, keywords=st.lists(keywords, min_size=1, max_size=2, unique=True).map(tuple)),
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
def test_no_text_breaks_the_parser_and_every_error_position_is_inside_it(text):
    ability, problems = parse_ability(text, VOCABULARY)
    assert (ability is None) == bool(problems)
    for problem in problems:
        assert problem.mend and problem.span and 1 <= problem.span.column <= len(text) + 1


@pytest.mark.parametrize(
    ("text", "column", "length", "what", "mend"),
    [
        ("upon plya this: draw 1", 6, 4, "“plya” can't be here", "write play"),
        ("upon play this: drw 1", 17, 3, "“drw” can't be here", "write draw"),
        ("upon play this: gain 2 ribon", 24, 5, "this game has no resource called “ribon”", "did you mean ribbon?"),
        ("upon play this: deal 1 to all own plant [bed is Fren]", 49, 4, "this game has no value of bed called “Fren”", "did you mean Fern?"),
        ("upon play this: heal 1 to it", 27, 2, "“it” points at nothing: no pick comes before it", "pick a card first"),
        ("upon play this: draw", 21, 1, "the line is not complete", "expected a name or a whole number or count or least or most or sum or ("),
        ("upon play this: gain one water", 22, 3, "“one” can't be here", "expected a whole number or count or a stat of a card"),
        ("upon play this: deal 1 to that of", 32, 2, "“of” can't be here", "expected the end of the step"),
        ('upon play this: gain 1 "water', 24, 6, "this quote is never closed", 'close it with "'),
        ("upon play this: deal 1 to pick 3..2 own plant", 32, 1, "3 is more than 2", "write 2..3"),
        ("offer free: draw 1", 7, 4, "a free effect could be used without end", "add a limit: offer free, limit 1 a turn"),
        ("upon play this: draw 1 for most height of this", 43, 4, "“this” is a card, and this amount belongs to no card", "count cards, or add up their numbers: sum (… of own card everywhere)"),
        ("upon play this: draw 1000", 22, 4, "1000 is out of range", "write a number from 0 to 999"),
    ],
)  # fmt: skip
def test_a_mistake_is_shown_in_its_place_with_its_fix(text, column, length, what, mend):
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


def test_a_draft_is_kept_as_typed_with_its_last_valid_version():
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


def test_only_what_is_inside_each_other_counts_as_deep():
    beside = "upon play this: if " + " or ".join(["not 0 is 0"] * 12) + " (draw 1)"
    ability, problems = parse_ability(beside, VOCABULARY)
    assert problems == () and ability is not None and ability_text(ability, VOCABULARY) == beside
    inside = "upon play this: draw " + "least(1, " * 20 + "1" + ")" * 20
    ability, problems = parse_ability(inside, VOCABULARY)
    assert ability is None and [each.what for each in problems] == ["more than 8 levels inside each other"]
    assert problems[0].span is not None and problems[0].span.column == inside.index("least") + 1 + 9 * 8 + 5


# The open sets of the language: every member, in every room that asks about it.

LINES = {
    "put": "upon play this: put all own plant to own hand", "create": "upon play this: create 2 Sprig", "grant": "upon play this: grant grafted to this",
    "strip": "upon play this: strip grafted of this", "forbid": "upon play this: forbid clashing this", "allow": "upon play this: allow clashing this",
    "search": 'upon play this: search pick own plant in "draw pile"', "shuffle": 'upon play this: shuffle own "draw pile"', "may": "upon play this: may (draw 2)",
    "offer": "upon play this: offer pay 2 water (draw 2)", "choose": "upon play this: choose 1 of (draw 2 | draw 1)", "each": "upon play this: each own plant (draw 2)",
    "if": "upon play this: if held water above 2 (draw 2)", "later": "upon play this: later end turn (draw 2)",
}  # fmt: skip


def line_of(word: str) -> str:
    """A line that says a verb."""
    if word in LINES:
        return LINES[word]
    said = {
        "amount": f"{word} 2", "target": f"{word} 2 to all own plant" if VERBS[word].counts else f"{word} all own plant",
        "resource": f"{word} 2 water", "stat": f"{word} height of all own plant by 2",
    }  # fmt: skip
    return f"upon play this: {said[VERBS[word].form]}"


@pytest.mark.parametrize("word", VERBS)
def test_a_verb_is_read_printed_priced_and_played(word):
    line = line_of(word)
    ability, problems = parse_ability(line, VOCABULARY)
    assert ability is not None and not problems and ability_text(ability, VOCABULARY) == line
    bare = RULEBOOK.model_copy(
        update={"phrases": RULEBOOK.phrases.model_copy(update={"verbs": {}, "cues": {}})}
    )
    for rules in (RULEBOOK, bare):
        (printed,) = printed_text(card("Any", line), rules, VOCABULARY).lines
        assert printed[0].upper() == printed[0] and printed.endswith(".") and not set("[]") & set(printed)
        assert "2" in printed or " 2" not in line
        assert set(re.findall("{([^}]*)}", printed)) <= {"water", "ribbon"}, "no part is left unfilled"
    ledger = verdict(card("Any", line), RULEBOOK, PriceList(stats={}, rows=(), budgets={}))
    assert any(each.what for each in ledger.lines)
    program = compile_program(RULEBOOK, [card("Any", line), card("Moss", kind="plant"), card("Sprig")])
    assert not program.notes
    match = start(program, {"Any": 2, "Moss": 4}, 1)
    play = next((each for each in match.options if each.do == "play"), None)
    if play is not None:
        match.decide(play)
        assert all(line.text for line in told(match))


@pytest.mark.parametrize("word", [word for word, verb in VERBS.items() if verb.in_play])
def test_a_verb_that_changes_cards_in_play_refuses_other_zones(word):
    """It would never find a card there: the mistake is shown at the zone while typing, and a stored line says that it does not play."""
    line = line_of(word).replace("this: grant grafted to this", "this: grant grafted to all own plant").replace("of this", "of all own plant")
    line = line.replace("clashing this", "clashing all own plant")
    wrong = line.replace("own plant", "own plant in hand", 1)
    assert wrong != line
    ability, problems = parse_ability(wrong, VOCABULARY)
    assert ability is None and [(each.span.column, each.span.length) for each in problems] == [(wrong.index(" in hand") + 2, 2)]
    assert problems[0].what == f"{word} is done to cards in play only" and "remove" in problems[0].mend
    stored, _ = parse_ability(line, VOCABULARY)
    document = json.loads(Script(lines=(Line(ability=stored),)).model_dump_json().replace('"side":"own","type":"plant"', '"side":"own","zone":"hand","type":"plant"'))
    any_card = card("Any").with_value("effect", Script.model_validate(document))
    notes = compile_program(RULEBOOK, [any_card, card("Sprig")]).notes
    assert [note.what for note in notes] == [f"line 1 does not play: {word} is done to cards in play only"]


def test_what_the_game_has_not_any_more_is_named_and_an_error_of_the_program_is_none_of_it(monkeypatch):
    """A line that names a removed phase, stat or zone does not play, and says which. Any other error is not hidden behind such a note."""
    script, _ = read_script("upon play this: draw 1", VOCABULARY)
    for kind, change in {"phase": {"until": {"at": "begin", "phase": "gone"}, "verb": "grant", "keyword": "grafted", "target": {"kind": "this"}},
                         "stat": {"verb": "raise", "stat": "gone", "target": {"kind": "this"}, "amount": {"kind": "number", "value": 1}},
                         "zone": {"verb": "put", "target": {"kind": "this"}, "zone": {"zone": "gone"}},
                         "resource": {"verb": "gain", "amount": {"kind": "number", "value": 1}, "resource": "gone"}}.items():  # fmt: skip
        line = {"ability": {"kind": "upon", "cue": "play", "steps": [change]}}
        program = compile_program(RULEBOOK, [card("Any").with_value("effect", Script.model_validate({"lines": [line]}))])
        assert [note.what for note in program.notes] == [f"line 1 does not play: the game has no such {kind} any more"]
    monkeypatch.delitem(VERB_CODES, "draw")
    with pytest.raises(KeyError):
        compile_program(RULEBOOK, [card("Any").with_value("effect", script)])


@pytest.mark.parametrize("word", CUES)
def test_a_cue_is_read_printed_and_has_a_number(word):
    said = {"card": f"{word} this", "whose": f"{word} own turn", "match": word, "total": f"{word} ribbon {'under' if word == 'falling' else 'above'} 2"}
    line = f"upon {said[CUES[word].about]}: draw 1"
    ability, problems = parse_ability(line, VOCABULARY)
    assert ability is not None and not problems and ability_text(ability, VOCABULARY) == line
    bare = RULEBOOK.model_copy(update={"phrases": RULEBOOK.phrases.model_copy(update={"cues": {}})})
    (printed,) = printed_text(card("Any", line), bare, VOCABULARY).lines
    assert printed.endswith("raw 1 card.") and printed.startswith(CUES[word].phrase.split("{")[0].strip())
    assert CUE_CODES[word] == getattr(k, f"ON_{word.upper()}")


def test_numbers_of_verbs_are_the_kernels():
    assert {word: getattr(k, f"V_{word.upper()}") for word in VERBS} == VERB_CODES


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
    lasting, _ = parse_ability("always: raise height of this by 2", VOCABULARY)
    assert lasting is not None
    was = {"kind": "always", "raises": [{"verb": "raise", "stat": "height", "target": {"kind": "this"}, "amount": {"kind": "number", "value": 2}}]}
    assert Script.model_validate({"lines": [{"ability": was}]}).abilities == (lasting,)
    assert as_now(was) == lasting.model_dump(mode="json")
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
