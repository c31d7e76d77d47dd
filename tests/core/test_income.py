"""Income from the rules alone: compared with openings dealt by the engine, turn by turn."""

from __future__ import annotations

from collections import Counter
from math import comb, sqrt
from random import Random

import pytest

from dramok.core.engine import Match, compile_program, start
from dramok.core.engine.kernel import codes as k
from dramok.core.engine.kernel.amounts import resource_slot
from dramok.core.odds import ChosenCards, Condition, Draws, Event, WholeHand, atoms_of, chances
from dramok.core.rulebook import Rulebook
from dramok.core.rulebook.income import Uncountable, opening_turns
from tests.conftest import SEED
from tests.core.invented_world import RULEBOOK, card, opening_rules

TURNS = 4
DECK = 240
"""More cards than any made-up rules draw in these turns."""


def opened(match: Match, seat: int, turns: int) -> list[tuple[int, list[tuple[int, int]]]]:
    """The same from a match in which everybody passes: for each turn of the seat the cards drawn by its end, and (drawn, water) at each play step."""
    s, p = match.state, match.program.numbers
    opening = match.program.rulebook.table.opening_hand
    drew = lambda: sum(1 for event in match.events if event[0] == k.E_DREW and event[1] == seat) - opening  # noqa: E731
    found: list[tuple[int, list[tuple[int, int]]]] = []
    plays: list[tuple[int, int]] = []
    turn, ended = 1, 0
    while len(found) < turns:
        if match.asked == "act" and match.seat == seat:
            plays.append((drew(), s.res[resource_slot(p, s, 0, seat)]))
        mine, round_ = s.active == seat, s.round
        choice = next(each for each in match.options if each.do in ("end turn", "done", "keep", "discard"))
        match.decide(choice)
        if mine and (s.active != seat or s.round != round_):
            # What was drawn in turns that have begun since is not of this one.
            at = next(place for place in range(len(match.events) - 1, -1, -1) if match.events[place][0] == k.E_TURN_END and match.events[place][1] == seat)
            ended = sum(1 for event in match.events[:at] if event[0] == k.E_DREW and event[1] == seat) - opening
        if s.round > turn:
            found.append((ended, plays))
            turn, plays = s.round, []
    return found


def tail(count: int, games: int, chance: float) -> float:
    """The exact chance of a count at least as far out on its side. The normal distribution is too narrow for rare amounts."""
    each = [comb(games, n) * chance**n * (1 - chance) ** (games - n) for n in range(games + 1)]
    return min(sum(each[: count + 1]), sum(each[count:]))


def test_every_opening_of_made_up_rules_is_one_that_the_rules_give():
    """Draws are the same in each game; an amount by chance is always one of those said, and comes about as often as is said."""
    checked = 0
    for seed in range(int(SEED) * 100, int(SEED) * 100 + 24):
        dice = Random(f"opening {seed}")
        rules = opening_rules(dice)
        doings = [(each, phase.whose) for phase in rules.played.phases for each in phase.does]
        # Without a decision in every turn nobody stops the clock: such games run on by themselves.
        if not any(each.do == "play" and whose == "active" for each, whose in doings):
            continue
        program = compile_program(rules, [card("Moss")])
        seat = dice.randrange(program.seats)
        said = opening_turns(rules, TURNS, seat)
        games = 60
        amounts: dict[tuple[int, int], Counter[int]] = {}
        for game in range(games):
            match = start(program, [{"Moss": DECK}] * program.seats, seed * 1_000 + game)
            for turn, (drawn, plays) in enumerate(opened(match, seat, TURNS)):
                assert drawn == said[turn].drawn, f"seed {seed}, turn {turn + 1}"
                assert [each[0] for each in plays] == [each.drawn for each in said[turn].plays], f"seed {seed}, turn {turn + 1}"
                for place, (_, water) in enumerate(plays):
                    amounts.setdefault((turn, place), Counter())[water] += 1
        for (turn, place), counted in amounts.items():
            chances_said = said[turn].plays[place].amounts
            assert sum(chances_said.values()) == pytest.approx(1)
            for water in {*counted, *chances_said}:
                chance = chances_said.get(water, 0.0)
                assert chance > 0 or not counted[water], f"seed {seed}: {water} in turn {turn + 1}, of {dict(chances_said)}"
                assert tail(counted[water], games, chance) > 1e-9, f"seed {seed}: {water} in turn {turn + 1}"
        checked += 1
    assert checked >= 5


