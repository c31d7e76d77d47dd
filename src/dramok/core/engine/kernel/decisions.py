"""The options of a seat as rows; playing cards and using effects."""

from __future__ import annotations

from dramok.core.engine.kernel import codes as k
from dramok.core.engine.kernel.ability_flow import can_afford, condition_holds, limit_left, pay
from dramok.core.engine.kernel.amounts import belongs, definition, resource_slot
from dramok.core.engine.kernel.clash import may_answer, may_be_answered, may_clash
from dramok.core.engine.kernel.kernel_function import kernel
from dramok.core.engine.kernel.market import can_pay, price_of, sold_out
from dramok.core.engine.kernel.moves import create, enter, entered, has_room, lose, sweep
from dramok.core.engine.kernel.state import Numbers, State
from dramok.core.engine.kernel.targets import ask_picks, candidates
from dramok.core.engine.kernel.triggers import about_card, has_key, pop, push, push_pending
from dramok.core.engine.kernel.turn import ask_answers
from dramok.core.engine.kernel.zones import emit, held, move, slot_of


@kernel
def offer(p: Numbers, s: State, kind: int, a: int, b: int) -> int:
    """Add one option. Too many end the match."""
    if s.options >= k.MOST_OPTIONS:
        s.full = k.FULL_LIST
        return 0
    s.optk[s.options] = kind
    s.opta[s.options] = a
    s.optb[s.options] = b
    s.options += 1
    return 1


@kernel
def hosts(p: Numbers, s: State, card: int, seat: int, lists: int) -> int:
    """The number of cards in play to which a card can be attached; listed as options on request."""
    group = p[definition(p, s, card) + k.D_HOSTS]
    found = 0
    for step in range(s.seats):
        other = s.zhead[slot_of(p, s, k.IN_PLAY, (s.active + step) % s.seats)]
        while other >= 0:
            barred = s.ctrl[other] != seat and s.forbids[other] & k.F_CHOOSING
            if not barred and belongs(p, s, group, other, s.ctrl[other], card, seat, 0):
                found += 1
                if lists:
                    offer(p, s, k.D_PICK, other, k.NONE)
            other = s.next[other]
    return found


@kernel
def cost_of(p: Numbers, s: State, card: int) -> int:
    cost = p[definition(p, s, card) + k.D_COST]
    return cost if cost > 0 else 0


@kernel
def can_play(p: Numbers, s: State, card: int, seat: int, types: int) -> int:
    """Whether a card in hand can be played now: of a type of the phase, affordable, with a free place, and with
    a host if needed.
    """
    d = definition(p, s, card)
    if types and not types & p[d + k.D_TYPE_BIT]:
        return 0
    if p[k.H_PAYS] >= 0 and s.res[resource_slot(p, s, p[k.H_PAYS], seat)] < cost_of(p, s, card):
        return 0
    after = p[d + k.D_AFTER]
    if after == k.AFTER_ATTACHED and hosts(p, s, card, seat, 0) == 0:
        return 0
    return 1 if after == k.AFTER_DISCARD or has_room(p, s, k.IN_PLAY, seat) else 0


@kernel
def can_use(p: Numbers, s: State, ability: int, card: int, seat: int) -> int:
    if p[ability + k.B_CUE] != k.OFFER or not has_key(p, s, card, ability) or not limit_left(p, s, card, ability):
        return 0
    return can_afford(p, s, p[ability + k.B_COST], card, seat) and condition_holds(p, s, ability, card, seat, k.NONE)


@kernel
def list_purchases(p: Numbers, s: State, market: int, seat: int) -> int:
    """The cards of a market that a seat can pay for: each card of a row, one of each kind of a supply, the top
    card of a pile.
    """
    if sold_out(p, s, market, seat):
        return 0
    zone = p[p[k.H_MARKET_ROWS] + market * k.MARKET_WIDTH + k.J_ZONE]
    kind = p[p[k.H_ZONE_ROWS] + zone * k.ZONE_WIDTH + k.Z_KIND]
    at = slot_of(p, s, zone, 0)
    card = s.ztail[at] if kind == k.KIND_PILE else s.zhead[at]
    place = 0
    while card >= 0:
        first = kind != k.KIND_SUPPLY or s.prev[card] < 0 or s.cdef[s.prev[card]] != s.cdef[card]
        if first:
            price = price_of(p, s, market, card, place, seat)
            if price >= 0 and can_pay(p, s, market, price, place, seat):
                offer(p, s, k.D_BUY, card, market)
        place += 1
        card = s.next[card]
    return 0


