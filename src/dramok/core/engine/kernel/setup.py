"""Setup: clear the table, place cards, draw opening hands and redraw."""

from __future__ import annotations

from dramok.core.engine.kernel import codes as k
from dramok.core.engine.kernel.amounts import resource_slot
from dramok.core.engine.kernel.draws import drawn_at_once
from dramok.core.engine.kernel.kernel_function import kernel
from dramok.core.engine.kernel.moves import draw, reset_entering
from dramok.core.engine.kernel.rng import seed_streams
from dramok.core.engine.kernel.state import Numbers, State
from dramok.core.engine.kernel.triggers import push
from dramok.core.engine.kernel.zones import emit, held, is_shared, link, move, shuffle, slot_of, unlink


@kernel
def clear(p: Numbers, s: State, low: int, high: int) -> int:
    """Clear the table and seed its random streams with two words.

    The switches for log and digest stay; both are reset.
    """
    s.seats = p[k.H_SEATS]
    s.active = 0
    s.turn = 0
    s.round = 1
    s.phase = k.NONE
    s.over = 0
    s.winner = k.NOBODY
    s.wait = k.W_NOTHING
    s.whose = 0
    s.options = 0
    s.top = 0
    s.nset = 0
    s.nmod = 0
    s.nlater = 0
    s.npend = 0
    s.ntarget = 0
    s.nleft = 0
    s.cards = 0
    s.arrivals = 0
    s.dirty = 0
    s.changed = 0
    s.steps = 0
    s.most = k.MOST_STEPS
    s.digest = 0
    s.nlog = 0
    s.departed = 0
    s.declaring = k.NONE
    s.declared = 0
    s.npick = 0
    s.acted = 0
    s.decisions = 0
    s.since = 0
    s.full = 0
    s.cut = 0
    s.culprit = k.NONE
    s.answering = 0
    s.deeds = 0
    s.gap = 0
    s.ending = 0
    s.first_action = 0
    for market in range(k.MOST_MARKETS):
        s.bought[market] = 0
    for at in range(k.MOST_SCORES * k.MOST_SEATS):
        s.score[at] = 0
    for at in range(k.MOST_ZONES * k.MOST_SEATS):
        s.zhead[at] = k.NONE
        s.ztail[at] = k.NONE
        s.zcount[at] = 0
    for seat in range(k.MOST_SEATS):
        s.out[seat] = 0
        s.reshuffled[seat] = 0
    for cue in range(k.MOST_CUES):
        s.watch[cue] = 0
    seed_streams(p, s, low, high)
    for what in range(p[k.H_RESOURCES]):
        for seat in range(s.seats):
            s.res[resource_slot(p, s, what, seat)] = p[p[k.H_RESOURCE_ROWS] + what * k.RESOURCE_WIDTH + k.Q_START]
    return 0


@kernel
def lay(p: Numbers, s: State, made: int, seat: int, zone: int) -> int:
    """Put a new card of a definition on top of a zone.

    A card that starts in a shared zone has no owner. Returns the card.
    """
    card = s.cards
    s.cards += 1
    s.cdef[card] = made
    s.owner[card] = k.NOBODY if is_shared(p, s, zone) else seat
    s.damage[card] = 0
    s.tilted[card] = 0
    s.arrival[card] = 0
    s.came[card] = 0
    s.inc[card] = 0
    s.limturn[card] = 0
    s.limwhen[card] = 0
    s.limgame[card] = 0
    s.mark[card] = 0
    s.answers[card] = 0
    s.host[card] = k.NONE
    s.keys[card] = 0
    s.forbids[card] = 0
    s.allows[card] = 0
    s.token[card] = 0
    s.drawn[card] = 0
    s.played[card] = 0
    s.seen[card] = 0
    s.nth[card] = k.NONE
    s.tokens_on[card] = 0
    s.token_of[card] = 0
    s.sold[card] = 0
    for which in range(k.MOST_COUNTERS):
        s.counter[card * k.MOST_COUNTERS + which] = 0
    link(p, s, card, zone, seat, 0)
    return card


