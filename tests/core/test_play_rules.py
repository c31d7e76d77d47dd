"""The rules of play: missing parts, their text, the start of a game; with literal sentences of an invented game."""

from __future__ import annotations

import re
from random import Random

import pytest

from dramok.core.engine import compile_program, start
from dramok.core.engine.kernel import codes as k
from dramok.core.engine.kernel.amounts import resource_slot
from dramok.core.rulebook import PlayRules, Rulebook
from dramok.core.rulebook.phase_actions import DrawsCards
from dramok.core.rulebook.play_checks import PARTS, gaps, not_playable
from dramok.core.rulebook.play_rules import alone
from dramok.core.rulebook.starting_rules import starting
from dramok.core.rulebook.vocabulary import GameVocabulary
from dramok.core.wording.rules_text import clash_example, rules_sections, turn_summary
from tests.conftest import SEED
from tests.core import generated
from tests.core.invented_world import DUEL, RULEBOOK, card


def with_play(**changed) -> Rulebook:
    """The made-up duel with some of its rules of play changed."""
    document = DUEL.model_dump(mode="json")
    return Rulebook.model_validate({**document, "play": {**document["play"], **changed}})


def read(rulebook: Rulebook, cards=()) -> dict[str, tuple[str, ...]]:
    vocabulary = GameVocabulary(rulebook, [], dict)
    return {each.part: each.lines for each in rules_sections(rulebook, list(cards), vocabulary)}


RIBBON = [each.id for each in DUEL.resources].index("ribbon")
PLAYS = [{"id": "main", "name": "Main", "does": [{"do": "draw"}, {"do": "play"}]}]


@pytest.mark.parametrize(
    ("changed", "part", "what", "stops"),
    [
        ({"phases": [{"id": "a", "name": "A", "does": [{"do": "draw"}]}], "clash": None}, "phases", "no phase lets cards be played: there is nothing to decide", True),
        ({"goals": []}, "goals", "there is no goal: nobody can win the match", True),
        ({"clash": None, "phases": [{"id": "a", "name": "A", "does": [{"do": "play"}, {"do": "clash"}]}]}, "clash", "a phase has a clash, but the clash has no rules", True),
        ({"seats": 1}, "clash", "a clash needs a rival", True),
        ({"phases": PLAYS}, "clash", "the clash has rules, but no phase has a clash", False),
        ({"phases": [{"id": "a", "name": "A", "does": [{"do": "play"}]}], "clash": None}, "phases", "no card comes to hand after the opening hand", False),
        ({"zones": [{"id": "pond", "name": "Pond", "shuffled": True}]}, "zones", "Pond is shuffled at the start, but has no cards", False),
    ],
)  # fmt: skip
def test_missing_rules_of_play_are_reported_at_their_part_with_a_fix(changed, part, what, stops):
    rulebook = with_play(**changed)
    found = [each for each in gaps(rulebook) if each.what == what]
    assert [(each.part, each.stops) for each in found] == [(part, stops)] and found[0].mend
    assert {each.part for each in gaps(rulebook)} <= set(PARTS)
    problem = not_playable(rulebook)
    assert (problem is not None) == any(each.stops for each in gaps(rulebook))
    # What keeps a match from beginning comes first.
    assert [each.stops for each in gaps(rulebook)] == sorted((each.stops for each in gaps(rulebook)), reverse=True)


def test_a_game_that_says_nothing_of_it_lacks_nothing():
    assert RULEBOOK.play is None and gaps(RULEBOOK) == () and not_playable(RULEBOOK) is None
    assert not_playable(DUEL) is None


def test_half_rules_are_kept_and_compile_and_never_break_the_engine():
    """Each fault that keeps a match from starting: the engine does not crash on it when it is started all the same."""
    for changed in ({"goals": []}, {"phases": []}, {"clash": None}, {"phases": PLAYS}):
        program = compile_program(with_play(**changed), [card("a", cost=0)])
        match = start(program, [["a"] * 8] * 2, 1)
        for _ in range(40):
            if match.asked == "over":
                break
            match.take(0)


