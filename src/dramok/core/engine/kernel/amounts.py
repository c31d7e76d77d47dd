"""Current stats, groups of cards, computed amounts, and the result of lasting effects."""

from __future__ import annotations

from dramok.core.engine.kernel import codes as k
from dramok.core.engine.kernel.kernel_function import kernel
from dramok.core.engine.kernel.state import Numbers, State
from dramok.core.engine.kernel.zones import is_shared, slot_of


@kernel
def definition(p: Numbers, s: State, card: int) -> int:
    """The address of a card's definition."""
    return p[k.H_DEF_ROWS] + s.cdef[card] * k.DEF_WIDTH


@kernel
def resource_slot(p: Numbers, s: State, what: int, seat: int) -> int:
    row = p[k.H_RESOURCE_ROWS] + what * k.RESOURCE_WIDTH
    return p[row + k.Q_FIRST] + p[row + k.Q_STRIDE] * seat


@kernel
def compares(p: Numbers, s: State, value: int, how: int, number: int) -> int:
    if how == k.C_IS:
        return 1 if value == number else 0
    if how == k.C_ABOVE:
        return 1 if value > number else 0
    return 1 if value < number else 0


@kernel
def stat(p: Numbers, s: State, card: int, which: int, printed: int) -> int:
    """A stat of a card, -1 if it has none: printed, or current (the last one, for a card that left play); or a
    counter on it.
    """
    if which >= k.MOST_STATS:
        return s.counter[card * k.MOST_COUNTERS + which - k.MOST_STATS]
    if printed or s.zone[card] != k.IN_PLAY and not s.seen[card]:
        return p[definition(p, s, card) + k.D_STAT + which]
    return s.stat[card * k.MOST_STATS + which]


@kernel
def belongs(p: Numbers, s: State, group: int, card: int, whose: int, source: int, seat: int, printed: int) -> int:
    """Whether a card matches a group, from the view of a seat.

    `whose` is the seat on whose side the card is, or NOBODY: such a card is neither own nor a rival's. `source`
    is the ability's card. The zone of the card is not compared.
    """
    side = p[group + k.G_SIDE]
    if side == k.S_OWN and whose != seat or side == k.S_RIVAL and (whose == seat or whose < 0):
        return 0
    d = definition(p, s, card)
    if p[group + k.G_TYPES] and not p[group + k.G_TYPES] & p[d + k.D_TYPE_BIT]:
        return 0
    tags = p[d + k.D_TAGS]
    if tags & p[group + k.G_ALL_TAGS] != p[group + k.G_ALL_TAGS] or tags & p[group + k.G_NO_TAGS]:
        return 0
    if p[group + k.G_OTHER] & (1 if card == source else 2):
        return 0
    if p[group + k.G_ALL_KEYS] or p[group + k.G_NO_KEYS]:
        keys = p[d + k.D_KEYS] if printed > 1 or s.zone[card] != k.IN_PLAY and not s.seen[card] else s.keys[card]
        if keys & p[group + k.G_ALL_KEYS] != p[group + k.G_ALL_KEYS] or keys & p[group + k.G_NO_KEYS]:
            return 0
    extra = p[group + k.G_EXTRA]
    if extra < 0:
        return 1
    while p[extra] != k.X_END:
        kind = p[extra]
        fits = 0
        if kind == k.X_STAT:
            value = stat(p, s, card, p[extra + 1], printed)
            fits = compares(p, s, value, p[extra + 2], p[extra + 3]) if value >= 0 else 0
        elif kind == k.X_CHOICE:
            fits = 1 if p[d + k.D_CHOICE + p[extra + 1]] == p[extra + 3] else 0
        elif p[extra + 1] == k.STATE_TILTED:
            fits = 1 if s.tilted[card] else 0
        elif p[extra + 1] == k.STATE_HURT:
            fits = 1 if s.damage[card] > 0 else 0
        else:
            fits = 1 if s.token[card] else 0
        if fits == p[extra + 4]:
            return 0
        extra += 5
    return 1


@kernel
def sum_zone(p: Numbers, s: State, group: int, zone: int, which: int, source: int, seat: int, printed: int) -> int:
    """The sum over the cards in a zone that match a group of a stat, or of 1 if `which` is NONE. Zones of a seat
    that is out do not count.
    """
    found = 0
    shared = is_shared(p, s, zone)
    for other in range(1 if shared else s.seats):
        card = s.zhead[slot_of(p, s, zone, other)] if shared or not s.out[other] else k.NONE
        while card >= 0:
            if belongs(p, s, group, card, k.NOBODY if shared else other, source, seat, printed):
                value = stat(p, s, card, which, printed) if which >= 0 else 1
                found += value if value > 0 else 0
            card = s.next[card]
    return found if found < k.MOST_NUMBER else k.MOST_NUMBER


