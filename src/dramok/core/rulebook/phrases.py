"""The phrase book: the game's own words for what effects say. Every phrase is a slot, with what it is for and what it may hold.

What a phrase holds in braces is filled in by the wording: a part of its slot, or a symbol, named as the resource or stat it stands for.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from pydantic import Field, field_validator

from dramok.core.effects.verbs import CUES, VERBS, Slot, Verb, phrases_as_now
from dramok.core.problem import Frozen, Problem

_SIDES = {"own": "of yours", "rival": "of your rival's", "any": ""}
_PICKS = {
    "this": "this card", "that": "that card", "host": "the card it is on", "it": "that card", "them": "those cards", "one": "a {group}", "some": "{n} {group}", "upto": "up to {n} {group}",
    "all": "each {group}", "random": "a random {group}", "randoms": "{n} random {group}", "each": "for each {group}",
}  # fmt: skip
_FILTERS = {
    "other": "other", "not": "non-{word}", "is": "with {stat} {n}", "above": "with {stat} above {n}", "under": "with {stat} under {n}",
    "has": "with {word}", "tilted": "tilted", "hurt": "hurt", "created": "created",
}  # fmt: skip
_SAYS = {
    "guard": "if {if}, {step}", "limit-turn": "(at most {n} times a turn)", "limit-game": "(at most {n} times a game)",
    "is": "{left} is {right}", "above": "{left} is above {right}", "under": "{left} is under {right}", "not": "it is not so that {if}", "and": "{left} and {right}", "or": "{left} or {right}",
    "count": "the number of {group}", "stat-of": "the {stat} of {target}", "held-own": "your {what}", "held-rival": "your rival's {what}",
    "plus": "{left} plus {right}", "minus": "{left} less {right}", "times": "{left} times {right}", "least-of": "the lesser of {left} and {right}",
    "most-of": "the greater of {left} and {right}", "half-down": "half of {n}", "half-up": "half of {n}, rounded up",
    "seats-rival": "have your rival {step}", "seats-all": "have everyone {step}", "until-begin": "until {when} begins", "until-end": "until {when} ends",
    "at-begin": "when {when} begins", "at-end": "when {when} ends", "when-any": "the {when}", "when-own": "your {when}", "when-rival": "your rival's {when}",
    "cost-pay": "pay {n} {what}", "cost-tilt": "tilt this card", "cost-destroy": "destroy this card", "cost-return": "return this card",
    "cost-discard": "discard {n} of your cards", "zone-own": "your {zone}", "zone-rival": "your rival's {zone}", "zone-any": "the {zone}",
    "bottom": "the bottom of {zone}", "in": "{group} in the {zone}",
}  # fmt: skip
"""The plain words of a game that has none of its own."""

_BRACES = re.compile(r"\{([^{}]*)\}")

ANY_CARD = "card"
"""The noun for cards of whatever type."""
LONGEST = 300


class Phrases(Frozen):
    """`cues`, `verbs` (of several things under the word with an `s`), `sides`, `picks` and `filters` by their words; `nouns` and
    `plurals` by card type, or `card`; `numbers` are said instead of 1, 2, 3 …

    `english`: names stand in small letters within a sentence, a stands before a consonant and an before a vowel.
    """

    cues: dict[str, str] = {}
    verbs: dict[str, str] = {}
    sides: dict[str, str] = {}
    picks: dict[str, str] = {}
    filters: dict[str, str] = {}
    says: dict[str, str] = {}
    nouns: dict[str, str] = {}
    plurals: dict[str, str] = {}
    damage: str = "damage"
    numbers: tuple[str, ...] = Field(default=(), max_length=100)
    english: bool = True

    def cue(self, word: str) -> str:
        """What a line begins with for a moment of the language."""
        return self.cues.get(word, CUES[word].phrase)

    def cue_of(self, word: str) -> str:
        """What a line begins with for a moment of other cards, or of a total while it is past a number."""
        return self.cues.get(several(word), CUES[word].of)

    def say(self, word: str) -> str:
        """How conditions, moments, prices and reckoned amounts are put: see `_SAYS`."""
        return self.says.get(word, _SAYS[word])

    def verb(self, word: str, one: bool) -> str:
        """The phrase of a verb, of one thing or of several. A game without words of its own for it has the plain ones."""
        record = VERBS[word]
        own = self.verbs.get(word if one or self.as_one(word) else several(word))
        if own is not None and (one or own):
            return own
        return record.phrase if one else record.phrases or record.phrase

    def as_one(self, word: str) -> bool:
        """Whether several things are said in the words for one: where those say how many, and there are no others."""
        return not self.verbs.get(several(word)) and "{n}" in self.verbs.get(word, "")

    def side(self, word: str) -> str:
        """What follows a group that is of one side: own, rival, any."""
        return self.sides.get(word, _SIDES[word])

    def pick(self, word: str) -> str:
        """How a group is spoken of when it is chosen from: see `_PICKS`."""
        return self.picks.get(word, _PICKS[word])

    def filter(self, word: str) -> str:
        """How a group is narrowed: see `_FILTERS`."""
        return self.filters.get(word, _FILTERS[word])

    def noun(self, ident: str | None, name: str, one: bool) -> str:
        """What cards of a type are called in a sentence; `name` is the type's own."""
        key = ident or ANY_CARD
        singular = self.nouns.get(key) or self.small(name)
        return singular if one else self.plurals.get(key) or (f"{singular}s" if self.english else singular)

    def number(self, amount: int) -> str:
        """An amount of 0 or more as it is said."""
        return self.numbers[amount - 1] if 0 < amount <= len(self.numbers) else str(amount)

    def small(self, name: str) -> str:
        """A name within a sentence."""
        return name.lower() if self.english else name

    @field_validator("verbs", mode="before")
    @classmethod
    def _verbs_as_now(cls, verbs: Any) -> Any:
        return phrases_as_now(verbs)