@kernel
def list_uses(p: Numbers, s: State, card: int, seat: int) -> int:
    """The effects of a card in play, or of an action of the rules, that a seat can use now."""
    d = definition(p, s, card)
    if p[d + k.D_OFFERS]:
        for place in range(p[d + k.D_COUNT]):
            ability = p[d + k.D_ABILITIES] + place * k.ABILITY_WIDTH
            if can_use(p, s, ability, card, seat):
                offer(p, s, k.D_USE, card, place)
    return 0


@kernel
def list_actions(p: Numbers, s: State, pc: int, seat: int) -> int:
    """The actions in a phase of play: play cards, use effects; manual moves if the rulebook allows everything."""
    hand = slot_of(p, s, k.HAND, seat)
    field = slot_of(p, s, k.IN_PLAY, seat)
    may = p[pc + k.I_X]
    may_play = may & k.MAY_PLAY and (p[pc + k.I_MOST] == 0 or s.acted < p[pc + k.I_MOST])
    card = s.zhead[hand]
    while card >= 0:
        if may_play and can_play(p, s, card, seat, p[pc + k.I_GROUP]):
            offer(p, s, k.D_PLAY, card, k.NONE)
        card = s.next[card]
    if may & k.MAY_USE:
        card = s.zhead[field]
        while card >= 0:
            list_uses(p, s, card, seat)
            card = s.next[card]
        for action in range(p[k.H_ACTIONS]):
            list_uses(p, s, s.first_action + seat * p[k.H_ACTIONS] + action, seat)
    if may & k.MAY_BUY:
        for market in range(p[k.H_MARKETS]):
            list_purchases(p, s, market, seat)
    if p[k.H_FREE]:
        card = s.zhead[hand]
        while card >= 0:
            offer(p, s, k.D_DISCARD, card, k.NONE)
            card = s.next[card]
        card = s.zhead[field]
        while card >= 0:
            offer(p, s, k.D_DISMISS, card, k.NONE)
            card = s.next[card]
        refills = p[k.H_EMPTY] == k.EMPTY_RESHUFFLE and held(p, s, k.DISCARD_PILE, seat) > 0
        if held(p, s, k.DRAW_PILE, seat) > 0 or refills:
            offer(p, s, k.D_DRAW, k.NONE, k.NONE)
    # Of exactly one action nobody can make none, if one is possible.
    if p[pc + k.I_Y] == 0 or s.options == 0:
        offer(p, s, k.D_END_TURN, k.NONE, k.NONE)
    return 0


@kernel
def picked(p: Numbers, s: State, card: int) -> int:
    for place in range(s.npick):
        if s.pick[place] == card:
            return 1
    return 0


@kernel
def list_picks(p: Numbers, s: State, pc: int, f: int) -> int:
    candidates(p, s, pc, f)
    for place in range(s.ntarget):
        if not picked(p, s, s.target[place]):
            offer(p, s, k.D_PICK, s.target[place], k.NONE)
    if s.npick >= s.pick_least:
        offer(p, s, k.D_DONE, k.NONE, k.NONE)
    return 0


@kernel
def list_answers(p: Numbers, s: State, seat: int, rival: int) -> int:
    answerer = s.zhead[slot_of(p, s, k.IN_PLAY, rival)]
    while answerer >= 0:
        if may_answer(p, s, answerer):
            card = s.zhead[slot_of(p, s, k.IN_PLAY, seat)]
            while card >= 0:
                if may_be_answered(p, s, card):
                    offer(p, s, k.D_ANSWER, answerer, card)
                card = s.next[card]
        answerer = s.next[answerer]
    offer(p, s, k.D_DONE, k.NONE, k.NONE)
    return 0