@kernel
def sum_group(p: Numbers, s: State, group: int, which: int, source: int, seat: int, printed: int) -> int:
    """The sum over the cards of a group of a stat, or their number if `which` is NONE."""
    zone = p[group + k.G_ZONE]
    if zone != k.EVERYWHERE:
        return sum_zone(p, s, group, zone, which, source, seat, printed)
    found = 0
    for zone in range(p[k.H_ZONES]):
        here = zone <= k.IN_PLAY or zone == k.RESOLVING or zone >= k.OWN_ZONES
        if here and not is_shared(p, s, zone):
            found += sum_zone(p, s, group, zone, which, source, seat, printed)
    return found if found < k.MOST_NUMBER else k.MOST_NUMBER


@kernel
def gather(p: Numbers, s: State, group: int, source: int, seat: int) -> int:
    """Collect the cards that match a group in `target`, ordered by (active seat first, order in the zone).

    Returns their number.
    """
    zone = p[group + k.G_ZONE]
    s.ntarget = 0
    shared = is_shared(p, s, zone)
    for step in range(1 if shared else s.seats):
        other = (s.active + step) % s.seats
        card = s.zhead[slot_of(p, s, zone, other)] if shared or not s.out[other] else k.NONE
        while card >= 0:
            if belongs(p, s, group, card, k.NOBODY if shared else other, source, seat, 0):
                s.target[s.ntarget] = card
                s.ntarget += 1
            card = s.next[card]
    return s.ntarget


@kernel
def evaluate_words(p: Numbers, s: State, words: int, card: int, seat: int, that: int, it: int, printed: int) -> int:
    """Evaluate an amount or condition from its words; limited to 0 to MOST_NUMBER at every step."""
    n = 0
    while p[words] != k.R_END:
        word = p[words]
        a = p[words + 1]
        b = p[words + 2]
        words += k.RECKON_WIDTH
        if word == k.R_NUMBER:
            s.eval[n] = a
            n += 1
        elif word == k.R_COUNT:
            s.eval[n] = sum_group(p, s, a, k.NONE, card, seat, printed)
            n += 1
        elif word == k.R_SUM:
            s.eval[n] = sum_group(p, s, a, b, card, seat, printed)
            n += 1
        elif word == k.R_STAT:
            which = card
            if b == k.P_THAT:
                which = that
            elif b == k.P_IT:
                which = it
            elif b == k.P_HOST:
                which = s.host[card]
            value = stat(p, s, which, a, printed) if which >= 0 else 0
            s.eval[n] = value if value > 0 else 0
            n += 1
        elif word == k.R_HELD:
            value = 0
            if b == k.S_OWN:
                value = s.res[resource_slot(p, s, a, seat)]
            else:
                for other in range(s.seats):
                    if other != seat and not s.out[other]:
                        value += s.res[resource_slot(p, s, a, other)]
            s.eval[n] = value
            n += 1
        elif word == k.R_HALF_DOWN:
            s.eval[n - 1] = s.eval[n - 1] >> 1
        elif word == k.R_HALF_UP:
            s.eval[n - 1] = (s.eval[n - 1] + 1) >> 1
        elif word == k.R_NOT:
            s.eval[n - 1] = 0 if s.eval[n - 1] else 1
        else:
            n -= 1
            left = s.eval[n - 1]
            right = s.eval[n]
            value = 0
            if word == k.R_ADD:
                value = left + right
            elif word == k.R_TAKE:
                value = left - right
            elif word == k.R_TIMES:
                value = left * right
            elif word == k.R_LEAST:
                value = left if left < right else right
            elif word == k.R_MOST:
                value = left if left > right else right
            elif word == k.R_IS:
                value = 1 if left == right else 0
            elif word == k.R_ABOVE:
                value = 1 if left > right else 0
            elif word == k.R_UNDER:
                value = 1 if left < right else 0
            elif word == k.R_AND:
                value = 1 if left and right else 0
            elif word == k.R_OR:
                value = 1 if left or right else 0
            if value < 0:
                value = 0
            if value > k.MOST_NUMBER:
                value = k.MOST_NUMBER
            s.eval[n - 1] = value
    return s.eval[0]


