"""A match event by event, with names instead of numbers: for programmers who check an implementation of their own."""

from __future__ import annotations

from typing import Any

from dramok.core.engine.kernel import codes as k
from dramok.core.engine.log import event_texts
from dramok.core.engine.match import Match

EVENTS = {number: name[2:].lower().replace("_", " ") for name, number in vars(k).items() if name.startswith("E_")}
"""The name of each kind of event."""


def match_record(match: Match) -> list[dict[str, Any]]:
    """Every event in order. `decision`: the number of decisions before it; `card`: the number of its card at the table, and
    `code` what is printed on that card; `a` and `b`: its two numbers; `text`: its line in the log, empty if it has none.
    """
    found: list[dict[str, Any]] = []
    decision = 0
    for number, (event, text) in enumerate(zip(match.events, event_texts(match), strict=True)):
        while decision < len(match.ends) - 1 and number >= match.ends[decision]:
            decision += 1
        kind, seat, card, a, b = event
        code = match.program.cards[match.state.cdef[card]].code if card >= 0 and not match.is_action(card) else ""
        found.append({"decision": decision, "event": EVENTS[kind], "seat": seat, "card": card, "code": code, "a": a, "b": b, "text": text})
    return found
