"""Control flow within an ability: begin, end, may, each, if, later; moments of the turn."""

from __future__ import annotations

from dramok.core.engine.kernel import codes as k
from dramok.core.engine.kernel.amounts import evaluate_words, gather, resource_slot
from dramok.core.engine.kernel.kernel_function import kernel
from dramok.core.engine.kernel.moves import leave_together, lose
from dramok.core.engine.kernel.stat_changes import drop_mod, tilt
from dramok.core.engine.kernel.state import Numbers, State
from dramok.core.engine.kernel.targets import live
from dramok.core.engine.kernel.triggers import about_moment, pop, push, remember
from dramok.core.engine.kernel.verbs import whose_moment
from dramok.core.engine.kernel.zones import emit, held, move


@kernel
def limit_left(p: Numbers, s: State, card: int, ability: int) -> int:
    """Whether the limit of an ability allows one more use this turn, or this game."""
    if p[ability + k.B_LIMIT] == 0:
        return 1
    kept = s.limgame[card]
    if p[ability + k.B_EACH] == k.LIMIT_TURN:
        kept = s.limturn[card] if s.limwhen[card] == s.turn else 0
    return 1 if (kept >> (p[ability + k.B_BIT] * 4)) & 15 < p[ability + k.B_LIMIT] else 0


@kernel
def use_limit(p: Numbers, s: State, card: int, ability: int) -> int:
    if p[ability + k.B_LIMIT] == 0:
        return 0
    one = 1 << (p[ability + k.B_BIT] * 4)
    if p[ability + k.B_EACH] == k.LIMIT_TURN:
        # Wherever the card is: uses of an earlier turn do not count.
        s.limturn[card] = s.limturn[card] + one if s.limwhen[card] == s.turn else one
        s.limwhen[card] = s.turn
    else:
        s.limgame[card] += one
    return 1


@kernel
def condition_holds(p: Numbers, s: State, ability: int, card: int, seat: int, that: int) -> int:
    if p[ability + k.B_IF] < 0:
        return 1
    return 1 if evaluate_words(p, s, p[ability + k.B_IF], card, seat, that, k.NONE, 0) else 0


@kernel
def do_begin(p: Numbers, s: State, pc: int, f: int) -> int:
    """Begin an ability, unless its condition is false or its limit is reached."""
    ability = s.fr[f + k.F_ABILITY]
    card = s.fr[f + k.F_THIS]
    seat = s.fr[f + k.F_SEAT]
    if not limit_left(p, s, card, ability) or not condition_holds(p, s, ability, card, seat, s.fr[f + k.F_THAT]):
        pop(p, s)
        return 0
    use_limit(p, s, card, ability)
    s.culprit = card
    emit(p, s, k.E_ABILITY, seat, card, p[ability + k.B_CUE], p[ability + k.B_LAST])
    return 1


@kernel
def inside(p: Numbers, s: State, f: int, pc: int) -> int:
    """Push a block of steps as a frame above its own: pronouns refer to the same cards."""
    at = push(p, s, pc, s.fr[f + k.F_THIS], s.fr[f + k.F_THAT], s.fr[f + k.F_SEAT], s.fr[f + k.F_ABILITY])
    s.fr[at + k.F_THIS_INC] = s.fr[f + k.F_THIS_INC]
    s.fr[at + k.F_THAT_INC] = s.fr[f + k.F_THAT_INC]
    s.fr[at + k.F_IT] = s.fr[f + k.F_IT]
    s.fr[at + k.F_ITS] = s.fr[f + k.F_ITS]
    s.fr[at + k.F_INNER] = 1
    return at


@kernel
def go_on(p: Numbers, s: State, pc: int, f: int) -> int:
    """Continue the frame after its block, whenever that ends."""
    s.fr[f + k.F_PC] = p[pc + k.I_JUMP]
    s.fr[f + k.F_STATE] = k.READY
    s.fr[f + k.F_CURSOR] = 0
    s.fr[f + k.F_CHOSEN] = 0
    return 0


@kernel
def can_afford(p: Numbers, s: State, cost: int, card: int, seat: int) -> int:
    """Whether a seat can pay a price for a card's effect."""
    while p[cost] != k.C_STOP:
        how = p[cost]
        if how == k.C_PAY and s.res[resource_slot(p, s, p[cost + 2], seat)] < p[cost + 1]:
            return 0
        if how == k.C_DISCARD and held(p, s, k.HAND, seat) < p[cost + 1]:
            return 0
        if how != k.C_PAY and how != k.C_DISCARD and s.zone[card] != k.IN_PLAY:
            return 0
        if how == k.C_TILT and (s.tilted[card] or s.forbids[card] & k.F_TILTING):
            return 0
        if how == k.C_DESTROY and s.forbids[card] & k.F_DESTROYING:
            return 0
        cost += k.COST_WIDTH
    return 1


