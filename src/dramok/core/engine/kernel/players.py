"""Automatic players. They use only what their seat can see, and choose a row of the options.

`plain` takes the row with the best score; `ahead` tries each on a copy in which everything hidden from its seat
is dealt again.
"""

from __future__ import annotations

from dramok.core.engine.kernel import codes as k
from dramok.core.engine.kernel.amounts import definition, evaluate_words, resource_slot
from dramok.core.engine.kernel.clash import power
from dramok.core.engine.kernel.evaluation import (
    block_value,
    host_value,
    on_card,
    own_value,
    play_value,
    plays_left,
    use_value,
    worth,
    yield_value,
)
from dramok.core.engine.kernel.kernel_function import kernel
from dramok.core.engine.kernel.market import place_in_row, price_of
from dramok.core.engine.kernel.scoring import total_score
from dramok.core.engine.kernel.state import Numbers, State
from dramok.core.engine.kernel.zones import next_seat, slot_of


@kernel
def owned_value(p: Numbers, s: State, seat: int) -> int:
    """The value of all cards that a seat owns until the end of the match, and of its score so far."""
    total = 0
    for card in range(s.cards):
        if s.owner[card] == seat and (s.zone[card] <= k.IN_PLAY or s.zone[card] == k.RESOLVING):
            total += yield_value(p, s, card, seat)
    return 48 * total_score(p, s, seat) + total * plays_left(p, s, seat) // 2


@kernel
def seat_score(p: Numbers, s: State, seat: int) -> int:
    """The score of a seat: totals, hand and cards in play, minus those of its rivals."""
    total = 0
    for other in range(s.seats):
        sign = 4 if other == seat else -4
        mine = 0
        for what in range(p[k.H_RESOURCES]):
            if p[p[k.H_RESOURCE_ROWS] + what * k.RESOURCE_WIDTH + k.Q_STRIDE]:
                mine += 4 * p[p[k.H_VALUE_RESOURCE] + what] * s.res[resource_slot(p, s, what, other)]
        mine += 4 * p[k.H_VALUE_HAND] * s.zcount[slot_of(p, s, k.HAND, other)]
        if p[k.H_MARKETS]:
            mine += owned_value(p, s, other)
        card = s.zhead[slot_of(p, s, k.IN_PLAY, other)]
        while card >= 0:
            mine += worth(p, s, card) * 4 - s.tilted[card]
            card = s.next[card]
        if s.out[other]:
            mine -= 100_000
        total += mine * sign
    if s.over and s.winner == seat:
        total += 1_000_000
    elif s.over and s.winner >= 0:
        total -= 1_000_000
    return total


@kernel
def wishes(p: Numbers, s: State, pc: int, f: int, seat: int, card: int) -> int:
    """The score of applying the step at `pc` to a card."""
    number = p[pc + k.I_AMT]
    if p[pc + k.I_AIS] != k.A_NUMBER:
        number = evaluate_words(p, s, number, s.fr[f + k.F_THIS], seat, s.fr[f + k.F_THAT], card, 0)
    score = on_card(p, s, pc, card, number, seat)
    if score == 0 and p[pc + k.I_WISH] == k.WISHES + 1 or p[pc + k.I_OP] == k.V_SEARCH:
        # The sign is 0, or the step searches: take the better card.
        return worth(p, s, card)
    if p[pc + k.I_OP] == k.V_DEAL and score >= worth(p, s, card) and s.ctrl[card] != seat:
        # Destroying a card is better than damaging a more valuable one.
        score += 20
    return score


@kernel
def answer_score(p: Numbers, s: State, answerer: int, sent: int) -> int:
    """The score of an answer: what it stops and destroys, minus what it loses."""
    strength = power(p, s, sent)
    against = power(p, s, answerer)
    score = strength * 3
    if p[k.H_UNANSWERED] and p[k.H_TOTAL] >= 0:
        stopped = strength if p[k.H_POINTS] == k.POINTS_STAT else 1
        if p[k.H_EXCESS] == k.EXCESS_THROUGH and against < stopped:
            stopped = against
        score = stopped * (p[p[k.H_VALUE_RESOURCE] + p[k.H_TOTAL]] if p[k.H_TOTAL] >= 0 else 1)
    if p[k.H_CLASH_HURTS] and p[k.H_BEARS] >= 0:
        mine = s.stat[answerer * k.MOST_STATS + p[k.H_BEARS]] - s.damage[answerer]
        theirs = s.stat[sent * k.MOST_STATS + p[k.H_BEARS]] - s.damage[sent]
        if strength >= mine:
            score -= worth(p, s, answerer)
        if against >= theirs:
            score += worth(p, s, sent)
    return score


