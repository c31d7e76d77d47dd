"""Play a range of games from rows of integers: the entry of the compiled kernel."""

from __future__ import annotations

from dramok.core.engine.kernel import codes as k
from dramok.core.engine.kernel.kernel_function import kernel
from dramok.core.engine.kernel.playout import play_to_end
from dramok.core.engine.kernel.setup import clear, lay, ready
from dramok.core.engine.kernel.state import Numbers, State
from dramok.core.engine.kernel.zones import held

RESULT = ("winner", "turns", "decisions", "digest", "ran_away", "emptied", "culprit")
"""The columns of `results`.

`emptied`: a bit for each seat whose draw pile ran out; `culprit`: for a game that ran away, the definition of the
card whose effect ran last.
"""
TALLY = ("copies", "drawn", "played", "copies_won", "drawn_won", "played_won", "held", "bought")
"""The columns of `tally`, per definition, summed over games and seats: cards in decks, drawn, played; the same for
winning seats; in hand at the end; purchases of the card.

After the rows of the definitions come `SHEET_ROWS` rows with the sums of the score sheets: seat after seat, line
after line.
"""
RESULTS = len(RESULT)
TALLIES = len(TALLY)
SHEET_ROWS = k.MOST_SEATS * k.MOST_SCORES // TALLIES
SEEDS = 2
"""A row of `deals` is two words of the game's seed, then for each seat the number of its cards and the cards."""
LOGGED = 60
"""The bit of `kinds` for writing out events and discarding them: measures the cost of logging."""


@kernel
def emptied(p: Numbers, s: State) -> int:
    """A bit for each seat whose draw pile ran out."""
    found = 0
    for seat in range(s.seats):
        if s.reshuffled[seat] or held(p, s, k.DRAW_PILE, seat) == 0:
            found |= 1 << seat
    return found


@kernel
def count(p: Numbers, s: State, tally: list[int], laid: int) -> int:
    """Add the statistics of each card of the decks, the purchases, and the score sheets."""
    for card in range(laid):
        row = s.cdef[card] * TALLIES
        tally[row] += 1
        tally[row + 1] += s.drawn[card]
        tally[row + 2] += s.played[card]
        if s.winner == s.owner[card]:
            tally[row + 3] += 1
            tally[row + 4] += s.drawn[card]
            tally[row + 5] += s.played[card]
        if s.zone[card] == k.HAND:
            tally[row + 6] += 1
    if p[k.H_MARKETS]:
        for card in range(s.cards):
            tally[s.cdef[card] * TALLIES + 7] += s.sold[card]
    if p[k.H_SCORES]:
        sheets = p[k.H_DEFS] * TALLIES
        for seat in range(s.seats):
            for line in range(p[k.H_SCORES]):
                tally[sheets + seat * k.MOST_SCORES + line] += s.score[seat * k.MOST_SCORES + line]
    return 0


@kernel
def set_table(p: Numbers, s: State, deals: list[int], at: int, width: int) -> int:
    """Place the decks and starting cards of the game whose row of `deals` begins at `at`. Returns the number of
    cards in decks.
    """
    clear(p, s, deals[at], deals[at + 1])
    laid = 0
    for seat in range(s.seats):
        deck = at + SEEDS + seat * width
        for place in range(deals[deck]):
            lay(p, s, deals[deck + 1 + place], seat, k.DRAW_PILE)
            laid += 1
    ready(p, s)
    return laid


@kernel
def play_range(
    p: Numbers, s: State, q: State, deals: list[int], results: list[int], tally: list[int], firsts: list[int], kinds: int, width: int, told: int, first: int, last: int
) -> int:
    """Play games `first` to `last - 1`, one after the other.

    `width`: the length of a deck in `deals`; `told`: the number of top cards of each pile to report in `firsts`.
    """
    seats = p[k.H_SEATS]
    for game in range(first, last):
        laid = set_table(p, s, deals, game * (SEEDS + seats * width), width)
        s.logs = (kinds >> LOGGED) & 1
        s.digests = 1
        play_to_end(p, s, q, kinds)
        row = game * RESULTS
        results[row] = s.winner
        results[row + 1] = s.turn
        results[row + 2] = s.decisions
        results[row + 3] = s.digest
        results[row + 4] = s.cut
        results[row + 5] = emptied(p, s)
        results[row + 6] = s.cdef[s.culprit] if s.cut and s.culprit >= 0 else k.NONE
        count(p, s, tally, laid)
        for card in range(laid):
            if 0 <= s.nth[card] < told:
                firsts[(game * seats + s.owner[card]) * told + s.nth[card]] = s.cdef[card]
    return 0
