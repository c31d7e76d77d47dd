"""The reference engine: slow and simple, with objects and generators, written from the rules alone. The kernel must agree with it, event for event.

It shares nothing with the kernel but the event numbers and the random stream. Effects run by recursion, stats are computed before every
step, and every card is searched for triggers.
"""

from __future__ import annotations

from collections.abc import Callable, Generator, Iterable, Sequence
from contextlib import suppress
from dataclasses import dataclass, field

from dramok.core.cards import Card
from dramok.core.effects.model import (
    EVERYWHERE,
    All,
    ChoiceIs,
    Combined,
    Comparison,
    Continuous,
    Count,
    Group,
    Half,
    HasKeyword,
    HasTag,
    HeldTotal,
    Host,
    InState,
    It,
    Keyworded,
    Not,
    Number,
    Offered,
    Other,
    Pick,
    Random,
    StatCompare,
    StatOf,
    Step,
    SumOf,
    That,
    This,
    Together,
    Triggered,
    Unless,
    When,
    steps_of,
    walked,
)
from dramok.core.effects.verbs import ALLOWED, CUES, FORBIDDEN, VERBS
from dramok.core.engine.kernel import codes as k
from dramok.core.engine.kernel.rng import below, seed_streams
from dramok.core.engine.kernel.state import State
from dramok.core.problem import fold
from dramok.core.rulebook import Rulebook

Choice = tuple[str, int, int]
Turns = Generator[list[Choice], Choice, None]
ZONES = {"draw": 0, "hand": 1, "discard": 2, "play": 3, "removed": 4, "resolving": 5}
VERB = {word: code for code, word in enumerate(VERBS)}
CUE = {word: code for code, word in enumerate(CUES, 1)}
FORBIDS = {act: 1 << bit for bit, act in enumerate(FORBIDDEN)}
ALLOWS = {act: 1 << bit for bit, act in enumerate(ALLOWED)}


class Endless(Exception):
    """It goes on for ever."""


class Over(Exception):
    """The match has ended."""


@dataclass(eq=False)
class Thing:
    """A card at the table. `stats`, `keys`, `forbids`, `allows` are as they stood before the step that runs."""

    number: int
    card: Card
    owner: int | None
    place: str = "draw"
    seat: int | None = 0
    stats: dict[str, int] = field(default_factory=dict)
    keys: set[str] = field(default_factory=set)
    forbids: set[str] = field(default_factory=set)
    allows: set[str] = field(default_factory=set)
    damage: int = 0
    tilted: bool = False
    token: bool = False
    life: int = 0
    came: int = 0
    arrival: int = 0
    host: Thing | None = None
    clashing: bool = False
    was_answered: bool = False
    answers: Thing | None = None
    remembered: bool = False
    uses: dict[tuple[int, str], int] = field(default_factory=dict)
    counters: dict[str, int] = field(default_factory=dict)
    tokens: tuple[str, int] = ("", 0)


@dataclass(eq=False)
class Mod:
    thing: Thing
    kind: int
    what: object
    amount: int
    until: When | None
    seat: int


@dataclass(eq=False)
class Run:
    """An ability at work: which card's, for which seat; what `that` and `it` are, with the lives they had."""

    thing: Thing
    life: int
    seat: int
    that: Thing | None = None
    that_life: int = 0
    its: list[tuple[Thing, int]] = field(default_factory=list)
    chosen: list[tuple[Thing, int]] | None = None
    around: Run | None = None

    def follow(self, thing: Thing) -> None:
        """A step of it has moved a card out of play or into it: it goes on referring to it, and so do the blocks around."""
        was, run = thing.life - 1, self
        while run is not None:
            if run.thing is thing and run.life == was:
                run.life = thing.life
            if run.that is thing and run.that_life == was:
                run.that_life = thing.life
            run.its = [(each, thing.life if each is thing and life == was else life) for each, life in run.its]
            run = run.around