@kernel
def send_score(p: Numbers, s: State, card: int, seat: int) -> int:
    """The score of sending a card: its result, minus that of its best answer."""
    rival = next_seat(p, s, seat)
    strength = power(p, s, card)
    worst = 0
    ready = 0
    other = s.zhead[slot_of(p, s, k.IN_PLAY, rival)]
    while other >= 0:
        if not s.tilted[other] and power(p, s, other) >= 0:
            ready += 1
            if p[k.H_CLASH_HURTS] and p[k.H_BEARS] >= 0:
                mine = s.stat[card * k.MOST_STATS + p[k.H_BEARS]] - s.damage[card]
                theirs = s.stat[other * k.MOST_STATS + p[k.H_BEARS]] - s.damage[other]
                if power(p, s, other) >= mine and strength < theirs:
                    worst = worth(p, s, card)
        other = s.next[other]
    return strength * 4 + 1 - (worst if ready else 0)


@kernel
def play_score(p: Numbers, s: State, card: int, seat: int) -> int:
    """The score of playing a card: higher costs first.

    A card that harms its player scores 0 unless the rest of its effect is worth more.
    """
    d = definition(p, s, card)
    if p[d + k.D_RISK]:
        value = play_value(p, s, card, seat)
        if value < 0 or value == 0 and p[d + k.D_AFTER] == k.AFTER_DISCARD:
            return 0
    return 100_000 + p[d + k.D_VALUE]


@kernel
def buy_score(p: Numbers, s: State, card: int, market: int, seat: int) -> int:
    """The score of buying a card: its value to the end of the match; of equal ones the dearer. A worthless card is
    left.
    """
    value = own_value(p, s, card, seat)
    if value <= 0:
        return 0
    price = price_of(p, s, market, card, place_in_row(p, s, card), seat)
    return 11 + (value if value < 2_000 else 2_000) * 10 + (price if price < 10 else 9)


@kernel
def score_row(p: Numbers, s: State, row: int) -> int:
    """The score of a row of the options."""
    kind = s.optk[row]
    a = s.opta[row]
    b = s.optb[row]
    seat = s.whose
    f = (s.top - 1) * k.FRAME
    pc = s.fr[f + k.F_PC]
    if s.wait == k.W_ACTION or s.wait == k.W_ANSWER_PLAY:
        if kind == k.D_PLAY:
            return play_score(p, s, a, seat)
        if kind == k.D_USE:
            value = use_value(p, s, a, b, seat)
            return 50_000 + (value if value < 30 else 30) if value > 0 else 0
        if kind == k.D_BUY:
            return buy_score(p, s, a, b, seat)
        return 10 if kind == k.D_END_TURN or kind == k.D_DONE else 0
    if s.wait == k.W_PICK or s.wait == k.W_DECLARE:
        if kind == k.D_PICK:
            return wishes(p, s, pc, f, seat, a)
        return 0 if kind == k.D_DONE else -1_000
    if s.wait == k.W_HOST:
        return host_value(p, s, s.declaring, a, seat) if kind == k.D_PICK else -10_000
    if s.wait == k.W_DISCARD or s.wait == k.W_LIMIT:
        return -p[definition(p, s, a) + k.D_VALUE]
    if s.wait == k.W_REDRAW:
        if kind == k.D_KEEP or kind == k.D_DONE:
            return 20
        return p[definition(p, s, a) + k.D_VALUE] if kind == k.D_PICK else 0
    if s.wait == k.W_SEND:
        return send_score(p, s, a, seat) if kind == k.D_SEND else 0
    if s.wait == k.W_ANSWER:
        return answer_score(p, s, a, b) if kind == k.D_ANSWER else 0
    if s.wait == k.W_OVER:
        return -p[p[k.H_VALUE_RESOURCE] + b]
    if s.wait == k.W_CHOOSE:
        return block_value(p, s, p[p[pc + k.I_LEAST] + b], f)
    if kind != k.D_YES:
        return 0
    value = block_value(p, s, p[pc + k.I_LEAST], f)
    # A free step of unknown value is accepted.
    return 1 if value == 0 and p[pc + k.I_OP] == k.V_MAY else value


@kernel
def plain(p: Numbers, s: State) -> int:
    """The row with the best score; the first of equals."""
    best = 0
    most = score_row(p, s, 0)
    for row in range(1, s.options):
        score = score_row(p, s, row)
        if score > most:
            most = score
            best = row
    return best