@kernel
def list_options(p: Numbers, s: State) -> int:
    """List every option of the seat to move in rows; returns their number. The same moment has the same rows."""
    s.options = 0
    if s.over or s.wait == k.W_NOTHING or s.wait == k.W_DRAIN:
        return 0
    f = (s.top - 1) * k.FRAME
    pc = s.fr[f + k.F_PC]
    seat = s.whose
    if s.wait == k.W_ACTION:
        list_actions(p, s, pc, seat)
    elif s.wait == k.W_PICK or s.wait == k.W_DECLARE:
        list_picks(p, s, pc, f)
        if s.wait == k.W_DECLARE:
            offer(p, s, k.D_CANCEL, k.NONE, k.NONE)
    elif s.wait == k.W_HOST:
        hosts(p, s, s.declaring, seat, 1)
        offer(p, s, k.D_CANCEL, k.NONE, k.NONE)
    elif s.wait == k.W_DISCARD or s.wait == k.W_LIMIT:
        card = s.zhead[slot_of(p, s, k.HAND, seat)]
        while card >= 0:
            offer(p, s, k.D_DISCARD, card, k.NONE)
            card = s.next[card]
    elif s.wait == k.W_MAY:
        offer(p, s, k.D_YES, k.NONE, k.NONE)
        offer(p, s, k.D_NO, k.NONE, k.NONE)
    elif s.wait == k.W_CHOOSE:
        for place in range(p[pc + k.I_Y]):
            if not picked(p, s, place):
                offer(p, s, k.D_OPTION, k.NONE, place)
    elif s.wait == k.W_SEND:
        card = s.zhead[slot_of(p, s, k.IN_PLAY, seat)]
        while card >= 0:
            if may_clash(p, s, card):
                offer(p, s, k.D_SEND, card, k.NONE)
            card = s.next[card]
        offer(p, s, k.D_DONE, k.NONE, k.NONE)
    elif s.wait == k.W_ANSWER:
        list_answers(p, s, s.fr[f + k.F_SEAT], seat)
    elif s.wait == k.W_REDRAW:
        if p[k.H_REDRAW] == k.REDRAW_HAND:
            offer(p, s, k.D_KEEP, k.NONE, k.NONE)
            offer(p, s, k.D_REDRAW, k.NONE, k.NONE)
        else:
            card = s.zhead[slot_of(p, s, k.HAND, seat)]
            while card >= 0:
                if not picked(p, s, card):
                    offer(p, s, k.D_PICK, card, k.NONE)
                card = s.next[card]
            offer(p, s, k.D_DONE, k.NONE, k.NONE)
    elif s.wait == k.W_ANSWER_PLAY:
        card = s.zhead[slot_of(p, s, k.HAND, seat)]
        while card >= 0:
            if can_play(p, s, card, seat, p[pc + k.I_GROUP]):
                offer(p, s, k.D_PLAY, card, k.NONE)
            card = s.next[card]
        offer(p, s, k.D_DONE, k.NONE, k.NONE)
    elif s.wait == k.W_OVER:
        for what in range(p[k.H_RESOURCES]):
            common = p[p[k.H_RESOURCE_ROWS] + what * k.RESOURCE_WIDTH + k.Q_TOGETHER]
            if common == s.fr[f + k.F_EACH] and s.res[resource_slot(p, s, what, seat)] > 0:
                offer(p, s, k.D_GIVE, k.NONE, what)
    return s.options


@kernel
def play(p: Numbers, s: State, card: int, seat: int, host: int, that: int, declared: int) -> int:
    """Pay for a card in hand and play it: effects of being played come before effects of entering."""
    emit(p, s, k.E_PLAYED, seat, card, 0, 0)
    s.played[card] += 1
    s.acted += 1
    s.deeds += 1
    d = definition(p, s, card)
    cost = cost_of(p, s, card)
    if p[k.H_PAYS] >= 0 and cost:
        lose(p, s, seat, p[k.H_PAYS], cost, k.E_PAID, card)
    push(p, s, p[k.H_AFTER_PLAY], card, k.NONE, seat, k.NONE)
    after = p[d + k.D_AFTER]
    came = k.NONE
    if after == k.AFTER_DISCARD or after == k.AFTER_FIGURE:
        move(p, s, card, k.RESOLVING, seat, 0)
        if after == k.AFTER_FIGURE:
            came = create(p, s, s.cdef[card], seat)
    elif enter(p, s, card, seat):
        came = card
        if after == k.AFTER_ATTACHED:
            s.host[card] = host
            emit(p, s, k.E_ATTACHED, seat, card, host, 0)
    if declared:
        s.declared = s.npend + 1
    about_card(p, s, k.ON_PLAY, card, that)
    if came >= 0:
        entered(p, s, came)
    push_pending(p, s)
    s.declared = 0
    return ask_answers(p, s, card, seat)


