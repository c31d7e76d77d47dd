"""One function for each verb, called when its frame is on top. Returns 1 when done, 0 when a seat is asked."""

from __future__ import annotations

from dramok.core.engine.kernel import codes as k
from dramok.core.engine.kernel.amounts import evaluate_words
from dramok.core.engine.kernel.kernel_function import kernel
from dramok.core.engine.kernel.moves import (
    create,
    cross,
    discard,
    draw,
    enter,
    entered,
    gain,
    has_room,
    leave_together,
    lose,
    taken,
)
from dramok.core.engine.kernel.stat_changes import change
from dramok.core.engine.kernel.state import Numbers, State
from dramok.core.engine.kernel.targets import (
    aim,
    ask_picks,
    candidates,
    choose_seats,
    follow,
    nth_seat,
    untargeted,
)
from dramok.core.engine.kernel.triggers import remember
from dramok.core.engine.kernel.zones import emit, held, home_of, move, next_seat, shuffle, slot_of


@kernel
def amount_of(p: Numbers, s: State, pc: int, f: int) -> int:
    """The amount of the step at `pc`, for the frame `f`."""
    if p[pc + k.I_AIS] == k.A_NUMBER:
        return p[pc + k.I_AMT]
    it = s.sets[s.fr[f + k.F_IT]] if s.fr[f + k.F_ITS] > 0 else k.NONE
    return evaluate_words(p, s, p[pc + k.I_AMT], s.fr[f + k.F_THIS], s.fr[f + k.F_SEAT], s.fr[f + k.F_THAT], it, 0)


@kernel
def nothing(p: Numbers, s: State, f: int) -> int:
    emit(p, s, k.E_NOTHING, s.fr[f + k.F_SEAT], s.fr[f + k.F_THIS], 0, 0)
    return 1


@kernel
def do_draw(p: Numbers, s: State, pc: int, f: int) -> int:
    number = amount_of(p, s, pc, f)
    if number == 0:
        return nothing(p, s, f)
    choose_seats(p, s, pc, f)
    place = 0
    seat = nth_seat(p, s, pc, f, place)
    while seat != k.NONE:
        for _ in range(number if seat >= 0 else 0):
            if held(p, s, k.DRAW_PILE, seat) == 0 and held(p, s, k.DISCARD_PILE, seat) == 0:
                draw(p, s, seat)
                break
            draw(p, s, seat)
        place += 1
        seat = nth_seat(p, s, pc, f, place)
    return 1


@kernel
def do_discard(p: Numbers, s: State, pc: int, f: int) -> int:
    """Ask seat by seat, card by card. With fewer cards than required, all are discarded."""
    if s.fr[f + k.F_STATE] == k.READY:
        number = amount_of(p, s, pc, f)
        if number == 0:
            return nothing(p, s, f)
        choose_seats(p, s, pc, f)
        s.fr[f + k.F_STATE] = k.CHOSEN
        s.fr[f + k.F_CURSOR] = 0
        s.fr[f + k.F_NUMBER] = number
        s.fr[f + k.F_LEFT] = number
    seat = nth_seat(p, s, pc, f, s.fr[f + k.F_CURSOR])
    while seat != k.NONE:
        if seat == k.SKIPPED:
            s.fr[f + k.F_CURSOR] += 1
            seat = nth_seat(p, s, pc, f, s.fr[f + k.F_CURSOR])
            continue
        hand = slot_of(p, s, k.HAND, seat)
        if s.zcount[hand] == 0 and s.fr[f + k.F_LEFT] == s.fr[f + k.F_NUMBER]:
            emit(p, s, k.E_NOTHING, seat, s.fr[f + k.F_THIS], 0, 0)
        if s.fr[f + k.F_LEFT] > 0 and s.zcount[hand] > 0:
            if s.fr[f + k.F_LEFT] < s.zcount[hand]:
                s.wait = k.W_DISCARD
                s.whose = seat
                return 0
            while s.zhead[hand] >= 0:
                discard(p, s, s.zhead[hand])
        s.fr[f + k.F_CURSOR] += 1
        s.fr[f + k.F_LEFT] = s.fr[f + k.F_NUMBER]
        seat = nth_seat(p, s, pc, f, s.fr[f + k.F_CURSOR])
    return 1


