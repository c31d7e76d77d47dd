"""From abilities to the lines on the face."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass
from functools import partial

from dramok.core.cards import Card
from dramok.core.effects.meaning import aimed
from dramok.core.effects.model import (
    Ability,
    All,
    Amount,
    ChoiceIs,
    Continuous,
    Filter,
    Group,
    HasTag,
    It,
    Not,
    Number,
    Other,
    Pick,
    Random,
    StatCompare,
    Step,
    Target,
    This,
    resource_of,
    target_of,
)
from dramok.core.effects.vocabulary import STAT, TAG, TYPE, Vocabulary, value_of
from dramok.core.rulebook import Rulebook
from dramok.core.rulebook.phrases import ANY_CARD, several

_ARTICLE = re.compile(r"\b[aA](?= [aeiouAEIOU])")


@dataclass(frozen=True)
class PrintedText:
    """`lines`: one paragraph an ability. `overridden`: the designer's own words stand instead of the generated ones."""

    lines: tuple[str, ...]
    overridden: bool
    behaviour_written: bool


def printed_text(card: Card, rulebook: Rulebook, vocabulary: Vocabulary) -> PrintedText:
    """The text on a card's face. A symbol stands as `{id}` of its resource."""
    script = card.script(rulebook.roles.effect)
    own = card.text(rulebook.roles.printed)
    writer = _Writer(rulebook, vocabulary)
    lines = tuple(own.splitlines()) if own else tuple(writer.ability(ability) for ability in script.abilities)
    written = not script.has_draft and bool(script.abilities or not own)
    return PrintedText(lines=lines, overridden=bool(own), behaviour_written=written)


def phrases_of(card: Card, rulebook: Rulebook, vocabulary: Vocabulary) -> frozenset[str]:
    """The ids of the phrase book's slots that the card's generated text is made of, whether or not its own words stand instead."""
    writer = _Writer(rulebook, vocabulary)
    for ability in card.script(rulebook.roles.effect).abilities:
        writer.ability(ability)
    return frozenset(writer.used)


class _Writer:
    """Says abilities, and remembers which slots of the phrase book it went by."""

    def __init__(self, rulebook: Rulebook, vocabulary: Vocabulary) -> None:
        self.rulebook = rulebook
        self.phrases = rulebook.phrases
        self.vocabulary = vocabulary
        self.used: set[str] = set()

    def ability(self, ability: Ability) -> str:
        if isinstance(ability, Continuous):
            said = [
                self._filled(
                    self._verb(each.verb, True),
                    stat=partial(self._stat, each.stat),
                    n=partial(self._amount, each.amount),
                    each=partial(self._each, each.amount),
                )
                for each in ability.raises
            ]
            return _sentence(" ".join(_sentence(text) for text in said))
        self.used.add(f"cues/{ability.cue}")
        cue = self.phrases.cue(ability.cue).rstrip()
        steps = [self._step(step, target) for step, target in aimed(ability.steps)]
        return " ".join(_sentence(text) for text in [f"{cue} {steps[0]}", *steps[1:]])

    def _verb(self, word: str, one: bool) -> str:
        self.used.add(f"verbs/{word if one or self.phrases.as_one(word) else several(word)}")
        return self.phrases.verb(word, one)

    def _pick(self, word: str) -> str:
        self.used.add(f"picks/{word}")
        return self.phrases.pick(word)

    def _narrowed(self, word: str) -> str:
        self.used.add(f"filters/{word}")
        return self.phrases.filter(word)

    def _stat(self, ident: str) -> str:
        return self.phrases.small(self.vocabulary.name(STAT, ident))

    def _step(self, step: Step, meant: Target | None) -> str:
        amount = step.amount
        resource = resource_of(step)
        what = f"{{{self.rulebook.resource(resource).id}}}" if resource is not None else ""
        target = target_of(step)
        # What is counted is said as one for each: "take 1 card for each plant".
        one = not isinstance(amount, Number) or amount.value == 1
        return self._filled(
            self._verb(step.verb, one),
            n=partial(self._amount, amount),
            what=lambda: what,
            target=lambda: self._target(target, meant) if target else "",
            each=partial(self._each, amount),
        )

    def _filled(self, text: str, **parts: Callable[[], str]) -> str:
        """The words with their parts; a part that they don't hold is not said, and leaves no trace in `used`."""
        for key, part in {"damage": self._damage, **parts}.items():
            if "{" + key + "}" in text:
                text = text.replace("{" + key + "}", part())
        text = " ".join(text.split())
        if not self.phrases.english:
            return text
        return _ARTICLE.sub("an", text.replace("a other ", "another "))

    def _damage(self) -> str:
        self.used.add("damage")
        return self.phrases.damage

    def _amount(self, amount: Amount) -> str:
        return self.phrases.number(amount.value if isinstance(amount, Number) else 1)

    def _each(self, amount: Amount) -> str:
        if isinstance(amount, Number):
            return ""
        return self._of(self._pick("each"), amount.group, one=True)

    def _target(self, target: Target, meant: Target | None) -> str:
        match target:
            case This():
                return self._pick("this")
            case It():
                return self._pick("them" if isinstance(meant, Pick) and meant.most > 1 else "it")
            case Pick(least=1, most=1):
                return self._of(self._pick("one"), target.group, one=True)
            case Pick(least=least, most=most):
                text = self._pick("some" if least == most else "upto")
                return self._of(text.replace("{n}", self.phrases.number(most)), target.group, one=False)
            case All():
                return self._of(self._pick("all"), target.group, one=True)
            case Random(number=number):
                text = self._pick("random" if number == 1 else "randoms")
                return self._of(
                    text.replace("{n}", self.phrases.number(number)), target.group, one=number == 1
                )

    def _of(self, text: str, group: Group, one: bool) -> str:
        return text.replace("{group}", self._group(group, one)) if "{group}" in text else text

    def _group(self, group: Group, one: bool) -> str:
        name = "card" if group.type is None else self.vocabulary.name(TYPE, group.type)
        noun = self.phrases.noun(group.type, name, one)
        key = group.type or ANY_CARD
        self.used.update({f"plurals/{key}"} if not one else ())
        self.used.update({f"nouns/{key}"} if one or not self.phrases.plurals.get(key) else ())
        before = [self._filter(each) for each in group.filters if not isinstance(each, StatCompare)]
        after = [self._filter(each) for each in group.filters if isinstance(each, StatCompare)]
        self.used.add(f"sides/{group.side}")
        return " ".join(word for word in [*before, noun, self.phrases.side(group.side), *after] if word)

    def _filter(self, each: Filter) -> str:
        match each:
            case Other():
                return self._narrowed("other")
            case HasTag():
                return self.vocabulary.name(TAG, each.tag)
            case Not():
                return self._narrowed("not").replace("{word}", self._filter(each.filter))
            case ChoiceIs():
                return self.vocabulary.name(value_of(each.field), each.value)
            case StatCompare():
                return (
                    self._narrowed(each.compare)
                    .replace("{stat}", self._stat(each.field))
                    .replace("{n}", str(each.number))
                )


def _sentence(text: str) -> str:
    text = text.strip()
    text = text[:1].upper() + text[1:]
    return text if text.endswith((".", "!", "?")) else text + "."
