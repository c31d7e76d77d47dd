"""Batches of matches by automatic players: winners, lengths, card statistics, and one digest.

Compiled (see `compile_mode`), each thread plays a part of the games; interpreted, the same loop is plain
Python.
"""

from __future__ import annotations

from collections.abc import Sequence
from concurrent.futures import ThreadPoolExecutor
from typing import Any, NamedTuple

from dramok.core.engine.kernel import codes as k
from dramok.core.engine.kernel.compile_mode import COMPILED, WARM
from dramok.core.engine.kernel.playout import AHEAD, PLAIN, RANDOM, play_to_end
from dramok.core.engine.kernel.setup import clear, lay, ready
from dramok.core.engine.kernel.state import State
from dramok.core.engine.kernel.zones import held

KINDS = {"random": RANDOM, "plain": PLAIN, "ahead": AHEAD}
RESULT = ("winner", "turns", "decisions", "digest", "ran_away", "emptied", "culprit")
"""`emptied`: a bit for each seat whose draw pile ran out; `culprit`: for a game that ran away, the definition
of the card whose effect ran last.
"""
TALLY = ("copies", "drawn", "played", "copies_won", "drawn_won", "played_won", "held")
"""Per definition, summed over games and seats: cards in decks, drawn, played; the same for winning seats; in
hand at the end.
"""
WORD = 0xFFFFFFFF
LOGGED = 60
"""The bit of `kinds` for writing out events and discarding them: measures the cost of logging."""
_MIX = 0xFFFFFFFFFFFFFFFF


class Batch(NamedTuple):
    """`results`: a row of `RESULT` for each game; `tally`: a row of `TALLY` for each definition.

    `firsts`: for each game, seat after seat, the definitions of the first cards of its shuffled pile, top first
    (-1: none).
    """

    results: Any
    tally: Any
    firsts: Any = ()


def seed_of(seed: int, game: int) -> int:
    """The seed of one of many games (splitmix64: Steele, Lea, Flood 2014)."""
    z = (seed + (game + 1) * 0x9E3779B97F4A7C15) & _MIX
    z = ((z ^ (z >> 30)) * 0xBF58476D1CE4E5B9) & _MIX
    z = ((z ^ (z >> 27)) * 0x94D049BB133111EB) & _MIX
    return (z ^ (z >> 31)) >> 1


def set_table(p: Any, s: Any, decks: Any, lengths: Any, pairs: Any, game: int, low: int, high: int) -> int:
    """Place the decks and starting cards of a game."""
    clear(p, s, low, high)
    for seat in range(s.seats):
        deck = pairs[game, seat]
        for place in range(lengths[deck]):
            lay(p, s, decks[deck, place], seat, k.DRAW_PILE)
    return ready(p, s)


def count(s: Any, tally: Any, laid: int) -> int:
    """Add the statistics of each card of the decks."""
    for card in range(laid):
        made = s.cdef[card]
        won = 3 if s.winner == s.owner[card] else -1
        tally[made, 0] += 1
        tally[made, 1] += s.drawn[card]
        tally[made, 2] += s.played[card]
        if s.zone[card] == k.HAND:
            tally[made, 6] += 1
        if won > 0:
            tally[made, 3] += 1
            tally[made, 4] += s.drawn[card]
            tally[made, 5] += s.played[card]
    return 0


def emptied(p: Any, s: Any) -> int:
    """A bit for each seat whose draw pile ran out."""
    found = 0
    for seat in range(s.seats):
        if s.reshuffled[seat] or held(p, s, k.DRAW_PILE, seat) == 0:
            found |= 1 << seat
    return found


def stretch(
    p: Any, s: Any, q: Any, decks: Any, lengths: Any, pairs: Any, seeds: Any, kinds: int, first: int, last: int, results: Any, tally: Any, firsts: Any, told: int
) -> int:
    """Play games `first` to `last - 1`, one after the other."""
    for game in range(first, last):
        set_table(p, s, decks, lengths, pairs, game, seeds[game, 0], seeds[game, 1])
        laid = 0
        for seat in range(s.seats):
            laid += lengths[pairs[game, seat]]
        s.logs = (kinds >> LOGGED) & 1
        s.digests = 1
        play_to_end(p, s, q, kinds)
        results[game, 0] = s.winner
        results[game, 1] = s.turn
        results[game, 2] = s.decisions
        results[game, 3] = s.digest
        results[game, 4] = s.cut
        results[game, 5] = emptied(p, s)
        results[game, 6] = s.cdef[s.culprit] if s.cut and s.culprit >= 0 else k.NONE
        count(s, tally, laid)
        for card in range(laid):
            if 0 <= s.nth[card] < told:
                firsts[game, s.owner[card] * told + s.nth[card]] = s.cdef[card]
    return 0