@kernel
def ready(p: Numbers, s: State) -> int:
    """After all decks are placed: starting cards, slots for tokens, and the frame of the rules."""
    at = p[k.H_PLACED]
    for row in range(p[at]):
        zone = p[at + 1 + row * 3]
        for seat in range(1 if is_shared(p, s, zone) else s.seats):
            for _ in range(p[at + 3 + row * 3]):
                card = lay(p, s, p[at + 2 + row * 3], seat, zone)
                if zone == k.IN_PLAY:
                    reset_entering(p, s, card, seat)
    s.first_action = s.cards
    for seat in range(s.seats):
        for action in range(p[k.H_ACTIONS]):
            # It has the zone of unused tokens, and is not in the list of it.
            unlink(p, s, lay(p, s, p[k.H_DEFS] - p[k.H_ACTIONS] + action, seat, k.FREE))
    if p[k.H_DEVISED]:
        for _ in range(k.MOST_TOKENS):
            if s.cards < k.MOST_CARDS:
                lay(p, s, 0, 0, k.FREE)
    push(p, s, p[k.H_SETUP], k.NONE, k.NONE, 0, k.NONE)
    return 0


@kernel
def do_shuffle_all(p: Numbers, s: State, pc: int, f: int) -> int:
    """Shuffle every draw pile, and each user-defined zone that is shuffled at the start."""
    for seat in range(s.seats):
        shuffle(p, s, k.DRAW_PILE, seat)
        above = 0
        card = s.ztail[slot_of(p, s, k.DRAW_PILE, seat)]
        while card >= 0:
            s.nth[card] = above
            above += 1
            card = s.prev[card]
    for zone in range(k.OWN_ZONES, p[k.H_ZONES]):
        if (p[k.H_SHUFFLED_ZONES] >> zone) & 1:
            stride = p[p[k.H_ZONE_ROWS] + zone * k.ZONE_WIDTH + k.Z_STRIDE]
            for seat in range(s.seats if stride else 1):
                shuffle(p, s, zone, seat)
    s.gap = p[k.H_ROWS]
    return 1


@kernel
def do_opening(p: Numbers, s: State, pc: int, f: int) -> int:
    for seat in range(s.seats):
        for _ in range(p[k.H_OPENING]):
            draw(p, s, seat)
    return 1


@kernel
def do_redraw(p: Numbers, s: State, pc: int, f: int) -> int:
    """Each seat keeps its hand, or returns it (or some cards) and draws as many, once."""
    if p[k.H_REDRAW] == k.REDRAW_NONE or s.fr[f + k.F_CURSOR] >= s.seats:
        return 1
    seat = s.fr[f + k.F_CURSOR]
    if held(p, s, k.HAND, seat) == 0:
        s.fr[f + k.F_CURSOR] += 1
        return 0
    s.npick = 0
    s.wait = k.W_REDRAW
    s.whose = seat
    return 0


@kernel
def redraw(p: Numbers, s: State, f: int) -> int:
    """The `npick` cards that the seat picked from its hand return to the draw pile, and as many are drawn.

    If they return after the draw, a short pile gives what it has; the rest is drawn from the pile with the
    returned cards in it.
    """
    seat = s.whose
    number = s.npick
    s.fr[f + k.F_CURSOR] += 1
    if number == 0:
        return emit(p, s, k.E_KEPT, seat, k.NONE, held(p, s, k.HAND, seat), 0)
    emit(p, s, k.E_REDREW, seat, k.NONE, number, 0)
    first = p[k.H_RETURNED] == 0
    for place in range(number):
        move(p, s, s.pick[place], k.DRAW_PILE if first else k.RESOLVING, seat, 0)
    if first:
        shuffle(p, s, k.DRAW_PILE, seat)
    at_once = drawn_at_once(p, s, number, held(p, s, k.DRAW_PILE, seat))
    for _ in range(at_once):
        draw(p, s, seat)
    if not first:
        for place in range(number):
            move(p, s, s.pick[place], k.DRAW_PILE, seat, 0)
        shuffle(p, s, k.DRAW_PILE, seat)
        for _ in range(number - at_once):
            draw(p, s, seat)
    return 0