@kernel
def first_pick(p: Numbers, s: State, card: int, seat: int) -> int:
    """The first step of the card's first play effect, if it is a pick: that is declared with the play. Otherwise -1."""
    d = definition(p, s, card)
    for place in range(p[d + k.D_COUNT]):
        ability = p[d + k.D_ABILITIES] + place * k.ABILITY_WIDTH
        if p[ability + k.B_CUE] == k.ON_PLAY and p[ability + k.B_OF] < 0 and has_key(p, s, card, ability):
            pc = p[ability + k.B_CODE] + k.WIDTH
            picks = p[pc + k.I_MODE] == k.T_PICK and p[pc + k.I_OP] != k.V_SEARCH and p[pc + k.I_OP] <= k.V_SHUFFLE
            if picks and condition_holds(p, s, ability, card, seat, k.NONE):
                return pc
            return k.NONE
    return k.NONE


@kernel
def declare(p: Numbers, s: State, card: int, seat: int, that: int) -> int:
    """A play that begins with a pick asks for it before anything is paid or moved; an attached card asks for
    its host.
    """
    if p[definition(p, s, card) + k.D_AFTER] == k.AFTER_ATTACHED:
        s.declaring = card
        s.wait = k.W_HOST
        s.whose = seat
        s.answering = that
        return 0
    pc = first_pick(p, s, card, seat)
    if pc >= 0:
        f = push(p, s, pc, card, k.NONE, seat, k.NONE)
        s.declaring = card
        found = candidates(p, s, pc, f)
        if found > 0:
            ask_picks(p, s, p[pc + k.I_LEAST], p[pc + k.I_MOST], found, seat, k.W_DECLARE)
            s.answering = that
            return 0
        s.declaring = k.NONE
        pop(p, s)
    return play(p, s, card, seat, k.NONE, that, 0)


@kernel
def use(p: Numbers, s: State, card: int, place: int, seat: int) -> int:
    """Pay for an offered effect of a card in play, and run it."""
    ability = p[definition(p, s, card) + k.D_ABILITIES] + place * k.ABILITY_WIDTH
    emit(p, s, k.E_USED, seat, card, place, 0)
    s.deeds += 1
    before = s.inc[card]
    frame = push(p, s, p[ability + k.B_CODE], card, k.NONE, seat, ability)
    pay(p, s, p[ability + k.B_COST], card, seat)
    if s.inc[card] != before:
        # The card was the price: the effect still refers to it in its new place.
        s.fr[frame + k.F_THIS_INC] = s.inc[card]
    return 0


@kernel
def do_ask(p: Numbers, s: State, pc: int, f: int) -> int:
    """Time to act for the frame's seat. If everything is allowed, a hand over the limit comes first."""
    seat = s.fr[f + k.F_SEAT]
    sweep(p, s)
    s.steps = 0
    over = held(p, s, k.HAND, seat) - p[k.H_HAND_LIMIT]
    if p[k.H_FREE] and p[k.H_HAND_LIMIT] >= 0 and over > 0:
        emit(p, s, k.E_OVER_LIMIT, seat, k.NONE, over, p[k.H_HAND_LIMIT])
        s.wait = k.W_LIMIT
    elif p[pc + k.I_Y] and s.deeds:
        s.deeds = 0
        return 1
    else:
        s.wait = k.W_ACTION
    s.whose = seat
    return 0


@kernel
def do_answers(p: Numbers, s: State, pc: int, f: int) -> int:
    """Ask the other seats in turn whether they answer the play of the frame's card; seats without such a card
    are skipped.
    """
    seat = s.fr[f + k.F_SEAT]
    while s.fr[f + k.F_CURSOR] < s.seats - 1:
        other = (seat + 1 + s.fr[f + k.F_CURSOR]) % s.seats
        if not s.out[other]:
            card = s.zhead[slot_of(p, s, k.HAND, other)]
            while card >= 0:
                if can_play(p, s, card, other, p[pc + k.I_GROUP]):
                    s.wait = k.W_ANSWER_PLAY
                    s.whose = other
                    return 0
                card = s.next[card]
        s.fr[f + k.F_CURSOR] += 1
    pop(p, s)
    return 0
