"""Parts of sentences in the words of the phrase book: groups, targets, amounts, conditions, zones, moments and
prices.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable
from functools import lru_cache, partial
from typing import NamedTuple, assert_never

from dramok.core.effects.model import (
    EVERYWHERE,
    All,
    Amount,
    ChoiceIs,
    Combined,
    Comparison,
    Condition,
    CostPart,
    Count,
    Filter,
    Group,
    Half,
    HasKeyword,
    HasTag,
    HeldTotal,
    Host,
    InState,
    It,
    Not,
    Number,
    Other,
    Pick,
    Random,
    Side,
    StatCompare,
    StatOf,
    SumOf,
    Target,
    That,
    This,
    Together,
    Triggered,
    Unless,
    When,
    Zone,
)
from dramok.core.effects.vocabulary import CARD, KEYWORD, PHASE, STAT, TAG, TYPE, ZONE, Vocabulary, value_of
from dramok.core.rulebook import Rulebook
from dramok.core.rulebook.phrases import ANY_CARD
from dramok.core.rulebook.play_rules import ZONES

_ARTICLE = re.compile(r"\b([aA])(?= (?!(?:uni(?!n|m)|us[aeiu]|uti|ura|eu|ew|one?\b|once\b)[a-z]*)[aeiouAEIOU])")
_ANOTHER = re.compile(r"\b([aA]) other ")
_BRACES = re.compile(r"\{([^{}]*)\}")
Part = Callable[[], str]
_REMOVED = "a removed card"
"""Printed for a removed card that an effect creates."""
_PLACES = {"play": "cards in play", "removed": "removed cards"}
"""Nouns for the cards of zones whose own name is not a noun."""


@lru_cache(maxsize=4_000)
def _pieces(text: str) -> tuple[str, ...]:
    """A phrase as alternating words and part names."""
    return tuple(_BRACES.split(text))


_POINTED: dict[str, Target] = {"this": This(), "that": That(), "it": It(), "host": Host()}


_SEVERAL = {"it": "them", "seen": "seens", "loop": "loop"}


class Latest(NamedTuple):
    """The meaning of `it`: its word in the phrase book (`it`; `seen` after a look; `loop`), and whether it can
    be several cards.
    """

    word: str = "it"
    many: bool = False


class Parts:
    """Words for parts of effects. `used`: the phrases that were read."""

    def __init__(self, rulebook: Rulebook, vocabulary: Vocabulary) -> None:
        self.rulebook = rulebook
        self.phrases = rulebook.phrases
        self.vocabulary = vocabulary
        self.used: set[str] = set()
        self.cue: Triggered | None = None
        self.shared = {zone.id for zone in rulebook.played.zones if zone.shared}

    # The phrase book.

    def filled(self, text: str, **parts: Part) -> str:
        """The phrase with its parts filled in.

        A part that the phrase does not contain is not worded, and not added to `used`.
        """
        pieces = _pieces(text)
        found = [pieces[0]]
        for place in range(1, len(pieces), 2):
            key = pieces[place]
            part = parts.get(key) or (self._damage if key == "damage" else None)
            found += ["{" + key + "}" if part is None else part(), pieces[place + 1]]
        said = "".join(found)
        return " ".join(said.split()) if "  " in said or said[:1] == " " or said[-1:] == " " else said

    def spelled(self, text: str) -> str:
        """The text with a or an by the following sound: an orchid, another plant, a unit."""
        if not self.phrases.english:
            return text
        return _ARTICLE.sub(r"\1n", _ANOTHER.sub(r"\1nother ", text))

    def _damage(self) -> str:
        self.used.add("damage")
        return self.phrases.damage

    def say(self, word: str, /, **parts: Part) -> str:
        self.used.add(f"says/{word}")
        return self.filled(self.phrases.say(word), **parts)

    def pick(self, word: str, /, **parts: Part) -> str:
        self.used.add(f"picks/{word}")
        return self.filled(self.phrases.pick(word), **parts)

    def narrowed(self, word: str, /, **parts: Part) -> str:
        self.used.add(f"filters/{word}")
        return self.filled(self.phrases.filter(word), **parts)

    # Names.

    def card(self, ident: str) -> str:
        name = self.vocabulary.name(CARD, ident)
        return name if name != ident else _REMOVED

    def stat(self, ident: str) -> str:
        return self.phrases.small(self.vocabulary.name(STAT, ident))

    def resource(self, ident: str) -> str:
        return f"{{{self.rulebook.resource(ident).id}}}"

    def keyword(self, ident: str) -> str:
        return self.vocabulary.name(KEYWORD, ident)

    def noun(self, ident: str | None, one: bool) -> str:
        key = ident or ANY_CARD
        self.used.add(f"nouns/{key}")
        if not one:
            self.used.add(f"plurals/{key}")
        return self.phrases.noun(ident, self.vocabulary.name(TYPE, ident) if ident else ANY_CARD, one)

    # Groups and targets.

    def group(self, group: Group, one: bool) -> str:
        """The cards of a group: other tilted plants of yours with Twining, in your hand.

        With a zone, the side is that of the zone.
        """
        behind = [each for each in group.filters if _behind(each)]
        before = [self._filter(each) for each in group.filters if not _behind(each)]
        # An English adjective in fixed order: another tilted plant.
        before.sort(key=lambda word: word != self.phrases.filter("other"))
        zone = group.zone if group.zone != "play" else None
        side = ""
        if zone is None:
            self.used.add(f"sides/{group.side}")
            side = self.phrases.side(group.side)
        after = self._listed([self._filter(each) for each in behind])
        said = " ".join(word for word in [*before, self.noun(group.type, one), side, after] if word)
        if zone == EVERYWHERE:
            return self.say(f"everywhere-{group.side}", group=lambda: said)
        return said if zone is None else self.say("in", group=lambda: said, zone=lambda: self.source(zone, group.side, "in-any"))

    def _listed(self, words: list[str]) -> str:
        if len(words) < 2:
            return "".join(words)
        *first, last = words
        return self.say("and", left=lambda: ", ".join(first), right=lambda: last)

    def _filter(self, each: Filter) -> str:
        match each:
            case Other():
                return self.narrowed("other")
            case HasTag():
                return self.vocabulary.name(TAG, each.tag)
            case HasKeyword():
                return self.narrowed("has", word=lambda: self.keyword(each.keyword))
            case InState():
                return self.narrowed(each.state)
            case ChoiceIs():
                return self.vocabulary.name(value_of(each.field), each.value)
            case StatCompare():
                return self.narrowed(each.compare, stat=lambda: self.stat(each.field), n=lambda: str(each.number))
            case Not():
                return self._filter_not(each.filter)
        assert_never(each)

    def _filter_not(self, each: Filter) -> str:
        if isinstance(each, Other):
            return self.narrowed("other-not")
        if isinstance(each, HasKeyword):
            ident = each.keyword
            return self.narrowed("has-not", word=lambda: self.keyword(ident))
        if isinstance(each, StatCompare):
            stat = each
            return self.narrowed(f"{stat.compare}-not", stat=lambda: self.stat(stat.field), n=lambda: str(stat.number))
        return self._filter(each.filter) if isinstance(each, Not) else self.narrowed("not", word=lambda: self._filter(each))

    def many(self, target: Target | None, latest: Latest) -> bool:
        """Whether the text refers to a target in the plural."""
        match target:
            case Pick():
                return target.most > 1
            case Random():
                return target.number > 1
            case It():
                return latest.many
        return False

    def target(self, target: Target, latest: Latest) -> str:
        match target:
            case This() | Host():
                return self.pick(target.kind)
            case That():
                return self._that()
            case It():
                return self.pick(_SEVERAL[latest.word] if latest.many else latest.word)
            case Pick():
                return self._picked(target)
            case All(group=group):
                return self.pick("all", group=lambda: self.group(group, one=True))
            case Random(number=number, group=group):
                return self.pick("random" if number == 1 else "randoms", group=lambda: self.group(group, one=number == 1), n=lambda: self.phrases.number(number))
        assert_never(target)

    def _picked(self, target: Pick) -> str:
        least, most, of = target.least, target.most, "of-" if target.of_it else ""
        word = "one" if least == most == 1 else "some" if least == most else "upto" if least == 0 else "either" if most == least + 1 else "between"
        return self.pick(
            of + word, group=lambda: self.group(target.group, one=most == 1), n=lambda: self.phrases.number(most), least=lambda: self.phrases.number(least),
        )  # fmt: skip

    def _that(self) -> str:
        cue = self.cue
        if cue is not None and cue.of is None:
            return self.pick(f"that-{cue.cue}")
        kind = cue.of.type if cue is not None and cue.of is not None else None
        return self.pick("that", group=lambda: self.noun(kind, one=True))

    # Zones.

    def _zone_name(self, zone: str) -> str:
        name = self.vocabulary.name(ZONE, zone)
        return _PLACES.get(zone, name) if name == ZONES.get(zone) else name

    def source(self, zone: str, side: Side, anywhere: str = "zone-own") -> str:
        """A zone that is looked through, searched or counted; `anywhere` is its owner if no side is given."""
        word = "zone-shared" if zone in self.shared else {"own": "zone-own", "rival": "zone-rival", "any": anywhere}[side]
        return self.say(word, zone=lambda: self._zone_name(zone))

    def goal(self, zone: Zone | None, many: bool) -> str:
        """A zone that cards are put into."""
        if zone is None:
            return ""
        side = "many" if zone.side == "any" and many else zone.side
        if zone.zone == "play" and self.vocabulary.name(ZONE, "play") == ZONES["play"]:
            return self.say(f"play-{side}")
        said = self.say("zone-shared" if zone.zone in self.shared else f"zone-{side}", zone=lambda: self._zone_name(zone.zone))
        return self.say("bottom", zone=lambda: said) if zone.place == "bottom" else said

    # Amounts and conditions.

    def amount(self, amount: Amount, latest: Latest, inside: bool = False) -> str:
        """An amount in words. `inside`: part of another amount, with brackets if it has parts of its own."""
        match amount:
            case Number():
                return self.phrases.number(amount.value)
            case Count():
                return self.say("count", group=lambda: self.group(amount.group, one=False))
            case SumOf():
                return self.say("sum", stat=lambda: self.stat(amount.field), group=lambda: self.group(amount.group, one=False))
            case StatOf():
                return self.say("stat-of", stat=lambda: self.stat(amount.field), target=lambda: self._pointed(amount.of, latest))
            case HeldTotal():
                return self.held(amount.resource, amount.side)
            case Half():
                said = self.say("half-up" if amount.up else "half-down", n=lambda: self.amount(amount.of, latest, True))
            case Combined():
                word = {"+": "plus", "-": "minus", "x": "times"}.get(amount.how, f"{amount.how}-of")
                said = self.say(word, left=lambda: self.amount(amount.left, latest, True), right=lambda: self.amount(amount.right, latest, True))
            case _:
                assert_never(amount)
        return f"({said})" if inside else said

    def _pointed(self, of: str, latest: Latest) -> str:
        return self.target(_POINTED[of], latest)

    def held(self, resource: str, side: str) -> str:
        """A total: yours, or your rival's; a shared one has no owner."""
        return self.say(f"held-{side}", what=lambda: self.resource(resource))

    def condition(self, condition: Condition, latest: Latest, within: str = "") -> str:
        """A condition in words; `within`: the kind of condition (all or any) that contains it."""
        match condition:
            case Comparison():
                return self._compared(condition, latest, "")
            case Unless(part=Comparison() as inner):
                return self._compared(inner, latest, "-not")
            case Unless(part=Unless() as inner):
                return self.condition(inner.part, latest, within)
            case Unless(part=Together() as inner):
                # Not all: one of them is false; not any: none is true.
                other = Together(kind="any" if inner.kind == "all" else "all", parts=tuple(Unless(part=each) for each in inner.parts))
                return self.condition(other, latest, within)
            case Together():
                *before, last = (self.condition(each, latest, condition.kind) for each in condition.parts)
                word = "and" if condition.kind == "all" else "either" if within else "or"
                said = self.say(word, left=lambda: ", ".join(before), right=lambda: last)
                return f"({said})" if within == condition.kind else said
        raise AssertionError(condition)

    def _compared(self, each: Comparison, latest: Latest, ending: str) -> str:
        return self.say(f"{each.compare}{ending}", left=partial(self.amount, each.left, latest, True), right=partial(self.amount, each.right, latest, True))

    # Moments and prices.

    def whose(self, when: When | None) -> str:
        if when is None:
            return ""
        what = self.vocabulary.name(PHASE, when.phase) if when.phase else self.rulebook.table.turn
        return self.say(f"when-{when.side}", when=lambda: what)

    def moment(self, when: When | None) -> str:
        return self.say(f"at-{when.at}", when=lambda: self.whose(when)) if when is not None else ""

    def cost(self, cost: Iterable[CostPart]) -> str:
        parts = [self._cost_part(part) for part in cost]
        return self._listed(parts) if parts else self.say("free")

    def _cost_part(self, part: CostPart) -> str:
        number = part.number or 0
        several = "s" if part.how == "discard" and number != 1 else ""
        what = self.resource(part.resource) if part.resource else ""
        return self.say(f"cost-{part.how}{several}", n=lambda: self.phrases.number(number), what=lambda: what)


def _behind(each: Filter) -> bool:
    """Whether a filter follows the noun: a stat, a keyword, or that it is this card."""
    inner = each
    while isinstance(inner, Not):
        inner = inner.filter
    return isinstance(inner, StatCompare | HasKeyword) or isinstance(inner, Other) and isinstance(each, Not)
