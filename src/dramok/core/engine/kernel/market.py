"""Markets: prices, buying, refilling rows; counters on cards."""

from __future__ import annotations

from dramok.core.engine.kernel import codes as k
from dramok.core.engine.kernel.amounts import evaluate_words, resource_slot
from dramok.core.engine.kernel.kernel_function import kernel
from dramok.core.engine.kernel.moves import enter, entered, has_room, lose, taken
from dramok.core.engine.kernel.state import Numbers, State
from dramok.core.engine.kernel.triggers import push_pending
from dramok.core.engine.kernel.zones import emit, link, move, slot_of, unlink


@kernel
def counters_price(p: Numbers, s: State, card: int) -> int:
    """What the counters on a card add to its price."""
    total = 0
    for which in range(p[k.H_COUNTERS]):
        total += s.counter[card * k.MOST_COUNTERS + which] * p[p[k.H_COUNTER_ROWS] + which * k.COUNTER_WIDTH + k.COUNTER_PRICE]
    return total


@kernel
def lower_price(p: Numbers, s: State, market: int, seat: int) -> int:
    """By how much a market is cheaper for a seat now."""
    words = p[p[k.H_MARKET_ROWS] + market * k.MARKET_WIDTH + k.J_LESS]
    return 0 if words < 0 else evaluate_words(p, s, words, k.NONE, seat, k.NONE, k.NONE, 0)


@kernel
def price_of(p: Numbers, s: State, market: int, card: int, place: int, seat: int) -> int:
    """The price of a card of a market for a seat, at a place of its row, the oldest being 0; -1: not for sale."""
    row = p[k.H_MARKET_ROWS] + market * k.MARKET_WIDTH
    price = p[p[k.H_PRICES] + s.cdef[card] * p[k.H_MARKETS] + market]
    if price < 0:
        return -1
    places = p[row + k.J_PLACES]
    if places:
        price += p[p[row + k.J_BY_PLACE] + (place if place < places else places - 1)]
    price += counters_price(p, s, card) - lower_price(p, s, market, seat)
    return price if price > 0 else 0


@kernel
def can_pay(p: Numbers, s: State, market: int, price: int, place: int, seat: int) -> int:
    """Whether a seat can pay the price, and the passing cost of the cards before that place."""
    row = p[k.H_MARKET_ROWS] + market * k.MARKET_WIDTH
    passing = p[row + k.J_PASSING]
    left = place * p[row + k.J_EACH] if passing >= 0 else 0
    if passing == p[row + k.J_PAYS]:
        price += left
        left = 0
    if s.res[resource_slot(p, s, p[row + k.J_PAYS], seat)] < price:
        return 0
    return 1 if left == 0 or s.res[resource_slot(p, s, passing, seat)] >= left else 0


@kernel
def sold_out(p: Numbers, s: State, market: int, seat: int) -> int:
    """Whether a seat can buy nothing of a market any more this turn, or has no place for it."""
    row = p[k.H_MARKET_ROWS] + market * k.MARKET_WIDTH
    if p[row + k.J_MOST] >= 0 and s.bought[market] >= p[row + k.J_MOST]:
        return 1
    return 0 if has_room(p, s, p[row + k.J_GOES], seat) else 1


@kernel
def place_in_row(p: Numbers, s: State, card: int) -> int:
    """The number of cards of its zone before a card."""
    place = 0
    other = s.prev[card]
    while other >= 0:
        place += 1
        other = s.prev[other]
    return place


@kernel
def buy(p: Numbers, s: State, card: int, market: int, seat: int) -> int:
    """Pay for a card of a market and take it: it belongs to the buyer from then on."""
    row = p[k.H_MARKET_ROWS] + market * k.MARKET_WIDTH
    place = place_in_row(p, s, card)
    price = price_of(p, s, market, card, place, seat)
    emit(p, s, k.E_BOUGHT, seat, card, price, market)
    s.bought[market] += 1
    s.sold[card] += 1
    s.deeds += 1
    if price:
        lose(p, s, seat, p[row + k.J_PAYS], price, k.E_PAID, card)
    if p[row + k.J_PASSING] >= 0:
        other = s.prev[card]
        while other >= 0:
            lose(p, s, seat, p[row + k.J_PASSING], p[row + k.J_EACH], k.E_PAID, other)
            s.tokens_on[other] += p[row + k.J_EACH]
            s.token_of[other] = p[row + k.J_PASSING]
            emit(p, s, k.E_PASSED_OVER, seat, other, p[row + k.J_PASSING], p[row + k.J_EACH])
            other = s.prev[other]
    if p[row + k.J_GOES] == k.IN_PLAY:
        if enter(p, s, card, seat):
            entered(p, s, card)
    else:
        move(p, s, card, p[row + k.J_GOES], seat, 0)
    taken(p, s, card, p[row + k.J_ZONE])
    return push_pending(p, s)


@kernel
def refill(p: Numbers, s: State, phase: int) -> int:
    """Fill the free places of every row from the top of its source: at once, or (`phase`) by a phase action."""
    s.gap = 0
    for zone in range(k.OWN_ZONES, p[k.H_ZONES]):
        row = p[k.H_ZONE_ROWS] + zone * k.ZONE_WIDTH
        source = p[row + k.Z_SOURCE]
        when = p[row + k.Z_REFILL]
        if p[row + k.Z_KIND] == k.KIND_ROW and source >= 0 and (when == k.REFILL_AT_ONCE or phase and when == k.REFILL_PHASE or s.turn == 0):
            at = slot_of(p, s, zone, 0)
            while s.zcount[at] < p[row + k.Z_PLACES]:
                card = s.ztail[slot_of(p, s, source, 0)]
                if card < 0:
                    break
                unlink(p, s, card)
                link(p, s, card, zone, 0, 0)
                emit(p, s, k.E_REFILLED, s.active, card, zone, source)
                s.changed = 1
    return 1


@kernel
def do_rows(p: Numbers, s: State, pc: int, f: int) -> int:
    """The rows that wait for it are refilled."""
    return refill(p, s, 1)


@kernel
def do_counters(p: Numbers, s: State, pc: int, f: int) -> int:
    """Every counter grows by 1 on each card in its zones: in each turn, or only in the first of a round."""
    if p[pc + k.I_X]:
        for seat in range(s.active):
            if not s.out[seat]:
                return 1
    for which in range(p[k.H_COUNTERS]):
        zones = p[p[k.H_COUNTER_ROWS] + which * k.COUNTER_WIDTH + k.COUNTER_ZONES]
        for card in range(s.cards):
            if (zones >> s.zone[card]) & 1:
                at = card * k.MOST_COUNTERS + which
                if s.counter[at] < k.MOST_NUMBER:
                    s.counter[at] += 1
                emit(p, s, k.E_GREW, s.active, card, which, s.counter[at])
                s.changed = 1
                s.dirty = 1
    return 1


@kernel
def lapse(p: Numbers, s: State, seat: int) -> int:
    """A seat loses what is left of the resources that last for a turn. It triggers nothing."""
    for what in range(p[k.H_RESOURCES]):
        at = resource_slot(p, s, what, seat)
        if p[p[k.H_RESOURCE_ROWS] + what * k.RESOURCE_WIDTH + k.Q_LAPSES] and s.res[at]:
            emit(p, s, k.E_LAPSED, seat, k.NONE, what, s.res[at])
            s.res[at] = 0
            s.changed = 1
    return 0

