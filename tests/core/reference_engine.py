"""A slow, obvious engine of objects and generators, written from the rules alone: the kernel must agree with it.

It shares nothing with the kernel but the stream of chance.
"""

from __future__ import annotations

from collections.abc import Generator, Sequence
from dataclasses import dataclass

from dramok.core.cards import Card
from dramok.core.effects.model import Ability, All, Continuous, Group, It, Number, Pick, This
from dramok.core.engine.chance import below, seed_streams
from dramok.core.engine.state import R_RANDOM, R_SHUFFLE, State
from dramok.core.rulebook import Rulebook

Choice = tuple[str, int]
Turns = Generator[list[Choice], Choice, None]


@dataclass(eq=False)
class Thing:
    """A card at the table."""

    number: int
    card: Card
    place: str = "draw"
    damage: int = 0

    @property
    def name(self) -> str:
        return self.card.id

    @property
    def abilities(self) -> tuple[Ability, ...]:
        return self.card.script("effect").abilities


class Reference:
    """`log` are the events in words; `play()` yields the options of each decision and is sent the one taken."""

    def __init__(self, rulebook: Rulebook, cards: Sequence[Card], deck: Sequence[str], seed: int) -> None:
        self.rulebook, self.rules = rulebook, rulebook.table
        order = [card.id for card in cards]
        chosen = sorted(deck, key=order.index)
        self.things = [Thing(number, cards[order.index(ident)]) for number, ident in enumerate(chosen)]
        self.zones: dict[str, list[Thing]] = {
            "draw": list(self.things),
            "hand": [],
            "discard": [],
            "play": [],
            "resolving": [],
        }
        self.resources = {each.id: each.start for each in rulebook.resources}
        self.streams = State(1, 0, 0)
        seed_streams(self.streams, seed)
        self.log: list[str] = []
        self.day = 1
        self._shuffle()
        self.log.append("Day 1 begins.")
        for _ in range(self.rules.opening_hand):
            self._draw()

    # Moving cards.

    def _move(self, thing: Thing, zone: str) -> None:
        self.zones[thing.place].remove(thing)
        if thing.place == "play":
            thing.damage = 0
        thing.place = zone
        self.zones[zone].append(thing)

    def _shuffle(self) -> None:
        pile = self.zones["draw"]
        for last in range(len(pile) - 1, 0, -1):
            other = below(self.streams, 0, R_SHUFFLE, last + 1)
            pile[last], pile[other] = pile[other], pile[last]
        self.log.append(f"The draw pile is shuffled: {_cards(len(pile))}.")

    def _draw(self) -> None:
        if not self.zones["draw"] and self.zones["discard"]:
            self.log.append(
                f"The draw pile is empty: the discard pile ({_cards(len(self.zones['discard']))}) goes back into it."
            )
            for thing in reversed(list(self.zones["discard"])):
                self._move(thing, "draw")
            self._shuffle()
        if not self.zones["draw"]:
            self.log.append("No card to draw: draw pile and discard pile are empty.")
            return
        thing = self.zones["draw"][-1]
        self._move(thing, "hand")
        self.log.append(f"Drew {thing.name}.")

    def _discard(self, thing: Thing) -> None:
        self.log.append(f"Discarded {thing.name}.")
        self._move(thing, "discard")

    # What is meant.

    def _stat(self, thing: Thing, stat: str) -> int | None:
        value = thing.card.number(stat)
        if value is None or thing.place != "play":
            return value
        for ability in thing.abilities:
            if isinstance(ability, Continuous):
                for each in ability.raises:
                    if each.stat == stat:
                        value += self._amount(each.amount, thing, printed=True)
        return value

    def _amount(self, amount, source: Thing, printed: bool = True) -> int:
        return (
            amount.value if isinstance(amount, Number) else len(self._members(amount.group, source, printed))
        )

    def _members(self, group: Group, source: Thing, printed: bool = False) -> list[Thing]:
        if group.side == "rival":
            return []
        return [
            thing
            for thing in self.zones["play"]
            if (group.type is None or thing.card.type == group.type)
            and all(self._passes(each, thing, source, printed) for each in group.filters)
        ]

    def _passes(self, each, thing: Thing, source: Thing, printed: bool) -> bool:
        if each.kind == "not":
            return not self._passes(each.filter, thing, source, printed)
        if each.kind == "other":
            return thing is not source
        if each.kind == "tag":
            return each.tag in thing.card.tags("tags")
        if each.kind == "choice":
            return thing.card.text(each.field) == each.value
        value = thing.card.number(each.field) if printed else self._stat(thing, each.field)
        if value is None:
            return False
        return {"is": value == each.number, "above": value > each.number, "under": value < each.number}[
            each.compare
        ]

    # Effects.

    def _trigger(self, cue: str, thing: Thing, picks: list[Thing] | None = None) -> Turns:
        for ability in thing.abilities:
            if not isinstance(ability, Continuous) and ability.cue == cue:
                yield from self._ability(ability, thing, picks)
                picks = None

    def _ability(self, ability, thing: Thing, picks: list[Thing] | None) -> Turns:
        self.log.append(
            f"{thing.name}, {dict(play='on play', enter='on entering', leave='on leaving')[ability.cue]}:"
        )
        latest: list[Thing] = picks or []
        for step in ability.steps:
            number = self._amount(step.amount, thing)
            if number == 0:
                self.log.append(
                    f"Nothing for {thing.name} to do: the amount is 0, or there is no card for it."
                )
            elif step.verb == "draw":
                for _ in range(number):
                    self._draw()
            elif step.verb == "discard":
                yield from self._give_up(number, thing)
            elif step.verb == "reveal":
                top = self.zones["draw"][::-1][:number]
                self.log += [f"{each.name} is revealed on top of the draw pile." for each in top]
                if not top:
                    self.log.append(
                        f"Nothing for {thing.name} to do: the amount is 0, or there is no card for it."
                    )
            elif step.verb in ("gain", "lose"):
                self._resource(step.verb, step.resource, number)
            elif step.verb in ("deal", "heal"):
                latest = yield from self._aim(step, thing, number, latest, picks)
            else:
                raise AssertionError(f"the reference does not know {step.verb}")
            picks = None
            yield from self._check()

    def _give_up(self, number: int, thing: Thing) -> Turns:
        hand = self.zones["hand"]
        if not hand:
            self.log.append(f"Nothing for {thing.name} to do: the amount is 0, or there is no card for it.")
        left = min(number, len(hand))
        while left:
            if left >= len(hand):
                for each in list(hand):
                    self._discard(each)
                return
            _, chosen = yield [("discard", each.number) for each in hand]
            self._discard(self.things[chosen])
            left -= 1

    def _resource(self, verb: str, ident: str, number: int) -> None:
        resource = self.rulebook.resource(ident)
        held = self.resources[ident]
        noun = lambda n: (resource.name if n == 1 else resource.names).lower()  # noqa: E731
        if verb == "lose":
            gone = min(held, number)
            self.resources[ident] -= gone
            self.log.append(f"Lost {gone} {noun(gone)}." if gone else f"No {noun(gone)} to lose.")
            return
        room = number if resource.cap is None else max(0, min(number, resource.cap - held))
        self.resources[ident] += room
        if room:
            self.log.append(f"Gained {room} {noun(room)}.")
        if room < number:
            self.log.append(f"{number - room} {noun(number - room)} over the cap of {resource.cap}: lost.")

    def _aim(self, step, thing: Thing, number: int, latest: list[Thing], declared: list[Thing] | None):
        target = step.target
        if isinstance(target, This):
            found = [thing]
        elif isinstance(target, It):
            found = latest
        elif isinstance(target, Pick):
            latest = found = declared if declared is not None else (yield from self._pick(target, thing))
        elif isinstance(target, All):
            found = self._members(target.group, thing)
        else:
            among, found = self._members(target.group, thing), []
            while among and len(found) < target.number:
                found.append(among.pop(below(self.streams, 0, R_RANDOM, len(among))))
        found = [each for each in found if each.place == "play"]
        if not found:
            self.log.append(f"No target to {step.verb} {number} to: that part does nothing.")
        for each in found:
            if step.verb == "deal":
                each.damage += number
                self.log.append(f"{number} mildew on {each.name}.")
            else:
                healed = min(number, each.damage)
                each.damage -= healed
                self.log.append(
                    f"{healed} mildew healed on {each.name}." if healed else f"{each.name} bears no mildew."
                )
        return latest

    def _pick(self, target: Pick, source: Thing, declaring: bool = False):
        """The things picked; None when the whole declaration was cancelled."""
        among = self._members(target.group, source)
        if not among:
            return []
        least, most = min(target.least, len(among)), min(target.most, len(among))
        chosen: list[Thing] = []
        while len(chosen) < most:
            options = [("pick", each.number) for each in among if each not in chosen]
            options += [("done", -1)] if len(chosen) >= least else []
            what, number = yield options + ([("cancel", -1)] if declaring else [])
            if what == "cancel":
                return None
            if what == "done":
                break
            chosen.append(self.things[number])
        self.log += [f"{each.name} is picked." for each in chosen]
        return chosen

    def _check(self) -> Turns:
        """Cards whose damage reaches their root leave together, wave after wave; the last wave's effects come first."""
        waves: list[list[Thing]] = []
        while gone := [
            each
            for each in self.zones["play"]
            if (root := self._stat(each, "root")) is not None and each.damage >= root
        ]:
            for each in gone:
                self.log.append(f"{each.name} is destroyed.")
                self._move(each, "discard")
            waves.append(gone)
        for wave in reversed(waves):
            for each in wave:
                yield from self._trigger("leave", each)

    # The turn.

    def play(self) -> Turns:
        while True:
            while (over := len(self.zones["hand"]) - (self.rules.hand_limit or 999)) > 0:
                self.log.append(f"{_cards(over)} over the hand limit of {self.rules.hand_limit}.")
                _, number = yield [("discard", each.number) for each in self.zones["hand"]]
                self._discard(self.things[number])
            what, number = yield self._options()
            thing = self.things[number]
            if what == "draw":
                self._draw()
            elif what == "discard":
                self._discard(thing)
            elif what == "play":
                yield from self._play(thing)
            elif what == "dismiss":
                self.log.append(f"{thing.name} leaves play for the discard pile.")
                self._move(thing, "discard")
                # Its leave effects wait below those of cards that fall because it left.
                yield from self._check()
                yield from self._trigger("leave", thing)
            else:
                self._next_day()

    def _options(self) -> list[Choice]:
        hand = self.zones["hand"]
        options = [
            ("play", each.number)
            for each in hand
            if self.resources["water"] >= (each.card.number("cost") or 0)
        ]
        options += [("discard", each.number) for each in hand] + [
            ("dismiss", each.number) for each in self.zones["play"]
        ]
        options += [("draw", -1)] if self.zones["draw"] or self.zones["discard"] else []
        return [*options, ("end turn", -1)]

    def _play(self, thing: Thing) -> Turns:
        first = next(
            (a.steps[0] for a in thing.abilities if not isinstance(a, Continuous) and a.cue == "play"), None
        )
        picks: list[Thing] | None = None
        if (
            first is not None
            and isinstance(getattr(first, "target", None), Pick)
            and self._members(first.target.group, thing)
        ):
            picks = yield from self._pick(first.target, thing, declaring=True)
            if picks is None:
                return
        self.log.append(f"Played {thing.name}.")
        cost = thing.card.number("cost") or 0
        if cost:
            self.resources["water"] -= cost
            self.log.append(f"Paid {cost} water.")
        stays = self.rulebook.cards.type(thing.card.type).stays
        self._move(thing, "play" if stays else "resolving")
        if stays:
            self.log.append(f"{thing.name} comes into play.")
        yield from self._check()
        yield from self._trigger("play", thing, picks)
        if stays:
            yield from self._trigger("enter", thing)
        if thing.place == "resolving":
            self.log.append(f"{thing.name} goes to the discard pile.")
            self._move(thing, "discard")

    def _next_day(self) -> None:
        self.day += 1
        self.log.append(f"Day {self.day} begins.")
        for each in self.rulebook.resources:
            if each.each_turn:
                self._resource("gain", each.id, each.each_turn)
        for _ in range(self.rules.turn_draw):
            self._draw()


def _cards(number: int) -> str:
    return f"{number} card{'' if number == 1 else 's'}"
