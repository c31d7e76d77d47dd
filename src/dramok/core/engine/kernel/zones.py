"""Events; cards in zones, which are doubly linked lists: the head is the bottom of a pile, the tail its top."""

from __future__ import annotations

from dramok.core.engine.kernel import codes as k
from dramok.core.engine.kernel.kernel_function import kernel
from dramok.core.engine.kernel.rng import below
from dramok.core.engine.kernel.state import LOG_ROWS, Numbers, State


@kernel
def emit(p: Numbers, s: State, kind: int, seat: int, card: int, a: int, b: int) -> int:
    """Emit an event: to the log and to the digest, if they are switched on."""
    if s.logs and s.nlog >= LOG_ROWS:
        s.full = k.FULL_LIST
    elif s.logs:
        at = s.nlog * k.EVENT
        s.log[at] = kind
        s.log[at + 1] = seat
        s.log[at + 2] = card
        s.log[at + 3] = a
        s.log[at + 4] = b
        s.nlog += 1
    if s.digests:
        s.digest = ((s.digest * 31 + kind * 7 + seat) * 31 + card * 13 + a * 3 + b) & 0xFFFFFFFFFFFF
    return 0


@kernel
def slot_of(p: Numbers, s: State, zone: int, seat: int) -> int:
    """The slot of a zone's list for a seat; one slot for all in a shared zone."""
    row = p[k.H_ZONE_ROWS] + zone * k.ZONE_WIDTH
    return p[row + k.Z_FIRST] + p[row + k.Z_STRIDE] * seat


@kernel
def held(p: Numbers, s: State, zone: int, seat: int) -> int:
    """The number of cards in a seat's zone."""
    return s.zcount[slot_of(p, s, zone, seat)]


@kernel
def unlink(p: Numbers, s: State, card: int) -> int:
    at = s.slot[card]
    before = s.prev[card]
    after = s.next[card]
    if before >= 0:
        s.next[before] = after
    else:
        s.zhead[at] = after
    if after >= 0:
        s.prev[after] = before
    else:
        s.ztail[at] = before
    s.zcount[at] -= 1
    return 0


@kernel
def is_shared(p: Numbers, s: State, zone: int) -> int:
    """Whether the zone is shared by all seats: its cards are on nobody's side."""
    return 1 if p[p[k.H_ZONE_ROWS] + zone * k.ZONE_WIDTH + k.Z_STRIDE] == 0 else 0


@kernel
def hides(p: Numbers, s: State, zone: int, whose: int, seat: int) -> int:
    """Whether the cards in the zone of seat `whose` are hidden from `seat`."""
    seen = p[p[k.H_ZONE_ROWS] + zone * k.ZONE_WIDTH + k.Z_SEEN]
    return 1 if seen == k.SEEN_NONE or seen == k.SEEN_OWNER and whose != seat else 0


@kernel
def home_of(p: Numbers, s: State, card: int, seat: int) -> int:
    """The seat to whose zones a card returns: its owner, or `seat` for a card without owner."""
    return s.owner[card] if s.owner[card] >= 0 else seat


@kernel
def link_next_to_equals(p: Numbers, s: State, card: int, at: int) -> int:
    """Put a card into the list of a supply after the last equal card, or on top."""
    equal = s.ztail[at]
    while equal >= 0 and s.cdef[equal] != s.cdef[card]:
        equal = s.prev[equal]
    before = equal if equal >= 0 else s.ztail[at]
    after = s.next[before] if before >= 0 else k.NONE
    s.prev[card] = before
    s.next[card] = after
    if before >= 0:
        s.next[before] = card
    else:
        s.zhead[at] = card
    if after >= 0:
        s.prev[after] = card
    else:
        s.ztail[at] = card
    return 0


@kernel
def link(p: Numbers, s: State, card: int, zone: int, seat: int, bottom: int) -> int:
    """Put a card that is in no zone on top of one, or at its bottom.

    It then acts for that seat, or for nobody in a shared zone.
    """
    at = slot_of(p, s, zone, seat)
    row = p[k.H_ZONE_ROWS] + zone * k.ZONE_WIDTH
    s.zone[card] = zone
    s.slot[card] = at
    s.ctrl[card] = seat if p[row + k.Z_STRIDE] else k.NOBODY
    if p[row + k.Z_KIND] == k.KIND_SUPPLY:
        link_next_to_equals(p, s, card, at)
    elif bottom:
        first = s.zhead[at]
        s.prev[card] = k.NONE
        s.next[card] = first
        s.zhead[at] = card
        if first >= 0:
            s.prev[first] = card
        else:
            s.ztail[at] = card
    else:
        last = s.ztail[at]
        s.next[card] = k.NONE
        s.prev[card] = last
        s.ztail[at] = card
        if last >= 0:
            s.next[last] = card
        else:
            s.zhead[at] = card
    s.zcount[at] += 1
    return 0


@kernel
def move(p: Numbers, s: State, card: int, zone: int, seat: int, bottom: int) -> int:
    """Move a card to another zone.

    A card that moves from a shared zone to a seat's zone belongs to that seat from then on.
    """
    if is_shared(p, s, s.zone[card]):
        s.gap = 1
        s.changed = 1
        if not is_shared(p, s, zone):
            s.owner[card] = seat
    unlink(p, s, card)
    return link(p, s, card, zone, seat, bottom)


@kernel
def shuffle(p: Numbers, s: State, zone: int, seat: int) -> int:
    """Shuffle a zone with its seat's stream. Rows and supplies keep their order."""
    if p[p[k.H_ZONE_ROWS] + zone * k.ZONE_WIDTH + k.Z_KIND] != k.KIND_PILE:
        return 0
    at = slot_of(p, s, zone, seat)
    count = 0
    card = s.zhead[at]
    while card >= 0:
        s.temp[count] = card
        count += 1
        card = s.next[card]
    for last in range(count - 1, 0, -1):
        other = below(p, s, seat, k.R_SHUFFLE, last + 1)
        card = s.temp[last]
        s.temp[last] = s.temp[other]
        s.temp[other] = card
    before = k.NONE
    for place in range(count):
        card = s.temp[place]
        s.prev[card] = before
        if before >= 0:
            s.next[before] = card
        else:
            s.zhead[at] = card
        before = card
    if before >= 0:
        s.next[before] = k.NONE
        s.ztail[at] = before
    return emit(p, s, k.E_SHUFFLED, seat, k.NONE, count, zone)


@kernel
def next_seat(p: Numbers, s: State, seat: int) -> int:
    """The next seat still in the match; the seat itself if there is no other."""
    for step in range(1, s.seats):
        other = (seat + step) % s.seats
        if not s.out[other]:
            return other
    return seat
