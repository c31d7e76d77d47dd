"""The expected value of an effect to a seat by the rulebook's evaluation: one step of lookahead for automatic
players.

Nothing is simulated: the likely targets of each step are looked up, and its amount is computed from the current
table. Points are those of the evaluation (see `players.stands_for`). How the steps of an ability combine
(blocks, choices, prices) is compiled with it, as words in postfix order.
"""

from __future__ import annotations

from dramok.core.engine.kernel import codes as k
from dramok.core.engine.kernel.ability_flow import condition_holds
from dramok.core.engine.kernel.amounts import belongs, definition, evaluate_words, sum_group
from dramok.core.engine.kernel.kernel_function import kernel
from dramok.core.engine.kernel.state import Numbers, State
from dramok.core.engine.kernel.targets import best_seats
from dramok.core.engine.kernel.triggers import has_key
from dramok.core.engine.kernel.zones import hides, is_shared, slot_of


@kernel
def in_play_value(p: Numbers, s: State, made: int) -> int:
    """The value in play of a card's definition (an address), as printed."""
    total = 1 + (p[made + k.D_VALUE] >> 1)
    for which in range(p[k.H_STATS]):
        value = p[made + k.D_STAT + which]
        if value > 0:
            total += p[p[k.H_VALUE_STAT] + which] * value
    return total


@kernel
def worth(p: Numbers, s: State, card: int) -> int:
    """The value of a card by the rulebook's evaluation: by its stats in play, by its cost elsewhere."""
    d = definition(p, s, card)
    if s.zone[card] != k.IN_PLAY:
        return p[d + k.D_VALUE]
    total = 1 + (p[d + k.D_VALUE] >> 1)
    for which in range(p[k.H_STATS]):
        value = s.stat[card * k.MOST_STATS + which]
        if value > 0:
            total += p[p[k.H_VALUE_STAT] + which] * (value - (s.damage[card] if which == p[k.H_BEARS] else 0))
    return total


@kernel
def stat_change(p: Numbers, s: State, card: int, which: int, number: int, lowers: int) -> int:
    """The value of raising or lowering a stat of a card; lowering the damage limit to zero is worth the card."""
    if lowers and which == p[k.H_BEARS] and s.zone[card] == k.IN_PLAY and s.stat[card * k.MOST_STATS + which] - s.damage[card] <= number:
        return worth(p, s, card)
    return number * p[p[k.H_VALUE_STAT] + which]


@kernel
def size_on_card(p: Numbers, s: State, pc: int, card: int, number: int) -> int:
    """How large the effect of the step at `pc` on a card is, without a sign; 0 if nothing would happen."""
    op = p[pc + k.I_OP]
    what = p[pc + k.I_X]
    here = s.zone[card] == k.IN_PLAY
    value = worth(p, s, card)
    if op == k.V_DEAL:
        if s.forbids[card] & k.F_HURTING:
            return 0
        if p[k.H_BEARS] < 0 or not here:
            return number
        left = s.stat[card * k.MOST_STATS + p[k.H_BEARS]] - s.damage[card]
        each = p[p[k.H_VALUE_STAT] + p[k.H_BEARS]]
        return value if number >= left else number * each
    if op == k.V_HEAL:
        healed = number if number < s.damage[card] else s.damage[card]
        return healed * (p[p[k.H_VALUE_STAT] + p[k.H_BEARS]] if p[k.H_BEARS] >= 0 else 1)
    if op == k.V_RAISE or op == k.V_LOWER:
        size = stat_change(p, s, card, what, number, 1 if op == k.V_LOWER else 0)
        return size if p[pc + k.I_UNTIL] < 0 else (size + 1) >> 1
    if op == k.V_SHIELD:
        return (number + 1) >> 1
    if op == k.V_DESTROY:
        return 0 if s.forbids[card] & k.F_DESTROYING else value
    if op == k.V_TILT:
        return 0 if s.tilted[card] else 1
    if op == k.V_STRAIGHTEN:
        return 1 if s.tilted[card] else 0
    if op == k.V_RETURN and here:
        return (value >> 1) + 1
    if op == k.V_PUT or op == k.V_REMOVE or op == k.V_RETURN:
        return value if value > 0 else 1
    if op == k.V_SEARCH:
        return 3
    # Keywords, forbidding and allowing: worth more on a better card.
    return 1 + (value >> 2)


