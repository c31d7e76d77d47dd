"""Events in words, with the rulebook's names; cards hidden from a seat are not named."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from dramok.core.effects.verbs import ALLOWED, CUES, FORBIDDEN
from dramok.core.engine.ability_program import CUE_CODES, VERB_CODES
from dramok.core.engine.kernel import codes as k
from dramok.core.engine.loop_detection import in_words, loop
from dramok.core.engine.match import Event, Match, seen_by
from dramok.core.problem import plural

_CUES = {CUE_CODES[cue.word]: cue.said for cue in CUES.values()} | {k.OFFER: "as offered"}
_VERBS = {code: word for word, code in VERB_CODES.items()}
_ACTS = {1 << bit: said for bit, said in enumerate(FORBIDDEN.values())}
_LEAVES = {1 << bit: said for bit, said in enumerate(ALLOWED.values())}
HIDDEN = "a card"
BY_HAND_SAID = "By hand:"
IN_PLAY = "in play"
"""The default name of the zone of play."""


@dataclass(frozen=True)
class LogLine:
    """`decision` counts from 0 (setup); `card` is the id of the named card, or None; `inner`: part of an
    effect; `kind` is the event's permanent code, `seat` its seat; `happening` its category (see
    `HAPPENINGS`), or empty.
    """

    decision: int
    text: str
    card: str | None
    inner: bool
    kind: int = -1
    seat: int = 0
    happening: str = ""


def told(match: Match, seat: int | None = None) -> list[LogLine]:
    """The whole match so far, one line per event, as a seat may know it; with None nothing is hidden."""
    teller = _Teller(match, seat)
    lines: list[LogLine] = []
    decision = 0
    for number, event in enumerate(match.events):
        while decision < len(match.ends) - 1 and number >= match.ends[decision]:
            decision += 1
        text = teller.say(event)
        if not text:
            continue
        named = event[2] >= 0 and not teller.hides(event) and match.state.cdef[event[2]] < len(match.program.cards)
        card = match.program.cards[match.state.cdef[event[2]]].id if named else None
        lines.append(LogLine(decision, text, card, event[0] not in _OUTER, event[0], event[1], _HAPPENS.get(event[0], "")))
    return lines


def event_texts(match: Match) -> list[str]:
    """The line of each event, with nothing hidden; empty for an event without one."""
    teller = _Teller(match, None)
    return [teller.say(event) for event in match.events]


_OUTER = (
    k.E_TURN, k.E_PLAYED, k.E_SHUFFLED, k.E_DREW, k.E_DISCARDED, k.E_LEFT, k.E_OVER_LIMIT, k.E_RUNAWAY, k.E_PHASE, k.E_WON, k.E_DRAW,
    k.E_CLASHES, k.E_ANSWERS, k.E_UNANSWERED, k.E_THROUGH, k.E_OUT, k.E_USED, k.E_REDREW, k.E_KEPT, k.E_MATCH, k.E_TURNED_OVER, k.E_PASSED,
    k.E_HAND_MOVED, k.E_HAND_TOTAL, k.E_HAND_DAMAGE, k.E_HAND_TILTED, k.E_HAND_RAISED, k.E_HAND_LOOKED, k.E_HAND_SHUFFLED,
    k.E_BOUGHT, k.E_ENDING, k.E_SCORED, k.E_LAPSED, k.E_SCHEDULED,
)  # fmt: skip
HAPPENINGS = {
    "drawn": (k.E_DREW, k.E_RESHUFFLED, k.E_REDREW), "played": (k.E_PLAYED,),
    "harm": (k.E_DEALT, k.E_DESTROYED, k.E_REDUCED, k.E_HAND_DAMAGE),
    "moved": (k.E_LEFT, k.E_DISCARDED, k.E_MOVED, k.E_REMOVED, k.E_RETURNED, k.E_RECALLED, k.E_HAND_MOVED, k.E_BOUGHT, k.E_REFILLED),
    "clash": (k.E_CLASHES, k.E_ANSWERS, k.E_UNANSWERED, k.E_THROUGH), "totals": (k.E_GAINED, k.E_LOST, k.E_HAND_TOTAL, k.E_LAPSED), "end": (k.E_ENDING, k.E_OUT, k.E_WON, k.E_DRAW),
}  # fmt: skip
"""Categories of events for animation and sound."""
_HAPPENS = {kind: happening for happening, kinds in HAPPENINGS.items() for kind in kinds}
_SECRET = (k.E_DREW, k.E_LOOKED, k.E_FOUND)


class _Teller:
    def __init__(self, match: Match, seat: int | None) -> None:
        self.match, self.seat = match, seat
        self.rules = match.program.rulebook
        self.several = match.program.seats > 1
        self.damage = self.rules.phrases.damage
        self.of, self.of_rules = 0, False

    def hides(self, event: Event) -> bool:
        """Whether the card of an event is hidden from this seat."""
        kind, seat, _, a, b = event
        if self.seat is None or seat == self.seat:
            return False
        if kind == k.E_FOUND:
            return not a
        if kind == k.E_HAND_MOVED:
            return not any(seen_by(self.match, place // k.MOST_SEATS, place % k.MOST_SEATS, self.seat) for place in (a // 2, b))
        if kind == k.E_MOVED:
            return {a, b} <= {k.HAND, k.DRAW_PILE}
        return kind in _SECRET or kind == k.E_FULL and a == k.HAND

    def say(self, event: Event) -> str:
        """An event in words; empty for one without interest to a reader."""
        kind, seat, card, a, b = event
        said = SAID.get(kind)
        assert said is not None, f"an event {kind} has no words"
        name = HIDDEN if self.hides(event) else self.name(card)
        self.of, self.of_rules = seat, card >= 0 and self.match.is_action(card)
        text = said(self, name, a, b)
        if not text or not self.several or kind not in _OF_SEAT:
            return text
        if text.startswith(BY_HAND_SAID):
            return f"{BY_HAND_SAID} {self.who(seat)}: {text[len(BY_HAND_SAID) + 1 :]}"
        # A card's name keeps its capital.
        return f"{self.who(seat)}: {text if text.startswith(name) else text[:1].lower() + text[1:]}"

    def who(self, seat: int) -> str:
        if seat == self.seat:
            return "You"
        return "Rival" if self.seat is not None and self.match.program.seats == 2 else f"Seat {seat + 1}"

    def name(self, card: int) -> str:
        if card < 0:
            return "no card"
        return self.called(self.match.state.cdef[card])

    def called(self, made: int) -> str:
        return self.match.program.name_of(made)

    def zone(self, zone: int) -> str:
        return self.rules.zone_name(self.match.program.zones[zone])

    def place(self, place: int) -> str:
        """A zone and its owner."""
        (zone, seat), program = divmod(place, k.MOST_SEATS), self.match.program
        if zone == k.IN_PLAY and self.zone(zone) == IN_PLAY:
            return "your side" if seat == self.seat else "play" if not self.several else "your rival’s side" if program.seats == 2 and self.seat is not None else f"seat {seat + 1}’s side"
        if zone == k.REMOVED and self.zone(zone) == "removed":
            return "the removed cards"
        shared = program.numbers[program.numbers[k.H_ZONE_ROWS] + zone * k.ZONE_WIDTH + k.Z_STRIDE] == 0
        if shared or not self.several:
            return f"the {self.zone(zone)}"
        if seat == self.seat:
            return f"your {self.zone(zone)}"
        whose = "your rival" if program.seats == 2 and self.seat is not None else f"seat {seat + 1}"
        return f"{whose}’s {self.zone(zone)}"

    def moved(self, name: str, to: int, before: int) -> str:
        """A card that an effect put into a zone of the event's seat."""
        if to == before == k.IN_PLAY:
            if self.match.program.seats != 2:
                side = self.place(to * k.MOST_SEATS + self.of)
            elif self.seat is None:
                side = "the other side"
            else:
                side = "your side" if self.of == self.seat else "your rival’s side"
            return f"{name} goes over to {side}."
        return f"{name} goes to {self.place(to * k.MOST_SEATS + self.of)}."

    def phase(self, phase: int) -> str:
        phases = self.rules.played.phases
        return phases[phase].name if 0 <= phase < len(phases) else "the phase"

    @property
    def limit(self) -> str:
        """The name of the stat that limits damage."""
        field = self.rules.cards.field(self.rules.roles.damage_limit or "")
        return field.name.lower() if field is not None else "limit"

    def stat(self, which: int) -> str:
        field = self.rules.cards.field(self.match.program.stats[which])
        return field.name.lower() if field is not None else "stat"

    def keyword(self, bit: int) -> str:
        ident = self.match.program.keywords[bit]
        return next((each.name for each in self.rules.keywords if each.id == ident), ident)

    def total(self, what: int, number: int) -> str:
        resource = self.rules.resources[what]
        return f"{number} {resource.name.lower() if number == 1 else resource.names.lower()}"

    def last_round(self, end: int) -> str:
        return "one more round" if self.rules.played.ends[end].when == "one more round" else "this round"

    def capped(self, what: int, number: int) -> str:
        cap = self.rules.resources[what].cap
        return f"{self.total(what, number)} over the cap{'' if cap is None else f' of {cap}'}: lost."

    def used(self, name: str) -> str:
        """An effect of a card, or an action of the rules, is used."""
        if not self.of_rules:
            return f"{name} is used."
        return f"{self.who(self.of)}: action {name}." if self.several else f"Action {name}."

    def runaway(self, card: str, why: int, full: int) -> str:
        if why == 1:
            return f"Cut off after {k.MOST_TURNS} turns without an end."
        if why == 2:
            return "Stopped: there is nothing left to decide."
        if full == k.FULL_UNKNOWN:
            return f"Cut off: {card} has an instruction that this version does not know."
        after = (
            f"after {k.MOST_DECISIONS:,} decisions in one turn, or {k.MOST_IN_MATCH:,} in all" if full == k.FULL_DECISIONS
            else f"after {k.MOST_STEPS:,} steps without an end" if not full else "with more than can be kept track of"
        )  # fmt: skip
        went_round = [self.called(made) for made in loop(self.match.events, self.match.state.cdef)]
        return f"Cut off {after}: {in_words(went_round)}." if went_round else f"Cut off {after}, at {card}."