@kernel
def pay(p: Numbers, s: State, cost: int, card: int, seat: int) -> int:
    """Pay a price for which `can_afford` is true. The first step of the effect asks for cards to discard."""
    while p[cost] != k.C_STOP:
        how = p[cost]
        if how == k.C_PAY:
            lose(p, s, seat, p[cost + 2], p[cost + 1], k.E_PAID, card)
        elif how == k.C_TILT:
            tilt(p, s, card)
        elif how != k.C_DISCARD and s.zone[card] == k.IN_PLAY:
            s.left[0] = card
            s.nleft = 1
            kind = k.E_DESTROYED if how == k.C_DESTROY else k.E_RETURNED
            leave_together(p, s, kind, k.DISCARD_PILE if how == k.C_DESTROY else k.HAND, k.S_ANY, 0, 0)
        cost += k.COST_WIDTH
    return 0


@kernel
def do_may(p: Numbers, s: State, pc: int, f: int) -> int:
    """May, and offer: the seat says yes or no. An offer that can't be paid is skipped."""
    seat = s.fr[f + k.F_SEAT]
    card = s.fr[f + k.F_THIS]
    offers = p[pc + k.I_OP] == k.V_OFFER
    if s.fr[f + k.F_STATE] == k.READY:
        if offers and (not live(p, s, card, s.fr[f + k.F_THIS_INC]) or not can_afford(p, s, p[pc + k.I_X], card, seat)):
            emit(p, s, k.E_NOTHING, seat, card, 0, 0)
            return go_on(p, s, pc, f)
        s.wait = k.W_MAY
        s.whose = seat
        return 0
    yes = s.fr[f + k.F_LEFT]
    go_on(p, s, pc, f)
    emit(p, s, k.E_ACCEPTED if yes else k.E_DECLINED, seat, card, 0, 0)
    if yes:
        if offers:
            pay(p, s, p[pc + k.I_X], card, seat)
        inside(p, s, f, pc + k.WIDTH)
    return 0


@kernel
def do_choose(p: Numbers, s: State, pc: int, f: int) -> int:
    """The seat chooses some of several blocks; they run in text order."""
    seat = s.fr[f + k.F_SEAT]
    number = p[pc + k.I_X]
    if s.fr[f + k.F_STATE] == k.READY and number < p[pc + k.I_Y]:
        s.npick = 0
        s.wait = k.W_CHOOSE
        s.whose = seat
        return 0
    if number >= p[pc + k.I_Y]:
        s.npick = p[pc + k.I_Y]
        for place in range(s.npick):
            s.pick[place] = place
    go_on(p, s, pc, f)
    for place in range(p[pc + k.I_Y]):
        for each in range(s.npick):
            if s.pick[each] == place:
                emit(p, s, k.E_CHOSE, seat, s.fr[f + k.F_THIS], place, 0)
    for back in range(p[pc + k.I_Y]):
        place = p[pc + k.I_Y] - 1 - back
        for each in range(s.npick):
            if s.pick[each] == place:
                inside(p, s, f, p[p[pc + k.I_GROUP] + place])
    return 0


@kernel
def do_if(p: Numbers, s: State, pc: int, f: int) -> int:
    it = s.sets[s.fr[f + k.F_IT]] if s.fr[f + k.F_ITS] > 0 else k.NONE
    holds = evaluate_words(p, s, p[pc + k.I_AMT], s.fr[f + k.F_THIS], s.fr[f + k.F_SEAT], s.fr[f + k.F_THAT], it, 0)
    go_on(p, s, pc, f)
    if holds:
        inside(p, s, f, pc + k.WIDTH)
    elif p[pc + k.I_X] >= 0:
        inside(p, s, f, p[pc + k.I_X])
    return 0


@kernel
def do_each(p: Numbers, s: State, pc: int, f: int) -> int:
    """The cards of a group, fixed now; the block runs for each that has not left."""
    found = gather(p, s, p[pc + k.I_GROUP], s.fr[f + k.F_THIS], s.fr[f + k.F_SEAT])
    go_on(p, s, pc, f)
    if found == 0:
        emit(p, s, k.E_NO_TARGET, s.fr[f + k.F_SEAT], s.fr[f + k.F_THIS], k.V_EACH, 0)
        return 0
    at = inside(p, s, f, pc + k.WIDTH)
    s.fr[at + k.F_EACH] = s.nset
    for place in range(found):
        s.fr[at + k.F_EACHES] += remember(p, s, s.target[place])
    return 0