def braced(text: str) -> tuple[str, ...]:
    """The parts in braces of a text, in their order."""
    return tuple(_BRACES.findall(text))


def several(verb: str) -> str:
    """The key of a verb's phrase of several things."""
    return f"{verb}s"


@dataclass(frozen=True)
class Phrase:
    """A phrase of the book. `room` and `key` are its place in `Phrases`; `plain` what stands there while the game has no words for it;
    `parts` what it may hold in braces, `needed` which of these it says nothing without."""

    room: str
    key: str
    about: str
    plain: str
    parts: tuple[str, ...] = ()
    needed: tuple[str, ...] = ()

    @property
    def id(self) -> str:
        return f"{self.room}/{self.key}" if self.key else self.room

    def written(self, phrases: Phrases) -> str | None:
        """The game's own words; None where it has none."""
        if not self.key:
            return phrases.damage if phrases.damage != self.plain else None
        return getattr(phrases, self.room).get(self.key)  # type: ignore[no-any-return]

    def unwritten(self, phrases: Phrases) -> str:
        """What would be said if the game had no words for it: of several as of one where it has those, else the plain words."""
        one = self.key.removesuffix("s")
        if self.room == "verbs" and one in VERBS and one != self.key and self.key not in VERBS:
            return phrases.verbs[one] if phrases.as_one(one) else self.plain
        if self.room == "plurals":
            return (
                phrases.noun(self.key, self.plain, one=False)
                if self.key not in phrases.plurals
                else self.plain
            )
        return phrases.small(self.plain) if self.room == "nouns" else self.plain


_HOLD: Mapping[Slot, tuple[str, ...]] = {
    "amount": ("n", "each", "damage"), "resource": ("what",), "to": ("target",), "target": ("target",), "stat": ("stat", "n", "each", "target"),
    "put": ("zone",), "from_zone": ("zone",), "zone": ("zone",), "made": ("card",), "grant": ("keyword", "target"), "strip": ("keyword", "target"),
    "act": ("act", "target"), "steps": ("steps",), "options": ("n", "steps"), "group": ("target",), "condition": ("if",), "cost": ("cost",),
    "moment": ("when",), "otherwise": ("otherwise",),
}  # fmt: skip
"""What the phrases of a verb may hold, by what follows it in the language."""
_UNSAID = ("each", "damage", "otherwise", "zone")
"""Parts that a phrase may leave out."""


def _parts(verb: Verb) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """What the phrases of a verb may hold, and what of it they say nothing without."""
    may = tuple(dict.fromkeys(part for slot in verb.slots for part in _HOLD.get(slot, ())))
    needed = [part for part in may if part not in _UNSAID]
    return may, tuple(needed)


