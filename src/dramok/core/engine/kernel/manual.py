"""Manual moves of a person: any card or number, for text without written behaviour.

They trigger nothing. The state is checked as after every step, and the seat is asked again.
"""

from __future__ import annotations

from dramok.core.engine.kernel import codes as k
from dramok.core.engine.kernel.amounts import resource_slot
from dramok.core.engine.kernel.kernel_function import kernel
from dramok.core.engine.kernel.moves import change_sides, count_decision, depart, has_room, reset_entering
from dramok.core.engine.kernel.stat_changes import add_mod
from dramok.core.engine.kernel.state import Numbers, State
from dramok.core.engine.kernel.zones import emit, move, shuffle, slot_of


@kernel
def hands_free(p: Numbers, s: State) -> int:
    """Whether the seat to move can make manual moves: while it has time to act, not in the middle of an effect."""
    if s.over:
        return 0
    return 1 if s.wait == k.W_ACTION or s.wait == k.W_SEND or s.wait == k.W_ANSWER or s.wait == k.W_ANSWER_PLAY else 0


@kernel
def is_place(p: Numbers, s: State, place: int) -> int:
    """Whether cards can be put manually into a place (zone x seats + seat)."""
    zone = place // k.MOST_SEATS
    seat = place % k.MOST_SEATS
    if place < 0 or zone >= p[k.H_ZONES] or seat >= s.seats or zone == k.RESOLVING or zone == k.GONE or zone == k.FREE:
        return 0
    return 1 if seat == 0 or p[p[k.H_ZONE_ROWS] + zone * k.ZONE_WIDTH + k.Z_STRIDE] else 0


@kernel
def place_of(p: Numbers, s: State, card: int) -> int:
    """The place of a card: zone x seats + seat."""
    zone = s.zone[card]
    return zone * k.MOST_SEATS + s.slot[card] - slot_of(p, s, zone, 0)


@kernel
def move_manually(p: Numbers, s: State, card: int, place: int, bottom: int) -> int:
    """Move a card to a place, on top or under. 0: not allowed."""
    zone = place // k.MOST_SEATS
    seat = place % k.MOST_SEATS
    if card < 0 or card >= s.cards or s.zone[card] == k.GONE or s.zone[card] == k.FREE or not is_place(p, s, place):
        return 0
    before = place_of(p, s, card)
    within = before == place
    if within and (zone == k.IN_PLAY or zone == k.HAND) or not within and not has_room(p, s, zone, seat):
        return 0
    emit(p, s, k.E_HAND_MOVED, s.whose, card, place * 2 + bottom, before)
    if zone == k.IN_PLAY and s.zone[card] == k.IN_PLAY:
        change_sides(p, s, card, seat)
    elif zone == k.IN_PLAY:
        move(p, s, card, zone, seat, 0)
        reset_entering(p, s, card, seat)
    elif s.zone[card] == k.IN_PLAY:
        depart(p, s, card, zone, seat, bottom)
        if s.token[card]:
            emit(p, s, k.E_CEASED, s.ctrl[card], card, 0, 0)
    else:
        move(p, s, card, zone, seat, bottom)
    return 1


@kernel
def set_number_manually(p: Numbers, s: State, kind: int, a: int, other: int) -> int:
    """Set a number: a seat's total, or the damage on a card; change a stat; tilt or straighten a card. 0: not
    allowed.
    """
    if kind == k.D_HAND_TOTAL:
        seat = other % k.MOST_SEATS
        value = other // k.MOST_SEATS
        if a < 0 or a >= p[k.H_RESOURCES] or seat >= s.seats or value > k.MOST_NUMBER:
            return 0
        if seat and p[p[k.H_RESOURCE_ROWS] + a * k.RESOURCE_WIDTH + k.Q_STRIDE] == 0 or s.res[resource_slot(p, s, a, seat)] == value:
            return 0
        emit(p, s, k.E_HAND_TOTAL, seat, k.NONE, a, value)
        s.res[resource_slot(p, s, a, seat)] = value
        return 1
    if a < 0 or a >= s.cards or s.zone[a] != k.IN_PLAY:
        return 0
    if kind == k.D_HAND_DAMAGE:
        if other > k.MOST_NUMBER or s.damage[a] == other:
            return 0
        emit(p, s, k.E_HAND_DAMAGE, s.ctrl[a], a, other, s.damage[a])
        s.damage[a] = other
        return 1
    if kind == k.D_HAND_TILT:
        if other > 1 or s.tilted[a] == other:
            return 0
        s.tilted[a] = other
        emit(p, s, k.E_HAND_TILTED, s.ctrl[a], a, other, 0)
        return 1
    which = other % k.MOST_STATS
    by = other // k.MOST_STATS - k.MOST_NUMBER
    if which >= p[k.H_STATS] or by == 0 or by > k.MOST_NUMBER or s.nmod >= k.MOST_MODS or s.stat[a * k.MOST_STATS + which] < 0:
        return 0
    emit(p, s, k.E_HAND_RAISED, s.ctrl[a], a, which, by)
    return add_mod(p, s, a, k.M_RAISED, which, by, k.FOR_EVER, s.whose, k.NONE)


@kernel
def by_hand(p: Numbers, s: State, kind: int, a: int, other: int) -> int:
    """Make one manual move without advancing the match. 0: not allowed, and nothing is changed.

    A move: card, place x 2 (+ 1: under). The top card of a pile: (place of the pile x places + place) x 2. A
    look through a pile, a shuffle: place. A total: resource, value x seats + seat. Damage, tilt: card, value. A
    stat: card, (change + most) x stats + stat.
    """
    if not hands_free(p, s) or other < 0:
        return 0
    if kind == k.D_HAND_MOVE:
        done = move_manually(p, s, a, other // 2, other % 2)
    elif kind == k.D_HAND_TOP:
        pile = other // 2 // k.PLACES
        top = s.ztail[slot_of(p, s, pile // k.MOST_SEATS, pile % k.MOST_SEATS)] if is_place(p, s, pile) else k.NONE
        done = move_manually(p, s, top, other // 2 % k.PLACES, other % 2)
    elif kind == k.D_HAND_LOOK or kind == k.D_HAND_SHUFFLE:
        done = is_place(p, s, other)
        zone = other // k.MOST_SEATS
        if done:
            emit(p, s, k.E_HAND_LOOKED if kind == k.D_HAND_LOOK else k.E_HAND_SHUFFLED, s.whose, k.NONE, zone, other % k.MOST_SEATS)
        if done and kind == k.D_HAND_SHUFFLE:
            shuffle(p, s, zone, other % k.MOST_SEATS)
    else:
        done = set_number_manually(p, s, kind, a, other)
    if done:
        s.changed = 1
        s.dirty = 1
        s.steps = 0
        count_decision(p, s)
        s.wait = k.W_NOTHING
    return done