def test_the_rules_are_read_in_order_of_play():
    cards = [card("low", cost=2, height=2, root=2), card("high", cost=3, height=5, root=4)]
    said = read(DUEL, cards)
    assert list(said) == [each for each in ("seats", "zones", "set_up", "phases", "after_play", "clash", "goals", "words") if each in said]
    assert said["seats"][0] == "Two players, each with a deck of their own."
    text = "\n".join(line for lines in said.values() for line in lines)
    for phase in DUEL.played.phases:
        assert phase.name in text
    for resource in DUEL.resources:
        assert resource.names.lower() in text.lower()
    assert "None" not in text and "  " not in text and ".." not in text


@pytest.mark.parametrize(
    ("changed", "line"),
    [
        ({"set_up": {"redraw": {"kind": "hand", "returned": "before"}}}, "Once, before the first day, you may return your whole hand: shuffle them into your deck, then draw the same number."),
        ({"set_up": {"redraw": {"kind": "cards", "returned": "after"}}}, "Once, before the first day, you may return any of these cards: draw the same number, then shuffle the returned cards into your deck."),
        ({"set_up": {"second_draws": 2, "second_gains": {"ribbon": 1}}}, "A player who does not go first gets 2 cards and 1 ribbon."),
        ({"zones": [{"id": "pond", "name": "Pond", "shared": True, "seen": "none", "limit": 4}]}, "Pond: there is one, face down, of at most 4 cards."),
        ({"goals": [{"kind": "reach", "total": "ribbon", "number": 9}]}, "The first player with 9 ribbons wins."),
        ({"goals": [{"kind": "most", "total": "ribbon", "number": 12}]}, "After round 12, the player with the most ribbons wins."),
        ({"goals": [{"kind": "drop", "total": "ribbon", "number": 0}]}, "A player who is down to 0 ribbons loses."),
        ({"tie": "active"}, "If two players would win at one moment, the one whose day it is wins."),
        ({"reshuffles": 1, "phases": PLAYS, "clash": None}, "When your draw pile is empty and you have to draw, shuffle your discard pile into it, once in a match."),
        ({"phases": [{"id": "a", "name": "Evening", "whose": "each", "does": [{"do": "play", "most": 1}]}]}, "1. Evening, of each player in turn. You may play one card."),
        ({"phases": [{"id": "a", "name": "A", "does": [{"do": "gain", "resource": "water", "number": 1, "most": 3}, {"do": "play"}]}]}, "1. A. Gain 1 to 3 water, at random. Play cards, as many as you can pay for."),
        ({"after_play": [{"type": "weather", "becomes": "attached", "hosts": {"side": "own", "type": "plant", "filters": []}}]}, "Weather: is attached to a plant of yours and leaves play with it."),
    ],
)  # fmt: skip
def test_each_setting_has_its_sentence(changed, line):
    lines = [each for lines in read(with_play(**changed)).values() for each in lines]
    assert line in lines, "\n".join(lines)


def clash_of(**changed) -> tuple[str, ...]:
    rulebook = with_play(clash={**DUEL.model_dump(mode="json")["play"]["clash"], **changed})
    told = clash_example(rulebook, [card("low", height=2, root=2), card("high", height=5, root=4)], "high", "low")
    assert told is not None and (told.sender, told.answer) == ("high", "low")
    return told.lines


def test_a_clash_of_two_real_cards_is_reported_in_numbers():
    total = {"unanswered": "gains", "total": "ribbon", "points": "stat"}
    assert clash_of(**total, hurts=True, excess="lost")[1] == "Not answered: you gain 5 ribbons."
    assert clash_of(**total, hurts=False, excess="through")[2].endswith("5 less 2 is 3; 3 is left over: you gain 3 ribbons.")
    assert clash_of(unanswered="gains", total="ribbon", points="one")[1] == "Not answered: you gain 1 ribbon."
    assert len(clash_of(**total, answers="none")) == 2


