"""Chance in 32-bit words: sfc32, a stream for each (match seed, seat, purpose). The same numbers on every machine.

Source of the generator: Chris Doty-Humphrey's small fast counting generator, 32-bit variant.
"""

from __future__ import annotations

from dramok.core.engine.state import STREAMS, State

WORD = 0xFFFFFFFF


def seed_streams(s: State, seed: int) -> None:
    """Sets every stream from the match's seed (0 to 2**63 - 1)."""
    for seat in range(s.seats):
        for purpose in range(STREAMS):
            base = (seat * STREAMS + purpose) * 4
            s.chance[base] = seed & WORD
            s.chance[base + 1] = (seed >> 32) & WORD
            s.chance[base + 2] = (seat * 0x9E3779B9 + purpose * 0x85EBCA6B + 1) & WORD
            s.chance[base + 3] = 1
            for _ in range(15):
                word(s, seat, purpose)


def word(s: State, seat: int, purpose: int) -> int:
    """The next 32-bit word of a stream."""
    base = (seat * STREAMS + purpose) * 4
    a, b, c, count = s.chance[base], s.chance[base + 1], s.chance[base + 2], s.chance[base + 3]
    out = (a + b + count) & WORD
    s.chance[base] = b ^ (b >> 9)
    s.chance[base + 1] = (c + ((c << 3) & WORD)) & WORD
    s.chance[base + 2] = ((((c << 21) & WORD) | (c >> 11)) + out) & WORD
    s.chance[base + 3] = (count + 1) & WORD
    return out


def below(s: State, seat: int, purpose: int, limit: int) -> int:
    """A number from 0 to limit - 1, each equally likely: words that would favour low numbers are thrown again."""
    even = (WORD + 1) - (WORD + 1) % limit
    value = word(s, seat, purpose)
    while value >= even:
        value = word(s, seat, purpose)
    return value % limit
