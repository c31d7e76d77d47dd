"""Events in words, by the rulebook's own names."""

from __future__ import annotations

from dataclasses import dataclass

from dramok.core.effects.verbs import CUES
from dramok.core.engine import state as k
from dramok.core.engine.match import Match
from dramok.core.engine.program import CUE_CODES, VERB_CODES
from dramok.core.problem import plural

Event = tuple[int, int, int, int, int]
_CUES = {CUE_CODES[cue.word]: cue.said for cue in CUES.values()}
_VERBS = {code: word for word, code in VERB_CODES.items()}


@dataclass(frozen=True)
class LogLine:
    """`decision` counts from 0 (the set-up); `card` is the id of the card spoken of, or None; `inner` is part of an effect."""

    decision: int
    text: str
    card: str | None
    inner: bool


def told(match: Match) -> list[LogLine]:
    """The whole match so far, one line an event."""
    lines: list[LogLine] = []
    decision = 0
    for number, event in enumerate(match.state.events):
        while decision < len(match.ends) - 1 and number >= match.ends[decision]:
            decision += 1
        text = _say(match, event)
        card = match.program.cards[match.state.card_def[event[2]]].id if event[2] >= 0 else None
        lines.append(LogLine(decision, text, card, event[0] not in _OUTER))
    return lines


_OUTER = (k.E_TURN, k.E_PLAYED, k.E_SHUFFLED, k.E_DREW, k.E_DISCARDED, k.E_LEFT, k.E_OVER_LIMIT, k.E_RUNAWAY)


def _say(match: Match, event: Event) -> str:
    kind, _, card, a, b = event
    rules, zones = match.program.rulebook.table, match.program.rulebook.table.zones
    name = _name(match, card)
    pile, discards = zones.get("draw", "draw pile"), zones.get("discard", "discard pile")
    damage = match.program.rulebook.phrases.damage
    said = {
        k.E_SHUFFLED: f"The {pile} is shuffled: {plural(a, 'card')}.",
        k.E_RESHUFFLED: f"The {pile} is empty: the {discards} ({plural(a, 'card')}) goes back into it.",
        k.E_DREW: f"Drew {name}.",
        k.E_NO_CARD: f"No card to draw: {pile} and {discards} are empty.",
        k.E_PLAYED: f"Played {name}.",
        k.E_ENTERED: f"{name} comes into play.",
        k.E_LEFT: f"{name} leaves play for the {discards}.",
        k.E_DISCARDED: f"{name} goes to the {discards}." if a else f"Discarded {name}.",
        k.E_DESTROYED: f"{name} is destroyed.",
        k.E_DEALT: f"{a} {damage} on {name}.",
        k.E_HEALED: f"{a} {damage} healed on {name}." if a else f"{name} bears no {damage}.",
        k.E_REVEALED: f"{name} is revealed on top of the {pile}.",
        k.E_PICKED: f"{name} is picked.",
        k.E_TURN: f"{rules.turn.capitalize()} {a} begins.",
        k.E_OVER_LIMIT: f"{plural(a, 'card')} over the hand limit of {b}.",
        k.E_RUNAWAY: f"Cut off after {k.MOST_STEPS} steps without an end, at {name}.",
        k.E_ABILITY: f"{name}, {_CUES.get(a, 'always')}:",
        k.E_NOTHING: f"Nothing for {name} to do: the amount is 0, or there is no card for it.",
        k.E_NO_TARGET: f"No target to {_VERBS.get(a, '')} {b} to: that part does nothing.",
    }.get(kind)
    return said if said is not None else _of_resource(match, kind, a, b)


def _of_resource(match: Match, kind: int, what: int, number: int) -> str:
    resource = match.program.rulebook.resources[what]
    noun = resource.name.lower() if number == 1 else resource.names.lower()
    if kind == k.E_PAID:
        return f"Paid {number} {noun}."
    if kind == k.E_GAINED:
        return f"Gained {number} {noun}."
    if kind == k.E_LOST:
        return f"Lost {number} {noun}." if number else f"No {noun} to lose."
    return f"{number} {noun} over the cap of {resource.cap}: lost."


def _name(match: Match, card: int) -> str:
    if card < 0:
        return "no card"
    definition = match.program.cards[match.state.card_def[card]]
    return definition.text(match.program.rulebook.roles.name) or definition.code