@pytest.mark.parametrize("answered", [False, True])
@pytest.mark.parametrize("hurts", [False, True])
@pytest.mark.parametrize("excess", ["lost", "through"])
@pytest.mark.parametrize(("unanswered", "points"), [("gains", "stat"), ("gains", "one"), ("loses", "stat")])
@pytest.mark.parametrize(("high", "low"), [((5, 4), (2, 2)), ((2, 2), (5, 4)), ((3, 1), (3, 3))])
def test_the_example_of_a_clash_is_what_the_engine_makes_of_it(answered, hurts, excess, unanswered, points, high, low):
    """The same two cards sent and answered in a match: who gains or loses how much, and what each is dealt."""
    clash = {**DUEL.model_dump(mode="json")["play"]["clash"], "hurts": hurts, "excess": excess, "unanswered": unanswered, "points": points, "total": "ribbon", "on_arrival": True}
    goals = [{"kind": "reach", "total": "ribbon", "number": 99}]
    phases = [{"id": "tending", "name": "Tending", "does": [{"do": "play"}]}, {"id": "showing", "name": "Showing", "does": [{"do": "clash"}]}]
    rulebook = with_play(clash=clash, goals=goals, phases=phases, set_up={})
    cards = [card("high", height=high[0], root=high[1]), card("low", height=low[0], root=low[1])]
    match = start(compile_program(rulebook, cards), [["high"] * 4, ["low"] * 4], 1)
    before: list[int] = []
    for doing in ("play", "end turn", "done", "play", "end turn", "done", "end turn", "clash", "answer" if answered else "done"):
        if doing == "clash":
            before = [match.state.res[resource_slot(match.program.numbers, match.state, RIBBON, seat)] for seat in range(2)]
        # Once nothing is left to be sent, or to answer with, nobody is asked for more.
        match.take(next(row for row, each in enumerate(match.options) if each.do == doing))
    went = [match.state.res[resource_slot(match.program.numbers, match.state, RIBBON, seat)] - before[seat] for seat in range(2)]
    dealt = {match.program.cards[match.state.cdef[each[2]]].id: each[3] for each in match.events if each[0] == k.E_DEALT}
    told = clash_example(rulebook, cards, "high", "low")
    assert told is not None
    line = told.lines[2] if answered else told.lines[1]
    said = re.search(r"(you gain|your rival loses) (\d+) ribbons?", line)
    points_said = int(said[2]) if said else 0
    assert went == ([points_said, 0] if unanswered == "gains" else [0, -points_said]), line
    assert {name: number for name, number in dealt.items() if number} == {name: int(number) for name, number in re.findall(r"(high|low) gets (\d+) mildew", line) if int(number)}, line


def test_the_turn_in_a_line():
    rulebook = with_play(phases=[*PLAYS, {"id": "end", "name": "End", "does": []}], clash=None)
    assert turn_summary(rulebook).endswith("→ End: nothing of its own")
    assert turn_summary(with_play(phases=[])) == "No phase is laid out yet."


def test_rules_to_begin_with_can_be_played_in_any_game():
    for rulebook in (RULEBOOK, DUEL):
        assert starting(rulebook, 1) == alone()
        two = Rulebook.model_validate({**rulebook.model_dump(mode="json"), "play": starting(rulebook, 2).model_dump(mode="json")})
        assert not_playable(two) is None
        match = start(compile_program(two, [card("a", cost=0, height=1, root=1)]), [["a"] * 12] * 2, 3)
        for _ in range(2_000):
            if match.asked == "over":
                break
            match.take(match.choose("plain"))
        assert match.asked == "over" and not match.state.cut


def test_any_rules_of_play_that_can_be_laid_out_read_as_sentences():
    """Generated rulebooks: each line is one or more sentences, none has a hole."""
    for number in range(40):
        program = generated.program(Random(f"read {SEED} {number}"))
        for part in rules_sections(program.rulebook, program.cards, GameVocabulary(program.rulebook, [], dict)):
            for line in part.lines if part.part != "words" else ():
                assert line.strip() == line and line[-1] in ".:" and line[0] == line[0].upper(), f"seed {SEED}: {line}"
                assert "{" not in line and "None" not in line, f"seed {SEED}: {line}"


def test_a_doing_without_a_number_says_that_of_the_table():
    assert DrawsCards().number is None
    lines = read(with_play(phases=PLAYS, clash=None))["phases"]
    assert f"1. Main. Draw {DUEL.table.turn_draw} card" in lines[1]
    with pytest.raises(ValueError, match="there is no zone"):
        PlayRules.model_validate({"phases": [{"id": "a", "name": "A", "does": [{"do": "turn over", "zone": "nowhere"}]}]})
