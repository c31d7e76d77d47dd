"""Targets of a step: its seats, its cards, picks of a seat; and moved cards that effects still refer to."""

from __future__ import annotations

from dramok.core.engine.kernel import codes as k
from dramok.core.engine.kernel.amounts import evaluate_words, gather
from dramok.core.engine.kernel.kernel_function import kernel
from dramok.core.engine.kernel.rng import below
from dramok.core.engine.kernel.state import Numbers, State
from dramok.core.engine.kernel.zones import emit


@kernel
def live(p: Numbers, s: State, card: int, inc: int) -> int:
    """Whether a card that an effect refers to has not changed its place since."""
    return 1 if card >= 0 and s.inc[card] == inc else 0


@kernel
def best_seats(p: Numbers, s: State, pc: int, seat: int) -> int:
    """The seats (a bit each) for which the compared amount of a step is highest, or lowest. If the highest is 0: none."""
    least = p[pc + k.I_SEATS] == k.WHO_LEAST
    best = -1
    found = 0
    for step in range(s.seats):
        other = (seat + step) % s.seats
        if not s.out[other]:
            amount = evaluate_words(p, s, p[pc + k.I_UNTIL], k.NONE, other, k.NONE, k.NONE, 0)
            if best < 0 or (amount < best if least else amount > best):
                best = amount
                found = 0
            if amount == best:
                found |= 1 << other
    return found if best > 0 or least else 0


@kernel
def choose_seats(p: Numbers, s: State, pc: int, f: int) -> int:
    """Fix the seats of a step before it changes anything: the comparison of their amounts is an event."""
    if p[pc + k.I_SEATS] < k.WHO_MOST:
        return 0
    s.fr[f + k.F_SEATS] = best_seats(p, s, pc, s.fr[f + k.F_SEAT])
    for step in range(s.seats):
        seat = (s.fr[f + k.F_SEAT] + step) % s.seats
        if not s.out[seat]:
            amount = evaluate_words(p, s, p[pc + k.I_UNTIL], k.NONE, seat, k.NONE, k.NONE, 0)
            emit(p, s, k.E_COMPARED, seat, s.fr[f + k.F_THIS], amount, (s.fr[f + k.F_SEATS] >> seat) & 1)
    return 1


@kernel
def nth_seat(p: Numbers, s: State, pc: int, f: int, place: int) -> int:
    """The seats of a step, one after the other starting with its own; SKIPPED for one that is out, or not one of
    those that were chosen; -1 after the last.
    """
    who = p[pc + k.I_SEATS]
    seat = s.fr[f + k.F_SEAT]
    if who == k.WHO_OWN:
        return seat if place == 0 else k.NONE
    offset = place + (1 if who == k.WHO_RIVAL else 0)
    if offset >= s.seats:
        return k.NONE
    other = (seat + offset) % s.seats
    if who >= k.WHO_MOST and not (s.fr[f + k.F_SEATS] >> other) & 1:
        return k.SKIPPED
    return k.SKIPPED if s.out[other] and other != seat else other


@kernel
def add_target(p: Numbers, s: State, card: int, inc: int, in_play: int) -> int:
    if live(p, s, card, inc) and (not in_play or s.zone[card] == k.IN_PLAY):
        s.target[s.ntarget] = card
        s.ntarget += 1
    return 0


@kernel
def candidates(p: Numbers, s: State, pc: int, f: int) -> int:
    """Collect the candidates of a pick in `target`: its group, or the cards that `it` refers to, without those
    that can't be chosen.
    """
    seat = s.fr[f + k.F_SEAT]
    if p[pc + k.I_MODE] == k.T_PICK_IT:
        s.ntarget = 0
        for place in range(s.fr[f + k.F_ITS]):
            at = s.fr[f + k.F_IT] + place
            add_target(p, s, s.sets[at], s.seti[at], 0)
    else:
        gather(p, s, p[pc + k.I_GROUP], s.fr[f + k.F_THIS], seat)
    kept = 0
    for place in range(s.ntarget):
        card = s.target[place]
        barred = s.zone[card] == k.IN_PLAY and s.ctrl[card] != seat and s.forbids[card] & k.F_CHOOSING
        # A card being played is still in the hand while its picks are declared: it can't pick itself.
        if not barred and card != s.declaring:
            s.target[kept] = card
            kept += 1
    s.ntarget = kept
    return kept