@kernel
def do_next(p: Numbers, s: State, pc: int, f: int) -> int:
    """The next card of the loop becomes *it*; after the last the loop ends."""
    while s.fr[f + k.F_EACHES] > 0:
        at = s.fr[f + k.F_EACH]
        s.fr[f + k.F_EACH] += 1
        s.fr[f + k.F_EACHES] -= 1
        s.nset = s.fr[f + k.F_EACH] + s.fr[f + k.F_EACHES]
        if live(p, s, s.sets[at], s.seti[at]):
            s.fr[f + k.F_IT] = at
            s.fr[f + k.F_ITS] = 1
            return 1
    pop(p, s)
    return 0


@kernel
def do_later(p: Numbers, s: State, pc: int, f: int) -> int:
    """Postpone a block until a moment."""
    go_on(p, s, pc, f)
    if s.nlater >= k.MOST_LATER:
        s.full = k.FULL_LIST
        s.culprit = s.fr[f + k.F_THIS]
        return 0
    until = p[pc + k.I_UNTIL]
    at = s.nlater * 16
    s.later[at] = until // k.MOMENT_SIDES
    s.later[at + 1] = whose_moment(p, s, until, s.fr[f + k.F_SEAT])
    s.later[at + 2] = pc + k.WIDTH
    s.later[at + 3] = s.fr[f + k.F_THIS]
    s.later[at + 4] = s.fr[f + k.F_THIS_INC]
    s.later[at + 5] = s.fr[f + k.F_THAT]
    s.later[at + 6] = s.fr[f + k.F_THAT_INC]
    s.later[at + 7] = s.fr[f + k.F_SEAT]
    s.later[at + 8] = s.fr[f + k.F_ABILITY]
    its = s.fr[f + k.F_ITS] if s.fr[f + k.F_ITS] < 3 else 3
    s.later[at + 9] = its
    for place in range(its):
        s.later[at + 10 + place * 2] = s.sets[s.fr[f + k.F_IT] + place]
        s.later[at + 11 + place * 2] = s.seti[s.fr[f + k.F_IT] + place]
    s.nlater += 1
    emit(p, s, k.E_PUT_OFF, s.fr[f + k.F_SEAT], s.fr[f + k.F_THIS], until // k.MOMENT_SIDES, 0)
    return 0


@kernel
def is_whose(p: Numbers, s: State, whose: int) -> int:
    if whose < 0:
        return 1
    return 1 if (whose == s.active if whose < 8 else whose - 8 != s.active) else 0


@kernel
def moment(p: Numbers, s: State, phase: int, ends: int) -> int:
    """The turn (phase -1) or a phase begins or ends: changes that last until then expire; postponed blocks run
    after the abilities it triggers.
    """
    code = (phase + 1) * 2 + ends
    row = 0
    while row < s.nmod:
        if s.modu[row] == code and is_whose(p, s, s.mods[row]):
            emit(p, s, k.E_EXPIRED, s.ctrl[s.modc[row]], s.modc[row], s.modk[row], s.modw[row])
            drop_mod(p, s, row)
            s.dirty = 1
            s.changed = 1
        else:
            row += 1
    for back in range(s.nlater):
        at = (s.nlater - 1 - back) * 16
        if s.later[at] == code and is_whose(p, s, s.later[at + 1]):
            frame = push(p, s, s.later[at + 2], s.later[at + 3], s.later[at + 5], s.later[at + 7], s.later[at + 8])
            s.fr[frame + k.F_THIS_INC] = s.later[at + 4]
            s.fr[frame + k.F_THAT_INC] = s.later[at + 6]
            for place in range(s.later[at + 9]):
                s.fr[frame + k.F_ITS] += remember(p, s, s.later[at + 10 + place * 2])
                s.seti[s.nset - 1] = s.later[at + 11 + place * 2]
            s.later[at] = -2
    kept = 0
    for row in range(s.nlater):
        if s.later[row * 16] != -2:
            if kept != row:
                for column in range(16):
                    s.later[kept * 16 + column] = s.later[row * 16 + column]
            kept += 1
    s.nlater = kept
    return about_moment(p, s, k.ON_END if ends else k.ON_BEGIN, phase)


@kernel
def do_after_play(p: Numbers, s: State, pc: int, f: int) -> int:
    """A played card that does not stay goes to the discard pile after its effects."""
    card = s.fr[f + k.F_THIS]
    pop(p, s)
    if s.zone[card] == k.RESOLVING:
        emit(p, s, k.E_DISCARDED, s.owner[card], card, 1, 0)
        move(p, s, card, k.DISCARD_PILE, s.owner[card], 0)
    return 0