class Reference:
    """`log` are the events; `play()` yields the options of each decision and is sent the one taken."""

    def __init__(self, rulebook: Rulebook, cards: Sequence[Card], decks: Sequence[Sequence[str]], seed: int, most_events: int = 30_000) -> None:
        self.book, self.table, self.rules = rulebook, rulebook.table, rulebook.played
        self.cards = {card.id: card for card in cards}
        self.by_code = {card.code: card for card in cards} | self.cards
        order = [card.id for card in cards]
        self.seats = self.rules.seats
        self.things: list[Thing] = []
        self.zones: dict[tuple[str, int], list[Thing]] = {}
        self.own_zones = {zone.id: zone for zone in self.rules.zones}
        self.arrivals = self.turn = 0
        self._known: dict[str, tuple[list[tuple[object, str]], list[tuple[Continuous, str]], set[str]]] = {}
        self._stats: dict[tuple[str, str], int] = {}
        self._all_stats: dict[str, dict[str, int]] = {}
        self._types: dict[str, set[str]] = {}
        every = [*(card.script("effect") for card in cards), *rulebook.scripts]
        self.granted = {step.keyword for script in every for each in script.abilities for step in walked(steps_of(each)) if step.verb == "grant"}
        self.stat_ids = [each.id for each in rulebook.cards.fields if each.kind == "number" and each.whole]
        for seat, deck in enumerate(decks):
            for ident in sorted(deck, key=order.index):
                self._lay(self.cards[ident], seat, "draw")
        for laid in self.rules.set_up.placed:
            counts = {self.by_code[ident].id: count for ident, count in laid.cards.items()}
            if laid.group is not None:
                for card in cards:
                    if card.id not in counts and all(self._fits(card, each) for each in laid.group.filters) and (laid.group.type in (None, card.type)):
                        counts[card.id] = int(card.values.get("copies") or 1)
            for ident in sorted(counts, key=order.index):
                for seat in [0] if self._shared(laid.zone) else range(self.seats):
                    for _ in range(counts[ident]):
                        self._lay(self.by_code[ident], seat, laid.zone)
        self.actions = [[self._action(each, seat) for each in self.rules.actions] for seat in range(self.seats)]
        text = "".join(card.script("effect").model_dump_json() for card in cards) + "".join(each.model_dump_json() for each in rulebook.scripts)
        devised = '"create"' in text or any(each.becomes == "figure" for each in self.rules.after_play)
        self.free = [Thing(len(self.things) + number, cards[0], 0, "free") for number in range(k.MOST_TOKENS if devised else 0)]
        self.things += self.free
        self.free = list(self.free)
        self.totals = {(each.id, seat): each.start for each in rulebook.resources for seat in range(self.seats)}
        self.kinds = {each.id: each for each in rulebook.resources}
        self.numbers = {each.id: number for number, each in enumerate(rulebook.resources)}
        self.keyword_ids = [each.id for each in rulebook.keywords if each.effect.abilities]
        self.chance = State(1, 1)
        seed_streams((), self.chance, seed & 0xFFFFFFFF, seed >> 32)
        self.log: list[tuple[int, int, int, int, int]] = []
        self.most_events = most_events
        self.mods: list[Mod] = []
        self.later: list[tuple[When, int, Run, tuple[Step, ...]]] = []
        self.over: list[tuple[object, int]] = []
        self.queue: list[tuple[object, int, Thing, Thing | None, int, int, int]] = []
        self.out = [False] * self.seats
        self.reshuffled = [0] * self.seats
        self.active, self.round, self.phase, self.acted = 0, 1, "", 0
        self.being_played: Thing | None = None
        self.depth = 0
        self.deeds = 0
        self.gap = False
        self.ending: int | None = None
        self.bought = [0] * len(self.rules.markets)
        self.kinds_at_start = [sum(len({each.card.id for each in self.zone(zone, 0)}) for zone in end.zones) for end in self.rules.ends]

    # Small things.

    def _lay(self, card: Card, seat: int, zone: str) -> Thing:
        whose = None if self._shared(zone) else seat
        thing = Thing(len(self.things), card, whose, zone, whose)
        self.things.append(thing)
        self.into(thing, zone, seat, False)
        if zone == "play":
            self.reset_entering(thing, seat)
        return thing

    def _action(self, action: object, seat: int) -> Thing:
        """An action of the rules, as a card in no zone."""
        thing = Thing(len(self.things), Card(f"action {action.id}", action.name, "", "", {"effect": action.effect}), seat, "free", seat)
        self.things.append(thing)
        return thing

    def _fits(self, card: Card, each: object) -> bool:
        return fold(each.tag) in {fold(tag) for tag in card.tags("tags")} if isinstance(each, HasTag) else card.text(each.field) == each.value

    def into(self, thing: Thing, zone: str, seat: int, bottom: bool) -> None:
        """Into a list: on top, at the bottom, or in a supply after the last equal card."""
        held = self.zone(zone, seat)
        own = self.own_zones.get(zone)
        if own is not None and own.kind == "supply":
            equal = [place for place, each in enumerate(held) if each.card.id == thing.card.id]
            held.insert(equal[-1] + 1 if equal else len(held), thing)
        else:
            held.insert(0 if bottom else len(held), thing)

    def _shared(self, zone: str) -> bool:
        return zone in getattr(self, "own_zones", {}) and self.own_zones[zone].shared

    def zone(self, zone: str, seat: int) -> list[Thing]:
        return self.zones.setdefault((zone, 0 if self._shared(zone) else seat), [])

    def zone_number(self, zone: str) -> int:
        return ZONES[zone] if zone in ZONES else 8 + [each.id for each in self.rules.zones].index(zone)

    def say(self, kind: int, seat: int, thing: Thing | None = None, a: int = 0, b: int = 0) -> None:
        self.log.append((kind, seat, thing.number if thing else -1, a, b))
        if len(self.log) > self.most_events:
            raise Endless

    def order(self) -> list[int]:
        """Seats, the active one first."""
        return [(self.active + step) % self.seats for step in range(self.seats)]

    def in_play(self) -> list[Thing]:
        return [thing for seat in self.order() for thing in self.zone("play", seat)]

    def rival(self, seat: int) -> int:
        return next((other for step in range(1, self.seats) if not self.out[other := (seat + step) % self.seats]), seat)

    def alive(self, thing: Thing | None, life: int) -> bool:
        return thing is not None and thing.life == life

    def room(self, zone: str, seat: int) -> bool:
        limit = self.own_zones[zone].limit if zone in self.own_zones else None
        return limit is None or len(self.zone(zone, seat)) < limit

    def abilities(self, card: Card) -> tuple[list[tuple[object, str]], list[tuple[Continuous, str]], set[str]]:
        """What triggers or is offered, what lasts (each with the keyword it is of, or nothing), and the printed keywords of a card."""
        if card.id not in self._known:
            lines = card.script("effect").abilities
            keys = {key for each in lines if isinstance(each, Keyworded) for key in each.keywords}
            rows = [(each, "") for each in lines]
            for keyword in self.book.keywords:
                if keyword.id in keys or keyword.id in self.granted:
                    rows += [(each, keyword.id) for each in keyword.effect.abilities]
            done = [row for row in rows if isinstance(row[0], Triggered | Offered)]
            self._known[card.id] = done, [row for row in rows if isinstance(row[0], Continuous)], keys  # type: ignore[misc]
        return self._known[card.id]

    def lines(self, thing: Thing) -> Iterable[tuple[int, object]]:
        """(place, ability) of what triggers or is offered: its own, then those of its keywords."""
        rows = self.abilities(thing.card)[0]
        return [(place, each) for place, (each, key) in enumerate(rows) if not key or key in self.keys_now(thing)]

    def printed_keys(self, thing: Thing) -> set[str]:
        return self.abilities(thing.card)[2]

    def keys_now(self, thing: Thing) -> set[str]:
        return thing.keys if thing.place == "play" or thing.remembered else self.printed_keys(thing)

    def printed(self, thing: Thing, stat: str) -> int:
        if (thing.card.id, stat) not in self._stats:
            number = thing.card.number(stat)
            has = bool(thing.card.type) and self.book.cards.has_field(thing.card.type, stat)
            self._stats[thing.card.id, stat] = number if has and number is not None and number >= 0 else -1
        return self._stats[thing.card.id, stat]

    def printed_stats(self, thing: Thing) -> dict[str, int]:
        if thing.card.id not in self._all_stats:
            self._all_stats[thing.card.id] = {stat: self.printed(thing, stat) for stat in self.stat_ids}
        return self._all_stats[thing.card.id]

    def stat(self, thing: Thing, stat: str, printed: int = 0) -> int:
        if stat in [each.id for each in self.rules.counters]:
            return thing.counters.get(stat, 0)
        if printed or thing.place != "play" and not thing.remembered:
            return self.printed(thing, stat)
        return thing.stats.get(stat, -1)

    def is_type(self, thing: Thing, ident: str) -> bool:
        if thing.card.type not in self._types:
            at: str | None = thing.card.type or None  # an action of the rules has no type
            found = self._types.setdefault(thing.card.type, set())
            while at is not None:
                found.add(at)
                at = self.book.cards.type(at).extends
        return ident in self._types[thing.card.type]

    # Who is meant.

    def belongs(self, group: Group, thing: Thing, source: Thing, seat: int, printed: int = 0) -> bool:
        if group.side != "any" and not self.on_side(group.side, thing.seat, seat):
            return False
        if group.type is not None and not self.is_type(thing, group.type):
            return False
        return not group.filters or all(self.passes(each, thing, source, printed) for each in group.filters)

    def on_side(self, side: str, whose: int | None, seat: int) -> bool:
        return side == "any" or whose is not None and (whose == seat) == (side == "own")

    def passes(self, each: object, thing: Thing, source: Thing, printed: int) -> bool:
        match each:
            case Not():
                return not self.passes(each.filter, thing, source, printed)
            case Other():
                return thing is not source
            case HasTag():
                return fold(each.tag) in {fold(tag) for tag in thing.card.tags("tags")}
            case HasKeyword():
                return each.keyword in (self.printed_keys(thing) if printed > 1 else self.keys_now(thing))
            case ChoiceIs():
                return thing.card.text(each.field) == each.value
            case InState():
                return {"tilted": thing.tilted, "hurt": thing.damage > 0, "created": thing.token}[each.state]
            case StatCompare():
                value = self.stat(thing, each.field, printed)
                return value >= 0 and {"is": value == each.number, "above": value > each.number, "under": value < each.number}[each.compare]
        raise AssertionError(each)

    def members(self, group: Group, source: Thing, seat: int, printed: int = 0, counting: bool = False) -> list[Thing]:
        zone = group.zone or "play"
        if self._shared(zone):
            return [thing for thing in self.zone(zone, 0) if group.side == "any" and self.belongs(group, thing, source, seat, printed)]
        seats = [each for each in (range(self.seats) if counting else self.order()) if not self.out[each]]
        # The side is that of the zone, whichever side controlled the card last.
        bare = group.model_copy(update={"side": "any"})
        return [thing for each in seats if self.on_side(group.side, each, seat) for thing in self.zone(zone, each) if self.belongs(bare, thing, source, seat, printed)]

    def counted(self, group: Group, run: Run, printed: int) -> list[Thing]:
        """The cards that an amount counts: of one zone, or of every zone of the seats."""
        if group.zone != EVERYWHERE:
            return self.members(group, run.thing, run.seat, printed, counting=True)
        zones = ["draw", "hand", "discard", "play", "resolving", *(each.id for each in self.rules.zones if not each.shared)]
        return [thing for zone in zones for thing in self.members(group.model_copy(update={"zone": zone}), run.thing, run.seat, printed, counting=True)]

    def amount(self, amount: object, run: Run, printed: int = 0) -> int:
        return min(999_999, max(0, self._amount(amount, run, printed)))

    def _amount(self, amount: object, run: Run, printed: int) -> int:
        match amount:
            case Number():
                return amount.value
            case Count():
                return len(self.counted(amount.group, run, printed))
            case SumOf():
                return sum(max(0, self.stat(each, amount.field, printed)) for each in self.counted(amount.group, run, printed))
            case StatOf():
                it = run.its[0][0] if run.its else None
                of = {"this": run.thing, "that": run.that, "it": it, "host": run.thing.host}[amount.of]
                return max(0, self.stat(of, amount.field, printed)) if of else 0
            case HeldTotal():
                if amount.side == "own":
                    return self.has(amount.resource, run.seat)
                return sum(self.has(amount.resource, seat) for seat in range(self.seats) if seat != run.seat and not self.out[seat])
            case Half():
                return (self.amount(amount.of, run, printed) + amount.up) // 2
            case Combined():
                left, right = self.amount(amount.left, run, printed), self.amount(amount.right, run, printed)
                return {"+": left + right, "-": left - right, "x": left * right, "least": min(left, right), "most": max(left, right)}[amount.how]
        raise AssertionError(amount)

    def holds(self, condition: object, run: Run, printed: int = 0) -> bool:
        match condition:
            case None:
                return True
            case Comparison():
                left, right = self.amount(condition.left, run, printed), self.amount(condition.right, run, printed)
                return {"is": left == right, "above": left > right, "under": left < right}[condition.compare]
            case Unless():
                return not self.holds(condition.part, run, printed)
            case Together():
                found = [self.holds(each, run, printed) for each in condition.parts]
                return all(found) if condition.kind == "all" else any(found)
        raise AssertionError(condition)

    # What everything is now.

    def refresh(self) -> None:
        """Printed; changed until a moment; keywords that last; all else that lasts. What lasts reads what is printed."""
        in_play = self.in_play()
        for thing in in_play:
            thing.stats = dict(self.printed_stats(thing))
            thing.keys, thing.forbids, thing.allows = self.printed_keys(thing), set(), set()
        for mod in self.mods:
            if mod.kind == k.M_GRANTED:
                mod.thing.keys = mod.thing.keys | {str(mod.what)}
            elif mod.kind == k.M_STRIPPED:
                mod.thing.keys = mod.thing.keys - {str(mod.what)}
            elif mod.kind == k.M_FORBIDDEN:
                mod.thing.forbids.add(str(mod.what))
            elif mod.kind == k.M_ALLOWED:
                mod.thing.allows.add(str(mod.what))
            elif mod.kind == k.M_RAISED and self.printed(mod.thing, str(mod.what)) >= 0:
                mod.thing.stats[str(mod.what)] += mod.amount
        sources = [each for each in in_play if self.lasting(each)]
        for words in (("grant", "strip"), ("raise", "lower", "forbid", "allow")):
            first = words[0] == "grant"
            for source in sources:
                for ability, key in self.lasting(source):
                    has = not key or key in (self.printed_keys(source) if first else source.keys)
                    for step in ability.lasting:
                        if step.verb in words and has:
                            self._last(step, ability, source, 2 if first else 1)
        for thing in in_play:
            for stat, value in thing.stats.items():
                if not 0 <= value <= 999_999 and self.printed(thing, stat) >= 0:
                    thing.stats[stat] = min(999_999, max(0, value))

    def lasting(self, thing: Thing) -> list[tuple[Continuous, str]]:
        return self.abilities(thing.card)[1]

    def _last(self, step: Step, ability: Continuous, source: Thing, printed: int) -> None:
        run = Run(source, source.life, source.seat)
        if not self.holds(ability.condition, run, printed):
            return
        if isinstance(step.target, This):
            targets = [source]
        elif isinstance(step.target, Host):
            targets = [source.host] if source.host else []
        else:
            targets = self.members(step.target.group, source, source.seat, printed)
        for thing in targets:
            if step.verb == "grant":
                thing.keys = thing.keys | {step.keyword}
            elif step.verb == "strip":
                thing.keys = thing.keys - {step.keyword}
            elif step.verb == "forbid":
                thing.forbids.add(step.act)
            elif step.verb == "allow":
                thing.allows.add(step.act)
            elif self.printed(thing, step.stat) >= 0:
                sign = 1 if step.verb == "raise" else -1
                thing.stats[step.stat] += sign * self.amount(step.amount, run, 1)

    # Moving cards.

    def move(self, thing: Thing, zone: str, seat: int, bottom: bool = False) -> None:
        taken = self._shared(thing.place) and not self._shared(zone)
        self.gap = self.gap or self._shared(thing.place)
        for held in self.zones.values():
            if thing in held:
                held.remove(thing)
        thing.place = zone
        thing.seat = None if self._shared(zone) else seat
        if taken:
            thing.owner = seat
        self.into(thing, zone, seat, bottom)

    def shuffle(self, zone: str, seat: int) -> None:
        if zone in self.own_zones and self.own_zones[zone].kind != "pile":
            return
        pile = self.zone(zone, seat)
        for last in range(len(pile) - 1, 0, -1):
            other = below((), self.chance, seat, k.R_SHUFFLE, last + 1)
            pile[last], pile[other] = pile[other], pile[last]
        self.say(k.E_SHUFFLED, seat, None, len(pile), self.zone_number(zone))

    def enter(self, thing: Thing, seat: int) -> bool:
        if not self.room("play", seat):
            self.say(k.E_FULL, seat, thing, 3)
            return False
        self.move(thing, "play", seat)
        self.reset_entering(thing, seat)
        self.say(k.E_ENTERED, seat, thing)
        return True

    def reset_entering(self, thing: Thing, seat: int) -> None:
        """A card that has just come into play is a new one, as printed."""
        self.arrivals += 1
        thing.seat, thing.life, thing.arrival, thing.came = seat, thing.life + 1, self.arrivals, self.turn
        thing.damage, thing.tilted, thing.host, thing.uses = 0, self.after(thing) == "tilted", None, {}
        thing.clashing, thing.was_answered, thing.answers, thing.remembered = False, False, None, False
        thing.stats = dict(self.printed_stats(thing))
        thing.keys, thing.forbids, thing.allows = self.printed_keys(thing), set(), set()

    def cross(self, thing: Thing, seat: int) -> None:
        """A card in play goes over to another seat: the same card, of another controller."""
        if thing.seat == seat:
            return
        if not self.room("play", seat):
            return self.say(k.E_FULL, seat, thing, 3)
        self.move(thing, "play", seat)
        self.arrivals += 1
        thing.seat, thing.arrival, thing.came, thing.clashing, thing.answers = seat, self.arrivals, self.turn, False, None
        thing.was_answered = False
        self.say(k.E_MOVED, seat, thing, 3, 3)

    def leave(self, things: list[Thing], kind: int, zone: str, seat: int | None = None, bottom: bool = False) -> None:
        """Cards in play leave it together; then what that sets off, in their order. They see one another go."""
        for thing in things:
            self.say(kind, thing.seat, thing, self.zone_number(zone))
            self.mods = [mod for mod in self.mods if mod.thing is not thing]
            thing.life += 1
            thing.remembered, controller = True, thing.seat
            self.move(thing, "gone" if thing.token else zone, thing.owner if thing.token or seat is None else seat, bottom and not thing.token)
            thing.seat = controller
        for thing in things:
            if kind == k.E_DESTROYED:
                self.happens("destroyed", thing, gone=things)
            self.happens("leave", thing, gone=things)
        for thing in things:
            if thing.token:
                self.say(k.E_CEASED, thing.seat, thing)

    def discard(self, thing: Thing) -> None:
        seat = thing.seat
        self.say(k.E_DISCARDED, seat, thing)
        self.move(thing, "discard", thing.owner)
        thing.seat = seat
        self.happens("discarded", thing)
        thing.seat = thing.owner

    def draw(self, seat: int) -> None:
        if self.out[seat]:
            return
        pile, discards = self.zone("draw", seat), self.zone("discard", seat)
        may = self.rules.reshuffles is None or self.reshuffled[seat] < self.rules.reshuffles
        if not pile and discards and self.table.empty_draw_pile == "reshuffle" and may:
            self.reshuffled[seat] += 1
            self.say(k.E_RESHUFFLED, seat, None, len(discards))
            for thing in reversed(list(discards)):
                self.move(thing, "draw", seat)
            self.shuffle("draw", seat)
        if not pile:
            self.say(k.E_NO_CARD, seat)
            if self.table.empty_draw_pile == "lose":
                self.lost(seat)
            return
        thing = pile[-1]
        self.move(thing, "hand", seat)
        self.say(k.E_DREW, seat, thing)
        self.happens("drawn", thing)

    def lost(self, seat: int) -> None:
        if not self.out[seat]:
            self.out[seat] = True
            self.say(k.E_OUT, seat)

    # Totals.

    def where(self, what: str, seat: int) -> tuple[str, int]:
        return what, 0 if self.kinds[what].shared else seat

    def has(self, what: str, seat: int) -> int:
        return self.totals[self.where(what, seat)]

    def lose(self, seat: int, what: str, number: int, kind: int = k.E_LOST, thing: Thing | None = None) -> None:
        before = self.has(what, seat)
        gone = min(number, before)
        self.totals[self.where(what, seat)] = before - gone
        self.say(kind, seat, thing if kind == k.E_PAID else None, self.numbers[what], gone)
        if gone:
            self.total_moved(what, seat, before, before - gone)

    def gain(self, seat: int, what: str, number: int) -> None:
        before = self.has(what, seat)
        most = self.kinds[what].cap if self.kinds[what].cap is not None else 999_999
        common = next((each for each in self.rules.common if what in each.resources), None)
        if common is not None and common.over == "lost":
            most = min(most, common.cap - sum(self.has(each, seat) for each in common.resources) + before)
        more = max(0, min(number, most - before))
        self.totals[self.where(what, seat)] = before + more
        if more:
            self.say(k.E_GAINED, seat, None, self.numbers[what], more)
        if more < number:
            self.say(k.E_CAPPED, seat, None, self.numbers[what], number - more)
        if more:
            self.total_moved(what, seat, before, before + more)
            if common is not None and common.over == "choice" and sum(self.has(each, seat) for each in common.resources) > common.cap:
                self.over.append((common, seat))

    def total_moved(self, what: str, seat: int, before: int, after: int) -> None:
        rises = after > before
        for thing in self.in_play():
            for place, each in self.lines(thing):
                if not isinstance(each, Triggered) or each.resource != what:
                    continue
                if not self.kinds[what].shared and (seat == thing.seat) == (each.side == "rival"):
                    continue
                number = each.number or 0
                fits = {
                    "rising": rises and before <= number < after, "falling": not rises and before >= number > after,
                    "gaining": rises, "losing": not rises,
                }[each.cue]  # fmt: skip
                if each.cue in ("gaining", "losing"):
                    fits = fits and (each.compare != "above" or after > number) and (each.compare != "under" or after < number)
                if fits:
                    self.set_off(each, place, thing, None)

    # What is set off.

    def set_off(self, ability: object, place: int, thing: Thing, that: Thing | None) -> None:
        if thing.seat is None:
            return  # A card in a shared zone acts for no seat.
        self.queue.append((ability, place, thing, that, thing.life, that.life if that else 0, thing.seat))

    def happens(self, cue: str, thing: Thing, that: Thing | None = None, gone: Sequence[Thing] = ()) -> None:
        """Something happens to a card: its own abilities, then those in play that watch for it, then those that left with it."""
        for place, each in self.lines(thing):
            if isinstance(each, Triggered) and each.cue == cue and each.of is None:
                source = each.source
                if source is None or that is not None and self.belongs(source, that, thing, thing.seat):
                    self.set_off(each, place, thing, that)
        for other in [*self.in_play(), *(each for each in gone if each.place != "play")]:
            for place, each in self.lines(other):
                if isinstance(each, Triggered) and each.cue == cue and each.of is not None and self.belongs(each.of, thing, other, other.seat):
                    source = each.source
                    if source is None or that is not None and self.belongs(source, that, other, other.seat):
                        self.set_off(each, place, other, thing)

    def moment(self, at: str, phase: str | None) -> Turns:
        """The turn or a phase begins or ends: what lasted until then expires; then what it sets off; then what waited for it."""

        def now(when: When | None, seat: int) -> bool:
            if when is None or when.at != at or when.phase != phase:
                return False
            return when.side == "any" or (when.side == "own") == (seat == self.active)

        for mod in list(self.mods):
            if now(mod.until, mod.seat):
                self.mods.remove(mod)
                self.say(k.E_EXPIRED, mod.thing.seat, mod.thing, mod.kind, self.coded(mod))
        waiting = [each for each in self.later if now(each[0], each[1])]
        self.later = [each for each in self.later if each not in waiting]
        for thing in self.in_play():
            for place, each in self.lines(thing):
                about = isinstance(each, Triggered) and each.cue == at and each.when is not None and each.when.phase == phase
                if about and (each.when.side == "any" or (each.when.side == "own") == (thing.seat == self.active)):
                    self.set_off(each, place, thing, None)
        yield from self.settle()
        for _, _, run, steps in waiting:
            yield from self.block(steps, run)

    def coded(self, mod: Mod) -> int:
        if mod.kind in (k.M_GRANTED, k.M_STRIPPED):
            return 1 << self.key_number(str(mod.what))
        if mod.kind == k.M_FORBIDDEN:
            return FORBIDS[str(mod.what)]
        if mod.kind == k.M_ALLOWED:
            return ALLOWS[str(mod.what)]
        return self.stat_ids.index(str(mod.what)) if mod.kind == k.M_RAISED else 0

    def key_number(self, keyword: str) -> int:
        return self.keyword_ids.index(keyword)

    def settle(self) -> Turns:
        """After each step: the check of the state, then what was set off, in order, each to its end; then what is over a common cap."""
        over, self.over = self.over, []
        yield from self.check()
        if self.queue:
            queued, self.queue = self.queue, []
            for ability, place, thing, that, life, that_life, seat in queued:
                yield from self.ability(ability, place, Run(thing, life, seat, that, that_life))
        for common, seat in reversed(over):
            yield from self.give_back(common, seat)

    def rest(self) -> Turns:
        """After a step of the rules: settled; then rows are refilled, and what ends the match is looked at."""
        yield from self.settle()
        while self.gap:
            self.gap = False
            self.refill(False)
            yield from self.settle()
        self.look_at_ends()

    def check(self) -> Turns:
        again = True
        bears = self.book.roles.damage_limit
        while again:
            again = False
            self.refresh()
            if bears:
                dead = [each for each in self.in_play() if 0 < self.stat(each, bears) <= each.damage and "destroying" not in each.forbids]
                if dead:
                    self.leave(dead, k.E_DESTROYED, "discard")
                    again = True
                faded = [each for each in self.in_play() if self.stat(each, bears) == 0]
                if faded:
                    self.leave(faded, k.E_REDUCED, "discard")
                    again = True
            loose = [each for each in self.in_play() if each.host and (each.host.place != "play" or each.host.arrival > each.arrival)]
            if loose:
                self.leave(loose, k.E_LEFT, "discard")
                again = True
            withdrawn = [each for seat in range(self.seats) if self.out[seat] for each in list(self.zone("play", seat))]
            if withdrawn:
                self.leave(withdrawn, k.E_REMOVED, "removed")
                again = True
            if not again:
                before = sum(self.out)
                self.goals()
                again = sum(self.out) > before
        return
        yield

    def goals(self) -> None:
        winners: list[int] = []
        for goal in self.rules.goals:
            for seat in range(self.seats):
                if not self.out[seat]:
                    if goal.kind == "reach" and self.has(goal.total, seat) >= goal.number and seat not in winners:
                        winners.append(seat)
                    elif goal.kind == "drop" and self.has(goal.total, seat) <= goal.number:
                        self.lost(seat)
        still = [seat for seat in range(self.seats) if not self.out[seat]]
        if winners:
            self.end(winners[0] if len(winners) == 1 else self.active if self.rules.tie == "active" else -2)
        elif self.seats == 1:
            if not still:
                self.end(-2)
        elif len(still) == 1:
            self.end(still[0])
        elif not still:
            self.end(self.active if self.rules.tie == "active" else -2)

    def end(self, winner: int) -> None:
        self.say(k.E_DRAW, -1) if winner == -2 else self.say(k.E_WON, winner)
        raise Over

    # Abilities.

    def ability(self, ability: object, place: int, run: Run) -> Turns:
        self.refresh()
        if self.out[run.seat]:
            return
        limit = ability.limit
        key = (place, limit.each if limit else "")
        if limit and run.thing.uses.get(key, 0) >= limit.number or not self.holds(ability.condition, Run(run.thing, run.life, run.seat, run.that)):
            return
        if limit:
            run.thing.uses[key] = run.thing.uses.get(key, 0) + 1
        cue = k.OFFER if isinstance(ability, Offered) else CUE[ability.cue]
        self.say(k.E_ABILITY, run.seat, run.thing, cue, place)
        if isinstance(ability, Offered):
            yield from self.discards_of(ability.cost, run)
        yield from self.block(ability.steps, run)

    def block(self, steps: Sequence[Step], run: Run) -> Turns:
        """Steps one after the other, each settled before the next. What is picked inside is forgotten after it."""
        self.depth += 1
        if self.depth > 55:
            raise Endless
        inner = Run(run.thing, run.life, run.seat, run.that, run.that_life, list(run.its), run.chosen, run)
        for step in steps:
            if self.out[run.seat]:
                break
            self.refresh()
            yield from getattr(self, f"do_{step.verb}", self.do_change)(step, inner)
            inner.chosen = None
            yield from self.settle()
        self.depth -= 1

    def targets(self, step: Step, run: Run, in_play: bool) -> Generator[list[Choice], Choice, list[Thing]]:
        target = step.target
        found: list[Thing] = []

        def add(thing: Thing | None, life: int) -> None:
            if thing is not None and thing.life == life and (not in_play or thing.place == "play"):
                found.append(thing)

        match target:
            case This():
                add(run.thing, run.life)
            case That():
                add(run.that, run.that_life)
            case Host():
                if run.thing.host:
                    add(run.thing.host, run.thing.host.life)
            case All():
                found += self.members(target.group, run.thing, run.seat)
            case Random():
                pool = self.members(target.group, run.thing, run.seat)
                number = min(target.number, len(pool))
                for place in range(number):
                    other = place + below((), self.chance, run.seat, k.R_RANDOM, len(pool) - place)
                    pool[place], pool[other] = pool[other], pool[place]
                found += pool[:number]
            case It():
                for thing, life in run.its:
                    add(thing, life)
            case Pick():
                if run.chosen is None:
                    picked = yield from self.pick(target, run, target.least, run.thing, f"pick {step.verb}")
                    run.its = [(each, each.life) for each in picked]
                else:
                    run.its = list(run.chosen)
                for thing, life in run.its:
                    add(thing, life)
        kept = []
        for thing in found:
            if thing.place == "play" and thing.seat != run.seat and "affecting" in thing.forbids:
                self.say(k.E_PREVENTED, thing.seat, thing, FORBIDS["affecting"])
            else:
                kept.append(thing)
        return kept

    def candidates(self, target: Pick, run: Run) -> list[Thing]:
        pool = [each for each, life in run.its if each.life == life] if target.of_it else self.members(target.group, run.thing, run.seat)
        return [each for each in pool if not (each.place == "play" and each.seat != run.seat and "choosing" in each.forbids) and each is not self.being_played]

    def pick(self, target: Pick, run: Run, least: int, source: Thing, why: str, silent: bool = False) -> Generator[list[Choice], Choice, list[Thing]]:
        pool = self.candidates(target, run)
        picked: list[Thing] = []
        most, least = min(target.most, len(pool)), min(least, len(pool))
        while pool and len(picked) < most:
            options = [("pick", each.number, -1) for each in self.candidates(target, run) if each not in picked]
            options += [("done", -1, -1)] if len(picked) >= least else []
            what, number, _ = yield options
            if what == "done":
                break
            picked.append(self.things[number])
        if pool and not silent:
            for each in picked:
                self.say(k.E_PICKED, run.seat, each, source.number)
        return picked

    def nothing(self, run: Run, seat: int | None = None) -> None:
        self.say(k.E_NOTHING, run.seat if seat is None else seat, run.thing)

    def untargeted(self, step: Step, run: Run, number: int) -> None:
        self.say(k.E_NO_TARGET, run.seat, run.thing, VERB[step.verb], number)

    def seats_of(self, step: Step, run: Run) -> Iterable[int]:
        """The seats a step is for; one that goes out meanwhile is passed over."""
        if step.by is not None:
            order = [(run.seat + back) % self.seats for back in range(self.seats)]
            amounts = {seat: self.amount(step.by, Run(Thing(-1, next(iter(self.cards.values())), None), 0, seat)) for seat in order if not self.out[seat]}
            best = (max if step.seats == "most" else min)(amounts.values())
            chosen = [seat for seat, amount in amounts.items() if amount == best and (best or step.seats == "least")]
            for seat, amount in amounts.items():
                self.say(k.E_COMPARED, seat, run.thing, amount, int(seat in chosen))
            for seat in chosen:
                if seat == run.seat or not self.out[seat]:
                    yield seat
            return
        if step.seats != "rival":
            yield run.seat
        for back in range(1, self.seats if step.seats else 1):
            seat = (run.seat + back) % self.seats
            if not self.out[seat]:
                yield seat

    # Verbs.

    def do_draw(self, step: Step, run: Run) -> Turns:
        number = self.amount(step.amount, run)
        if not number:
            return self.nothing(run)
        for seat in self.seats_of(step, run):
            for _ in range(number):
                empty = not self.zone("draw", seat) and not self.zone("discard", seat)
                self.draw(seat)
                if empty:
                    break
        return
        yield

    def do_discard(self, step: Step, run: Run) -> Turns:
        number = self.amount(step.amount, run)
        if not number:
            return self.nothing(run)
        for seat in self.seats_of(step, run):
            yield from self.give_up(seat, number, run)

    def give_up(self, seat: int, number: int, run: Run) -> Turns:
        hand = self.zone("hand", seat)
        if not hand:
            return self.nothing(run, seat)
        left = number
        while left > 0 and hand:
            if left >= len(hand):
                for thing in list(hand):
                    self.discard(thing)
                return
            _, card, _ = yield [("discard", each.number, -1) for each in hand]
            self.discard(self.things[card])
            left -= 1
            yield from self.settle()
            self.refresh()

    def do_gain(self, step: Step, run: Run) -> Turns:
        number = self.amount(step.amount, run)
        if not number:
            return self.nothing(run)
        for seat in self.seats_of(step, run):
            (self.gain if step.verb == "gain" else self.lose)(seat, step.resource, number)
            if self.kinds[step.resource].shared:
                break
        return
        yield

    do_lose = do_gain

    def do_change(self, step: Step, run: Run) -> Turns:
        number = 0
        if step.amount is not None:
            number = self.amount(step.amount, run)
            if not number:
                return self.nothing(run)
        found = yield from self.targets(step, run, True)
        if not found:
            return self.untargeted(step, run, number)
        for thing in found:
            self.change(step, thing, number, run)

    def add(self, thing: Thing, kind: int, what: object, amount: int, step: Step, run: Run) -> None:
        self.mods.append(Mod(thing, kind, what, amount, step.until, run.seat))

    def change(self, step: Step, thing: Thing, number: int, run: Run) -> None:
        match step.verb:
            case "deal":
                self.hurt(thing, number, run.thing)
            case "heal":
                healed = min(number, thing.damage)
                thing.damage -= healed
                self.say(k.E_HEALED, thing.seat, thing, healed, run.thing.number)
            case "raise" | "lower":
                self.add(thing, k.M_RAISED, step.stat, number if step.verb == "raise" else -number, step, run)
                self.say(k.E_RAISED if step.verb == "raise" else k.E_LOWERED, thing.seat, thing, self.stat_ids.index(step.stat), number)
            case "tilt":
                self.tilt(thing)
            case "straighten":
                self.straighten(thing)
            case "grant" | "strip":
                self.add(thing, k.M_GRANTED if step.verb == "grant" else k.M_STRIPPED, step.keyword, 0, step, run)
                self.say(k.E_GRANTED if step.verb == "grant" else k.E_STRIPPED, thing.seat, thing, self.key_number(step.keyword))
            case "forbid":
                self.add(thing, k.M_FORBIDDEN, step.act, 0, step, run)
                self.say(k.E_FORBIDDEN, thing.seat, thing, FORBIDS[step.act])
            case "allow":
                self.add(thing, k.M_ALLOWED, step.act, 0, step, run)
                self.say(k.E_ALLOWED, thing.seat, thing, ALLOWS[step.act])
            case "shield":
                self.add(thing, k.M_SHIELD, "", number, step, run)
                self.say(k.E_SHIELDED, thing.seat, thing, number)
            case other:
                raise AssertionError(other)

    def hurt(self, thing: Thing, number: int, source: Thing) -> None:
        if "hurting" in thing.forbids:
            return self.say(k.E_PREVENTED, thing.seat, thing, FORBIDS["hurting"], number)
        for shield in [mod for mod in self.mods if mod.kind == k.M_SHIELD and mod.thing is thing]:
            if number > 0:
                used = min(number, shield.amount)
                self.say(k.E_SHIELD_USED, thing.seat, thing, used)
                number -= used
                shield.amount -= used
                if not shield.amount:
                    self.mods.remove(shield)
        if number > 0:
            thing.damage = min(999_999, thing.damage + number)
            self.say(k.E_DEALT, thing.seat, thing, number, source.number)
            self.happens("hurt", thing, source)
            self.happens("hurting", source, thing)

    def tilt(self, thing: Thing) -> None:
        if not thing.tilted and "tilting" not in thing.forbids:
            thing.tilted = True
            self.say(k.E_TILTED, thing.seat, thing)

    def straighten(self, thing: Thing) -> None:
        if thing.tilted and "straightening" in thing.forbids:
            self.say(k.E_PREVENTED, thing.seat, thing, FORBIDS["straightening"])
        elif thing.tilted:
            thing.tilted = False
            self.say(k.E_STRAIGHTENED, thing.seat, thing)

    def do_destroy(self, step: Step, run: Run) -> Turns:
        found = yield from self.targets(step, run, True)
        if not found:
            return self.untargeted(step, run, 0)
        for thing in found:
            if "destroying" in thing.forbids:
                self.say(k.E_PREVENTED, thing.seat, thing, FORBIDS["destroying"])
        gone = [each for each in found if "destroying" not in each.forbids]
        self.leave(gone, k.E_DESTROYED, "discard")
        for thing in gone:
            run.follow(thing)

    def do_put(self, step: Step, run: Run) -> Turns:
        found = yield from self.targets(step, run, False)
        if not found:
            return self.untargeted(step, run, 0)
        kind = {"put": k.E_MOVED, "return": k.E_RETURNED, "remove": k.E_REMOVED}[step.verb]
        zone = {"put": step.zone.zone if step.zone else "", "return": "hand", "remove": "removed"}[step.verb]
        side = step.zone.side if step.zone else "any"
        to = {"any": None, "own": run.seat, "rival": self.rival(run.seat)}[side]
        bottom = bool(step.zone and step.zone.place == "bottom")
        if zone == "play":
            came = []
            for thing in found:
                home = self.home(thing, run) if to is None else to
                if thing.place == "play":
                    self.cross(thing, home)
                elif thing.place not in ("gone", "free"):
                    before = thing.place
                    if self.enter(thing, home):
                        run.follow(thing)
                        self.taken(thing, before)
                        came.append(thing)
            for thing in came:
                self.happens("enter", thing)
            return
        elsewhere = [each for each in found if each.place not in ("play", "gone", "free")]
        leaving = [each for each in found if each.place == "play"]
        self.leave(leaving, kind, zone, to, bottom)
        for thing in leaving:
            run.follow(thing)
        for thing in elsewhere:
            before, home = thing.place, self.home(thing, run) if to is None else to
            if not self.room(zone, home):
                self.say(k.E_FULL, home, thing, self.zone_number(zone))
            elif before == "hand" and zone == "discard" and home == thing.owner:
                self.discard(thing)
            else:
                self.move(thing, zone, home, bottom)
                self.say(kind, home, thing, self.zone_number(zone), self.zone_number(before))
                self.taken(thing, before)

    do_return = do_remove = do_put

    def home(self, thing: Thing, run: Run) -> int:
        """Whose zones a card goes back to: its owner's; those of the seat at work for a card that nobody owns."""
        return run.seat if thing.owner is None else thing.owner

    def do_create(self, step: Step, run: Run) -> Turns:
        number = self.amount(step.amount, run)
        if not number:
            return self.nothing(run)
        came = []
        for seat in self.seats_of(step, run):
            for _ in range(number):
                thing = self.create(self.cards[step.card], seat)
                if thing is None:
                    break
                came.append(thing)
        for thing in came:
            self.happens("enter", thing)
        return
        yield

    def create(self, card: Card, seat: int) -> Thing | None:
        if not self.free or not self.room("play", seat):
            self.say(k.E_FULL, seat, None, 3, 1)
            return None
        thing = self.free.pop(0)
        thing.card, thing.owner, thing.token = card, seat, True
        self.say(k.E_CREATED, seat, thing, list(self.cards).index(card.id))
        self.enter(thing, seat)
        return thing

    def do_look(self, step: Step, run: Run) -> Turns:
        number = self.amount(step.amount, run)
        zone = step.zone.zone if step.zone else "draw"
        of = self.rival(run.seat) if step.zone and step.zone.side == "rival" else run.seat
        top = list(reversed(self.zone(zone, of)))[:number]
        if step.verb == "look":
            run.its = []
        if not top:
            return self.nothing(run)
        for thing in top:
            self.say(k.E_LOOKED if step.verb == "look" else k.E_REVEALED, run.seat, thing, self.zone_number(zone))
            if step.verb == "look":
                run.its.append((thing, thing.life))
        return
        yield

    do_reveal = do_look

    def do_search(self, step: Step, run: Run) -> Turns:
        target = step.target
        picked = yield from self.pick(target, run, 0, run.thing, "search", silent=True)
        run.its = [(each, each.life) for each in picked]
        shown = int(bool(target.group.filters or target.group.type)) if not target.of_it else 0
        for thing in picked:
            self.say(k.E_FOUND, run.seat, thing, shown)
        if not picked:
            self.say(k.E_NO_TARGET, run.seat, run.thing, VERB["search"])
        of = self.rival(run.seat) if target.group.side == "rival" else run.seat
        self.shuffle(target.group.zone or "play", of)

    def do_shuffle(self, step: Step, run: Run) -> Turns:
        self.shuffle(step.zone.zone, self.rival(run.seat) if step.zone.side == "rival" else run.seat)
        return
        yield

    def ask_yes(self) -> Generator[list[Choice], Choice, bool]:
        what, _, _ = yield [("yes", -1, -1), ("no", -1, -1)]
        return what == "yes"

    def do_may(self, step: Step, run: Run) -> Turns:
        yes = yield from self.ask_yes()
        self.say(k.E_ACCEPTED if yes else k.E_DECLINED, run.seat, run.thing)
        if yes:
            yield from self.settle()
            yield from self.block(step.steps, run)

    def do_offer(self, step: Step, run: Run) -> Turns:
        if run.thing.life != run.life or not self.affordable(step.cost, run.thing, run.seat):
            return self.nothing(run)
        yes = yield from self.ask_yes()
        self.say(k.E_ACCEPTED if yes else k.E_DECLINED, run.seat, run.thing)
        if yes:
            self.pay(step.cost, run.thing, run.seat)
            yield from self.settle()
            self.refresh()
            if not self.out[run.seat]:
                yield from self.discards_of(step.cost, run)
            yield from self.block(step.steps, run)

    def sums(self, cost: Sequence[object]) -> dict[tuple[str, str], int]:
        found: dict[tuple[str, str], int] = {}
        for part in cost:
            key = part.how, part.resource or ""
            found[key] = found.get(key, 0) + (part.number or 0)
        return found

    def affordable(self, cost: Sequence[object], thing: Thing, seat: int) -> bool:
        for (how, what), number in self.sums(cost).items():
            if how == "pay" and self.has(what, seat) < number or how == "discard" and len(self.zone("hand", seat)) < number:
                return False
            if how in ("tilt", "destroy", "return") and thing.place != "play":
                return False
            if how == "tilt" and (thing.tilted or "tilting" in thing.forbids) or how == "destroy" and "destroying" in thing.forbids:
                return False
        return True

    def pay(self, cost: Sequence[object], thing: Thing, seat: int) -> None:
        for (how, what), number in self.sums(cost).items():
            if how == "pay":
                self.lose(seat, what, number, k.E_PAID, thing)
            elif how == "tilt":
                self.tilt(thing)
            elif how == "destroy" and thing.place == "play":
                self.leave([thing], k.E_DESTROYED, "discard")
            elif how == "return" and thing.place == "play":
                self.leave([thing], k.E_RETURNED, "hand")

    def discards_of(self, cost: Sequence[object], run: Run) -> Turns:
        number = self.sums(cost).get(("discard", ""), 0)
        if number:
            self.refresh()
            yield from self.give_up(run.seat, number, run)
            yield from self.settle()

    def do_choose(self, step: Step, run: Run) -> Turns:
        chosen: list[int] = []
        if step.choose >= len(step.options):
            chosen = list(range(len(step.options)))
        while len(chosen) < step.choose and len(step.options) > step.choose:
            _, _, which = yield [("option", -1, place) for place in range(len(step.options)) if place not in chosen]
            chosen.append(which)
        for place in sorted(chosen):
            self.say(k.E_CHOSE, run.seat, run.thing, place)
        for place in sorted(chosen):
            yield from self.block(step.options[place], run)

    def do_each(self, step: Step, run: Run) -> Turns:
        found = [(each, each.life) for each in self.members(step.group, run.thing, run.seat)]
        if not found:
            self.say(k.E_NO_TARGET, run.seat, run.thing, VERB["each"])
            return
        for thing, life in found:
            if thing.life == life:
                inner = Run(run.thing, run.life, run.seat, run.that, run.that_life, [(thing, life)], None, run)
                yield from self.block(step.steps, inner)

    def do_if(self, step: Step, run: Run) -> Turns:
        if self.holds(step.condition, run):
            yield from self.block(step.steps, run)
        elif step.otherwise:
            yield from self.block(step.otherwise, run)

    def do_later(self, step: Step, run: Run) -> Turns:
        kept = Run(run.thing, run.life, run.seat, run.that, run.that_life, run.its[:3])
        self.later.append((step.moment, run.seat, kept, step.steps))
        self.say(k.E_PUT_OFF, run.seat, run.thing, self.moment_number(step.moment))
        return
        yield

    def moment_number(self, when: When) -> int:
        phases = [each.id for each in self.rules.phases]
        return (phases.index(when.phase) + 1 if when.phase else 0) * 2 + (when.at == "end")

    # The match.

    def play(self) -> Turns:
        with suppress(Over):
            yield from self._match()

    def rule(self, what: Callable[[], object]) -> Turns:
        """One step of the rules, settled."""
        self.refresh()
        what()
        yield from self.rest()

    def _match(self) -> Turns:
        def begin() -> None:
            for seat in range(self.seats):
                self.shuffle("draw", seat)
            for zone in self.rules.zones:
                if zone.shuffled:
                    for seat in [0] if zone.shared else range(self.seats):
                        self.shuffle(zone.id, seat)
            self.gap = True

        yield from self.rest()
        yield from self.rule(begin)
        yield from self.rule(lambda: [self.draw(seat) for seat in range(self.seats) for _ in range(self.table.opening_hand)])
        if self.rules.set_up.redraw.kind != "none":
            for seat in range(self.seats):
                if self.zone("hand", seat):
                    yield from self.redraw(seat)
        for seat in range(1, self.seats):
            if self.rules.set_up.second_draws:
                yield from self.rule(lambda seat=seat: [self.draw(seat) for _ in range(self.rules.set_up.second_draws)])
            for what, number in sorted(self.rules.set_up.second_gains.items()):
                yield from self.rule(lambda what=what, number=number, seat=seat: number and self.gain(seat, what, number))
        self.say(k.E_MATCH, 0)
        for thing in self.in_play():
            for place, each in self.lines(thing):
                if isinstance(each, Triggered) and each.cue == "match":
                    self.set_off(each, place, thing, None)
        yield from self.rest()
        while True:
            yield from self.one_turn()

    def redraw(self, seat: int) -> Turns:
        rule = self.rules.set_up.redraw
        hand = self.zone("hand", seat)
        if rule.kind == "hand":
            what, _, _ = yield [("keep", -1, -1), ("redraw", -1, -1)]
            back = list(hand) if what == "redraw" else []
        else:
            back = []
            while True:
                what, number, _ = yield [*(("pick", each.number, -1) for each in hand if each not in back), ("done", -1, -1)]
                if what == "done":
                    break
                back.append(self.things[number])
        if not back:
            self.say(k.E_KEPT, seat, None, len(hand))
        else:
            self.say(k.E_REDREW, seat, None, len(back))
            for thing in back:
                self.move(thing, "draw" if rule.returned == "before" else "aside", seat)
            if rule.returned == "before":
                self.shuffle("draw", seat)
            left = max(0, len(back) - len(self.zone("draw", seat)))
            for _ in range(len(back) - left):
                self.draw(seat)
            if rule.returned == "after":
                for thing in back:
                    self.move(thing, "draw", seat)
                self.shuffle("draw", seat)
                for _ in range(left):
                    self.draw(seat)
        yield from self.rest()

    def one_turn(self) -> Turns:
        self.turn += 1
        self.bought = [0] * len(self.rules.markets)
        for thing in self.things:
            thing.uses = {key: count for key, count in thing.uses.items() if key[1] != "turn"}
        self.refresh()
        self.say(k.E_TURN, self.active, None, self.turn, self.round)
        yield from self.settled_moment("begin", None)
        for number, phase in enumerate(self.rules.phases):
            if self.out[self.active]:
                break
            self.phase, self.acted, self.deeds = phase.id, 0, 0
            self.say(k.E_PHASE, self.active, None, number)
            yield from self.settled_moment("begin", phase.id)
            for seat in self.order() if phase.whose == "each" else [self.active]:
                if self.out[self.active] or phase.whose == "each" and self.out[seat]:
                    continue
                if phase.whose == "each":
                    self.acted = self.deeds = 0
                for doing in phase.does:
                    if not self.out[self.active] and not self.out[seat]:
                        yield from self.doing(doing, seat)
            if self.out[self.active]:
                break
            self.refresh()
            self.say(k.E_PHASE_END, self.active, None, number)
            yield from self.settled_moment("end", phase.id)
        self.refresh()
        self.say(k.E_TURN_END, self.active, None, self.turn)
        yield from self.settled_moment("end", None)
        for each in self.book.resources:
            if each.lasts == "turn" and self.has(each.id, self.active):
                self.say(k.E_LAPSED, self.active, None, self.numbers[each.id], self.has(each.id, self.active))
                self.totals[self.where(each.id, self.active)] = 0
        after = self.rival(self.active)
        if after <= self.active:
            for goal in self.rules.goals:
                if goal.kind == "most" and self.round >= goal.number:
                    held = {seat: self.has(goal.total, seat) for seat in range(self.seats) if not self.out[seat]}
                    best = [seat for seat, amount in held.items() if amount == max(held.values())]
                    self.end(best[0] if len(best) == 1 else -2)
            if self.ending is not None and self.round >= self.ending or any(end.kind == "rounds" and self.round >= end.number for end in self.rules.ends):
                self.finish()
            self.round += 1
        self.active = after
        yield from self.rest()

    def settled_moment(self, at: str, phase: str | None) -> Turns:
        self.refresh()
        yield from self.moment(at, phase)
        yield from self.rest()

    def doing(self, doing: object, seat: int) -> Turns:
        first = getattr(doing, "first", "all")
        if first == "later seats" and self.turn == 1 or first == "none" and self.round == 1:
            return
        match doing.do:
            case "draw":
                number = self.table.turn_draw if doing.number is None else doing.number
                yield from self.rule(lambda: [self.draw(seat) for _ in range(number)])
            case "refill":
                number = self.table.opening_hand if doing.number is None else doing.number
                yield from self.rule(lambda: [self.draw(seat) for _ in range(number - len(self.zone("hand", seat)))])
            case "grow":
                yield from self.rule(lambda: self.grow(seat))
            case "gain":
                yield from self.rule(lambda: self.by_chance(doing, seat))
            case "straighten":
                yield from self.rule(lambda: [self.straighten(thing) for thing in self.zone("play", seat)])
            case "recall":
                yield from self.rule(lambda: self.leave([each for each in self.zone("play", seat) if each.tilted], k.E_RECALLED, "hand"))
            case "clear damage":
                yield from self.rule(self.clear)
            case "turn over":
                yield from self.turn_over(doing.zone, seat)
            case "hand limit":
                yield from self.hand_limit(seat)
            case "clash":
                yield from self.clash(seat)
            case "play":
                yield from self.ask(doing, seat)
            case "discard hand":
                yield from self.rule(lambda: [self.discard(thing) for thing in list(self.zone("hand", seat))])
            case "clear away":
                yield from self.rule(lambda: self.leave([each for each in self.zone("play", seat) if self.after(each) == "cleared" and each.host is None], k.E_LEFT, "discard"))
            case "refill rows":
                yield from self.rule(lambda: self.refill(True))
            case "scheduled":
                if self.rival(self.active) <= self.active:
                    yield from self.rule(lambda: self.scheduled(doing, seat))
            case "counters grow":
                if doing.each == "turn" or all(self.out[: self.active]):
                    yield from self.rule(self.counters_grow)

    def grow(self, seat: int) -> None:
        for each in self.book.resources:
            number = each.each_turn
            if each.refill:
                full = each.start + each.each_turn * (self.round - 1)
                number = min(full, each.cap if each.cap is not None else full) - self.has(each.id, seat)
            if number > 0:
                self.gain(seat, each.id, number)

    def by_chance(self, doing: object, seat: int) -> None:
        number = doing.number
        if doing.most is not None and doing.most > number:
            number += below((), self.chance, seat, k.R_RANDOM, doing.most - number + 1)
        if number:
            self.gain(seat, doing.resource, number)

    def clear(self) -> None:
        for thing in self.in_play():
            if thing.damage:
                self.say(k.E_HEALED, thing.seat, thing, thing.damage, -1)
                thing.damage = 0

    def give_back(self, common: object, seat: int) -> Turns:
        """Over a common cap, its seat gives back what it chooses."""
        self.refresh()
        while sum(self.has(each, seat) for each in common.resources) > common.cap:
            held = [each for each in self.numbers if each in common.resources and self.has(each, seat) > 0]
            if len(held) == 1:
                self.lose(seat, held[0], sum(self.has(each, seat) for each in common.resources) - common.cap)
            else:
                _, _, which = yield [("give back", -1, self.numbers[each]) for each in held]
                self.lose(seat, list(self.numbers)[which], 1)
            yield from self.settle()

    def scheduled(self, doing: object, seat: int) -> None:
        """The play effects of the cards of a zone that have the number of the round."""
        for thing in self.zone(doing.zone, seat):
            if self.printed(thing, doing.field) == self.round:
                self.say(k.E_SCHEDULED, seat, thing, self.zone_number(doing.zone), self.round)
                holder, thing.seat = thing.seat, seat
                for place, each in self.lines(thing):
                    if isinstance(each, Triggered) and each.cue == "play" and each.of is None:
                        self.set_off(each, place, thing, None)
                thing.seat = holder

    def turn_over(self, zone: str, seat: int) -> Turns:
        self.refresh()
        pile = self.zone(zone, seat)
        if pile:
            thing = pile[-1]
            self.say(k.E_TURNED_OVER, seat, thing, self.zone_number(zone))
            self.move(thing, zone, seat, bottom=True)
            holder, thing.seat = thing.seat, seat
            for place, each in self.lines(thing):
                if isinstance(each, Triggered) and each.cue == "play" and each.of is None:
                    self.set_off(each, place, thing, None)
            thing.seat = holder
        yield from self.rest()

    def hand_limit(self, seat: int) -> Turns:
        hand, limit = self.zone("hand", seat), self.table.hand_limit
        if limit is None or len(hand) <= limit:
            return
        self.say(k.E_OVER_LIMIT, seat, None, len(hand) - limit, limit)
        while len(hand) > limit and not self.out[seat] and not self.out[self.active]:
            _, card, _ = yield [("discard", each.number, -1) for each in hand]
            self.discard(self.things[card])
            yield from self.rest()

    def can_play(self, thing: Thing, seat: int, types: Sequence[str]) -> bool:
        if types and not any(self.is_type(thing, each) for each in types):
            return False
        if self.table.pays and self.has(self.table.pays, seat) < max(0, thing.card.number("cost") or 0):
            return False
        after = self.after(thing)
        if after == "attached" and not self.hosts(thing, seat):
            return False
        return after == "discarded" or self.room("play", seat)

    def after(self, thing: Thing) -> str:
        at: str | None = thing.card.type
        while at is not None:
            for each in self.rules.after_play:
                if each.type == at:
                    return each.becomes
            at = self.book.cards.type(at).extends
        return "stays" if self.book.cards.type(thing.card.type).stays else "discarded"

    def hosts(self, thing: Thing, seat: int) -> list[Thing]:
        group = next(each.hosts for each in self.rules.after_play if self.is_type(thing, each.type))
        return [each for each in self.in_play() if self.belongs(group, each, thing, seat) and not (each.seat != seat and "choosing" in each.forbids)]

    def ask(self, doing: object, seat: int) -> Turns:
        while not self.out[seat] and not self.out[self.active]:
            self.sweep()
            self.refresh()
            hand, field_ = self.zone("hand", seat), self.zone("play", seat)
            if self.rules.free and self.table.hand_limit is not None and len(hand) > self.table.hand_limit:
                self.say(k.E_OVER_LIMIT, seat, None, len(hand) - self.table.hand_limit, self.table.hand_limit)
                _, card, _ = yield [("discard", each.number, -1) for each in hand]
                self.discard(self.things[card])
                yield from self.rest()
                continue
            if doing.one and self.deeds:
                self.deeds = 0
                return
            may = "play" in doing.may and (doing.most is None or self.acted < doing.most)
            options = [("play", each.number, -1) for each in hand if may and self.can_play(each, seat, doing.types)]
            for thing in [*field_, *self.actions[seat]] if "use" in doing.may else []:
                for place, each in self.lines(thing):
                    if isinstance(each, Offered) and self.can_use(each, place, thing, seat):
                        options.append(("use", thing.number, place))
            if "buy" in doing.may:
                options += self.purchases(seat)
            if self.rules.free:
                options += [("discard", each.number, -1) for each in hand] + [("dismiss", each.number, -1) for each in field_]
                if self.zone("draw", seat) or self.zone("discard", seat) and self.table.empty_draw_pile == "reshuffle":
                    options.append(("draw", -1, -1))
            what, card, other = yield options if doing.one and options else [*options, ("end turn", -1, -1)]
            if what == "end turn":
                return
            if self.by_hand(what, card, other, seat):
                yield from self.rest()
                continue
            if what == "play":
                yield from self.declare(self.things[card], seat, None)
            elif what == "use":
                self.deeds += 1
                yield from self.use(self.things[card], other, seat)
            elif what == "buy":
                self.buy(self.things[card], other, seat)
            elif what == "draw":
                self.draw(seat)
            elif what == "discard":
                self.discard(self.things[card])
            else:
                self.leave([self.things[card]], k.E_LEFT, "discard")
            yield from self.rest()

    # Markets, counters, the end.

    def purchases(self, seat: int) -> list[Choice]:
        """Of each market what the seat can pay: the top of a pile, every card of a row, one card of each kind of a supply."""
        found: list[Choice] = []
        for number, market in enumerate(self.rules.markets):
            if market.most is not None and self.bought[number] >= market.most or not self.room(market.goes_to, seat):
                continue
            held, kind = self.zone(market.zone, 0), self.own_zones[market.zone].kind
            for place, thing in enumerate(held):
                if kind == "pile" and place < len(held) - 1 or kind == "supply" and thing.card.id in [each.card.id for each in held[:place]]:
                    continue
                price = self.price(market, thing, place, seat)
                if price is None:
                    continue
                wanted = {market.pays: price}
                if market.passing is not None:
                    wanted[market.passing.resource] = wanted.get(market.passing.resource, 0) + place * market.passing.number
                if all(self.has(what, seat) >= amount for what, amount in wanted.items()):
                    found.append(("buy", thing.number, number))
        return found

    def price(self, market: object, thing: Thing, place: int, seat: int) -> int | None:
        field_ = market.price or "cost"
        number = thing.card.number(field_) if self.book.cards.has_field(thing.card.type, field_) else None
        if number is None:
            return None
        more = market.by_place[min(place, len(market.by_place) - 1)] if market.by_place else 0
        less = self.amount(market.less, Run(Thing(-1, thing.card, None), 0, seat)) if market.less is not None else 0
        return max(0, max(0, number) + more - less + sum(each.price * thing.counters.get(each.id, 0) for each in self.rules.counters))

    def buy(self, thing: Thing, number: int, seat: int) -> None:
        market = self.rules.markets[number]
        before = self.zone(market.zone, 0)
        before = before[: before.index(thing)]
        price = self.price(market, thing, len(before), seat)
        self.say(k.E_BOUGHT, seat, thing, price, number)
        self.bought[number] += 1
        self.deeds += 1
        if price:
            self.lose(seat, market.pays, price, k.E_PAID, thing)
        if market.passing is not None:
            what, each = market.passing.resource, market.passing.number
            for other in reversed(before):
                self.lose(seat, what, each, k.E_PAID, other)
                other.tokens = (what, other.tokens[1] + each)
                self.say(k.E_PASSED_OVER, seat, other, self.numbers[what], each)
        if market.goes_to == "play":
            if self.enter(thing, seat):
                self.happens("enter", thing)
        else:
            self.move(thing, market.goes_to, seat)
        self.taken(thing, market.zone)

    def taken(self, thing: Thing, before: str) -> None:
        """A card came out of a shared zone: its seat gets what buyers left on it, and it has been gained."""
        if self._shared(before) and not self._shared(thing.place):
            (what, tokens), thing.tokens = thing.tokens, ("", 0)
            if tokens:
                self.gain(thing.owner, what, tokens)
            self.happens("gained", thing)

    def refill(self, by_phase: bool) -> None:
        for row in self.rules.zones:
            if row.source is not None and (row.refill == "at once" or by_phase and row.refill == "phase" or self.turn == 0):
                while len(self.zone(row.id, 0)) < row.places and self.zone(row.source, 0):
                    thing = self.zone(row.source, 0).pop()
                    thing.place = row.id
                    self.zone(row.id, 0).append(thing)
                    self.say(k.E_REFILLED, self.active, thing, self.zone_number(row.id), self.zone_number(row.source))

    def counters_grow(self) -> None:
        for number, counter in enumerate(self.rules.counters):
            for thing in self.things:
                if thing.place in counter.zones:
                    thing.counters[counter.id] = thing.counters.get(counter.id, 0) + 1
                    self.say(k.E_GREW, self.active, thing, number, thing.counters[counter.id])

    def look_at_ends(self) -> None:
        if self.turn == 0 or self.ending is not None:
            return
        for number, end in enumerate(self.rules.ends):
            held = [len(self.zone(zone, seat)) for zone in end.zones for seat in ([0] if self._shared(zone) else range(self.seats))]
            kinds = sum(len({each.card.id for each in self.zone(zone, 0)}) for zone in end.zones)
            true = {
                "empty": not any(held), "sold out": self.kinds_at_start[number] - kinds >= end.number, "rounds": False,
                "reached": end.total is not None and any(self.has(end.total, seat) >= end.number for seat in range(self.seats)),
            }[end.kind]  # fmt: skip
            if true and end.when == "at once":
                self.finish()
            if true and self.ending is None:
                self.ending = self.round + (end.when == "one more round")
                self.say(k.E_ENDING, self.active, None, self.ending, number)

    def finish(self) -> None:
        """The score sheet; the highest score wins, then the tie-breakers."""
        nobody = Thing(-1, next(iter(self.cards.values())), None)
        left = [seat for seat in range(self.seats) if not self.out[seat]]
        worth = {}
        for seat in left:
            lines = [(-1 if each.minus else 1) * self.amount(each.amount, Run(nobody, 0, seat)) for each in self.rules.scoring]
            for number, amount in enumerate(lines):
                self.say(k.E_SCORED, seat, None, number, amount)
            ties = [(-1 if each.lowest else 1) * self.amount(each.amount, Run(nobody, 0, seat)) for each in self.rules.ties]
            worth[seat] = (sum(lines), *ties)
        best = [seat for seat in left if worth[seat] == max(worth.values())]
        self.end(best[0] if len(best) == 1 else self.active if self.rules.tie == "active" and self.active in best else -2)

    def by_hand(self, what: str, card: int, other: int, seat: int) -> bool:
        """Something done by hand, where it is that; nothing is set off by it."""
        if not what.startswith("hand "):
            return False
        zones = {self.zone_number(each): each for each in [*ZONES, *self.own_zones]}
        if what in ("hand move", "hand top"):
            spot, under = divmod(other, 2)
            if what == "hand top":
                pile, spot = divmod(spot, 64)
                card = self.zone(zones[pile // 4], pile % 4)[-1].number
            thing, zone, whose = self.things[card], zones[spot // 4], spot % 4
            lies, of = next((name, each) for (name, each), held in self.zones.items() if thing in held)
            self.say(k.E_HAND_MOVED, seat, thing, other % 128, self.zone_number(lies) * 4 + of)
            if lies == zone == "play":
                self.move(thing, "play", whose)
                self.arrivals += 1
                thing.seat, thing.arrival, thing.came = whose, self.arrivals, self.turn
                thing.clashing, thing.was_answered, thing.answers = False, False, None
            elif zone == "play":
                self.move(thing, "play", whose)
                self.reset_entering(thing, whose)
            elif lies == "play":
                self.mods = [mod for mod in self.mods if mod.thing is not thing]
                thing.life += 1
                thing.remembered = True
                controller = thing.seat
                self.move(thing, "gone" if thing.token else zone, thing.owner if thing.token else whose, bool(under) and not thing.token)
                thing.seat = controller
                if thing.token:
                    self.say(k.E_CEASED, thing.seat, thing)
            else:
                self.move(thing, zone, whose, bool(under))
        elif what == "hand look":
            self.say(k.E_HAND_LOOKED, seat, None, other // 4, other % 4)
        elif what == "hand shuffle":
            self.say(k.E_HAND_SHUFFLED, seat, None, other // 4, other % 4)
            self.shuffle(zones[other // 4], other % 4)
        elif what == "hand total":
            number, whose = divmod(other, 4)
            resource = self.book.resources[card]
            self.say(k.E_HAND_TOTAL, whose, None, card, number)
            self.totals[self.where(resource.id, whose)] = number
        elif what == "hand damage":
            thing = self.things[card]
            self.say(k.E_HAND_DAMAGE, thing.seat, thing, other, thing.damage)
            thing.damage = other
        elif what == "hand tilt":
            thing = self.things[card]
            thing.tilted = bool(other)
            self.say(k.E_HAND_TILTED, thing.seat, thing, other)
        else:
            thing, (by, which) = self.things[card], divmod(other, 8)
            by -= 999_999
            self.say(k.E_HAND_RAISED, thing.seat, thing, which, by)
            self.mods.append(Mod(thing, k.M_RAISED, self.stat_ids[which], by, None, seat))
        return True

    def sweep(self) -> None:
        for thing in self.things:
            if thing.remembered:
                thing.remembered = False
                thing.seat = next((None if self._shared(zone) else seat for (zone, seat), held in self.zones.items() if thing in held), thing.seat)
        for seat in range(self.seats):
            for thing in list(self.zone("gone", seat)):
                self.move(thing, "free", 0)
                self.free.append(thing)

    def can_use(self, ability: Offered, place: int, thing: Thing, seat: int) -> bool:
        limit = ability.limit
        if limit and thing.uses.get((place, limit.each), 0) >= limit.number:
            return False
        return self.affordable(ability.cost, thing, seat) and self.holds(ability.condition, Run(thing, thing.life, seat))

    def use(self, thing: Thing, place: int, seat: int) -> Turns:
        ability = dict(self.lines(thing))[place]
        self.say(k.E_USED, seat, thing, place)
        self.pay(ability.cost, thing, seat)
        run = Run(thing, thing.life, seat)
        yield from self.settle()
        yield from self.ability(ability, place, run)

    def declare(self, thing: Thing, seat: int, that: Thing | None) -> Turns:
        """A play that picks first asks for its picks before anything is paid; what is attached asks for its host."""
        if self.after(thing) == "attached":
            what, host, _ = yield [*(("pick", each.number, -1) for each in self.hosts(thing, seat)), ("cancel", -1, -1)]
            if what != "cancel":
                yield from self.put_down(thing, seat, self.things[host], that, None)
            return
        first = next((each for _, each in self.lines(thing) if isinstance(each, Triggered) and each.cue == "play" and each.of is None), None)
        picked: list[Thing] | None = None
        if first is not None and self.holds(first.condition, Run(thing, thing.life, seat)):
            step = first.steps[0]
            if isinstance(step.target, Pick) and not step.target.of_it and step.verb != "search":
                run = Run(thing, thing.life, seat)
                self.being_played = thing
                pool = self.candidates(step.target, run)
                self.being_played = None
                most, least = min(step.target.most, len(pool)), min(step.target.least, len(pool))
                if pool:
                    picked = []
                while picked is not None and len(picked) < most:
                    options = [("pick", each.number, -1) for each in pool if each not in picked]
                    options += [("done", -1, -1)] if len(picked) >= least else []
                    what, number, _ = yield [*options, ("cancel", -1, -1)]
                    if what == "cancel":
                        return
                    if what == "done":
                        break
                    picked.append(self.things[number])
                for each in picked or ():
                    self.say(k.E_PICKED, seat, each, thing.number)
        yield from self.put_down(thing, seat, None, that, picked)

    def put_down(self, thing: Thing, seat: int, host: Thing | None, that: Thing | None, picked: list[Thing] | None) -> Turns:
        self.say(k.E_PLAYED, seat, thing)
        self.acted += 1
        self.deeds += 1
        cost = max(0, thing.card.number("cost") or 0)
        if self.table.pays and cost:
            self.lose(seat, self.table.pays, cost, k.E_PAID, thing)
        before, self.queue = self.queue, []
        after, came = self.after(thing), None
        if after in ("discarded", "figure"):
            self.move(thing, "resolving", seat)
            if after == "figure":
                came = self.create(thing.card, seat)
        elif self.enter(thing, seat):
            came = thing
            if after == "attached":
                thing.host = host
                self.say(k.E_ATTACHED, seat, thing, host.number)
        at = len(self.queue)
        self.happens("play", thing, that)
        if came is not None:
            self.happens("enter", came)
        lives = [(each, each.life) for each in picked or ()]
        queued, self.queue = before + self.queue, []
        at += len(before)
        yield from self.check()
        more, self.queue = self.queue, []
        # What the check set off comes first, then answers, then what the play set off.
        for ability, place, each, about, life, about_life, of in more:
            yield from self.ability(ability, place, Run(each, life, of, about, about_life))
        yield from self.answers(thing, seat)
        for number, (ability, place, each, about, life, about_life, of) in enumerate(queued):
            run = Run(each, life, of, about, about_life)
            if picked is not None and number == at:
                run.chosen = lives
            yield from self.ability(ability, place, run)
        self.refresh()
        if thing.place == "resolving":
            self.say(k.E_DISCARDED, thing.owner, thing, 1)
            self.move(thing, "discard", thing.owner)
        yield from self.settle()

    def answers(self, thing: Thing, seat: int) -> Turns:
        if self.rules.answers is None:
            return
        for back in range(1, self.seats):
            other = (seat + back) % self.seats
            if self.out[other]:
                continue
            while not self.out[seat] and (options := [("play", each.number, -1) for each in self.zone("hand", other) if not self.out[other] and self.can_play(each, other, self.rules.answers.types)]):
                what, card, further = yield [*options, ("done", -1, -1)]
                if self.by_hand(what, card, further, other):
                    yield from self.settle()
                    continue
                if what == "done":
                    self.say(k.E_PASSED, other)
                else:
                    yield from self.declare(self.things[card], other, thing)
                yield from self.settle()
                break

    # The clash.

    def power(self, thing: Thing) -> int:
        return max(0, thing.stats.get(self.rules.clash.stat, -1))

    def clash(self, seat: int) -> Turns:
        rule = self.rules.clash
        while not self.out[seat]:
            self.refresh()
            able = [each for each in self.zone("play", seat) if self.may_clash(each)]
            if not able:
                break
            what, number, further = yield [*(("clash", each.number, -1) for each in able), ("done", -1, -1)]
            if what == "done":
                break
            if self.by_hand(what, number, further, seat):
                yield from self.rest()
                continue
            self.things[number].clashing = True
        if self.out[seat]:
            return self.end_clash()
        for thing in list(self.zone("play", seat)):
            if thing.clashing:
                if rule.tilts:
                    self.tilt(thing)
                self.say(k.E_CLASHES, seat, thing)
                self.happens("clash", thing)
        yield from self.rest()
        if not self.out[seat]:
            yield from self.answering_cards(seat)
        while not self.out[seat]:
            self.refresh()
            sent = [each for each in self.zone("play", seat) if each.clashing]
            for thing in sent[:1] if rule.in_order else sent:
                thing.clashing = False
                self.settle_clash(thing, seat, self.rival(seat))
            yield from self.rest()
            if not rule.in_order or not sent:
                break
        self.end_clash()

    def end_clash(self) -> None:
        for thing in self.in_play():
            thing.clashing, thing.was_answered, thing.answers = False, False, None

    def may_clash(self, thing: Thing) -> bool:
        rule = self.rules.clash
        if not any(self.is_type(thing, each) for each in rule.types) or thing.stats.get(rule.stat, -1) < 0:
            return False
        if thing.clashing or "clashing" in thing.forbids or thing.tilted:
            return False
        return thing.came != self.turn or rule.on_arrival or "clashing" in thing.allows

    def answering_cards(self, seat: int) -> Turns:
        rule = self.rules.clash
        types = rule.answer_types or rule.types
        if self.rival(seat) == seat:
            return
        while rule.answers != "none":
            self.refresh()
            rival = self.rival(seat)
            sent = [each for each in self.zone("play", seat) if each.clashing and (rule.answers == "many" or not each.was_answered)]
            able = [
                each
                for each in self.zone("play", rival)
                if any(self.is_type(each, kind) for kind in types) and each.stats.get(rule.stat, -1) >= 0 and each.answers is None
                and "answering" not in each.forbids and (not each.tilted or "answering" in each.allows)
            ]  # fmt: skip
            if not sent or not able:
                break
            what, number, other = yield [*(("answer", one.number, each.number) for one in able for each in sent), ("done", -1, -1)]
            if what == "done":
                break
            if self.by_hand(what, number, other, rival):
                yield from self.rest()
                continue
            self.things[number].answers = self.things[other]
            self.things[other].was_answered = True
        if self.out[seat]:
            return
        rival = self.rival(seat)
        for thing in list(self.zone("play", rival)):
            if thing.answers is not None:
                if rule.answer_tilts:
                    self.tilt(thing)
                self.say(k.E_ANSWERS, rival, thing, thing.answers.number)
                if thing.answers.place == "play":
                    self.happens("answered", thing.answers, thing)
        yield from self.rest()

    def settle_clash(self, thing: Thing, seat: int, rival: int) -> None:
        rule, bears = self.rules.clash, self.book.roles.damage_limit
        strength = self.power(thing)
        if not thing.was_answered:
            return self.counts(thing, seat, strength if rule.points == "stat" else 1, k.E_UNANSWERED)
        answering = [each for each in self.zone("play", rival) if each.answers is thing]
        against = sum(self.power(each) for each in answering)
        left = strength - (0 if rule.hurts else against)
        if rule.hurts:
            for number, other in enumerate(answering):
                bearable = other.stats.get(bears, -1) - other.damage if bears else left
                last = number == len(answering) - 1 and rule.excess == "lost"
                share = max(0, left if last else min(bearable, left))
                left -= share
                self.hurt(other, share, thing)
            for other in answering:
                if self.power(other):
                    self.hurt(thing, self.power(other), other)
        if rule.excess == "through" and left > 0 and answering:
            self.counts(thing, seat, left, k.E_THROUGH)

    def counts(self, thing: Thing, seat: int, points: int, kind: int) -> None:
        self.say(kind, seat, thing, points)
        if points and self.rules.clash.unanswered == "gains":
            self.gain(seat, self.rules.clash.total, points)
        elif points and self.rules.clash.unanswered == "loses":
            self.lose(self.rival(seat), self.rules.clash.total, points)
