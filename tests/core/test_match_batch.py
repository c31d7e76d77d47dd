"""Rows of a batch: each column holds what its name says, for every player, with and without the compiled kernel."""

from __future__ import annotations

from random import Random

import pytest

from dramok.core.automatic_players import BY_ID
from dramok.core.engine.kernel import codes as k
from dramok.core.engine.kernel.batch import RESULT, TALLY, emptied
from dramok.core.engine.kernel.playout import play_to_end
from dramok.core.engine.kernel.state import State
from dramok.core.engine.match_batch import play_games, seed_of, table_of
from dramok.workers.compiled_kernel import can_compile, load
from tests.conftest import SEED
from tests.core import generated

LONGEST = 60
"""Decisions of a game that is played interpreted as well."""


def games(number: int) -> list[tuple]:
    """(program, decks, seed, player, state at the end) of short generated games."""
    dice, found = Random(f"columns {SEED}"), []
    while len(found) < number:
        program = generated.program(dice)
        decks = [[dice.randrange(len(program.cards)) for _ in range(dice.randrange(3, 9))] for _ in range(program.seats)]
        player = dice.choice(["random", "plain"])
        seed = dice.randrange(10**6)
        row = play_games(program.numbers, decks, [range(program.seats)], seed, [player] * program.seats, runner=load() if can_compile() else None).results[0]
        if row[RESULT.index("decisions")] > LONGEST:
            continue
        s = table_of(program.numbers, decks, seed_of(seed, 0))
        s.logs, s.digests = 0, 1
        play_to_end(program.numbers, s, State(k.MOST_CARDS, 1), sum(BY_ID[player].number << (2 * seat) for seat in range(program.seats)))
        found.append((program, decks, seed, player, s))
    return found


@pytest.fixture(scope="module")
def short() -> list[tuple]:
    return games(12)


@pytest.mark.parametrize("compiled", [False, pytest.param(True, marks=pytest.mark.skipif(not can_compile(), reason="needs llvmlite"))])
def test_each_column_is_what_the_state_says_at_the_end(short, compiled):
    for program, decks, seed, player, s in short:
        batch = play_games(
            program.numbers, decks, [range(program.seats)], seed, [player] * program.seats, told=3, runner=load() if compiled else None
        )
        row = dict(zip(RESULT, map(int, batch.results[0]), strict=True))
        assert row == {
            "winner": s.winner, "turns": s.turn, "decisions": s.decisions, "digest": s.digest, "ran_away": s.cut, "emptied": emptied(program.numbers, s),
            "culprit": s.cdef[s.culprit] if s.cut and s.culprit >= 0 else k.NONE,
        }  # fmt: skip
        laid = range(sum(map(len, decks)))
        for made, found in enumerate(batch.tally[: len(program.cards)]):
            mine = [card for card in laid if s.cdef[card] == made]
            won = [card for card in mine if s.owner[card] == s.winner]
            assert dict(zip(TALLY, map(int, found), strict=True)) == {
                "copies": len(mine), "drawn": sum(s.drawn[card] for card in mine), "played": sum(s.played[card] for card in mine),
                "copies_won": len(won), "drawn_won": sum(s.drawn[card] for card in won), "played_won": sum(s.played[card] for card in won),
                "held": sum(s.zone[card] == k.HAND for card in mine), "bought": sum(s.sold[card] for card in range(s.cards) if s.cdef[card] == made),
            }  # fmt: skip
        sheets = [int(number) for row in batch.tally[program.definitions :] for number in row]
        assert sheets == list(s.score), "a sum over one game is its score sheet"
        tops = [k.NONE] * (3 * program.seats)
        for card in laid:
            if 0 <= s.nth[card] < 3:
                tops[s.owner[card] * 3 + s.nth[card]] = s.cdef[card]
        assert list(map(int, batch.firsts[0])) == tops


def test_a_pile_that_ran_out_has_the_bit_of_its_seat():
    dice = Random(4)
    while (program := generated.program(dice)).seats < 3:
        pass
    s = table_of(program.numbers, [[0] * 30] * program.seats, 1)
    assert emptied(program.numbers, s) == 0
    s.reshuffled[1] = 1
    assert emptied(program.numbers, s) == 0b10
    s.reshuffled[0] = 2
    assert emptied(program.numbers, s) == 0b11
    assert emptied(program.numbers, table_of(program.numbers, [[0] * 30, [0] * 30, [], *[[0] * 30] * (program.seats - 3)], 1)) == 0b100


def test_games_have_their_own_seed_wherever_a_batch_begins(short):
    program, decks, seed, player, _ = short[0]
    pairs = [list(range(program.seats))] * 6
    whole = play_games(program.numbers, decks, pairs, seed, [player] * program.seats)
    parts = [play_games(program.numbers, decks, pairs[:2], seed, [player] * program.seats, first=first) for first in (0, 2, 4)]
    assert list(map(list, whole.results)) == [list(row) for part in parts for row in part.results]
    assert len({seed_of(seed, game) for game in range(1000)}) == 1000