_OF_SEAT = (
    k.E_SHUFFLED, k.E_DREW, k.E_NO_CARD, k.E_PLAYED, k.E_PAID, k.E_GAINED, k.E_LOST, k.E_CAPPED, k.E_RESHUFFLED, k.E_OVER_LIMIT, k.E_REDREW,
    k.E_KEPT, k.E_LOOKED, k.E_FOUND, k.E_DECLINED, k.E_ACCEPTED, k.E_PASSED, k.E_WON, k.E_OUT, k.E_TURN, k.E_TURNED_OVER, k.E_DISCARDED,
    k.E_HAND_TOTAL, k.E_HAND_LOOKED, k.E_HAND_SHUFFLED, k.E_BOUGHT, k.E_LAPSED,
)  # fmt: skip
Saying = Callable[[_Teller, str, int, int], str]
SAID: dict[int, Saying] = {
    k.E_SHUFFLED: lambda t, c, a, b: f"The {t.zone(b)} is shuffled: {plural(a, 'card')}.",
    k.E_RESHUFFLED: lambda t, c, a, b: f"The {t.zone(0)} is empty: the {t.zone(2)} ({plural(a, 'card')}) goes back into it.",
    k.E_DREW: lambda t, c, a, b: f"Drew {c}.",
    k.E_NO_CARD: lambda t, c, a, b: f"No card to draw: {t.zone(0)} and {t.zone(2)} are empty.",
    k.E_PLAYED: lambda t, c, a, b: f"Played {c}.",
    k.E_ENTERED: lambda t, c, a, b: f"{c} comes into play.",
    k.E_LEFT: lambda t, c, a, b: f"{c} leaves play for the {t.zone(2)}.",
    k.E_DISCARDED: lambda t, c, a, b: f"{c} goes to the {t.zone(2)}." if a else f"Discarded {c}.",
    k.E_DESTROYED: lambda t, c, a, b: f"{c} is destroyed.",
    k.E_REDUCED: lambda t, c, a, b: f"{c} leaves play: its {t.limit} is 0.",
    k.E_DEALT: lambda t, c, a, b: f"{a} {t.damage} on {c}.",
    k.E_HEALED: lambda t, c, a, b: f"{a} {t.damage} healed on {c}." if a else f"{c} has no {t.damage} to heal.",
    k.E_REVEALED: lambda t, c, a, b: f"{c} is revealed on top of the {t.zone(a)}.",
    k.E_PICKED: lambda t, c, a, b: f"{c} is picked.",
    k.E_TURN: lambda t, c, a, b: f"{t.rules.table.turn.capitalize()} {a} begins.",
    k.E_TURN_END: lambda t, c, a, b: "",
    k.E_PHASE: lambda t, c, a, b: f"{t.phase(a)} begins." if t.several else "",
    k.E_PHASE_END: lambda t, c, a, b: "",
    k.E_OVER_LIMIT: lambda t, c, a, b: f"{plural(a, 'card')} over the hand limit of {b}.",
    k.E_RUNAWAY: lambda t, c, a, b: t.runaway(c, a, b),
    k.E_ABILITY: lambda t, c, a, b: f"{c}, {_CUES.get(a, 'always')}:",
    k.E_NOTHING: lambda t, c, a, b: f"Nothing for {c} to do: the amount is 0, or there is no card for it.",
    k.E_NO_TARGET: lambda t, c, a, b: f"No target to {_VERBS.get(a, '')} {b} to: that part does nothing." if b else f"No card to {_VERBS.get(a, '')}: that part does nothing.",
    k.E_PAID: lambda t, c, a, b: f"Paid {t.total(a, b)}.",
    k.E_GAINED: lambda t, c, a, b: f"Gained {t.total(a, b)}.",
    k.E_LOST: lambda t, c, a, b: f"Lost {t.total(a, b)}." if b else f"No {t.rules.resources[a].names.lower()} to lose.",
    k.E_CAPPED: lambda t, c, a, b: t.capped(a, b),
    k.E_MOVED: lambda t, c, a, b: t.moved(c, a, b),
    k.E_REMOVED: lambda t, c, a, b: f"{c} is removed.",
    k.E_RETURNED: lambda t, c, a, b: f"{c} returns to its owner's {t.zone(1)}.",
    k.E_RECALLED: lambda t, c, a, b: f"{c} comes back to {t.zone(1)}.",
    k.E_CREATED: lambda t, c, a, b: f"{c} is created.",
    k.E_CEASED: lambda t, c, a, b: f"{c} is gone for good.",
    k.E_TILTED: lambda t, c, a, b: f"{c} is tilted.",
    k.E_STRAIGHTENED: lambda t, c, a, b: f"{c} is straightened.",
    k.E_RAISED: lambda t, c, a, b: f"{t.stat(a).capitalize()} of {c} rises by {b}.",
    k.E_LOWERED: lambda t, c, a, b: f"{t.stat(a).capitalize()} of {c} falls by {b}.",
    k.E_GRANTED: lambda t, c, a, b: f"{c} has {t.keyword(a)} now.",
    k.E_STRIPPED: lambda t, c, a, b: f"{c} no longer has {t.keyword(a)}.",
    k.E_FORBIDDEN: lambda t, c, a, b: f"{c} can't {_ACTS.get(a, 'do that')} now.",
    k.E_ALLOWED: lambda t, c, a, b: f"{c} can {_LEAVES.get(a, 'do that')} now.",
    k.E_SHIELDED: lambda t, c, a, b: f"{c} is shielded from {a} {t.damage}.",
    k.E_SHIELD_USED: lambda t, c, a, b: f"A shield takes {a} {t.damage} for {c}.",
    k.E_EXPIRED: lambda t, c, a, b: f"A temporary effect on {c} ends.",
    k.E_CLASHES: lambda t, c, a, b: f"{c} clashes.",
    k.E_ANSWERS: lambda t, c, a, b: f"{c} answers {t.name(a)}.",
    k.E_UNANSWERED: lambda t, c, a, b: f"{c} is unanswered: {a}.",
    k.E_THROUGH: lambda t, c, a, b: f"{c} is {a} more than its answer.",
    k.E_OUT: lambda t, c, a, b: "Out of the match.",
    k.E_WON: lambda t, c, a, b: "The match is won.",
    k.E_DRAW: lambda t, c, a, b: "Nobody has won: a draw.",
    k.E_REDREW: lambda t, c, a, b: f"Gave back {plural(a, 'card')} and drew the same number.",
    k.E_KEPT: lambda t, c, a, b: f"Kept {plural(a, 'card')}.",
    k.E_LOOKED: lambda t, c, a, b: f"Looked at {c} in the {t.zone(a)}.",
    k.E_FOUND: lambda t, c, a, b: f"Found {c}.",
    k.E_CHOSE: lambda t, c, a, b: f"{c}: choice {a + 1}.",
    k.E_DECLINED: lambda t, c, a, b: f"{c}: declined.",
    k.E_ACCEPTED: lambda t, c, a, b: f"{c}: accepted.",
    k.E_ATTACHED: lambda t, c, a, b: f"{c} is attached to {t.name(a)}.",
    k.E_PREVENTED: lambda t, c, a, b: f"{c} can't {_ACTS.get(a, 'do that')}: nothing happens to it.",
    k.E_FULL: lambda t, c, a, b: f"No room {'there' if a >= len(t.match.program.zones) or not t.match.program.zones[a] else t.zone(a)}: nothing more comes.",
    k.E_TURNED_OVER: lambda t, c, a, b: f"{c} is turned over.",
    k.E_PASSED: lambda t, c, a, b: "No answer.",
    k.E_MATCH: lambda t, c, a, b: "The match begins." if t.several else "",
    k.E_USED: lambda t, c, a, b: t.used(c),
    k.E_PUT_OFF: lambda t, c, a, b: f"{c}: the rest happens later.",
    k.E_PUT_BACK: lambda t, c, a, b: f"{c} is put back.",
    k.E_HAND_MOVED: lambda t, c, a, b: f"By hand: {c} from {t.place(b)} {'under' if a % 2 else 'to'} {t.place(a // 2)}.",
    k.E_HAND_TOTAL: lambda t, c, a, b: f"By hand: {t.total(a, b)}.",
    k.E_HAND_DAMAGE: lambda t, c, a, b: f"By hand: {a} {t.damage} on {c}, {b} before.",
    k.E_HAND_TILTED: lambda t, c, a, b: f"By hand: {c} is {'tilted' if a else 'straightened'}.",
    k.E_HAND_RAISED: lambda t, c, a, b: f"By hand: {t.stat(a)} of {c} {b:+d}.",
    k.E_HAND_SHUFFLED: lambda t, c, a, b: f"By hand: shuffled {t.place(a * k.MOST_SEATS + b)}.",
    k.E_BOUGHT: lambda t, c, a, b: f"Bought {c}." if a else f"Took {c} for nothing.",
    k.E_PASSED_OVER: lambda t, c, a, b: f"{t.total(a, b)} put on {c}.",
    k.E_REFILLED: lambda t, c, a, b: f"{c} comes to the {t.zone(a)}.",
    k.E_GREW: lambda t, c, a, b: f"{t.rules.played.counters[a].name} of {c}: {b}.",
    k.E_LAPSED: lambda t, c, a, b: f"{t.total(a, b).capitalize()} left over: lost.",
    k.E_ENDING: lambda t, c, a, b: f"The match ends after {t.last_round(b)}.",
    k.E_SCHEDULED: lambda t, c, a, b: f"Round {b}: {c}.",
    k.E_COMPARED: lambda t, c, a, b: f"{t.who(t.of)}: {a}{', chosen' if b else ''}.",
    k.E_SCORED: lambda t, c, a, b: f"{t.who(t.of)}: {t.rules.played.scoring[a].name} {b}.",
    k.E_HAND_LOOKED: lambda t, c, a, b: f"By hand: looked through {t.place(a * k.MOST_SEATS + b)}.",
}  # fmt: skip
"""The words for each event: (function, name of its card, a, b)."""
