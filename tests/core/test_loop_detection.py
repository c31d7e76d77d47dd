"""Matches stopped at the limit: the cards in their loop, in one match and over many."""

from __future__ import annotations

from random import Random
from types import SimpleNamespace

import pytest

from dramok.core.engine import Option, compile_program, loop_detection, start, told
from dramok.core.engine.batch_summary import summed
from dramok.core.engine.kernel import codes as k
from dramok.core.engine.loop_detection import (
    OUT_OF_TURNS,
    Cut,
    CutOff,
    cuts,
    explained,
    in_words,
    loop,
    played_again,
)
from dramok.core.engine.match_batch import RESULT, play_games, seed_of
from tests.conftest import SEED
from tests.core import generated
from tests.core.invented_world import DUEL, RULEBOOK, card

ENDLESS = RULEBOOK.model_copy(update={"resources": tuple(each.model_copy(update={"cap": None}) for each in RULEBOOK.resources)})
TWO = DUEL.model_copy(update={"resources": tuple(each.model_copy(update={"cap": None}) for each in DUEL.resources)})
ECHO = card("Echo", "upon gaining water: gain 1 water; lose 1 water", cost=0)
LAST = card("Last", "upon gaining water: gain 1 water", cost=0)
WELL = card("Well", "upon gaining ribbon: gain 1 water", cost=0)
SPRING = card("Spring", "upon gaining water: gain 1 ribbon", cost=0)
HAND = card("Hand", "upon play this: gain 1 water", kind="weather", cost=0)


def cut_off(cards, deck, rules=ENDLESS, seed=1):
    match = start(compile_program(rules, cards), deck, seed)
    while match.asked != "over" and len(match.decisions) < 60:
        play = [each for each in match.options if each.do == "play"]
        match.decide(play[0] if play else Option("end turn"))
    assert match.asked == "over" and match.events[-1][0] == k.E_RUNAWAY
    return match


def test_a_card_that_goes_on_by_itself_is_named_alone():
    for cards, deck, name in (([LAST, HAND], {"Last": 1, "Hand": 2}, "Last"), ([ECHO, HAND], {"Echo": 2, "Hand": 1}, "Echo")):
        assert told(cut_off(cards, deck))[-1].text == f"Cut off with more than can be kept track of: {name} never ends."


def test_two_cards_that_set_each_other_off_are_both_named_and_no_bystander():
    match = cut_off([WELL, SPRING, HAND], {"Well": 1, "Spring": 1, "Hand": 1})
    cards = [match.program.cards[each].id for each in loop(match.events, match.state.cdef)]
    assert sorted(cards) == ["Spring", "Well"]
    assert told(match)[-1].text.endswith((": Well and Spring set each other off.", ": Spring and Well set each other off."))


def test_where_nothing_came_again_there_is_no_loop():
    events = [(k.E_TURN, 0, k.NONE, 1, 0), (k.E_PLAYED, 0, 4, 0, 0), (k.E_ABILITY, 0, 5, 0, 0), (k.E_RUNAWAY, 0, 5, 0, 1)]
    assert loop(events, [0, 1, 2, 3, 4, 5]) == [] and loop([(k.E_RUNAWAY, 0, k.NONE, 2, 0)], []) == [] and loop([], []) == []


def test_what_came_before_the_step_of_the_turn_is_no_part_of_a_loop():
    acted = lambda card: (k.E_ABILITY, 0, card, 0, 0)  # noqa: E731
    events = [acted(0)] * 90 + [(k.E_PHASE, 0, k.NONE, 1, 0)] + [acted(3)] + [acted(1), acted(2)] * 30 + [(k.E_RUNAWAY, 0, 1, 0, 0)]
    assert loop(events, [0, 1, 2, 3]) == [1, 2]


def test_long_loops_are_reported_in_one_line():
    assert in_words(["A"]) == "A never ends" and in_words(["A", "B"]) == "A and B set each other off"
    assert in_words([*"ABCDEFGH"]) == "A, B, C, D, E, F and 2 more set each other off"
    titles = {"a": "Fern"}
    assert CutOff(("a", "b"), 1, "loop").said(titles) == "1 game without an end: Fern and b set each other off"
    assert CutOff((), 3, "turns").said({}) == f"3 games without a winner after {k.MOST_TURNS} turns"
    assert CutOff((), 2, "stuck").said({}) == "2 games in which there was nothing to decide"
    assert CutOff(("a",), 2, "last").said(titles) == "2 games without an end, the last to act: Fern"
    assert CutOff((), 2, "last").said({}) == "2 games without an end, the last to act: no card"