@kernel
def on_card(p: Numbers, s: State, pc: int, card: int, number: int, seat: int) -> int:
    """The value to a seat of the step at `pc` on a card, by the sign for its side."""
    wish = p[pc + k.I_WISH]
    sign = wish // k.WISHES - 1 if s.ctrl[card] == seat else wish % k.WISHES - 1
    return sign * size_on_card(p, s, pc, card, number) if sign else 0


@kernel
def on_unseen(p: Numbers, s: State, pc: int, whose: int, seat: int) -> int:
    """The value to a seat of the step at `pc` on a card that is hidden from it, in a zone of seat `whose`: every
    such card counts as a card in hand.
    """
    wish = p[pc + k.I_WISH]
    sign = wish // k.WISHES - 1 if whose == seat else wish % k.WISHES - 1
    return sign * p[k.H_VALUE_HAND]


@kernel
def on_group(p: Numbers, s: State, pc: int, group: int, mode: int, number: int, this: int, seat: int) -> int:
    """The value of a step over a group: all of it, the average of a random pick, or the pick of its seat; the
    best pick is stored in `gauged`.

    A card that is hidden from the seat may match the group or not: it counts as a match.
    """
    zone = p[group + k.G_ZONE]
    shared = is_shared(p, s, zone)
    found = 0
    total = 0
    best = 0
    s.gauged = k.NONE
    for other in range(1 if shared else s.seats):
        card = s.zhead[slot_of(p, s, zone, other)] if shared or not s.out[other] else k.NONE
        unseen = hides(p, s, zone, other, seat)
        while card >= 0:
            barred = mode == k.T_PICK and zone == k.IN_PLAY and other != seat and s.forbids[card] & k.F_CHOOSING
            if card != s.declaring and not barred and (unseen or belongs(p, s, group, card, k.NOBODY if shared else other, this, seat, 0)):
                value = on_unseen(p, s, pc, other, seat) if unseen else on_card(p, s, pc, card, number, seat)
                total += value
                found += 1
                if s.gauged < 0 or value > best:
                    best = value
                    s.gauged = k.NONE if unseen else card
            card = s.next[card]
    if found == 0 or mode == k.T_ALL:
        return total
    most = p[pc + k.I_MOST] if p[pc + k.I_MOST] < found else found
    if mode == k.T_RANDOM:
        return total * most // found
    # The best one, plus the remaining required picks at the average of the others.
    more = (most if best > 0 else p[pc + k.I_LEAST]) - 1
    if more < 0:
        return best if best > 0 else 0
    more = more if more < found - 1 else found - 1
    rest = (total - best) * more // (found - 1) if found > 1 and more > 0 else 0
    return best + (rest if rest > 0 or p[pc + k.I_LEAST] > 1 else 0)


@kernel
def for_seats(p: Numbers, s: State, pc: int, seat: int, size: int) -> int:
    """The value of a step for seats to its own seat: a gain of rivals is a loss."""
    who = p[pc + k.I_SEATS]
    if who == k.WHO_OWN:
        return size
    if who >= k.WHO_MOST:
        best = best_seats(p, s, pc, seat)
        total = 0
        for other in range(s.seats):
            if (best >> other) & 1:
                total += size if other == seat else -size
        return total
    return -size * (s.seats - 1) if who == k.WHO_RIVAL else size - size * (s.seats - 1)


