"""The clash: the active seat sends cards, its rival answers, and unanswered cards count."""

from __future__ import annotations

from dramok.core.engine.kernel import codes as k
from dramok.core.engine.kernel.amounts import definition
from dramok.core.engine.kernel.kernel_function import kernel
from dramok.core.engine.kernel.moves import gain, lose
from dramok.core.engine.kernel.stat_changes import damage, tilt
from dramok.core.engine.kernel.state import Numbers, State
from dramok.core.engine.kernel.triggers import about_card
from dramok.core.engine.kernel.zones import emit, next_seat, slot_of


@kernel
def power(p: Numbers, s: State, card: int) -> int:
    """The number that a card brings to a clash."""
    value = s.stat[card * k.MOST_STATS + p[k.H_CLASH_STAT]]
    return value if value > 0 else 0


@kernel
def may_clash(p: Numbers, s: State, card: int) -> int:
    """Whether a card can be sent: of a clashing type, with the stat, straight if required, and not new this turn."""
    d = definition(p, s, card)
    if not p[k.H_CLASH_TYPES] & p[d + k.D_TYPE_BIT] or s.stat[card * k.MOST_STATS + p[k.H_CLASH_STAT]] < 0:
        return 0
    if s.mark[card] or s.forbids[card] & k.F_CLASHING or s.tilted[card]:
        return 0
    if s.came[card] == s.turn and not p[k.H_ON_ARRIVAL] and not s.allows[card] & k.A_CLASHING:
        return 0
    return 1


@kernel
def may_answer(p: Numbers, s: State, card: int) -> int:
    d = definition(p, s, card)
    if not p[k.H_ANSWER_TYPES] & p[d + k.D_TYPE_BIT] or s.stat[card * k.MOST_STATS + p[k.H_CLASH_STAT]] < 0:
        return 0
    if s.answers[card] or s.forbids[card] & k.F_ANSWERING:
        return 0
    return 0 if s.tilted[card] and not s.allows[card] & k.A_ANSWERING else 1


@kernel
def may_be_answered(p: Numbers, s: State, card: int) -> int:
    if not s.mark[card] & k.MARK_CLASHING:
        return 0
    return 0 if s.mark[card] & k.MARK_ANSWERED and p[k.H_ANSWERS_MANY] != k.ANSWERS_MANY else 1


@kernel
def do_send(p: Numbers, s: State, pc: int, f: int) -> int:
    """The seat names the clashing cards one by one; then all are sent."""
    seat = s.fr[f + k.F_SEAT]
    if s.fr[f + k.F_STATE] == k.READY:
        card = s.zhead[slot_of(p, s, k.IN_PLAY, seat)]
        while card >= 0:
            if may_clash(p, s, card):
                s.wait = k.W_SEND
                s.whose = seat
                return 0
            card = s.next[card]
    card = s.zhead[slot_of(p, s, k.IN_PLAY, seat)]
    while card >= 0:
        if s.mark[card]:
            if p[k.H_TILTS]:
                tilt(p, s, card)
            emit(p, s, k.E_CLASHES, seat, card, 0, 0)
            about_card(p, s, k.ON_CLASH, card, k.NONE)
        card = s.next[card]
    return 1


@kernel
def any_pair(p: Numbers, s: State, seat: int, rival: int) -> int:
    """Whether the rival has a card that can answer one of the sent ones."""
    card = s.zhead[slot_of(p, s, k.IN_PLAY, seat)]
    open_ones = 0
    while card >= 0:
        open_ones += may_be_answered(p, s, card)
        card = s.next[card]
    if open_ones == 0:
        return 0
    card = s.zhead[slot_of(p, s, k.IN_PLAY, rival)]
    while card >= 0:
        if may_answer(p, s, card):
            return 1
        card = s.next[card]
    return 0


