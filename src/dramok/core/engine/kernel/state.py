"""The state of a match: one list of fields, from which the record for compiled code and the class for plain
Python are built.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING, Any

from dramok.core.engine.kernel import codes as k

SINGLE: tuple[str, ...] = (
    "seats", "active", "turn", "round", "phase", "over", "winner", "wait", "whose", "options", "top", "nset", "nmod", "nlater", "npend",
    "ntarget", "nleft", "nwatch", "cards", "tokens", "arrivals", "dirty", "changed", "steps", "most", "logs", "digests", "digest", "nlog",
    "departed", "declaring", "declared", "npick", "pick_least", "pick_most", "acted", "decisions", "since", "full", "cut", "culprit", "answering",
    "gauged", "deeds", "gap", "ending", "first_action",
)  # fmt: skip
"""Integers.

`most` is the step limit of a decision before it counts as endless. `full` is set when a list is full: the match
ends as a runaway. `culprit` is the card whose ability ran last. `deeds` are the actions of a seat in this phase,
`gap` is set when a row may have a free place, `ending` is the round after which the match ends, or 0.
`first_action`: the number of the first card that represents an action of the rules: those of seat 0 in order, then
those of seat 1. They are in no zone.
"""

ROWS: tuple[tuple[str, int], ...] = (
    ("chance", k.MOST_SEATS * k.STREAMS * 4),
    ("res", k.MOST_RESOURCES * k.MOST_SEATS),
    ("zhead", k.MOST_ZONES * k.MOST_SEATS),
    ("ztail", k.MOST_ZONES * k.MOST_SEATS),
    ("zcount", k.MOST_ZONES * k.MOST_SEATS),
    ("out", k.MOST_SEATS),
    ("reshuffled", k.MOST_SEATS),
    ("watch", k.MOST_CUES),
    ("optk", k.MOST_OPTIONS),
    ("opta", k.MOST_OPTIONS),
    ("optb", k.MOST_OPTIONS),
    ("fr", k.MOST_FRAMES * k.FRAME),
    ("sets", k.MOST_SET),
    ("seti", k.MOST_SET),
    ("modc", k.MOST_MODS),
    ("modi", k.MOST_MODS),
    ("modk", k.MOST_MODS),
    ("modw", k.MOST_MODS),
    ("moda", k.MOST_MODS),
    ("modu", k.MOST_MODS),
    ("mods", k.MOST_MODS),
    ("modf", k.MOST_MODS),
    ("later", k.MOST_LATER * 16),
    ("pend", k.MOST_PENDING * 6),
    ("target", k.MOST_CARDS),
    ("left", k.MOST_CARDS),
    ("pick", k.MOST_CARDS),
    ("temp", k.MOST_CARDS),
    ("eval", k.MOST_EVAL),
    ("gauge", k.MOST_GAUGE),
    ("bought", k.MOST_MARKETS),
    ("score", k.MOST_SCORES * k.MOST_SEATS),
)
PER_CARD: tuple[str, ...] = (
    "cdef", "owner", "ctrl", "zone", "slot", "next", "prev", "damage", "tilted", "arrival", "came", "inc", "limturn", "limwhen", "limgame", "mark",
    "answers", "host", "keys", "forbids", "allows", "token", "drawn", "played", "seen", "nth", "tokens_on", "token_of", "sold",
)  # fmt: skip
"""`owner`: the seat that owns the card, or NOBODY.

`ctrl`: the seat it acts for: in play its controller, elsewhere the seat whose zone it is in, NOBODY in a shared
zone; a card that has left play keeps its last controller until nothing resolves any more. `limwhen`: the turn
that `limturn` counts. `nth`: the number of cards above it when its draw pile was first shuffled; -1 for a card
that was not there. `tokens_on`: the number of resource `token_of` that buyers left on the card. `sold`: how often it was bought.
"""
STATS = "stat"
COUNTERS = "counter"
LOG = "log"
LOG_ROWS = 6_144
"""The number of events that a log holds before it must be read."""


def fields(cards: int = k.MOST_CARDS, log: int = LOG_ROWS) -> list[tuple[str, int]]:
    """(name, length) of every field in order; length 0 is a single number. The log is the tail, and is not copied."""
    return [
        *((name, 0) for name in SINGLE),
        *((name, min(length, cards) if length == k.MOST_CARDS else length) for name, length in ROWS),
        *((name, cards) for name in PER_CARD),
        (STATS, cards * k.MOST_STATS),
        (COUNTERS, cards * k.MOST_COUNTERS),
        (LOG, log * k.EVENT),
    ]


class State:
    """A match at one moment, for the interpreted kernel: integers, and lists of them under the names of `fields`."""

    __slots__ = (*SINGLE, *(name for name, _ in ROWS), *PER_CARD, STATS, COUNTERS, LOG)

    def __init__(self, cards: int, log: int = LOG_ROWS, lists: type[list[int]] = list) -> None:
        for name, length in fields(cards, log):
            setattr(self, name, lists([0] * length) if length else 0)

    def copied(self) -> State:
        """A copy without the log."""
        other = object.__new__(State)
        for name in SINGLE:
            setattr(other, name, getattr(self, name))
        for name in (*(name for name, _ in ROWS), *PER_CARD, STATS, COUNTERS):
            setattr(other, name, getattr(self, name)[:])
        setattr(other, LOG, [])
        return other

    if TYPE_CHECKING:

        def __getattr__(self, name: str) -> Any: ...

        def __setattr__(self, name: str, value: int) -> None: ...


Numbers = Sequence[int]
"""A program: one flat row of integers."""