@kernel
def step_value(p: Numbers, s: State, pc: int, group: int, this: int, seat: int, that: int) -> int:
    """The value of the step at `pc` to a seat.

    `group`: the group of the loop whose cards `it` refers to, or -1. Outside a loop `it` is the best pick of
    the previous step.
    """
    op = p[pc + k.I_OP]
    number = p[pc + k.I_AMT]
    if p[pc + k.I_AIS] != k.A_NUMBER:
        number = evaluate_words(p, s, number, this, seat, that, s.gauged, 0)
    if op == k.V_DRAW:
        return for_seats(p, s, pc, seat, number * p[k.H_VALUE_HAND])
    if op == k.V_DISCARD:
        return for_seats(p, s, pc, seat, -number * p[k.H_VALUE_HAND])
    if op == k.V_GAIN:
        return for_seats(p, s, pc, seat, number * p[p[k.H_VALUE_RESOURCE] + p[pc + k.I_X]])
    if op == k.V_LOSE:
        return for_seats(p, s, pc, seat, -number * p[p[k.H_VALUE_RESOURCE] + p[pc + k.I_X]])
    if op == k.V_CREATE:
        return for_seats(p, s, pc, seat, number * in_play_value(p, s, p[k.H_DEF_ROWS] + p[pc + k.I_X] * k.DEF_WIDTH))
    if op == k.V_LOOK or op == k.V_REVEAL or op == k.V_SHUFFLE or op == k.V_SEARCH:
        return 1
    mode = p[pc + k.I_MODE]
    if mode == k.T_IT and group >= 0:
        return on_group(p, s, pc, group, k.T_ALL, number, this, seat)
    if mode == k.T_ALL or mode == k.T_RANDOM or mode == k.T_PICK:
        return on_group(p, s, pc, p[pc + k.I_GROUP], mode, number, this, seat)
    card = this
    if mode == k.T_THAT:
        card = that
    elif mode == k.T_HOST:
        card = s.host[this] if this >= 0 else k.NONE
    elif mode == k.T_IT or mode == k.T_PICK_IT:
        card = s.gauged
    return on_card(p, s, pc, card, number, seat) if card >= 0 else 0


@kernel
def cost_value(p: Numbers, s: State, cost: int, card: int) -> int:
    """The value of a price to the seat that pays it."""
    total = 0
    while p[cost] != k.C_STOP:
        how = p[cost]
        number = p[cost + 1]
        if how == k.C_PAY:
            total += number * p[p[k.H_VALUE_RESOURCE] + p[cost + 2]]
        elif how == k.C_DISCARD:
            total += number * p[k.H_VALUE_HAND]
        elif how == k.C_DESTROY:
            total += worth(p, s, card)
        elif how == k.C_RETURN:
            total += (worth(p, s, card) >> 1) + 1
        elif p[k.H_CLASH_TYPES] & p[definition(p, s, card) + k.D_TYPE_BIT]:
            total += 1
        cost += k.COST_WIDTH
    return total


@kernel
def bounded(p: Numbers, s: State, value: int) -> int:
    """A value limited to -MOST_NUMBER to MOST_NUMBER, so that nested loops give the same result compiled and
    interpreted.
    """
    if value > k.MOST_NUMBER:
        return k.MOST_NUMBER
    return value if value > -k.MOST_NUMBER else -k.MOST_NUMBER