_ABOUT_SIDES = {"own": "your side", "rival": "the rival's side", "any": "either side"}
_ABOUT_PICKS = {
    "this": "the card itself", "that": "the moment's card", "host": "the card it is attached to", "it": "the card picked before", "them": "the cards picked before", "one": "one picked", "some": "several picked",
    "upto": "up to so many picked", "all": "every one", "random": "one by lot", "randoms": "several by lot", "each": "one for each",
}  # fmt: skip
_ABOUT_FILTERS = {"other": "another card than this", "not": "not so", "is": "a stat that is", "above": "a stat above", "under": "a stat under", "has": "with a keyword", "tilted": "tilted", "hurt": "hurt", "created": "created by an effect"}  # fmt: skip


def book(types: Iterable[tuple[str, str]]) -> Iterator[Phrase]:
    """Every phrase of a game's book; `types` are (id, name) of its card types that cards are of."""
    for cue in CUES.values():
        yield Phrase("cues", cue.word, cue.said, cue.phrase, braced(cue.phrase), braced(cue.phrase))
        if cue.of:
            about = f"{cue.said}, of others" if cue.about == "card" else f"{cue.said}, past a number"
            yield Phrase("cues", several(cue.word), about, cue.of, braced(cue.of), braced(cue.of))
    for verb in VERBS.values():
        parts, needed = _parts(verb)
        if verb.form == "stat":
            # Where it is the card's own, its name may go unsaid; what is counted may not.
            own = (*(part for part in needed if part != "target"), "each")
            yield Phrase("verbs", verb.word, f"{verb.word}, its own", verb.phrase, parts, own)
            yield Phrase("verbs", several(verb.word), f"{verb.word}, another card's", verb.phrases, parts, (*needed, "each"))
        elif not verb.phrases and (verb.form == "block" or not verb.counts):
            yield Phrase("verbs", verb.word, verb.word, verb.phrase, parts, needed)
        elif verb.form == "block":
            yield Phrase("verbs", verb.word, verb.word, verb.phrase, parts, needed)
            yield Phrase("verbs", several(verb.word), f"{verb.word}, with otherwise", verb.phrases, parts, (*needed, "otherwise"))
        else:
            # Of one thing the number may go unsaid; what is counted is said so too, one for each.
            alone = (*(part for part in needed if part != "n"), "each")
            yield Phrase("verbs", verb.word, f"{verb.word}, one", verb.phrase, parts, alone)
            yield Phrase("verbs", several(verb.word), f"{verb.word}, several", verb.phrases or verb.phrase, parts, needed)  # fmt: skip
    for word, plain in _PICKS.items():
        parts = ("group", "n") if "{n}" in plain else ("group",) if "{group}" in plain else ()
        yield Phrase("picks", word, _ABOUT_PICKS[word], plain, parts, parts)
    for word, plain in _SIDES.items():
        yield Phrase("sides", word, _ABOUT_SIDES[word], plain)
    for word, plain in _FILTERS.items():
        parts = braced(plain)
        yield Phrase("filters", word, _ABOUT_FILTERS[word], plain, parts, parts)
    for word, plain in _SAYS.items():
        yield Phrase("says", word, plain.replace("{", "").replace("}", ""), plain, braced(plain), braced(plain))
    yield Phrase("damage", "", "damage", "damage")
    for ident, name in (("", "Card"), *types):
        key = ident or ANY_CARD
        yield Phrase("nouns", key, f"{name}, one", name)
        yield Phrase("plurals", key, f"{name}, several", name)


def broken(slot: Phrase, text: str, symbols: Iterable[str]) -> Problem | None:
    """What is wrong with the words of a slot: a part in braces that it can't have, a brace alone, or too many words."""
    where = f"phrase “{slot.about}”"
    if len(text) > LONGEST:
        return Problem(
            where=where, what=f"it has {len(text)} characters", mend=f"write {LONGEST} at the most"
        )
    may = [*slot.parts, *symbols]
    offered = ", ".join(f"{{{each}}}" for each in may[:12]) or "words alone"
    for name in _BRACES.findall(text):
        if name not in may:
            return Problem(where=where, what=f"{{{name[:40]}}} is no part of it", mend=f"write {offered}")
    rest = _BRACES.sub("", text)
    if "{" in rest or "}" in rest:
        return Problem(where=where, what="a brace stands alone", mend=f"write {offered}")
    return None


def lacking(slot: Phrase, text: str) -> tuple[str, ...]:
    """The parts that the words of a slot say nothing of, though they should."""
    return tuple(part for part in slot.needed if "{" + part + "}" not in text)