def test_a_match_cut_off_without_a_loop_names_who_acted_last_and_makes_none_up():
    match = cut_off([ECHO, HAND], {"Echo": 1, "Hand": 2})
    last = match.events[-1]
    match.events[:] = [(k.E_TURN, 0, k.NONE, 1, 0), (k.E_ABILITY, 0, last[2], 0, 0), last]
    assert told(match)[-1].text == "Cut off with more than can be kept track of, at Echo."


def test_games_are_grouped_by_the_card_that_acted_last_and_out_of_turns_apart():
    row = lambda cut, last, turns=5: dict(zip(RESULT, (0, turns, 9, 1, cut, 0, last), strict=True)).values()  # noqa: E731
    known = cuts([[*row(0, -1)], [*row(1, 2)], [*row(1, 2)], [*row(1, 0, k.MOST_TURNS)]], 100, {})
    assert known == {2: Cut(2, 101, 9), OUT_OF_TURNS: Cut(1, 103, 9)}
    assert cuts([[*row(1, 2)]], 500, known)[2] == Cut(3, 101, 9)


def test_of_many_games_each_loop_is_named():
    """Two loops in one pool: decks of the one, decks of the other; each is reported with its number of games out of the games counted."""
    program = compile_program(TWO, [ECHO, WELL, SPRING, HAND])
    number = {each.id: place for place, each in enumerate(program.cards)}
    decks = [[number["Echo"]] * 6 + [number["Hand"]] * 4, [number["Well"]] * 4 + [number["Spring"]] * 4 + [number["Hand"]] * 4]
    pairs = [[game % 2, game % 2] for game in range(6)]
    batch = play_games(program.numbers, decks, pairs, SEED, ["plain", "plain"])
    found = summed(batch.results, batch.tally, 2, [each.id for each in program.cards])
    told_of = explained(program, cuts(batch.results, 0, {}), lambda game: [decks[deck] for deck in pairs[game]], SEED, ["plain", "plain"])
    assert sum(each.games for each in told_of) == found.runaways > 0
    assert {tuple(sorted(each.cards)) for each in told_of} <= {("Echo",), ("Spring", "Well")} and {each.why for each in told_of} == {"loop"}


def test_a_loop_is_one_wherever_it_was_begun_or_cut_off(monkeypatch):
    """Two kinds of games of the same loop, read from another of its cards each: one line, with the games of both."""
    program = compile_program(TWO, [ECHO, WELL, SPRING])
    read = iter([(("Well", "Spring"), "loop"), (("Echo",), "loop"), (("Spring", "Well"), "loop")])
    monkeypatch.setattr(loop_detection, "played_again", lambda *_: SimpleNamespace(events=(), state=SimpleNamespace(cdef=())))
    monkeypatch.setattr(loop_detection, "_of_loop", lambda *_: next(read))
    known = {0: Cut(4, 1, 9), 1: Cut(3, 2, 9), 2: Cut(2, 3, 9)}
    assert explained(program, known, lambda game: [], 1, ["plain"]) == (CutOff(("Well", "Spring"), 6, "loop"), CutOff(("Echo",), 3, "loop"))


def test_a_game_that_takes_too_long_to_play_again_tells_the_card_that_acted_last():
    program = compile_program(TWO, [ECHO])
    assert explained(program, {0: Cut(4, 0, 10**6)}, lambda game: [], 1, ["plain", "plain"]) == (CutOff(("Echo",), 4, "last"),)
    assert explained(program, {-1: Cut(4, 0, 10**6), OUT_OF_TURNS: Cut(9, 1, 5)}, lambda game: [], 1, ["plain"]) == (CutOff((), 9, "turns"), CutOff((), 4, "last"))


@pytest.mark.parametrize("part", range(2))
def test_a_game_of_many_played_again_is_that_game(part: int, monkeypatch):
    """Whatever the rules and cards: as many turns and decisions, the same winner, as when it was one of many."""
    # Some made-up games go on for thousands of decisions: they are cut off early here, and alike.
    monkeypatch.setattr(k, "MOST_IN_MATCH", 120)
    monkeypatch.setattr(k, "MOST_TURNS", 30)
    dice = Random(f"again {SEED} {part}")
    while (program := generated.program(dice)).seats != 2:
        pass
    decks = [[dice.randrange(len(program.cards)) for _ in range(12)] for _ in range(4)]
    pairs = [[dice.randrange(4), dice.randrange(4)] for _ in range(3)]
    kinds = ["plain", "random"]
    batch = play_games(program.numbers, decks, pairs, SEED, kinds, first=7)
    for place, pair in enumerate(pairs):
        match = played_again(program, [decks[deck] for deck in pair], seed_of(SEED, 7 + place), kinds)
        assert [match.state.winner, match.state.turn, match.state.decisions] == list(batch.results[place][:3])
