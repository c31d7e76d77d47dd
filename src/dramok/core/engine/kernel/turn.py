"""The turn: phases and their actions, the next seat; the check of the state; the end of a match."""

from __future__ import annotations

from dramok.core.engine.kernel import codes as k
from dramok.core.engine.kernel.ability_flow import moment
from dramok.core.engine.kernel.amounts import definition, recompute, resource_slot
from dramok.core.engine.kernel.kernel_function import kernel
from dramok.core.engine.kernel.market import lapse
from dramok.core.engine.kernel.moves import (
    alone,
    discard,
    draw,
    gain,
    leave_together,
    lose,
    seat_out,
    unhosted,
)
from dramok.core.engine.kernel.rng import below
from dramok.core.engine.kernel.scoring import end_match, finish, last_round
from dramok.core.engine.kernel.stat_changes import straighten
from dramok.core.engine.kernel.state import Numbers, State
from dramok.core.engine.kernel.triggers import own, push
from dramok.core.engine.kernel.zones import emit, held, link, next_seat, slot_of, unlink


@kernel
def do_grow(p: Numbers, s: State, pc: int, f: int) -> int:
    """Resources grow by their amount per turn, or are refilled."""
    seat = s.fr[f + k.F_SEAT]
    for what in range(p[k.H_RESOURCES]):
        row = p[k.H_RESOURCE_ROWS] + what * k.RESOURCE_WIDTH
        number = p[row + k.Q_GROWS]
        if p[row + k.Q_REFILLS]:
            full = p[row + k.Q_START] + number * (s.round - 1)
            if p[row + k.Q_CAP] >= 0 and full > p[row + k.Q_CAP]:
                full = p[row + k.Q_CAP]
            number = full - s.res[resource_slot(p, s, what, seat)]
        if number > 0:
            gain(p, s, seat, what, number)
    return 1


@kernel
def do_gain(p: Numbers, s: State, pc: int, f: int) -> int:
    """Gain a resource by the rules: a number, or a random number between two."""
    seat = s.fr[f + k.F_SEAT]
    least = p[pc + k.I_LEAST]
    number = least
    if p[pc + k.I_MOST] > least:
        number += below(p, s, seat, k.R_RANDOM, p[pc + k.I_MOST] - least + 1)
    if number > 0:
        gain(p, s, seat, p[pc + k.I_X], number)
    return 1


@kernel
def do_rule_draw(p: Numbers, s: State, pc: int, f: int) -> int:
    """Draw by the rules: a number, or (Y) up to a number in hand."""
    seat = s.fr[f + k.F_SEAT]
    number = p[pc + k.I_AMT]
    if p[pc + k.I_Y]:
        number -= held(p, s, k.HAND, seat)
    for _ in range(number if number > 0 else 0):
        draw(p, s, seat)
    return 1


@kernel
def do_straighten(p: Numbers, s: State, pc: int, f: int) -> int:
    card = s.zhead[slot_of(p, s, k.IN_PLAY, s.fr[f + k.F_SEAT])]
    while card >= 0:
        straighten(p, s, card)
        card = s.next[card]
    return 1


@kernel
def do_clear(p: Numbers, s: State, pc: int, f: int) -> int:
    """Clear damage from every card in play."""
    for step in range(s.seats):
        card = s.zhead[slot_of(p, s, k.IN_PLAY, (s.active + step) % s.seats)]
        while card >= 0:
            if s.damage[card] > 0:
                emit(p, s, k.E_HEALED, s.ctrl[card], card, s.damage[card], k.NONE)
                s.damage[card] = 0
            card = s.next[card]
    return 1


@kernel
def do_hand_limit(p: Numbers, s: State, pc: int, f: int) -> int:
    """Discard cards over the hand limit, chosen by the seat."""
    seat = s.fr[f + k.F_SEAT]
    over = held(p, s, k.HAND, seat) - p[k.H_HAND_LIMIT]
    if p[k.H_HAND_LIMIT] < 0 or over <= 0:
        return 1
    if s.fr[f + k.F_STATE] == k.READY:
        emit(p, s, k.E_OVER_LIMIT, seat, k.NONE, over, p[k.H_HAND_LIMIT])
        s.fr[f + k.F_STATE] = k.CHOSEN
    s.wait = k.W_LIMIT
    s.whose = seat
    return 0


@kernel
def do_discard_hand(p: Numbers, s: State, pc: int, f: int) -> int:
    """Discard the whole hand."""
    hand = slot_of(p, s, k.HAND, s.fr[f + k.F_SEAT])
    while s.zhead[hand] >= 0:
        discard(p, s, s.zhead[hand])
    return 1


@kernel
def do_clear_away(p: Numbers, s: State, pc: int, f: int) -> int:
    """The cards that stay in play only until now leave it together for the discard pile."""
    s.nleft = 0
    card = s.zhead[slot_of(p, s, k.IN_PLAY, s.fr[f + k.F_SEAT])]
    while card >= 0:
        if p[definition(p, s, card) + k.D_AFTER] == k.AFTER_CLEARED and s.host[card] < 0:
            s.left[s.nleft] = card
            s.nleft += 1
        card = s.next[card]
    leave_together(p, s, k.E_LEFT, k.DISCARD_PILE, k.S_ANY, 0, 0)
    return 1