@kernel
def do_total(p: Numbers, s: State, pc: int, f: int) -> int:
    """Gain and lose."""
    number = amount_of(p, s, pc, f)
    if number == 0:
        return nothing(p, s, f)
    choose_seats(p, s, pc, f)
    place = 0
    what = p[pc + k.I_X]
    seat = nth_seat(p, s, pc, f, place)
    shared = p[p[k.H_RESOURCE_ROWS] + what * k.RESOURCE_WIDTH + k.Q_STRIDE] == 0
    done = 0
    while seat != k.NONE and not (done and shared):
        done += 1 if seat >= 0 else 0
        if seat < 0:
            pass
        elif p[pc + k.I_OP] == k.V_GAIN:
            gain(p, s, seat, what, number)
        else:
            lose(p, s, seat, what, number, k.E_LOST, k.NONE)
        place += 1
        seat = nth_seat(p, s, pc, f, place)
    return 1


@kernel
def whose_moment(p: Numbers, s: State, until: int, seat: int) -> int:
    """Whose moment an `until` or `later` waits for: -1 anyone's, a seat, or a seat + 8: any other seat's."""
    side = until % k.MOMENT_SIDES
    if until < 0 or side == k.S_ANY:
        return k.NONE
    return seat if side == k.S_OWN else seat + 8


@kernel
def do_change(p: Numbers, s: State, pc: int, f: int) -> int:
    """Every verb that changes cards in place: change all targets, then check once, then trigger."""
    number = 0
    verb = p[pc + k.I_OP]
    counts = verb == k.V_DEAL or verb == k.V_HEAL or verb == k.V_RAISE or verb == k.V_LOWER or verb == k.V_SHIELD
    if counts:
        number = amount_of(p, s, pc, f)
        if number == 0:
            return nothing(p, s, f)
    if not aim(p, s, pc, f, 1):
        return 0
    if untargeted(p, s, pc, f, number):
        return 1
    until = p[pc + k.I_UNTIL]
    whose = whose_moment(p, s, until, s.fr[f + k.F_SEAT])
    moment = until // k.MOMENT_SIDES if until >= 0 else k.FOR_EVER
    for place in range(s.ntarget):
        change(p, s, verb, s.target[place], number, p[pc + k.I_X], moment, whose, s.fr[f + k.F_THIS])
    return 1


@kernel
def split_targets(p: Numbers, s: State) -> int:
    """Targets in play go to `left`, to leave together; the others stay in `target`. Returns the number that leave."""
    kept = 0
    s.nleft = 0
    for place in range(s.ntarget):
        card = s.target[place]
        if s.zone[card] == k.IN_PLAY:
            s.left[s.nleft] = card
            s.nleft += 1
        else:
            s.target[kept] = card
            kept += 1
    s.ntarget = kept
    return s.nleft


@kernel
def do_destroy(p: Numbers, s: State, pc: int, f: int) -> int:
    if not aim(p, s, pc, f, 1):
        return 0
    if untargeted(p, s, pc, f, 0):
        return 1
    s.nleft = 0
    for place in range(s.ntarget):
        card = s.target[place]
        if s.forbids[card] & k.F_DESTROYING:
            emit(p, s, k.E_PREVENTED, s.ctrl[card], card, k.F_DESTROYING, 0)
        else:
            s.left[s.nleft] = card
            s.nleft += 1
    gone = leave_together(p, s, k.E_DESTROYED, k.DISCARD_PILE, k.S_ANY, 0, 0)
    for place in range(gone):
        follow(p, s, f, s.left[place])
    return 1


