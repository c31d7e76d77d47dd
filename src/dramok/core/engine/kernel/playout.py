"""Play whole matches with automatic players; the player that looks ahead."""

from __future__ import annotations

from dramok.core.automatic_players import AHEAD, PLAIN
from dramok.core.engine.kernel import codes as k
from dramok.core.engine.kernel.decisions import list_options
from dramok.core.engine.kernel.kernel_function import kernel
from dramok.core.engine.kernel.loop import decide, run, stands
from dramok.core.engine.kernel.players import plain, seat_score
from dramok.core.engine.kernel.rng import below, seed_streams, word
from dramok.core.engine.kernel.state import Numbers, State
from dramok.core.engine.kernel.state_copy import copy
from dramok.core.engine.kernel.zones import hides, link, slot_of, unlink

MOST_TRIED = 24
BUDGET = 160
TRIED_STEPS = 500
"""The limits of tried options, of decisions simulated for all of them together, and of steps after which a
simulation counts as endless.
"""


@kernel
def lot(p: Numbers, s: State, first: int, count: int, zone: int, seat: int) -> int:
    """Move `count` random cards of `temp` from `first` on into a zone."""
    for place in range(count):
        at = first + place
        card = s.temp[at]
        link(p, s, card, zone, seat, 0)
    return first + count


@kernel
def redeal_hidden(p: Numbers, s: State, seat: int) -> int:
    """Deal everything hidden from a seat again, independent of the hidden order: each rival's hand and draw
    pile together, its own draw pile, and every hidden user-defined zone.
    """
    for other in range(s.seats):
        hand = s.zcount[slot_of(p, s, k.HAND, other)] if other != seat else 0
        pile = s.zcount[slot_of(p, s, k.DRAW_PILE, other)]
        count = 0
        for card in range(s.cards):
            hidden = s.zone[card] == k.DRAW_PILE or s.zone[card] == k.HAND and other != seat
            if hidden and s.slot[card] == slot_of(p, s, s.zone[card], other):
                s.temp[count] = card
                count += 1
        for place in range(count):
            unlink(p, s, s.temp[place])
        for last in range(count - 1, 0, -1):
            at = below(p, s, seat, k.R_PLAYER, last + 1)
            card = s.temp[last]
            s.temp[last] = s.temp[at]
            s.temp[at] = card
        lot(p, s, lot(p, s, 0, hand, k.HAND, other), pile, k.DRAW_PILE, other)
    for zone in range(k.OWN_ZONES, p[k.H_ZONES]):
        row = p[k.H_ZONE_ROWS] + zone * k.ZONE_WIDTH
        for other in range(s.seats if p[row + k.Z_STRIDE] else 1):
            if hides(p, s, zone, other, seat):
                at = slot_of(p, s, zone, other)
                count = 0
                for card in range(s.cards):
                    if s.zone[card] == zone and s.slot[card] == at:
                        s.temp[count] = card
                        count += 1
                for place in range(count):
                    unlink(p, s, s.temp[place])
                for last in range(count - 1, 0, -1):
                    other_at = below(p, s, seat, k.R_PLAYER, last + 1)
                    card = s.temp[last]
                    s.temp[last] = s.temp[other_at]
                    s.temp[other_at] = card
                lot(p, s, 0, count, zone, other)
    return 0


@kernel
def ahead(p: Numbers, s: State, q: State) -> int:
    """The row with the best score at the end of the next turn, simulated with the simple player; ties go to the
    better first score.
    """
    seat = s.whose
    count = s.options
    best = plain(p, s)
    if count < 2 or count > MOST_TRIED:
        return best
    f = (s.top - 1) * k.FRAME
    if s.wait == k.W_PICK and p[s.fr[f + k.F_PC]] == k.V_SEARCH:
        return best
    low = word(p, s, seat, k.R_PLAYER)
    high = word(p, s, seat, k.R_PLAYER)
    most = -(1 << 60)
    first = best
    for place in range(count):
        # The best first score is tried first.
        row = first if place == 0 else place - 1 if place <= first else place
        copy(p, s, q)
        q.most = TRIED_STEPS
        seed_streams(p, q, low, high)
        redeal_hidden(p, q, seat)
        list_options(p, q)
        decide(p, q, row)
        for _ in range(BUDGET // count):
            run(p, q)
            if q.over or q.turn > s.turn + 1 or stands(p, q) == 0:
                break
            decide(p, q, plain(p, q))
        total = seat_score(p, q, seat)
        if total > most:
            most = total
            best = row
    return best


@kernel
def choose(p: Numbers, s: State, q: State, player: int) -> int:
    """The row that an automatic player takes, by its number. `q` is a second state to simulate in."""
    if player == PLAIN:
        return plain(p, s)
    if player == AHEAD:
        return ahead(p, s, q)
    return below(p, s, s.whose, k.R_PLAYER, s.options)


@kernel
def play_to_end(p: Numbers, s: State, q: State, kinds: int) -> int:
    """Play a match from its current state to the end; two bits of `kinds` for each seat select its player.

    Returns the winner.
    """
    while True:
        run(p, s)
        if s.wait == k.W_DRAIN:
            s.nlog = 0
            s.wait = k.W_NOTHING
        elif stands(p, s) == 0:
            return s.winner
        else:
            decide(p, s, choose(p, s, q, (kinds >> (2 * s.whose)) & 3))