@kernel
def do_turn_over(p: Numbers, s: State, pc: int, f: int) -> int:
    """Reveal the top card of a zone: its play effects run for the seat; it goes under the zone."""
    zone = p[pc + k.I_X]
    seat = s.fr[f + k.F_SEAT]
    card = s.ztail[slot_of(p, s, zone, seat)]
    if card < 0:
        return 1
    emit(p, s, k.E_TURNED_OVER, seat, card, zone, 0)
    unlink(p, s, card)
    link(p, s, card, zone, seat, 1)
    # During its own effect the seat that revealed it controls it; as a card of its zone it is on nobody's side again.
    holder = s.ctrl[card]
    s.ctrl[card] = seat
    own(p, s, k.ON_PLAY, card, k.NONE)
    s.ctrl[card] = holder
    return 1


@kernel
def do_scheduled(p: Numbers, s: State, pc: int, f: int) -> int:
    """In the last turn of a round: the play effects of the cards of a zone whose number is that of the round run for
    the seat, in the order of the zone. The cards stay there.
    """
    zone = p[pc + k.I_X]
    seat = s.fr[f + k.F_SEAT]
    if next_seat(p, s, s.active) > s.active:
        return 1
    card = s.zhead[slot_of(p, s, zone, seat)]
    while card >= 0:
        if p[definition(p, s, card) + k.D_STAT + p[pc + k.I_Y]] == s.round:
            emit(p, s, k.E_SCHEDULED, seat, card, zone, s.round)
            holder = s.ctrl[card]
            s.ctrl[card] = seat
            own(p, s, k.ON_PLAY, card, k.NONE)
            s.ctrl[card] = holder
        card = s.next[card]
    return 1


@kernel
def do_recall(p: Numbers, s: State, pc: int, f: int) -> int:
    """All tilted cards of a seat return to hand together."""
    seat = s.fr[f + k.F_SEAT]
    s.nleft = 0
    card = s.zhead[slot_of(p, s, k.IN_PLAY, seat)]
    while card >= 0:
        if s.tilted[card]:
            s.left[s.nleft] = card
            s.nleft += 1
        card = s.next[card]
    leave_together(p, s, k.E_RECALLED, k.HAND, k.S_ANY, 0, 0)
    return 1


@kernel
def do_over(p: Numbers, s: State, pc: int, f: int) -> int:
    """Over a shared cap the seat returns resources one by one, of its choice."""
    common = s.fr[f + k.F_EACH]
    seat = s.fr[f + k.F_SEAT]
    total = 0
    kinds = 0
    which = k.NONE
    for what in range(p[k.H_RESOURCES]):
        if p[p[k.H_RESOURCE_ROWS] + what * k.RESOURCE_WIDTH + k.Q_TOGETHER] == common:
            amount = s.res[resource_slot(p, s, what, seat)]
            total += amount
            if amount > 0:
                kinds += 1
                which = what
    over = total - p[p[k.H_COMMON_ROWS] + common * k.COMMON_WIDTH + k.N_CAP]
    if over <= 0:
        return 1
    if kinds == 1:
        lose(p, s, seat, which, over, k.E_LOST, k.NONE)
        return 1
    s.wait = k.W_OVER
    s.whose = seat
    return 0


@kernel
def do_turn(p: Numbers, s: State, pc: int, f: int) -> int:
    """Begin a seat's turn."""
    s.turn += 1
    for market in range(p[k.H_MARKETS]):
        s.bought[market] = 0
    s.since = s.decisions
    s.fr[f + k.F_SEAT] = s.active
    emit(p, s, k.E_TURN, s.active, k.NONE, s.turn, s.round)
    moment(p, s, k.NONE, 0)
    return 1


@kernel
def most_of(p: Numbers, s: State, what: int) -> int:
    """The seat with the most of a resource, DRAWN for a tie."""
    best = k.DRAWN
    most = k.NONE
    for seat in range(s.seats):
        if not s.out[seat]:
            amount = s.res[resource_slot(p, s, what, seat)]
            if amount > most:
                most = amount
                best = seat
            elif amount == most:
                best = k.DRAWN
    return best


@kernel
def do_next_turn(p: Numbers, s: State, pc: int, f: int) -> int:
    """Begin the next seat's turn, and a new round after the last; a number of rounds may end the match."""
    if p[k.H_LAPSES]:
        lapse(p, s, s.active)
    after = next_seat(p, s, s.active)
    if after <= s.active:
        for goal in range(p[k.H_GOALS]):
            row = p[k.H_GOAL_ROWS] + goal * k.GOAL_WIDTH
            if p[row] == k.G_MOST and s.round >= p[row + 2]:
                return end_match(p, s, most_of(p, s, p[row + 1]))
        if p[k.H_ENDS] and last_round(p, s):
            return finish(p, s)
        s.round += 1
    if s.turn >= k.MOST_TURNS:
        s.over = 1
        s.winner = k.DRAWN
        s.cut = 1
        emit(p, s, k.E_RUNAWAY, 0, k.NONE, 1, 0)
        return 0
    s.active = after
    # Of lasting effects, the active seat's come first: with another active seat the latest may differ.
    s.dirty = 1
    s.fr[f + k.F_PC] = p[k.H_TURN]
    s.fr[f + k.F_STATE] = k.READY
    return 0


