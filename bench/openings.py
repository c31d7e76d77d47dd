"""*Paid for* in the odds of a deck against openings that the engine deals and plays, with generated phases, resources, limits and second seats."""

from __future__ import annotations

import random
import time

from tests.core.invented_world import card, opening_rules

from dramok.core.cards import Card
from dramok.core.engine import compile_program, start
from dramok.core.engine.kernel import codes as k
from dramok.core.engine.kernel.amounts import resource_slot
from dramok.core.engine.match import Match
from dramok.core.odds import atoms_of, payable
from dramok.core.rulebook import Rulebook
from dramok.core.rulebook.income import OpeningTurn, opening_turns

GAMES = 20_000
RULES = 10
"""Rulebooks that the games are shared among."""
TURNS, WANTED, DECK, COST = 4, 3, 30, 5
PASSING = ("end turn", "done", "keep", "discard")


def run() -> None:
    begun = time.perf_counter()
    apart, chances = [], []
    for seed, rules in _rulebooks():
        seat = seed % rules.played.seats
        said = opening_turns(rules, TURNS, seat)
        times = [(play.drawn, play.amounts) if (play := turn.play_of(PLANT)) else None for turn in said]
        expected = payable(atoms_of([WANTED], DECK), COST, rules.table.opening_hand, times)
        found = _played(rules, seat, said, seed)
        games = GAMES // RULES
        for turn in range(TURNS):
            chance = expected[turn]
            chances.append(chance)
            if 0 < chance < 1:
                apart.append((found[turn] - games * chance) / (games * chance * (1 - chance)) ** 0.5)
            else:
                assert found[turn] == games * chance, (seed, turn, found[turn], chance)
    spread = (sum(each * each for each in apart) / len(apart)) ** 0.5
    print(
        f"paid for, {GAMES:,} openings of the engine under {RULES} made-up rulebooks: {len(chances)} chances from {min(chances):.0%} to {max(chances):.0%}; "
        f"apart by {spread:.2f} standard errors on average (1 by chance), by {max(map(abs, apart)):.1f} at most; {time.perf_counter() - begun:.0f} s"
    )
    assert max(map(abs, apart)) < 4.5


PLANT = [frozenset({"plant", "base"})]


def _rulebooks() -> list[tuple[int, Rulebook]]:
    """Made-up rules under which a plant may be played in each turn of a seat."""
    found: list[tuple[int, Rulebook]] = []
    seed = 0
    while len(found) < RULES:
        seed += 1
        rules = opening_rules(random.Random(f"paid for {seed}"))
        doings = [(each, phase.whose) for phase in rules.played.phases for each in phase.does]
        # A turn without a decision would run on by itself; a hand limit gives cards away that the odds count.
        decided = any(each.do == "play" and not each.types and whose == "active" for each, whose in doings)
        if decided and not any(each.do == "hand limit" for each, _ in doings):
            found.append((seed, rules))
    return found


def _played(rules: Rulebook, seat: int, said: tuple[OpeningTurn, ...], seed: int) -> list[int]:
    """The number of openings, for each turn, in which a wanted card is in hand and paid for when it may be played; everybody passes."""
    cards: list[Card] = [card("Gold", cost=COST), card("Moss", cost=COST)]
    program = compile_program(rules, cards)
    places = [next((at for at, each in enumerate(turn.plays) if each is turn.play_of(PLANT)), -1) for turn in said]
    found = [0] * TURNS
    for game in range(GAMES // RULES):
        match = start(program, [{"Gold": WANTED, "Moss": DECK - WANTED}] * program.seats, 100_000 * seed + game)
        for turn, plays in enumerate(_passed(match, seat)):
            held, water = plays[places[turn]] if places[turn] >= 0 else (False, 0)
            found[turn] += held and water >= COST
    return found


def _passed(match: Match, seat: int) -> list[list[tuple[bool, int]]]:
    """Of each turn: whether a wanted card is in hand, and the water, at each of the seat's play steps."""
    s, p, gold = match.state, match.program.numbers, match.program.definition("Gold")
    turns: list[list[tuple[bool, int]]] = [[] for _ in range(TURNS)]
    while s.round <= TURNS:
        if match.asked == "act" and match.seat == seat:
            held = any(match.state.cdef[each] == gold for each in match.zone(k.HAND, seat))
            turns[s.round - 1].append((held, s.res[resource_slot(p, s, 0, seat)]))
        match.decide(next(each for each in match.options if each.do in PASSING))
    return turns


if __name__ == "__main__":
    run()