@kernel
def value_of(p: Numbers, s: State, words: int, this: int, seat: int, that: int, it: int) -> int:
    """The value of an ability, or a block of one, to a seat, by its words; 0 without words."""
    if words < 0:
        return 0
    n = 0
    s.gauged = it
    while p[words] != k.U_END:
        word = p[words]
        a = p[words + 1]
        b = p[words + 2]
        words += k.VALUE_WIDTH
        if word == k.U_STEP:
            s.gauge[n] = bounded(p, s, step_value(p, s, a, b, this, seat, that))
            n += 1
        elif word == k.U_NUMBER:
            s.gauge[n] = a
            n += 1
        elif word == k.U_AT_LEAST_0:
            s.gauge[n - 1] = s.gauge[n - 1] if s.gauge[n - 1] > 0 else 0
        elif word == k.U_COST:
            s.gauge[n - 1] = bounded(p, s, s.gauge[n - 1] - (cost_value(p, s, a, this) if this >= 0 else 0))
        elif word == k.U_TIMES:
            s.gauge[n - 1] = bounded(p, s, s.gauge[n - 1] * sum_group(p, s, a, k.NONE, this, seat, 0))
        elif word == k.U_IF:
            n -= 1
            if not evaluate_words(p, s, a, this, seat, that, s.gauged, 0):
                s.gauge[n - 1] = s.gauge[n]
        elif word == k.U_BEST:
            # The sum of the `a` best of the `b` values on top of the stack.
            n -= b
            total = 0
            for _ in range(a):
                best = 0
                for place in range(1, b):
                    if s.gauge[n + place] > s.gauge[n + best]:
                        best = place
                total += s.gauge[n + best]
                s.gauge[n + best] = -k.MOST_NUMBER - 1
            s.gauge[n] = bounded(p, s, total)
            n += 1
        else:
            n -= 1
            s.gauge[n - 1] = bounded(p, s, s.gauge[n - 1] + s.gauge[n])
    return s.gauge[0] if n else 0


@kernel
def host_value(p: Numbers, s: State, card: int, host: int, seat: int) -> int:
    """The value of attaching a card to a host: good effects to own cards, bad ones to rivals'."""
    wish = p[definition(p, s, card) + k.D_HOST_WISH]
    value = 1 + worth(p, s, host)
    return value * (wish if wish else 1) * (1 if s.ctrl[host] == seat else -1)


@kernel
def lasting_value(p: Numbers, s: State, card: int, seat: int) -> int:
    """The value of a card's lasting stat changes to a seat, over the cards now in play and itself."""
    total = 0
    d = definition(p, s, card)
    row = p[d + k.D_LASTING]
    while row >= 0 and p[row] != k.NONE:
        verb = p[row + k.L_VERB]
        key = p[row + k.L_KEY]
        if (verb == k.V_RAISE or verb == k.V_LOWER) and (key < 0 or (p[d + k.D_KEYS] >> key) & 1):
            amount = p[row + k.L_AMT]
            if p[row + k.L_AIS]:
                amount = evaluate_words(p, s, amount, card, seat, k.NONE, k.NONE, 1)
            sign = 1 if verb == k.V_RAISE else -1
            if p[row + k.L_MODE] == k.T_THIS:
                total += sign * amount * p[p[k.H_VALUE_STAT] + p[row + k.L_X]]
            elif p[row + k.L_MODE] == k.T_ALL:
                for other in range(s.seats):
                    each = s.zhead[slot_of(p, s, k.IN_PLAY, other)]
                    while each >= 0:
                        if belongs(p, s, p[row + k.L_GROUP], each, other, card, seat, 1):
                            size = stat_change(p, s, each, p[row + k.L_X], amount, 1 if sign < 0 else 0)
                            total += size * sign * (1 if other == seat else -1)
                        each = s.next[each]
        row += k.LASTING_WIDTH
    return total


@kernel
def yield_value(p: Numbers, s: State, card: int, seat: int) -> int:
    """The value of the effects of a card on being played and on entering, as if the seat played it now."""
    total = 0
    d = definition(p, s, card)
    for place in range(p[d + k.D_COUNT]):
        ability = p[d + k.D_ABILITIES] + place * k.ABILITY_WIDTH
        if (p[ability + k.B_CUE] == k.ON_PLAY or p[ability + k.B_CUE] == k.ON_ENTER) and p[ability + k.B_OF] < 0 and has_key(p, s, card, ability):
            total += value_of(p, s, p[ability + k.B_VALUE], card, seat, k.NONE, k.NONE)
    return total


@kernel
def rounds_left(p: Numbers, s: State) -> int:
    """A guess of the number of rounds to come: to the round that ends the match, or half a dozen."""
    if s.ending:
        return s.ending - s.round
    left = 6 if s.round > 6 else 12 - s.round
    for end in range(p[k.H_ENDS]):
        row = p[k.H_END_ROWS] + end * k.END_WIDTH
        if p[row + k.N_KIND] == k.END_ROUNDS and p[row + k.N_NUMBER] - s.round < left:
            left = p[row + k.N_NUMBER] - s.round
    return left