@kernel
def do_answer(p: Numbers, s: State, pc: int, f: int) -> int:
    """The rival answers, card by card; then all answers are resolved."""
    seat = s.fr[f + k.F_SEAT]
    rival = next_seat(p, s, seat)
    if rival == seat:
        return 1
    if s.fr[f + k.F_STATE] == k.READY and p[k.H_ANSWERS_MANY] != k.ANSWERS_NONE and any_pair(p, s, seat, rival):
        s.wait = k.W_ANSWER
        s.whose = rival
        return 0
    card = s.zhead[slot_of(p, s, k.IN_PLAY, rival)]
    while card >= 0:
        if s.answers[card]:
            sent = s.answers[card] - 1
            if p[k.H_ANSWER_TILTS]:
                tilt(p, s, card)
            emit(p, s, k.E_ANSWERS, rival, card, sent, 0)
            if s.zone[sent] == k.IN_PLAY:
                about_card(p, s, k.ON_ANSWERED, sent, card)
        card = s.next[card]
    return 1


@kernel
def count_for(p: Numbers, s: State, card: int, points: int, kind: int) -> int:
    """The result of an unanswered card for its seat or the rival."""
    seat = s.ctrl[card]
    emit(p, s, kind, seat, card, points, 0)
    if points > 0 and p[k.H_UNANSWERED] == k.UNANSWERED_GAINS:
        gain(p, s, seat, p[k.H_TOTAL], points)
    elif points > 0 and p[k.H_UNANSWERED] == k.UNANSWERED_LOSES:
        lose(p, s, next_seat(p, s, seat), p[k.H_TOTAL], points, k.E_LOST, k.NONE)
    return 0


@kernel
def settle(p: Numbers, s: State, card: int) -> int:
    """Resolve one clashing card: it counts, or it and its answers damage each other."""
    strength = power(p, s, card)
    if not s.mark[card] & k.MARK_ANSWERED:
        return count_for(p, s, card, strength if p[k.H_POINTS] == k.POINTS_STAT else 1, k.E_UNANSWERED)
    rival = next_seat(p, s, s.ctrl[card])
    found = 0
    against = 0
    other = s.zhead[slot_of(p, s, k.IN_PLAY, rival)]
    while other >= 0:
        if s.answers[other] == card + 1:
            s.temp[found] = other
            found += 1
            against += power(p, s, other)
        other = s.next[other]
    left = strength
    if p[k.H_CLASH_HURTS]:
        for place in range(found):
            other = s.temp[place]
            bears = s.stat[other * k.MOST_STATS + p[k.H_BEARS]] - s.damage[other] if p[k.H_BEARS] >= 0 else left
            share = left
            if place < found - 1 or p[k.H_EXCESS] == k.EXCESS_THROUGH:
                share = bears if bears < left else left
            share = share if share > 0 else 0
            left -= share
            damage(p, s, other, share, card)
        for place in range(found):
            other = s.temp[place]
            if power(p, s, other) > 0:
                damage(p, s, card, power(p, s, other), other)
    else:
        left = strength - against
    if p[k.H_EXCESS] == k.EXCESS_THROUGH and left > 0 and found > 0:
        count_for(p, s, card, left, k.E_THROUGH)
    return 0


@kernel
def do_clash(p: Numbers, s: State, pc: int, f: int) -> int:
    """Resolve all at once, or one by one with the effects of each."""
    seat = s.fr[f + k.F_SEAT]
    card = s.zhead[slot_of(p, s, k.IN_PLAY, seat)]
    while card >= 0:
        following = s.next[card]
        if s.mark[card] & k.MARK_CLASHING:
            s.mark[card] &= ~k.MARK_CLASHING
            settle(p, s, card)
            if p[k.H_ORDER]:
                return 0
        card = following
    return 1


@kernel
def do_clash_end(p: Numbers, s: State, pc: int, f: int) -> int:
    for seat in range(s.seats):
        card = s.zhead[slot_of(p, s, k.IN_PLAY, seat)]
        while card >= 0:
            s.mark[card] = 0
            s.answers[card] = 0
            card = s.next[card]
    return 1
