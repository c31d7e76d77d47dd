"""Random numbers in 32-bit words: sfc32, a stream for each (match seed, seat, purpose). The same numbers on
every machine.

Source: Chris Doty-Humphrey's small fast counting generator, 32-bit variant.
"""

from __future__ import annotations

from dramok.core.engine.kernel import codes as k
from dramok.core.engine.kernel.kernel_function import kernel
from dramok.core.engine.kernel.state import Numbers, State

WORD = 0xFFFFFFFF


@kernel
def word(p: Numbers, s: State, seat: int, purpose: int) -> int:
    """The next 32-bit word of a stream."""
    base = (seat * k.STREAMS + purpose) * 4
    a = s.chance[base]
    b = s.chance[base + 1]
    c = s.chance[base + 2]
    count = s.chance[base + 3]
    out = (a + b + count) & WORD
    s.chance[base] = b ^ (b >> 9)
    s.chance[base + 1] = (c + ((c << 3) & WORD)) & WORD
    s.chance[base + 2] = ((((c << 21) & WORD) | (c >> 11)) + out) & WORD
    s.chance[base + 3] = (count + 1) & WORD
    return out


@kernel
def seed_streams(p: Numbers, s: State, low: int, high: int) -> int:
    """Seed every stream from the two words of the match seed."""
    for seat in range(k.MOST_SEATS):
        for purpose in range(k.STREAMS):
            base = (seat * k.STREAMS + purpose) * 4
            s.chance[base] = low & WORD
            s.chance[base + 1] = high & WORD
            s.chance[base + 2] = (seat * 0x9E3779B9 + purpose * 0x85EBCA6B + 1) & WORD
            s.chance[base + 3] = 1
            for _ in range(15):
                word(p, s, seat, purpose)
    return 0


@kernel
def below(p: Numbers, s: State, seat: int, purpose: int, limit: int) -> int:
    """A number from 0 to limit - 1 with equal probability, by rejection sampling."""
    even = (WORD + 1) - (WORD + 1) % limit
    value = word(p, s, seat, purpose)
    while value >= even:
        value = word(p, s, seat, purpose)
    return value % limit
