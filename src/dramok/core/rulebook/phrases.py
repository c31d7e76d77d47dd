"""The phrase book: the game's own words for effects. Each phrase has a purpose and the parts it can contain.

The wording fills in names in braces: a part of the phrase, or a symbol, named by its resource or stat.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from pydantic import Field, field_validator, model_validator

from dramok.core.effects.verbs import CUES, VERBS, Slot, Verb, phrases_as_now
from dramok.core.problem import Frozen, Problem

_SIDES = {"own": "of yours", "rival": "of your rival", "any": ""}
_PICKS = {
    "this": "this card", "that": "that {group}", "host": "the card it is on", "it": "the chosen card", "them": "the chosen cards", "loop": "it",
    "seen": "the card you looked at", "seens": "the cards you looked at",
    "one": "a {group}", "some": "{n} {group}", "upto": "up to {n} {group}", "between": "{least} to {n} {group}", "either": "{least} or {n} {group}",
    "of-one": "one of those cards", "of-some": "{n} of those cards", "of-upto": "up to {n} of those cards", "of-between": "{least} to {n} of those cards", "of-either": "{least} or {n} of those cards",
    "all": "each {group}", "random": "a random {group}", "randoms": "{n} random {group}", "each": "for each {group}",
    **{f"that-{cue.word}": cue.that for cue in CUES.values() if cue.that},
}  # fmt: skip
_FILTERS = {
    "other": "other", "other-not": "that is this card", "not": "non-{word}", "is": "with {stat} {n}", "above": "with {stat} above {n}", "under": "with {stat} under {n}",
    "is-not": "without {stat} {n}", "above-not": "without {stat} above {n}", "under-not": "without {stat} under {n}",
    "has": "with {word}", "has-not": "without {word}", "tilted": "tilted", "hurt": "hurt", "created": "created",
}  # fmt: skip
_SAYS = {
    "guard": "if {if}", "limit-turn": "up to {n} times a turn", "limit-turn-once": "once a turn", "limit-game": "up to {n} times a game", "limit-game-once": "once a game",
    "is": "{left} is {right}", "above": "{left} is above {right}", "under": "{left} is under {right}",
    "is-not": "{left} is not {right}", "above-not": "{left} is not above {right}", "under-not": "{left} is not under {right}",
    "and": "{left} and {right}", "or": "{left} or {right}", "either": "either {left} or {right}", "then": "{left}, then {right}", "option": "{left}; or {right}",
    "do-this": "do this: {steps}", "where": "{step}, where {letter} is {n}",
    "count": "the number of {group}", "sum": "the total {stat} of {group}", "stat-of": "the {stat} of {target}", "held-own": "your {what}", "held-rival": "your rival's {what}",
    "plus": "{left} plus {right}", "minus": "{left} minus {right}", "times": "{left} times {right}", "least-of": "the lesser of {left} and {right}",
    "most-of": "the greater of {left} and {right}", "half-down": "half of {n}, rounded down", "half-up": "half of {n}, rounded up",
    "seats-rival": "have your rival {step}", "seats-all": "have everyone {step}", "seats-most": "compare {n}: with the most, {step}",
    "seats-least": "compare {n}: with the least, {step}", "free": "at no cost", "until-begin": "until {when} begins", "until-end": "until {when} ends",
    "at-begin": "when {when} begins", "at-end": "when {when} ends", "when-any": "the {when}", "when-own": "your {when}", "when-rival": "your rival's {when}",
    "cost-pay": "pay {n} {what}", "cost-tilt": "tilt this card", "cost-destroy": "destroy this card", "cost-return": "return this card",
    "cost-discard": "discard a card", "cost-discards": "discard {n} cards",
    "zone-own": "your {zone}", "zone-rival": "your rival's {zone}", "zone-any": "its owner's {zone}", "zone-many": "their owners' {zone}", "zone-shared": "the {zone}",
    "play-own": "play on your side", "play-rival": "play on your rival's side", "play-any": "play on its owner's side", "play-many": "play on their owners' sides",
    "bottom": "{zone}, at the bottom", "in": "{group} in {zone}", "in-any": "any {zone}",
    "everywhere-own": "{group} you own", "everywhere-rival": "{group} your rivals own", "everywhere-any": "{group} that anyone owns",
}  # fmt: skip
"""The default words."""

_BRACES = re.compile(r"\{([^{}]*)\}")

ANY_CARD = "card"
"""The noun for cards of any type."""
LONGEST = 300


class Phrases(Frozen):
    """`cues`, `verbs`, `sides`, `picks` and `filters` by word (plural: with `s`); `lasting`: verbs after
    `always`; `nouns` and `plurals` by card type, or `card`; `numbers` replace 1, 2, 3 …

    `english`: names within a sentence are in lower case, with a or an by their first sound.
    """

    cues: dict[str, str] = {}
    verbs: dict[str, str] = {}
    lasting: dict[str, str] = {}
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
        """The beginning of a line for a cue."""
        return self.cues.get(word, CUES[word].phrase)

    def cue_of(self, word: str) -> str:
        """The beginning of a line for a cue about other cards, or for a total past a number."""
        return self.cues.get(several(word), CUES[word].of)

    def cue_by(self, word: str, other: bool) -> str:
        """The beginning of a line that names the source of the cue."""
        return self.cues.get(f"{several(word) if other else word}-by", CUES[word].by[other])

    def last(self, word: str) -> str:
        """The phrase of a verb after `always`, as a statement."""
        return self.lasting.get(word, VERBS[word].always)

    def say(self, word: str) -> str:
        """The words for conditions, moments, prices and computed amounts: see `_SAYS`."""
        return self.says.get(word, _SAYS[word])

    def verb(self, word: str, one: bool) -> str:
        """The phrase of a verb, singular or plural, or its default words."""
        record = VERBS[word]
        own = self.verbs.get(word if one or self.as_one(word) else several(word))
        if own is not None and (one or own):
            return own
        return record.phrase if one else record.phrases or record.phrase

    def as_one(self, word: str) -> bool:
        """Whether the singular phrase is used for several things: if it contains the count and there is no
        plural phrase.
        """
        own = self.verbs.get(word, "")
        return not self.verbs.get(several(word)) and ("{n}" in own or bool(own) and not VERBS[word].counts)

    def side(self, word: str) -> str:
        """The words after a group of one side: own, rival, any."""
        return self.sides.get(word, _SIDES[word])

    def pick(self, word: str) -> str:
        """The words for a group in a choice: see `_PICKS`."""
        return self.picks.get(word, _PICKS[word])

    def filter(self, word: str) -> str:
        """The words that narrow a group: see `_FILTERS`."""
        return self.filters.get(word, _FILTERS[word])

    def noun(self, ident: str | None, name: str, one: bool) -> str:
        """The noun for cards of a type within a sentence; `name` is the type's own."""
        key = ident or ANY_CARD
        singular = self.nouns.get(key) or self.small(name)
        return singular if one else self.plurals.get(key) or (f"{singular}s" if self.english else singular)

    def number(self, amount: int) -> str:
        """An amount of 0 or more in words."""
        return self.numbers[amount - 1] if 0 < amount <= len(self.numbers) else str(amount)

    def small(self, name: str) -> str:
        """A name within a sentence."""
        return name.lower() if self.english else name

    @field_validator("verbs", mode="before")
    @classmethod
    def _verbs_as_now(cls, verbs: Any) -> Any:
        return phrases_as_now(verbs)

    @model_validator(mode="before")
    @classmethod
    def _book_as_now(cls, book: Any) -> Any:
        """Convert a book of an earlier version: its words for stats and keywords also served lasting lines; its
        guard covered the first step.
        """
        if not isinstance(book, dict):
            return book
        verbs, says = book.get("verbs"), book.get("says")
        if "lasting" not in book and isinstance(verbs, dict):
            words = {word: verbs.get(several(word)) or verbs.get(word) for word, verb in VERBS.items() if verb.lasting}
            book = {**book, "lasting": {word: text for word, text in words.items() if text}}
        if isinstance(says, dict) and isinstance(says.get("guard"), str) and "{step}" in says["guard"]:
            book = {**book, "says": {**says, "guard": says["guard"].split("{step}")[0].rstrip(" ,:;")}}
        return book


