"""The phrase book: the game's own words for what effects say. Every phrase is a slot, with what it is for and what it may hold.

What a phrase holds in braces is filled in by the wording: a part of its slot, or a symbol, named as the resource or stat it stands for.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from typing import Any

from pydantic import Field, field_validator

from dramok.core.effects.verbs import CUES, VERBS, phrases_as_now
from dramok.core.problem import Frozen, Problem

_SIDES = {"own": "of yours", "rival": "of your rival's", "any": ""}
_PICKS = {
    "this": "this card", "it": "that card", "them": "those cards", "one": "a {group}", "some": "{n} {group}", "upto": "up to {n} {group}",
    "all": "each {group}", "random": "a random {group}", "randoms": "{n} random {group}", "each": "for each {group}",
}  # fmt: skip
_FILTERS = {
    "other": "other", "not": "non-{word}", "is": "with {stat} {n}", "above": "with {stat} above {n}", "under": "with {stat} under {n}",
}  # fmt: skip
"""The plain words of a game that has none of its own."""

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
    nouns: dict[str, str] = {}
    plurals: dict[str, str] = {}
    damage: str = "damage"
    numbers: tuple[str, ...] = Field(default=(), max_length=100)
    english: bool = True

    def cue(self, word: str) -> str:
        """What a line begins with for a moment of the language."""
        return self.cues.get(word, CUES[word].phrase)

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
        if self.room == "verbs" and one in VERBS and one != self.key:
            return phrases.verbs[one] if phrases.as_one(one) else self.plain
        if self.room == "plurals":
            return (
                phrases.noun(self.key, self.plain, one=False)
                if self.key not in phrases.plurals
                else self.plain
            )
        return phrases.small(self.plain) if self.room == "nouns" else self.plain


_FORMS = {
    "amount": (("n", "each", "damage"), ("n",)),
    "target": (("n", "each", "damage", "target"), ("n", "target")),
    "resource": (("n", "each", "what"), ("n", "what")),
    "stat": (("n", "each", "stat"), ("n", "stat", "each")),
}
"""What phrases of a verb may hold, by what follows it in the language; and what of it they need."""
_ABOUT_SIDES = {"own": "your side", "rival": "the rival's side", "any": "either side"}
_ABOUT_PICKS = {
    "this": "the card itself", "it": "the card picked before", "them": "the cards picked before", "one": "one picked", "some": "several picked",
    "upto": "up to so many picked", "all": "every one", "random": "one by lot", "randoms": "several by lot", "each": "one for each",
}  # fmt: skip
_ABOUT_FILTERS = {"other": "another card than this", "not": "not so", "is": "a stat that is", "above": "a stat above", "under": "a stat under"}  # fmt: skip


def book(types: Iterable[tuple[str, str]]) -> Iterator[Phrase]:
    """Every phrase of a game's book; `types` are (id, name) of its card types that cards are of."""
    for cue in CUES.values():
        yield Phrase("cues", cue.word, cue.said, cue.phrase)
    for verb in VERBS.values():
        parts, needed = _FORMS[verb.form]
        if verb.form == "stat":
            yield Phrase("verbs", verb.word, verb.word, verb.phrase, parts, needed)
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
        parts = ("word",) if word == "not" else ("stat", "n") if "{" in plain else ()
        yield Phrase("filters", word, _ABOUT_FILTERS[word], plain, parts, parts)
    yield Phrase("damage", "", "damage", "damage")
    for ident, name in (("", "Card"), *types):
        key = ident or ANY_CARD
        yield Phrase("nouns", key, f"{name}, one", name)
        yield Phrase("plurals", key, f"{name}, several", name)


_BRACES = re.compile(r"\{([^{}]*)\}")


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
