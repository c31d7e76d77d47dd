"""Cards enter and leave play, are drawn and discarded; resources are gained and lost."""

from __future__ import annotations

from dramok.core.engine.kernel import codes as k
from dramok.core.engine.kernel.amounts import definition, resource_slot
from dramok.core.engine.kernel.kernel_function import kernel
from dramok.core.engine.kernel.state import Numbers, State
from dramok.core.engine.kernel.triggers import about_card, about_total, listens, push
from dramok.core.engine.kernel.zones import (
    emit,
    held,
    home_of,
    is_shared,
    link,
    move,
    shuffle,
    slot_of,
    unlink,
)


@kernel
def count_decision(p: Numbers, s: State) -> int:
    """Count one decision. Too many in a turn or match end it."""
    s.decisions += 1
    if s.decisions - s.since > k.MOST_DECISIONS or s.decisions > k.MOST_IN_MATCH:
        s.full = k.FULL_DECISIONS
    return s.decisions


@kernel
def has_room(p: Numbers, s: State, zone: int, seat: int) -> int:
    limit = p[p[k.H_ZONE_ROWS] + zone * k.ZONE_WIDTH + k.Z_LIMIT]
    return 1 if limit < 0 or held(p, s, zone, seat) < limit else 0


@kernel
def reset_entering(p: Numbers, s: State, card: int, seat: int) -> int:
    """Reset a card that has just entered play to its printed values."""
    d = definition(p, s, card)
    s.ctrl[card] = seat
    s.inc[card] += 1
    s.arrivals += 1
    s.arrival[card] = s.arrivals
    s.came[card] = s.turn
    s.damage[card] = 0
    s.tilted[card] = 1 if p[d + k.D_AFTER] == k.AFTER_TILTED else 0
    s.limturn[card] = 0
    s.limwhen[card] = 0
    s.limgame[card] = 0
    s.mark[card] = 0
    s.answers[card] = 0
    s.host[card] = k.NONE
    s.seen[card] = 0
    s.keys[card] = p[d + k.D_KEYS]
    s.forbids[card] = 0
    s.allows[card] = 0
    for which in range(p[k.H_STATS]):
        s.stat[card * k.MOST_STATS + which] = p[d + k.D_STAT + which]
    listens(p, s, card, 1)
    s.dirty = 1
    s.changed = 1
    return 1


@kernel
def enter(p: Numbers, s: State, card: int, seat: int) -> int:
    """A card enters play on a seat's side. 0: there is no free place."""
    if not has_room(p, s, k.IN_PLAY, seat):
        emit(p, s, k.E_FULL, seat, card, k.IN_PLAY, 0)
        return 0
    move(p, s, card, k.IN_PLAY, seat, 0)
    reset_entering(p, s, card, seat)
    emit(p, s, k.E_ENTERED, seat, card, 0, 0)
    return 1


@kernel
def change_sides(p: Numbers, s: State, card: int, seat: int) -> int:
    """Change the controller of a card in play: it is new on that side, and in no clash."""
    move(p, s, card, k.IN_PLAY, seat, 0)
    s.ctrl[card] = seat
    s.arrivals += 1
    s.arrival[card] = s.arrivals
    s.came[card] = s.turn
    s.mark[card] = 0
    s.answers[card] = 0
    s.dirty = 1
    s.changed = 1
    return 1


@kernel
def cross(p: Numbers, s: State, card: int, seat: int) -> int:
    """Move a card in play to another seat: the same card with another controller, new on that side."""
    if s.ctrl[card] == seat:
        return 0
    if not has_room(p, s, k.IN_PLAY, seat):
        return emit(p, s, k.E_FULL, seat, card, k.IN_PLAY, 0)
    change_sides(p, s, card, seat)
    emit(p, s, k.E_MOVED, seat, card, k.IN_PLAY, k.IN_PLAY)
    return 1


@kernel
def entered(p: Numbers, s: State, card: int) -> int:
    """Triggers after all cards that enter together are in play."""
    return about_card(p, s, k.ON_ENTER, card, k.NONE)


@kernel
def forget_mods(p: Numbers, s: State, card: int) -> int:
    """Remove all temporary changes of a card that leaves."""
    kept = 0
    for row in range(s.nmod):
        if s.modc[row] != card:
            if kept != row:
                s.modc[kept] = s.modc[row]
                s.modi[kept] = s.modi[row]
                s.modk[kept] = s.modk[row]
                s.modw[kept] = s.modw[row]
                s.moda[kept] = s.moda[row]
                s.modu[kept] = s.modu[row]
                s.mods[kept] = s.mods[row]
                s.modf[kept] = s.modf[row]
            kept += 1
    s.nmod = kept
    return 0