class _Rows(list[list[int]]):
    """Two-dimensional rows `rows[a, b]` for plain Python."""

    def __getitem__(self, at: Any) -> Any:
        return list.__getitem__(self, at[0])[at[1]] if isinstance(at, tuple) else list.__getitem__(self, at)

    def __setitem__(self, at: Any, value: Any) -> None:
        list.__getitem__(self, at[0])[at[1]] = value


def table_of(numbers: Sequence[int], decks: Sequence[Sequence[int]], seed: int) -> State:
    """The table of one of many games at its start: a deck for each seat, its own seed. Interpreted."""
    s = State(k.MOST_CARDS)
    set_table(numbers, s, _Rows(map(list, decks)), [len(deck) for deck in decks], _Rows([list(range(len(decks)))]), 0, seed & WORD, seed >> 32)
    return s


if COMPILED:
    import numpy as np
    from numba import njit

    from dramok.core.engine.kernel.compile_mode import DTYPE, pointer

    if not WARM:
        set_table = njit(nogil=True)(set_table)
        count = njit(nogil=True)(count)
        emptied = njit(nogil=True)(emptied)
        stretch = njit(nogil=True)(stretch)

    @njit(nogil=True, cache=True)  # type: ignore[untyped-decorator]
    def enter(address: int, states: Any, decks: Any, lengths: Any, pairs: Any, seeds: Any, kinds: int, first: int, last: int, results: Any, tally: Any, firsts: Any, told: int) -> int:
        """The one place where arrays become the pointer and the records that the kernel takes."""
        return stretch(pointer(address), states[0], states[1], decks, lengths, pairs, seeds, kinds, first, last, results, tally, firsts, told)


def play_games(
    numbers: Sequence[int], defs: int, decks: Sequence[Sequence[int]], pairs: Sequence[Sequence[int]], seed: int, players: Sequence[str],
    first: int = 0, threads: int = 1, logged: bool = False, told: int = 0,
) -> Batch:  # fmt: skip
    """Play game `first` and the following ones, one for each row of `pairs`: the indexes in `decks` of its
    seats' decks.

    `told`: the number of top cards of each pile to report. The results depend only on program, decks, seed and
    players: not on threads, nor on compilation.
    """
    kinds = sum(KINDS[name] << (2 * seat) for seat, name in enumerate(players)) + (logged << LOGGED)
    seeds = [seed_of(seed, first + game) for game in range(len(pairs))]
    words = [[each & WORD, each >> 32] for each in seeds]
    if not COMPILED:
        results, tally = _Rows([0] * len(RESULT) for _ in pairs), _Rows([0] * len(TALLY) for _ in range(defs))
        s, q = State(k.MOST_CARDS, 1), State(k.MOST_CARDS, 1)
        firsts = _Rows([k.NONE] * (told * len(row)) for row in pairs)
        stretch(numbers, s, q, _Rows(map(list, decks)), [len(deck) for deck in decks], _Rows(map(list, pairs)), _Rows(words), kinds, 0, len(pairs), results, tally, firsts, told)
        return Batch(results, tally, firsts)
    program = np.array(numbers, np.int64)
    longest = max(len(deck) for deck in decks)
    table = np.zeros((len(decks), longest), np.int64)
    for place, deck in enumerate(decks):
        table[place, : len(deck)] = deck
    sizes = np.array([len(deck) for deck in decks], np.int64)
    whose = np.array(pairs, np.int64)
    chance = np.array(words, np.int64)
    found = np.zeros((len(pairs), len(RESULT)), np.int64)
    tops = np.full((len(pairs), max(1, told * len(pairs[0]))), k.NONE, np.int64)
    bounds = [len(pairs) * part // threads for part in range(threads + 1)]
    tallies = [np.zeros((defs, len(TALLY)), np.int64) for _ in range(threads)]

    def part(number: int) -> None:
        enter(program.ctypes.data, np.zeros(2, DTYPE), table, sizes, whose, chance, kinds, bounds[number], bounds[number + 1], found, tallies[number], tops, told)

    if threads == 1:
        part(0)
    else:
        with ThreadPoolExecutor(threads) as pool:
            list(pool.map(part, range(threads)))
    return Batch(found, sum(tallies), tops)


__all__ = ["Batch", "KINDS", "RESULT", "TALLY", "play_games", "seed_of", "table_of"]
