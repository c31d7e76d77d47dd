"""The end of a match by the state of the table, and the score sheet."""

from __future__ import annotations

from dramok.core.engine.kernel import codes as k
from dramok.core.engine.kernel.amounts import evaluate_words, resource_slot
from dramok.core.engine.kernel.kernel_function import kernel
from dramok.core.engine.kernel.state import Numbers, State
from dramok.core.engine.kernel.zones import emit, is_shared, slot_of


@kernel
def end_match(p: Numbers, s: State, winner: int) -> int:
    s.over = 1
    s.winner = winner
    if winner == k.DRAWN:
        return emit(p, s, k.E_DRAW, k.NONE, k.NONE, 0, 0)
    return emit(p, s, k.E_WON, winner, k.NONE, 0, 0)


@kernel
def amount_for(p: Numbers, s: State, row: int, seat: int) -> int:
    """The amount of a score line or tie-breaker for a seat, with its sign."""
    return evaluate_words(p, s, p[row + k.SCORE_WORDS], k.NONE, seat, k.NONE, k.NONE, 0) * p[row + k.SCORE_SIGN]


@kernel
def total_score(p: Numbers, s: State, seat: int) -> int:
    """The score of a seat by the lines of the sheet now."""
    total = 0
    for line in range(p[k.H_SCORES]):
        total += amount_for(p, s, p[k.H_SCORE_ROWS] + line * k.SCORE_WIDTH, seat)
    return total


@kernel
def keep_best(p: Numbers, s: State, row: int, leading: int) -> int:
    """Of the leading seats (a bit each) those with the highest amount of a row; of the score for row -1."""
    best = -(1 << 60)
    kept = 0
    for seat in range(s.seats):
        if (leading >> seat) & 1:
            amount = total_score(p, s, seat) if row < 0 else amount_for(p, s, row, seat)
            if amount > best:
                best = amount
                kept = 0
            if amount == best:
                kept |= 1 << seat
    return kept


@kernel
def finish(p: Numbers, s: State) -> int:
    """Write the score sheet and end the match: the highest score wins, then the tie-breakers decide."""
    leading = 0
    for seat in range(s.seats):
        if not s.out[seat]:
            leading |= 1 << seat
            for line in range(p[k.H_SCORES]):
                amount = amount_for(p, s, p[k.H_SCORE_ROWS] + line * k.SCORE_WIDTH, seat)
                s.score[seat * k.MOST_SCORES + line] = amount
                emit(p, s, k.E_SCORED, seat, k.NONE, line, amount)
    leading = keep_best(p, s, k.NONE, leading)
    for tie in range(p[k.H_TIES]):
        leading = keep_best(p, s, p[k.H_TIE_ROWS] + tie * k.SCORE_WIDTH, leading)
    winner = k.NOBODY
    for seat in range(s.seats):
        if (leading >> seat) & 1:
            winner = seat if winner == k.NOBODY else k.DRAWN
    if winner == k.DRAWN and p[k.H_TIE] and (leading >> s.active) & 1:
        winner = s.active
    return end_match(p, s, winner)


@kernel
def kinds_in(p: Numbers, s: State, zone: int) -> int:
    """The number of kinds of cards in a supply: equal cards are next to each other."""
    kinds = 0
    last = k.NONE
    card = s.zhead[slot_of(p, s, zone, 0)]
    while card >= 0:
        if s.cdef[card] != last:
            kinds += 1
        last = s.cdef[card]
        card = s.next[card]
    return kinds


@kernel
def end_reached(p: Numbers, s: State, row: int) -> int:
    """Whether what ends the match is true now."""
    kind = p[row + k.N_KIND]
    if kind == k.END_REACHED:
        for seat in range(s.seats):
            if s.res[resource_slot(p, s, p[row + k.N_TOTAL], seat)] >= p[row + k.N_NUMBER]:
                return 1
        return 0
    if kind == k.END_ROUNDS:
        return 0
    kinds = 0
    for place in range(p[row + k.N_ZONES]):
        zone = p[p[row + k.N_ZONE_LIST] + place]
        if kind == k.END_SOLD_OUT:
            kinds += kinds_in(p, s, zone)
        else:
            for seat in range(1 if is_shared(p, s, zone) else s.seats):
                if s.zcount[slot_of(p, s, zone, seat)]:
                    return 0
    if kind == k.END_SOLD_OUT:
        return 1 if p[row + k.N_KINDS] - kinds >= p[row + k.N_NUMBER] else 0
    return 1


@kernel
def check_ends(p: Numbers, s: State) -> int:
    """The match ends at once, or the round after which it ends is fixed."""
    if s.turn == 0 or s.ending or s.over:
        return 0
    for end in range(p[k.H_ENDS]):
        row = p[k.H_END_ROWS] + end * k.END_WIDTH
        if end_reached(p, s, row):
            if p[row + k.N_WHEN] == k.WHEN_AT_ONCE:
                return finish(p, s)
            if s.ending == 0:
                s.ending = s.round + (1 if p[row + k.N_WHEN] == k.WHEN_ONE_MORE else 0)
                emit(p, s, k.E_ENDING, s.active, k.NONE, s.ending, end)
    return 0


@kernel
def last_round(p: Numbers, s: State) -> int:
    """Whether the match ends after the current round."""
    if s.ending and s.round >= s.ending:
        return 1
    for end in range(p[k.H_ENDS]):
        row = p[k.H_END_ROWS] + end * k.END_WIDTH
        if p[row + k.N_KIND] == k.END_ROUNDS and s.round >= p[row + k.N_NUMBER]:
            return 1
    return 0