@kernel
def lasting_row(p: Numbers, s: State, row: int, source: int, card: int) -> int:
    """Apply one lasting part to one card."""
    verb = p[row + k.L_VERB]
    if verb == k.V_GRANT:
        s.keys[card] |= p[row + k.L_X]
    elif verb == k.V_STRIP:
        s.keys[card] &= ~p[row + k.L_X]
    elif verb == k.V_FORBID:
        s.forbids[card] |= p[row + k.L_X]
    elif verb == k.V_ALLOW:
        s.allows[card] |= p[row + k.L_X]
    else:
        place = card * k.MOST_STATS + p[row + k.L_X]
        if p[definition(p, s, card) + k.D_STAT + p[row + k.L_X]] >= 0:
            amount = p[row + k.L_AMT]
            if p[row + k.L_AIS]:
                amount = evaluate_words(p, s, amount, source, s.ctrl[source], k.NONE, k.NONE, 1)
            s.stat[place] += amount if verb == k.V_RAISE else -amount
    return 0


@kernel
def lasting_pass(p: Numbers, s: State, keywords: int) -> int:
    """Apply the lasting parts of one pass: keywords first, then the rest.

    In the first pass, filters read printed values.
    """
    printed = 2 if keywords else 1
    for step in range(s.seats):
        source = s.zhead[slot_of(p, s, k.IN_PLAY, (s.active + step) % s.seats)]
        while source >= 0:
            row = p[definition(p, s, source) + k.D_LASTING]
            while row >= 0 and p[row] != k.NONE:
                grants = 1 if p[row + k.L_VERB] in (k.V_GRANT, k.V_STRIP) else 0
                key = p[row + k.L_KEY]
                has = 1
                if key >= 0:
                    keys = p[definition(p, s, source) + k.D_KEYS] if keywords else s.keys[source]
                    has = (keys >> key) & 1
                if grants == keywords and has:
                    holds = 1
                    if p[row + k.L_IF] >= 0:
                        holds = evaluate_words(p, s, p[row + k.L_IF], source, s.ctrl[source], k.NONE, k.NONE, printed)
                    if holds and p[row + k.L_MODE] == k.T_THIS:
                        lasting_row(p, s, row, source, source)
                    elif holds and p[row + k.L_MODE] == k.T_HOST:
                        if s.host[source] >= 0:
                            lasting_row(p, s, row, source, s.host[source])
                    elif holds:
                        for other in range(s.seats):
                            card = s.zhead[slot_of(p, s, k.IN_PLAY, (s.active + other) % s.seats)]
                            while card >= 0:
                                if belongs(p, s, p[row + k.L_GROUP], card, s.ctrl[card], source, s.ctrl[source], printed):
                                    lasting_row(p, s, row, source, card)
                                card = s.next[card]
                row += k.LASTING_WIDTH
            source = s.next[source]
    return 0


@kernel
def recompute(p: Numbers, s: State) -> int:
    """Recompute every card in play: printed values, changes until a moment, lasting effects; keywords first,
    then the rest.
    """
    s.dirty = 0
    stats = p[k.H_STATS]
    for seat in range(s.seats):
        card = s.zhead[slot_of(p, s, k.IN_PLAY, seat)]
        while card >= 0:
            d = definition(p, s, card)
            s.keys[card] = p[d + k.D_KEYS]
            s.forbids[card] = 0
            s.allows[card] = 0
            for which in range(stats):
                s.stat[card * k.MOST_STATS + which] = p[d + k.D_STAT + which]
            card = s.next[card]
    for row in range(s.nmod):
        card = s.modc[row]
        if s.inc[card] == s.modi[row]:
            kind = s.modk[row]
            if kind == k.M_GRANTED:
                s.keys[card] |= s.modw[row]
            elif kind == k.M_STRIPPED:
                s.keys[card] &= ~s.modw[row]
            elif kind == k.M_FORBIDDEN:
                s.forbids[card] |= s.modw[row]
            elif kind == k.M_ALLOWED:
                s.allows[card] |= s.modw[row]
            elif kind == k.M_RAISED:
                place = card * k.MOST_STATS + s.modw[row]
                if p[definition(p, s, card) + k.D_STAT + s.modw[row]] >= 0:
                    s.stat[place] += s.moda[row]
    if p[k.H_LASTS] & 1:
        lasting_pass(p, s, 1)
    if p[k.H_LASTS] & 2:
        lasting_pass(p, s, 0)
    for seat in range(s.seats):
        card = s.zhead[slot_of(p, s, k.IN_PLAY, seat)]
        while card >= 0:
            d = definition(p, s, card)
            for which in range(stats):
                place = card * k.MOST_STATS + which
                if p[d + k.D_STAT + which] >= 0 and s.stat[place] < 0:
                    s.stat[place] = 0
                elif s.stat[place] > k.MOST_NUMBER:
                    s.stat[place] = k.MOST_NUMBER
            card = s.next[card]
    return 0