@kernel
def do_put(p: Numbers, s: State, pc: int, f: int) -> int:
    """Put, return and remove: cards from anywhere to a zone."""
    verb = p[pc + k.I_OP]
    if not aim(p, s, pc, f, 0):
        return 0
    if untargeted(p, s, pc, f, 0):
        return 1
    zone = p[pc + k.I_X]
    side = k.S_ANY
    bottom = 0
    kind = k.E_MOVED
    if verb == k.V_REMOVE:
        kind = k.E_REMOVED
    elif verb == k.V_RETURN:
        kind = k.E_RETURNED
    else:
        side = p[pc + k.I_Y] & 3
        bottom = p[pc + k.I_Y] >> 2
    seat = s.fr[f + k.F_SEAT]
    to = next_seat(p, s, seat) if side == k.S_RIVAL else seat
    if zone == k.IN_PLAY:
        came = 0
        for place in range(s.ntarget):
            card = s.target[place]
            home = to if side != k.S_ANY else home_of(p, s, card, seat)
            if s.zone[card] == k.IN_PLAY:
                cross(p, s, card, home)
            elif s.zone[card] != k.GONE and s.zone[card] != k.FREE:
                before = s.zone[card]
                if enter(p, s, card, home):
                    follow(p, s, f, card)
                    taken(p, s, card, before)
                    s.temp[came] = card
                    came += 1
        for place in range(came):
            entered(p, s, s.temp[place])
        return 1
    split_targets(p, s)
    gone = leave_together(p, s, kind, zone, k.S_OWN if side != k.S_ANY else k.S_ANY, to, bottom)
    for place in range(gone):
        follow(p, s, f, s.left[place])
    for place in range(s.ntarget):
        card = s.target[place]
        home = home_of(p, s, card, seat) if side == k.S_ANY else to
        before = s.zone[card]
        if before == k.GONE or before == k.FREE:
            continue
        if not has_room(p, s, zone, home):
            emit(p, s, k.E_FULL, home, card, zone, 0)
        elif before == k.HAND and zone == k.DISCARD_PILE and home == s.owner[card]:
            discard(p, s, card)
        else:
            move(p, s, card, zone, home, bottom)
            emit(p, s, kind, home, card, zone, before)
            taken(p, s, card, before)
    return 1


@kernel
def do_create(p: Numbers, s: State, pc: int, f: int) -> int:
    number = amount_of(p, s, pc, f)
    if number == 0:
        return nothing(p, s, f)
    choose_seats(p, s, pc, f)
    place = 0
    seat = nth_seat(p, s, pc, f, place)
    came = 0
    while seat != k.NONE:
        for _ in range(number if seat >= 0 else 0):
            card = create(p, s, p[pc + k.I_X], seat)
            if card < 0:
                break
            s.temp[came] = card
            came += 1
        place += 1
        seat = nth_seat(p, s, pc, f, place)
    for each in range(came):
        entered(p, s, s.temp[each])
    return 1


@kernel
def new_its(p: Numbers, s: State, f: int) -> int:
    """The entering cards become *it*."""
    s.fr[f + k.F_IT] = s.nset
    s.fr[f + k.F_ITS] = 0
    return 0


@kernel
def do_look(p: Numbers, s: State, pc: int, f: int) -> int:
    """Look at, or reveal, the top cards of a zone: they become *it*; an empty pile is not refilled."""
    number = amount_of(p, s, pc, f)
    seat = s.fr[f + k.F_SEAT]
    looks = p[pc + k.I_OP] == k.V_LOOK
    zone = p[pc + k.I_X]
    of = next_seat(p, s, seat) if p[pc + k.I_Y] & 3 == k.S_RIVAL else seat
    card = s.ztail[slot_of(p, s, zone, of)]
    if looks:
        new_its(p, s, f)
    if number == 0 or card < 0:
        return nothing(p, s, f)
    while card >= 0 and number > 0:
        emit(p, s, k.E_LOOKED if looks else k.E_REVEALED, seat, card, zone, 0)
        if looks and remember(p, s, card):
            s.fr[f + k.F_ITS] += 1
        number -= 1
        card = s.prev[card]
    return 1


