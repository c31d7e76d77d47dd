"""Triggers: abilities queued while a step runs, and pushed onto the stack after it, the first on top."""

from __future__ import annotations

from dramok.core.engine.kernel import codes as k
from dramok.core.engine.kernel.amounts import belongs, definition
from dramok.core.engine.kernel.kernel_function import kernel
from dramok.core.engine.kernel.state import Numbers, State
from dramok.core.engine.kernel.zones import slot_of


@kernel
def push(p: Numbers, s: State, pc: int, card: int, that: int, seat: int, ability: int) -> int:
    """Push a new frame. Returns its start; a full stack ends the match."""
    if s.top >= k.MOST_FRAMES:
        s.full = k.FULL_LIST
        s.culprit = card
        return (s.top - 1) * k.FRAME
    at = s.top * k.FRAME
    s.fr[at + k.F_PC] = pc
    s.fr[at + k.F_THIS] = card
    s.fr[at + k.F_THIS_INC] = s.inc[card] if card >= 0 else 0
    s.fr[at + k.F_THAT] = that
    s.fr[at + k.F_THAT_INC] = s.inc[that] if that >= 0 else 0
    s.fr[at + k.F_SEAT] = seat
    s.fr[at + k.F_STATE] = k.READY
    s.fr[at + k.F_CURSOR] = 0
    s.fr[at + k.F_LEFT] = 0
    s.fr[at + k.F_IT] = s.nset
    s.fr[at + k.F_ITS] = 0
    s.fr[at + k.F_TOP] = s.nset
    s.fr[at + k.F_ABILITY] = ability
    s.fr[at + k.F_CHOSEN] = 0
    s.fr[at + k.F_NUMBER] = 0
    s.fr[at + k.F_EACH] = 0
    s.fr[at + k.F_EACHES] = 0
    s.fr[at + k.F_INNER] = 0
    s.top += 1
    return at


@kernel
def pop(p: Numbers, s: State) -> int:
    s.top -= 1
    s.nset = s.fr[s.top * k.FRAME + k.F_TOP]
    return 0


@kernel
def remember(p: Numbers, s: State, card: int) -> int:
    """Add a card to the sets of the top frame."""
    if s.nset >= k.MOST_SET:
        s.full = k.FULL_LIST
        return 0
    s.sets[s.nset] = card
    s.seti[s.nset] = s.inc[card]
    s.nset += 1
    return 1


@kernel
def has_key(p: Numbers, s: State, card: int, ability: int) -> int:
    """Whether the card has the ability now: its own, or that of a keyword it has."""
    key = p[ability + k.B_KEY]
    if key < 0:
        return 1
    keys = s.keys[card] if s.zone[card] == k.IN_PLAY or s.seen[card] else p[definition(p, s, card) + k.D_KEYS]
    return (keys >> key) & 1


@kernel
def enqueue(p: Numbers, s: State, ability: int, card: int, that: int) -> int:
    """Queue an ability for the seat that the card acts for. A card in a shared zone acts for no seat, so its abilities do not trigger."""
    if s.ctrl[card] == k.NOBODY:
        return 0
    if s.npend >= k.MOST_PENDING:
        s.full = k.FULL_LIST
        s.culprit = card
        return 0
    at = s.npend * 6
    s.pend[at] = ability
    s.pend[at + 1] = card
    s.pend[at + 2] = s.inc[card]
    s.pend[at + 3] = that
    s.pend[at + 4] = s.inc[that] if that >= 0 else 0
    s.pend[at + 5] = s.ctrl[card]
    s.npend += 1
    return 1


@kernel
def own(p: Numbers, s: State, cue: int, card: int, that: int) -> int:
    """Queue the card's own abilities of a cue."""
    d = definition(p, s, card)
    if not (p[d + k.D_CUES] >> cue) & 1:
        return 0
    for place in range(p[d + k.D_COUNT]):
        ability = p[d + k.D_ABILITIES] + place * k.ABILITY_WIDTH
        if p[ability + k.B_CUE] == cue and p[ability + k.B_OF] < 0 and has_key(p, s, card, ability):
            source = p[ability + k.B_SOURCE]
            if source < 0 or that >= 0 and belongs(p, s, source, that, s.ctrl[that], card, s.ctrl[card], 0):
                enqueue(p, s, ability, card, that)
    return 0


@kernel
def watcher(p: Numbers, s: State, cue: int, card: int, about: int, source: int) -> int:
    """Queue the abilities of one card that watch others, if `about` matches."""
    d = definition(p, s, card)
    if not (p[d + k.D_WATCHES] >> cue) & 1:
        return 0
    for place in range(p[d + k.D_COUNT]):
        ability = p[d + k.D_ABILITIES] + place * k.ABILITY_WIDTH
        group = p[ability + k.B_OF]
        fits = p[ability + k.B_CUE] == cue and group >= 0 and has_key(p, s, card, ability)
        if fits and belongs(p, s, group, about, s.ctrl[about], card, s.ctrl[card], 0):
            of = p[ability + k.B_SOURCE]
            if of < 0 or source >= 0 and belongs(p, s, of, source, s.ctrl[source], card, s.ctrl[card], 0):
                enqueue(p, s, ability, card, about)
    return 0