@kernel
def ask_picks(p: Numbers, s: State, least: int, most: int, found: int, seat: int, wait: int) -> int:
    """Begin a pick: the required number, or as many as exist."""
    s.npick = 0
    s.pick_most = most if most < found else found
    s.pick_least = least if least < found else found
    s.wait = wait
    s.whose = seat
    return 0


@kernel
def aim(p: Numbers, s: State, pc: int, f: int, in_play: int) -> int:
    """Collect the targets of the step in `target`. 0: its seat has been asked to pick them."""
    mode = p[pc + k.I_MODE]
    seat = s.fr[f + k.F_SEAT]
    s.ntarget = 0
    if mode == k.T_THIS:
        add_target(p, s, s.fr[f + k.F_THIS], s.fr[f + k.F_THIS_INC], in_play)
    elif mode == k.T_THAT:
        add_target(p, s, s.fr[f + k.F_THAT], s.fr[f + k.F_THAT_INC], in_play)
    elif mode == k.T_HOST:
        host = s.host[s.fr[f + k.F_THIS]]
        if host >= 0:
            add_target(p, s, host, s.inc[host], in_play)
    elif mode == k.T_ALL:
        gather(p, s, p[pc + k.I_GROUP], s.fr[f + k.F_THIS], seat)
    elif mode == k.T_RANDOM:
        found = gather(p, s, p[pc + k.I_GROUP], s.fr[f + k.F_THIS], seat)
        wanted = p[pc + k.I_MOST]
        wanted = wanted if wanted < found else found
        for place in range(wanted):
            other = place + below(p, s, seat, k.R_RANDOM, found - place)
            card = s.target[place]
            s.target[place] = s.target[other]
            s.target[other] = card
        s.ntarget = wanted
    else:
        if mode != k.T_IT and s.fr[f + k.F_STATE] == k.READY and not s.fr[f + k.F_CHOSEN]:
            found = candidates(p, s, pc, f)
            if found > 0:
                return ask_picks(p, s, p[pc + k.I_LEAST], p[pc + k.I_MOST], found, seat, k.W_PICK)
            s.fr[f + k.F_ITS] = 0
        s.fr[f + k.F_CHOSEN] = 0
        s.ntarget = 0
        for place in range(s.fr[f + k.F_ITS]):
            at = s.fr[f + k.F_IT] + place
            add_target(p, s, s.sets[at], s.seti[at], in_play)
    kept = 0
    for place in range(s.ntarget):
        card = s.target[place]
        if s.zone[card] == k.IN_PLAY and s.ctrl[card] != seat and s.forbids[card] & k.F_AFFECTING:
            emit(p, s, k.E_PREVENTED, s.ctrl[card], card, k.F_AFFECTING, 0)
        else:
            s.target[kept] = card
            kept += 1
    s.ntarget = kept
    return 1


@kernel
def untargeted(p: Numbers, s: State, pc: int, f: int, number: int) -> int:
    """Emit that a step has no target."""
    if s.ntarget:
        return 0
    emit(p, s, k.E_NO_TARGET, s.fr[f + k.F_SEAT], s.fr[f + k.F_THIS], p[pc + k.I_OP], number)
    return 1


@kernel
def follow(p: Numbers, s: State, f: int, card: int) -> int:
    """A step of the frame `f` has moved a card out of play or into it: the ability still refers to it, in this
    block and the enclosing ones.
    """
    was = s.inc[card] - 1
    inner = 1
    while inner:
        if s.fr[f + k.F_THIS] == card and s.fr[f + k.F_THIS_INC] == was:
            s.fr[f + k.F_THIS_INC] = s.inc[card]
        if s.fr[f + k.F_THAT] == card and s.fr[f + k.F_THAT_INC] == was:
            s.fr[f + k.F_THAT_INC] = s.inc[card]
        for place in range(s.fr[f + k.F_ITS]):
            at = s.fr[f + k.F_IT] + place
            if s.sets[at] == card and s.seti[at] == was:
                s.seti[at] = s.inc[card]
        inner = s.fr[f + k.F_INNER]
        f -= k.FRAME
    return 0