@kernel
def do_search(p: Numbers, s: State, pc: int, f: int) -> int:
    """The seat picks up to a number of cards from a zone; with a mark they are revealed; then the zone is shuffled."""
    seat = s.fr[f + k.F_SEAT]
    group = p[pc + k.I_GROUP]
    if s.fr[f + k.F_STATE] == k.READY and not s.fr[f + k.F_CHOSEN]:
        found = candidates(p, s, pc, f)
        if found > 0:
            return ask_picks(p, s, 0, p[pc + k.I_MOST], found, seat, k.W_PICK)
        new_its(p, s, f)
    s.fr[f + k.F_CHOSEN] = 0
    shown = p[pc + k.I_Y]
    for place in range(s.fr[f + k.F_ITS]):
        card = s.sets[s.fr[f + k.F_IT] + place]
        emit(p, s, k.E_FOUND, seat, card, shown, 0)
    if s.fr[f + k.F_ITS] == 0:
        emit(p, s, k.E_NO_TARGET, seat, s.fr[f + k.F_THIS], k.V_SEARCH, 0)
    of = next_seat(p, s, seat) if p[group + k.G_SIDE] == k.S_RIVAL else seat
    shuffle(p, s, p[group + k.G_ZONE], of)
    return 1


@kernel
def do_shuffle(p: Numbers, s: State, pc: int, f: int) -> int:
    seat = s.fr[f + k.F_SEAT]
    of = next_seat(p, s, seat) if p[pc + k.I_Y] & 3 == k.S_RIVAL else seat
    shuffle(p, s, p[pc + k.I_X], of)
    return 1


@kernel
def changes(p: Numbers, s: State, verb: int) -> int:
    """Whether a verb changes cards in place, through `do_change`."""
    if verb == k.V_DEAL or verb == k.V_HEAL or verb == k.V_SHIELD or verb == k.V_RAISE or verb == k.V_LOWER:
        return 1
    if verb == k.V_TILT or verb == k.V_STRAIGHTEN or verb == k.V_GRANT or verb == k.V_STRIP:
        return 1
    return 1 if verb == k.V_FORBID or verb == k.V_ALLOW else 0


@kernel
def unknown(p: Numbers, s: State, f: int) -> int:
    """An unknown operation ends the match: it is never taken for another one."""
    s.full = k.FULL_UNKNOWN
    s.culprit = s.fr[f + k.F_THIS]
    return 0


@kernel
def do_verb(p: Numbers, s: State, pc: int, f: int) -> int:
    """Run one step of a verb without nested steps."""
    verb = p[pc + k.I_OP]
    if verb == k.V_DRAW:
        return do_draw(p, s, pc, f)
    if verb == k.V_DISCARD:
        return do_discard(p, s, pc, f)
    if verb == k.V_GAIN or verb == k.V_LOSE:
        return do_total(p, s, pc, f)
    if verb == k.V_DESTROY:
        return do_destroy(p, s, pc, f)
    if verb == k.V_PUT or verb == k.V_RETURN or verb == k.V_REMOVE:
        return do_put(p, s, pc, f)
    if verb == k.V_CREATE:
        return do_create(p, s, pc, f)
    if verb == k.V_LOOK or verb == k.V_REVEAL:
        return do_look(p, s, pc, f)
    if verb == k.V_SEARCH:
        return do_search(p, s, pc, f)
    if verb == k.V_SHUFFLE:
        return do_shuffle(p, s, pc, f)
    if changes(p, s, verb):
        return do_change(p, s, pc, f)
    return unknown(p, s, f)