def braced(text: str) -> tuple[str, ...]:
    """The names in braces of a text, in order."""
    return tuple(_BRACES.findall(text))


def several(verb: str) -> str:
    """The key of a verb's plural phrase."""
    return f"{verb}s"


@dataclass(frozen=True)
class Phrase:
    """One phrase of the book.

    `room` and `key` are its place in `Phrases`; `plain` its default words; `parts` the allowed parts, `needed`
    the required ones.
    """

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
        """The game's own words; None if there are none."""
        if not self.key:
            return phrases.damage if phrases.damage != self.plain else None
        return getattr(phrases, self.room).get(self.key)  # type: ignore[no-any-return]

    def unwritten(self, phrases: Phrases) -> str:
        """The default words; for a plural, the own singular words if there are any."""
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
    "act": ("act", "acting", "target"), "steps": ("steps",), "options": ("n", "steps"), "group": ("target",), "condition": ("if",), "cost": ("cost",),
    "moment": ("when",), "otherwise": ("otherwise",),
}  # fmt: skip
"""The parts allowed in a verb's phrases, by its operands."""
_UNSAID = ("each", "damage", "otherwise", "zone", "act", "acting")
"""Parts that a phrase may omit."""


def _parts(verb: Verb) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """The allowed and required parts of a verb's phrases."""
    may = tuple(dict.fromkeys(part for slot in verb.slots for part in _HOLD.get(slot, ())))
    needed = [part for part in may if part not in _UNSAID]
    return may, tuple(needed)