@kernel
def depart(p: Numbers, s: State, card: int, zone: int, seat: int, bottom: int) -> int:
    """Move a card from play to another zone.

    Its last state and controller are kept for effects that refer to it. A token ceases.
    """
    controller = s.ctrl[card]
    listens(p, s, card, -1)
    forget_mods(p, s, card)
    s.inc[card] += 1
    s.seen[card] = 1
    s.departed += 1
    s.dirty = 1
    s.changed = 1
    if s.token[card]:
        move(p, s, card, k.GONE, s.owner[card], 0)
    else:
        move(p, s, card, zone, seat, bottom)
    s.ctrl[card] = controller
    return 0


@kernel
def leave_together(p: Numbers, s: State, kind: int, zone: int, side: int, seat: int, bottom: int) -> int:
    """The `nleft` cards of `left`, all in play, leave together: first all leave, then their triggers, in order.

    `side` decides the target zone: each owner's, or (`S_OWN`) that of `seat`. Cards attached to one of them
    leave afterwards.
    """
    for place in range(s.nleft):
        card = s.left[place]
        emit(p, s, kind, s.ctrl[card], card, zone, 0)
        depart(p, s, card, zone, seat if side == k.S_OWN else home_of(p, s, card, s.ctrl[card]), bottom)
    for place in range(s.nleft):
        card = s.left[place]
        if kind == k.E_DESTROYED:
            about_card(p, s, k.ON_DESTROYED, card, k.NONE)
        about_card(p, s, k.ON_LEAVE, card, k.NONE)
    count = s.nleft
    s.nleft = 0
    for place in range(count):
        if s.token[s.left[place]]:
            emit(p, s, k.E_CEASED, s.ctrl[s.left[place]], s.left[place], 0, 0)
    return count


@kernel
def discard(p: Numbers, s: State, card: int) -> int:
    """The seat discards a card of its hand to its owner's discard pile. The event belongs to that seat."""
    seat = s.ctrl[card]
    emit(p, s, k.E_DISCARDED, seat, card, 0, 0)
    move(p, s, card, k.DISCARD_PILE, s.owner[card], 0)
    s.ctrl[card] = seat
    about_card(p, s, k.ON_DISCARDED, card, k.NONE)
    s.ctrl[card] = s.owner[card]
    return 1


@kernel
def seat_out(p: Numbers, s: State, seat: int) -> int:
    """A seat has lost and is out of the match."""
    if s.out[seat]:
        return 0
    s.out[seat] = 1
    s.changed = 1
    emit(p, s, k.E_OUT, seat, k.NONE, 0, 0)
    return 1


@kernel
def draw(p: Numbers, s: State, seat: int) -> int:
    """Draw one card. An empty pile is reshuffled, loses the match, or gives nothing, by the rulebook."""
    if s.out[seat]:
        return 0
    pile = slot_of(p, s, k.DRAW_PILE, seat)
    if s.ztail[pile] < 0 and p[k.H_EMPTY] == k.EMPTY_RESHUFFLE and held(p, s, k.DISCARD_PILE, seat) > 0:
        if p[k.H_RESHUFFLES] < 0 or s.reshuffled[seat] < p[k.H_RESHUFFLES]:
            s.reshuffled[seat] += 1
            emit(p, s, k.E_RESHUFFLED, seat, k.NONE, held(p, s, k.DISCARD_PILE, seat), 0)
            card = s.ztail[slot_of(p, s, k.DISCARD_PILE, seat)]
            while card >= 0:
                move(p, s, card, k.DRAW_PILE, seat, 0)
                card = s.ztail[slot_of(p, s, k.DISCARD_PILE, seat)]
            shuffle(p, s, k.DRAW_PILE, seat)
    card = s.ztail[pile]
    if card < 0:
        emit(p, s, k.E_NO_CARD, seat, k.NONE, 0, 0)
        if p[k.H_EMPTY] == k.EMPTY_LOSE:
            seat_out(p, s, seat)
        return 0
    if not has_room(p, s, k.HAND, seat):
        emit(p, s, k.E_FULL, seat, card, k.HAND, 0)
        return 0
    move(p, s, card, k.HAND, seat, 0)
    s.drawn[card] += 1
    emit(p, s, k.E_DREW, seat, card, 0, 0)
    return about_card(p, s, k.ON_DRAWN, card, k.NONE)


@kernel
def lose(p: Numbers, s: State, seat: int, what: int, number: int, kind: int, card: int) -> int:
    """Take from a resource up to the amount available. Returns the amount taken."""
    at = resource_slot(p, s, what, seat)
    gone = number if number < s.res[at] else s.res[at]
    s.res[at] -= gone
    if kind == k.E_PAID:
        emit(p, s, kind, seat, card, what, gone)
    else:
        emit(p, s, kind, seat, k.NONE, what, gone)
    if gone:
        s.changed = 1
        shared = p[p[k.H_RESOURCE_ROWS] + what * k.RESOURCE_WIDTH + k.Q_STRIDE] == 0
        about_total(p, s, what, k.NONE if shared else seat, s.res[at] + gone, s.res[at])
    return gone