@kernel
def deck_size(p: Numbers, s: State, seat: int) -> int:
    """The number of cards that a seat draws again and again, and of those in its hand and in play; at least 1."""
    total = 0
    for zone in range(k.IN_PLAY + 1):
        total += s.zcount[slot_of(p, s, zone, seat)]
    return total if total > 0 else 1


@kernel
def plays_left(p: Numbers, s: State, seat: int) -> int:
    """A guess of how often a seat still plays each of its cards, in eighths: a deck that grows is drawn more slowly."""
    hand = p[k.H_OPENING] if p[k.H_OPENING] > 0 else 1
    size = deck_size(p, s, seat)
    return 8 * rounds_left(p, s) * (hand if hand < size else size) // size


@kernel
def own_value(p: Numbers, s: State, card: int, seat: int) -> int:
    """The value of owning a card until the end: what it scores, and what it yields whenever it is played."""
    scored = p[definition(p, s, card) + k.D_OWNED]
    for which in range(p[k.H_COUNTERS]):
        scored += s.counter[card * k.MOST_COUNTERS + which] * p[p[k.H_COUNTER_ROWS] + which * k.COUNTER_WIDTH + k.COUNTER_SCORES]
    return 12 * scored + yield_value(p, s, card, seat) * plays_left(p, s, seat) // 8


@kernel
def play_value(p: Numbers, s: State, card: int, seat: int) -> int:
    """The value of playing a card from hand: the card in play, and its effects on entering and later."""
    d = definition(p, s, card)
    after = p[d + k.D_AFTER]
    total = 0
    if after == k.AFTER_ATTACHED:
        best = -k.MOST_NUMBER
        for other in range(s.seats):
            host = s.zhead[slot_of(p, s, k.IN_PLAY, other)]
            while host >= 0:
                barred = other != seat and s.forbids[host] & k.F_CHOOSING
                if not barred and belongs(p, s, p[d + k.D_HOSTS], host, other, card, seat, 0):
                    value = host_value(p, s, card, host, seat)
                    best = value if value > best else best
                host = s.next[host]
        total = best
    elif after != k.AFTER_DISCARD:
        total = in_play_value(p, s, d)
    for place in range(p[d + k.D_COUNT]):
        ability = p[d + k.D_ABILITIES] + place * k.ABILITY_WIDTH
        cue = p[ability + k.B_CUE]
        comes = cue == k.ON_PLAY or cue == k.ON_ENTER
        later = cue == k.ON_BEGIN or cue == k.ON_END or cue == k.ON_CLASH or cue == k.ON_HURTING or p[ability + k.B_OF] >= 0
        if (comes or later) and has_key(p, s, card, ability) and (later or condition_holds(p, s, ability, card, seat, k.NONE)):
            total += value_of(p, s, p[ability + k.B_VALUE], card, seat, k.NONE, k.NONE)
    return total + lasting_value(p, s, card, seat)


@kernel
def use_value(p: Numbers, s: State, card: int, place: int, seat: int) -> int:
    """The value of using an offered effect of a card: its effect minus its price."""
    ability = p[definition(p, s, card) + k.D_ABILITIES] + place * k.ABILITY_WIDTH
    return value_of(p, s, p[ability + k.B_VALUE], card, seat, k.NONE, k.NONE) - cost_value(p, s, p[ability + k.B_COST], card)


@kernel
def block_value(p: Numbers, s: State, words: int, f: int) -> int:
    """The value of a block of the ability in frame `f` to its seat."""
    it = s.sets[s.fr[f + k.F_IT]] if s.fr[f + k.F_ITS] > 0 else k.NONE
    return value_of(p, s, words, s.fr[f + k.F_THIS], s.fr[f + k.F_SEAT], s.fr[f + k.F_THAT], it)