def test_a_worked_example():
    """Two seats; the first turn draws nothing and grows nothing; shared water grows in each seat's turn, so that the second has more by its first."""
    document = RULEBOOK.model_dump(mode="json")
    document["table"] |= {"opening_hand": 3, "turn_draw": 1}
    document["play"] = {"seats": 2, "phases": [
        {"id": "dawn", "name": "Dawn", "does": [{"do": "grow", "first": "later seats"}, {"do": "draw", "first": "later seats"}]},
        {"id": "noon", "name": "Noon", "does": [{"do": "play", "types": ["weather"]}, {"do": "gain", "resource": "water", "number": 0, "most": 1}, {"do": "play", "types": ["plant"]}]},
    ], "set_up": {"second_draws": 1}}  # fmt: skip
    rules = Rulebook.model_validate(document)
    first, second = opening_turns(rules, 2, 0), opening_turns(rules, 2, 1)
    assert [turn.drawn for turn in first] == [0, 1] and [turn.drawn for turn in second] == [2, 3]
    # Water: 3 at the start, 2 a turn, six at most.
    assert dict(first[0].plays[0].amounts) == {3: 1.0} and dict(first[0].plays[1].amounts) == {3: 0.5, 4: 0.5}
    assert dict(second[0].plays[0].amounts) == {5: 0.5, 6: 0.5} and dict(second[0].plays[1].amounts) == {5: 0.25, 6: 0.75}
    assert dict(second[1].plays[0].amounts) == {6: 1.0}
    assert first[0].play_of([frozenset({"plant", "base"})]) == first[0].plays[1]
    assert first[0].play_of([frozenset({"plant"}), frozenset({"weather"})]) is None


def test_what_pays_is_kept_where_the_seat_chooses():
    """Over a common cap the seat gives back what does not pay, and of what pays only what is over by itself."""
    document = RULEBOOK.model_dump(mode="json")
    document["resources"] = [
        {"id": "water", "name": "Water", "names": "Water", "symbol": "drop", "start": 1, "each_turn": 3},
        {"id": "seed", "name": "Seed", "names": "Seeds", "symbol": "leaf", "start": 4},
    ]  # fmt: skip
    document["play"] = {"seats": 1, "phases": [{"id": "dawn", "name": "Dawn", "does": [{"do": "grow"}, {"do": "play"}]}],
                        "common": [{"resources": ["seed", "water"], "cap": 6, "over": "choice"}]}  # fmt: skip
    turns = opening_turns(Rulebook.model_validate(document), 3)
    assert [dict(turn.plays[0].amounts) for turn in turns] == [{4: 1.0}, {6: 1.0}, {6: 1.0}]


def test_amounts_in_too_many_ways_are_refused():
    document = RULEBOOK.model_dump(mode="json")
    document["resources"][0] |= {"cap": None, "shared": False}
    document["play"] = {"seats": 1, "phases": [{"id": "dawn", "name": "Dawn", "does": [{"do": "gain", "resource": "water", "number": 0, "most": 9_999}, {"do": "play"}]}]}
    assert len(opening_turns(Rulebook.model_validate(document), 1)[0].plays[0].amounts) == 10_000
    with pytest.raises(Uncountable):
        opening_turns(Rulebook.model_validate(document), 3)


@pytest.mark.parametrize("kind", ["hand", "cards"])
@pytest.mark.parametrize("returned", ["before", "after"])
@pytest.mark.parametrize("size", [6, 8, 12])
def test_a_redraw_from_a_deck_smaller_than_two_hands_is_what_the_odds_say(kind, returned, size):
    """Hands of five: the new hand has the same size, whenever the cards are returned; and it contains a wanted card as often as the odds say."""
    document = RULEBOOK.model_dump(mode="json")
    document["table"] |= {"opening_hand": 5}
    document["play"] = {"seats": 1, "phases": [{"id": "noon", "name": "Noon", "does": [{"do": "play"}]}], "set_up": {"redraw": {"kind": kind, "returned": returned}}}
    program = compile_program(Rulebook.model_validate(document), [card("Gold"), card("Moss")])
    gold = program.definition("Gold")
    games, found = 1_500, 0
    for seed in range(games):
        match = start(program, {"Gold": 1, "Moss": size - 1}, seed)
        held = [match.state.cdef[each] for each in match.zone(k.HAND, 0)]
        assert len(held) == 5
        if kind == "hand":
            match.decide(next(each for each in match.options if each.do == ("keep" if gold in held else "redraw")))
        else:
            # All but the wanted card are given back.
            while match.asked == "redraw":
                match.decide(next((each for each in match.options if each.do == "pick" and match.state.cdef[each.card] != gold), match.options[-1]))
        assert match.state.zcount[k.HAND * k.MOST_SEATS] == 5, "the hand is as large as before"
        assert match.state.zcount[k.DRAW_PILE * k.MOST_SEATS] == size - 5 and match.state.zcount[k.RESOLVING * k.MOST_SEATS] == 0
        found += any(match.state.cdef[each] == gold for each in match.zone(k.HAND, 0))
    rule = WholeHand(Event((Condition(0),)), returned) if kind == "hand" else ChosenCards(0, returned)
    chance = chances(atoms_of([1], size), Event((Condition(0),)), Draws(5, 0), [0], rule)[0]
    assert abs(found - games * chance) <= 4 * sqrt(games * chance * (1 - chance)) + 1e-9, (found / games, chance)

