"""Batches of matches by automatic players: winners, lengths, card statistics, and one digest.

A `Runner` plays them as machine code; without one, the same kernel is interpreted.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, NamedTuple, Protocol

from dramok.core.automatic_players import BY_ID
from dramok.core.engine.kernel import codes as k
from dramok.core.engine.kernel.batch import (
    LOGGED,
    RESULT,
    RESULTS,
    SEEDS,
    SHEET_ROWS,
    TALLIES,
    TALLY,
    play_range,
    set_table,
)
from dramok.core.engine.kernel.state import State

WORD = 0xFFFFFFFF
_MIX = 0xFFFFFFFFFFFFFFFF


class Batch(NamedTuple):
    """`results`: a row of `RESULT` for each game; `tally`: a row of `TALLY` for each definition, then the
    rows of the score sheets.

    `firsts`: for each game, seat after seat, the definitions of the first cards of its shuffled pile, top first
    (-1: none).
    """

    results: Any
    tally: Any
    firsts: Any = ()


class Runner(Protocol):
    """Plays a batch as machine code; returns the three parts of `Batch`."""

    def __call__(
        self, numbers: Sequence[int], decks: Sequence[Sequence[int]], pairs: Sequence[Sequence[int]], seeds: Sequence[Sequence[int]], kinds: int, told: int,
        threads: int,
    ) -> tuple[Any, Any, Any]: ...  # fmt: skip


def seed_of(seed: int, game: int) -> int:
    """The seed of one of many games (splitmix64: Steele, Lea, Flood 2014)."""
    z = (seed + (game + 1) * 0x9E3779B97F4A7C15) & _MIX
    z = ((z ^ (z >> 30)) * 0xBF58476D1CE4E5B9) & _MIX
    z = ((z ^ (z >> 27)) * 0x94D049BB133111EB) & _MIX
    return (z ^ (z >> 31)) >> 1


def words_of(seed: int) -> list[int]:
    """A seed as the two words that the kernel takes."""
    return [seed & WORD, seed >> 32]


def _deals(decks: Sequence[Sequence[int]], pairs: Sequence[Sequence[int]], seeds: Sequence[Sequence[int]]) -> tuple[list[int], int]:
    """The input rows of `play_range`, and the length of a deck in them."""
    width = max(len(deck) for deck in decks) + 1
    rows: list[int] = []
    for pair, words in zip(pairs, seeds, strict=True):
        rows += words
        for deck in pair:
            rows += [len(decks[deck]), *decks[deck], *[0] * (width - 1 - len(decks[deck]))]
    return rows, width


def table_of(numbers: Sequence[int], decks: Sequence[Sequence[int]], seed: int) -> State:
    """The table of one of many games at its start: a deck for each seat, its own seed. Interpreted."""
    s = State(k.MOST_CARDS)
    deals, width = _deals(decks, [range(len(decks))], [words_of(seed)])
    set_table(numbers, s, deals, 0, width)
    return s


def play_games(
    numbers: Sequence[int], decks: Sequence[Sequence[int]], pairs: Sequence[Sequence[int]], seed: int, players: Sequence[str],
    first: int = 0, threads: int = 1, logged: bool = False, told: int = 0, runner: Runner | None = None,
) -> Batch:  # fmt: skip
    """Play game `first` and the following ones, one for each row of `pairs`: the indexes in `decks` of its
    seats' decks.

    `told`: the number of top cards of each pile to report. The results depend only on program, decks, seed and
    players: not on threads, nor on the runner.
    """
    kinds = sum(BY_ID[name].number << (2 * seat) for seat, name in enumerate(players)) + (logged << LOGGED)
    seeds = [words_of(seed_of(seed, first + game)) for game in range(len(pairs))]
    if runner is not None:
        return Batch(*runner(numbers, decks, pairs, seeds, kinds, told, threads))
    deals, width = _deals(decks, pairs, seeds)
    seats = len(pairs[0])
    results, tally, firsts = [0] * (len(pairs) * RESULTS), [0] * ((numbers[k.H_DEFS] + SHEET_ROWS) * TALLIES), [k.NONE] * (len(pairs) * seats * told)
    play_range(numbers, State(k.MOST_CARDS, 1), State(k.MOST_CARDS, 1), deals, results, tally, firsts, kinds, width, told, 0, len(pairs))
    return Batch(_rows(results, RESULTS), _rows(tally, TALLIES), _rows(firsts, seats * told) if told else [[] for _ in pairs])


def _rows(numbers: Sequence[int], width: int) -> list[Sequence[int]]:
    return [numbers[at : at + width] for at in range(0, len(numbers), width)]


assert len(words_of(0)) == SEEDS

__all__ = ["Batch", "RESULT", "Runner", "TALLY", "play_games", "seed_of", "table_of"]