@kernel
def goals(p: Numbers, s: State) -> int:
    """Seats whose total has reached a winning or losing number; the last remaining seat wins.

    All are judged at once.
    """
    won = 0
    winner = k.NOBODY
    for goal in range(p[k.H_GOALS]):
        row = p[k.H_GOAL_ROWS] + goal * k.GOAL_WIDTH
        for seat in range(s.seats):
            if not s.out[seat]:
                amount = s.res[resource_slot(p, s, p[row + 1], seat)]
                if p[row] == k.G_REACH and amount >= p[row + 2]:
                    won += 1 if winner != seat else 0
                    winner = seat
                elif p[row] == k.G_DROP and amount <= p[row + 2]:
                    seat_out(p, s, seat)
    if won == 0 and s.seats > 1:
        still = alone(p, s)
        if still == 0:
            won = 2
        elif still == 1:
            won = 1
            for seat in range(s.seats):
                if not s.out[seat]:
                    winner = seat
    elif won == 0 and s.out[0]:
        return end_match(p, s, k.DRAWN)
    if won == 1:
        return end_match(p, s, winner)
    if won > 1:
        return end_match(p, s, s.active if p[k.H_TIE] else k.DRAWN)
    return 0


@kernel
def withdrawn(p: Numbers, s: State) -> int:
    """Seats that are out remove their cards in play. Returns the number of cards."""
    s.nleft = 0
    for seat in range(s.seats):
        if s.out[seat]:
            card = s.zhead[slot_of(p, s, k.IN_PLAY, seat)]
            while card >= 0:
                s.left[s.nleft] = card
                s.nleft += 1
                card = s.next[card]
    if s.nleft == 0:
        return 0
    return leave_together(p, s, k.E_REMOVED, k.REMOVED, k.S_ANY, 0, 0)


@kernel
def check(p: Numbers, s: State) -> int:
    """Check the state repeatedly until nothing changes: cards with too much damage are destroyed, cards whose
    damage limit is 0 leave play, cards attached to a missing card follow it; then the goals.
    """
    again = 1
    while again:
        again = 0
        s.changed = 0
        if s.dirty:
            recompute(p, s)
        for reduced in range(2):
            s.nleft = 0
            if p[k.H_BEARS] >= 0:
                for step in range(s.seats):
                    card = s.zhead[slot_of(p, s, k.IN_PLAY, (s.active + step) % s.seats)]
                    while card >= 0:
                        limit = s.stat[card * k.MOST_STATS + p[k.H_BEARS]]
                        goes = 0
                        if reduced:
                            goes = 1 if limit == 0 else 0
                        elif limit > 0 and s.damage[card] >= limit and not s.forbids[card] & k.F_DESTROYING:
                            goes = 1
                        if goes:
                            s.left[s.nleft] = card
                            s.nleft += 1
                        card = s.next[card]
            if s.nleft:
                leave_together(p, s, k.E_REDUCED if reduced else k.E_DESTROYED, k.DISCARD_PILE, k.S_ANY, 0, 0)
                again = 1
        again += unhosted(p, s)
        again += withdrawn(p, s)
        if again == 0:
            # A seat that goes out by a goal removes its cards within the same check.
            before = alone(p, s)
            goals(p, s)
            again = 1 if s.over == 0 and alone(p, s) < before else 0
    if s.dirty:
        recompute(p, s)
    return 0


@kernel
def begin_phase(p: Numbers, s: State, pc: int, f: int) -> int:
    s.phase = p[pc + k.I_X]
    s.acted = 0
    s.deeds = 0
    s.fr[f + k.F_SEAT] = s.active
    emit(p, s, k.E_PHASE, s.active, k.NONE, s.phase, 0)
    moment(p, s, s.phase, 0)
    return 1


@kernel
def do_seat(p: Numbers, s: State, pc: int, f: int) -> int:
    """Continue for another seat, counted from the active one; a seat that is out is skipped."""
    seat = (s.active + p[pc + k.I_X]) % s.seats
    s.acted = 0
    s.deeds = 0
    if s.out[seat] and p[pc + k.I_JUMP] >= 0:
        s.fr[f + k.F_PC] = p[pc + k.I_JUMP]
        return 0
    s.fr[f + k.F_SEAT] = seat
    return 1


@kernel
def ask_answers(p: Numbers, s: State, card: int, seat: int) -> int:
    """If plays can be answered, ask the other seats before a played card takes effect."""
    if p[k.H_ANSWER_PLAYS] == 0 or s.seats < 2:
        return 0
    push(p, s, p[k.H_ANSWER_PLAYS], card, k.NONE, seat, k.NONE)
    return 1