@kernel
def common_sum(p: Numbers, s: State, common: int, seat: int) -> int:
    """The total of all resources of a seat under a shared cap."""
    total = 0
    for what in range(p[k.H_RESOURCES]):
        if p[p[k.H_RESOURCE_ROWS] + what * k.RESOURCE_WIDTH + k.Q_TOGETHER] == common:
            total += s.res[resource_slot(p, s, what, seat)]
    return total


@kernel
def gain(p: Numbers, s: State, seat: int, what: int, number: int) -> int:
    """Add to a resource up to its caps. The excess is lost, or the seat chooses what to return."""
    row = p[k.H_RESOURCE_ROWS] + what * k.RESOURCE_WIDTH
    at = resource_slot(p, s, what, seat)
    before = s.res[at]
    most = p[row + k.Q_CAP] if p[row + k.Q_CAP] >= 0 else k.MOST_NUMBER
    common = p[row + k.Q_TOGETHER]
    cap = p[k.H_COMMON_ROWS] + common * k.COMMON_WIDTH
    if common >= 0 and not p[cap + k.N_CHOICE]:
        room = p[cap + k.N_CAP] - common_sum(p, s, common, seat) + before
        most = room if room < most else most
    more = most - before
    more = more if more < number else number
    if more < 0:
        more = 0
    s.res[at] += more
    if more:
        s.changed = 1
        emit(p, s, k.E_GAINED, seat, k.NONE, what, more)
    if more < number:
        emit(p, s, k.E_CAPPED, seat, k.NONE, what, number - more)
    if more:
        shared = p[row + k.Q_STRIDE] == 0
        about_total(p, s, what, k.NONE if shared else seat, before, before + more)
        if common >= 0 and p[cap + k.N_CHOICE]:
            over = common_sum(p, s, common, seat) - p[cap + k.N_CAP]
            if over > 0:
                frame = push(p, s, p[k.H_OVER], k.NONE, k.NONE, seat, k.NONE)
                s.fr[frame + k.F_EACH] = common
    return more


@kernel
def taken(p: Numbers, s: State, card: int, before: int) -> int:
    """The seat that has just taken a card from a shared zone gains the tokens that buyers left on it, and the
    effects of being gained are queued. `before`: the zone that it was in.
    """
    if not is_shared(p, s, before) or is_shared(p, s, s.zone[card]):
        return 0
    tokens = s.tokens_on[card]
    if tokens:
        s.tokens_on[card] = 0
        gain(p, s, s.owner[card], s.token_of[card], tokens)
    return about_card(p, s, k.ON_GAINED, card, k.NONE)


@kernel
def create(p: Numbers, s: State, made: int, seat: int) -> int:
    """Create a token of a definition on a seat's side. Returns the card, or -1 without a free place."""
    free = slot_of(p, s, k.FREE, 0)
    card = s.zhead[free]
    if card < 0 or not has_room(p, s, k.IN_PLAY, seat):
        emit(p, s, k.E_FULL, seat, k.NONE, k.IN_PLAY, 1)
        return k.NONE
    s.cdef[card] = made
    s.owner[card] = seat
    s.token[card] = 1
    s.drawn[card] = 0
    s.played[card] = 0
    emit(p, s, k.E_CREATED, seat, card, made, 0)
    enter(p, s, card, seat)
    return card


@kernel
def holder(p: Numbers, s: State, card: int) -> int:
    """The seat whose zone a card is in; NOBODY in a shared zone."""
    zone = s.zone[card]
    return k.NOBODY if is_shared(p, s, zone) else s.slot[card] - slot_of(p, s, zone, 0)


@kernel
def sweep(p: Numbers, s: State) -> int:
    """When nothing resolves: cards that left have printed values again, and slots of tokens become free."""
    if s.departed == 0:
        return 0
    s.departed = 0
    for card in range(s.cards):
        if s.seen[card]:
            s.seen[card] = 0
            s.ctrl[card] = holder(p, s, card)
    for seat in range(s.seats):
        card = s.zhead[slot_of(p, s, k.GONE, seat)]
        while card >= 0:
            unlink(p, s, card)
            link(p, s, card, k.FREE, 0, 0)
            card = s.zhead[slot_of(p, s, k.GONE, seat)]
    return 0


@kernel
def unhosted(p: Numbers, s: State) -> int:
    """Cards whose host has left go to the discard pile, together. Returns their number."""
    s.nleft = 0
    for step in range(s.seats):
        card = s.zhead[slot_of(p, s, k.IN_PLAY, (s.active + step) % s.seats)]
        while card >= 0:
            host = s.host[card]
            # A host that left and returned is another card: it arrived later than the attached card.
            if host >= 0 and (s.zone[host] != k.IN_PLAY or s.arrival[host] > s.arrival[card]):
                s.left[s.nleft] = card
                s.nleft += 1
            card = s.next[card]
    if s.nleft == 0:
        return 0
    return leave_together(p, s, k.E_LEFT, k.DISCARD_PILE, k.S_ANY, 0, 0)


@kernel
def alone(p: Numbers, s: State) -> int:
    """The number of seats still in the match."""
    still = 0
    for seat in range(s.seats):
        still += 0 if s.out[seat] else 1
    return still