@kernel
def about_card(p: Numbers, s: State, cue: int, card: int, that: int) -> int:
    """An event of a card: its own abilities, then those in play that watch it, then those that left together
    with it.
    """
    own(p, s, cue, card, that)
    if s.watch[cue] > 0 or s.nleft > 0:
        for step in range(s.seats):
            other = s.zhead[slot_of(p, s, k.IN_PLAY, (s.active + step) % s.seats)]
            while other >= 0:
                watcher(p, s, cue, other, card, that)
                other = s.next[other]
        for place in range(s.nleft):
            if s.zone[s.left[place]] != k.IN_PLAY:
                watcher(p, s, cue, s.left[place], card, that)
    return 0


@kernel
def about_total(p: Numbers, s: State, what: int, seat: int, before: int, after: int) -> int:
    """A resource of a seat (-1: shared) changed from one amount to another, after caps."""
    first = k.ON_RISING if after > before else k.ON_FALLING
    each = k.ON_GAINING if after > before else k.ON_LOSING
    if s.watch[first] == 0 and s.watch[each] == 0:
        return 0
    for step in range(s.seats):
        card = s.zhead[slot_of(p, s, k.IN_PLAY, (s.active + step) % s.seats)]
        while card >= 0:
            d = definition(p, s, card)
            if (p[d + k.D_WATCHES] >> first) & 1 or (p[d + k.D_WATCHES] >> each) & 1:
                for place in range(p[d + k.D_COUNT]):
                    ability = p[d + k.D_ABILITIES] + place * k.ABILITY_WIDTH
                    cue = p[ability + k.B_CUE]
                    fits = 1 if (cue == first or cue == each) and p[ability + k.B_X] == what else 0
                    if seat >= 0 and (seat == s.ctrl[card]) == (p[ability + k.B_SIDE] == k.S_RIVAL):
                        fits = 0
                    number = p[ability + k.B_NUMBER]
                    if cue == k.ON_RISING and not (before <= number and after > number):
                        fits = 0
                    if cue == k.ON_FALLING and not (before >= number and after < number):
                        fits = 0
                    if cue == each and p[ability + k.B_COMPARE] == k.C_ABOVE and after <= number:
                        fits = 0
                    if cue == each and p[ability + k.B_COMPARE] == k.C_UNDER and after >= number:
                        fits = 0
                    if fits and has_key(p, s, card, ability):
                        enqueue(p, s, ability, card, k.NONE)
            card = s.next[card]
    return 0


@kernel
def about_moment(p: Numbers, s: State, cue: int, phase: int) -> int:
    """The turn (phase -1) or a phase begins or ends, or the match begins: abilities of cards in play."""
    if s.watch[cue] == 0:
        return 0
    for step in range(s.seats):
        seat = (s.active + step) % s.seats
        card = s.zhead[slot_of(p, s, k.IN_PLAY, seat)]
        while card >= 0:
            d = definition(p, s, card)
            if (p[d + k.D_WATCHES] >> cue) & 1:
                for place in range(p[d + k.D_COUNT]):
                    ability = p[d + k.D_ABILITIES] + place * k.ABILITY_WIDTH
                    fits = 1 if p[ability + k.B_CUE] == cue and p[ability + k.B_X] == phase else 0
                    side = p[ability + k.B_SIDE]
                    if side != k.S_ANY and (side == k.S_OWN) != (seat == s.active):
                        fits = 0
                    if fits and has_key(p, s, card, ability):
                        enqueue(p, s, ability, card, k.NONE)
            card = s.next[card]
    return 0


@kernel
def listens(p: Numbers, s: State, card: int, by: int) -> int:
    """Count, for each cue, the watching cards in play: `by` is 1 for a card that enters, -1 for one that leaves."""
    watches = p[definition(p, s, card) + k.D_WATCHES]
    cue = 0
    while watches:
        if watches & 1:
            s.watch[cue] += by
        watches >>= 1
        cue += 1
    return 0


@kernel
def push_pending(p: Numbers, s: State) -> int:
    """Push the queued abilities onto the stack, the first on top.

    Picks declared with a play belong to its first ability.
    """
    while s.npend > 0:
        s.npend -= 1
        at = s.npend * 6
        ability = s.pend[at]
        card = s.pend[at + 1]
        chosen = 1 if s.declared == s.npend + 1 else 0
        frame = push(p, s, p[ability + k.B_CODE], card, s.pend[at + 3], s.pend[at + 5], ability)
        s.fr[frame + k.F_THIS_INC] = s.pend[at + 2]
        s.fr[frame + k.F_THAT_INC] = s.pend[at + 4]
        if chosen:
            s.fr[frame + k.F_CHOSEN] = 1
            for place in range(s.npick):
                remember(p, s, s.pick[place])
            s.fr[frame + k.F_ITS] = s.npick
            s.declared = 0
    return 0