_ABOUT_SIDES = {"own": "your side", "rival": "the rival's side", "any": "either side"}
_ABOUT_PICKS = {
    "this": "the card itself", "that": "the card of the cue", "host": "the card it is attached to", "it": "the card picked or found", "them": "the cards picked or found",
    "seen": "the card looked at", "seens": "the cards looked at", "either": "one of two numbers picked", "of-either": "one of two numbers of those",
    "loop": "the card of a loop", "one": "one picked", "some": "several picked", "upto": "up to a number picked", "between": "between two numbers picked", "of-one": "one of those",
    "of-some": "several of those", "of-upto": "up to a number of those", "of-between": "between two numbers of those", "all": "every one", "random": "one at random",
    "randoms": "several at random", "each": "one for each", "that-answered": "the card that answers", "that-hurt": "the card that hurts it",
    "that-hurting": "the card that it hurts",
}  # fmt: skip
_ABOUT_FILTERS = {
    "other": "another card than this", "other-not": "this card", "not": "not so", "is": "a stat that is", "above": "a stat above", "under": "a stat under", "is-not": "no stat that is",
    "above-not": "no stat above", "under-not": "no stat under", "has": "with a keyword", "has-not": "without a keyword", "tilted": "tilted", "hurt": "hurt",
    "created": "created by an effect",
}  # fmt: skip


def book(types: Iterable[tuple[str, str]]) -> Iterator[Phrase]:
    """Every phrase of a game's book; `types` are (id, name) of the card types."""
    for cue in CUES.values():
        yield Phrase("cues", cue.word, cue.said, cue.phrase, braced(cue.phrase), braced(cue.phrase))
        if cue.of:
            about = f"{cue.said}, of others" if cue.about == "card" else f"{cue.said}, past a number"
            yield Phrase("cues", several(cue.word), about, cue.of, braced(cue.of), braced(cue.of))
        for word, by in zip((cue.word, several(cue.word)), cue.by, strict=True):
            if by:
                yield Phrase("cues", f"{word}-by", f"{cue.said}, by what", by, braced(by), braced(by))
    for verb in VERBS.values():
        parts, needed = _parts(verb)
        if verb.form == "stat":
            # The name of the card itself may be omitted; a counted thing may not.
            own = (*(part for part in needed if part != "target"), "each")
            yield Phrase("verbs", verb.word, f"{verb.word}, its own", verb.phrase, parts, own)
            yield Phrase("verbs", several(verb.word), f"{verb.word}, another card's", verb.phrases, parts, (*needed, "each"))
        elif not verb.phrases and (verb.form == "block" or not verb.counts):
            yield Phrase("verbs", verb.word, verb.word, verb.phrase, parts, needed)
        elif verb.form == "block":
            yield Phrase("verbs", verb.word, verb.word, verb.phrase, parts, needed)
            yield Phrase("verbs", several(verb.word), f"{verb.word}, with otherwise", verb.phrases, parts, (*needed, "otherwise"))
        else:
            # The number may be omitted in the singular, including for counted things (one for each).
            alone = (*(part for part in needed if part != "n"), *(("each",) if verb.counts else ()))
            yield Phrase("verbs", verb.word, f"{verb.word}, one", verb.phrase, parts, alone)
            yield Phrase("verbs", several(verb.word), f"{verb.word}, several", verb.phrases or verb.phrase, parts, needed)  # fmt: skip
    for verb in VERBS.values():
        if verb.lasting:
            parts, needed = _parts(verb)
            yield Phrase("lasting", verb.word, f"{verb.word}, always", verb.always, parts, (*needed, "each") if verb.form == "stat" else needed)
    for word, plain in _PICKS.items():
        parts = braced(plain)
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
    """What is wrong with the words of a phrase: an unknown part, a stray brace, or too many words."""
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
        return Problem(where=where, what="a brace has no partner", mend=f"write {offered}")
    return None


def lacking(slot: Phrase, text: str) -> tuple[str, ...]:
    """The required parts that the words of a phrase omit."""
    return tuple(part for part in slot.needed if "{" + part + "}" not in text)
