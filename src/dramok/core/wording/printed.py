"""From abilities to the lines on the face."""

from __future__ import annotations

import re
from dataclasses import dataclass

from dramok.core.cards import Card
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


class _Writer:
    def __init__(self, rulebook: Rulebook, vocabulary: Vocabulary) -> None:
        self.rulebook = rulebook
        self.phrases = rulebook.phrases
        self.vocabulary = vocabulary

    def ability(self, ability: Ability) -> str:
        if isinstance(ability, Continuous):
            said = [
                self._filled(
                    self.phrases.verb(each.verb, True),
                    stat=self.vocabulary.name(STAT, each.stat).lower(),
                    n=self._amount(each.amount),
                    each=self._each(each.amount),
                )
                for each in ability.raises
            ]
            return _sentence(" ".join(_sentence(text) for text in said))
        cue = self.phrases.cue(ability.cue)
        steps = [self._step(step) for step in ability.steps]
        return " ".join(_sentence(text) for text in [cue + steps[0], *steps[1:]])

    def _step(self, step: Step) -> str:
        amount, each = step.amount, self._each(step.amount)
        resource = resource_of(step)
        what = f"{{{self.rulebook.resource(resource).id}}}" if resource is not None else ""
        target = target_of(step)
        # What is counted is said as one for each: "take 1 card for each plant".
        one = not isinstance(amount, Number) or amount.value == 1
        return self._filled(
            self.phrases.verb(step.verb, one),
            n=self._amount(amount),
            what=what,
            target=self._target(target) if target else "",
            each=each,
        )

    def _filled(self, text: str, **parts: str) -> str:
        for key, part in {"damage": self.phrases.damage, **parts}.items():
            text = text.replace("{" + key + "}", part)
        return _ARTICLE.sub("an", " ".join(text.split()).replace("a other ", "another "))

    def _amount(self, amount: Amount) -> str:
        if not isinstance(amount, Number):
            return "1"
        return str(amount.value)

    def _each(self, amount: Amount) -> str:
        if isinstance(amount, Number):
            return ""
        return self.phrases.pick("each").replace("{group}", self._group(amount.group, "one"))

    def _target(self, target: Target) -> str:
        match target:
            case This() | It():
                return self.phrases.pick(target.kind)
            case Pick(least=1, most=1):
                return self.phrases.pick("one").replace("{group}", self._group(target.group, "one"))
            case Pick(least=least, most=most):
                key = "some" if least == most else "upto"
                return (
                    self.phrases.pick(key)
                    .replace("{n}", str(most))
                    .replace("{group}", self._group(target.group, "many"))
                )
            case All():
                return self.phrases.pick("all").replace("{group}", self._group(target.group, "one"))
            case Random(number=number):
                key = "random" if number == 1 else "randoms"
                return (
                    self.phrases.pick(key)
                    .replace("{n}", str(number))
                    .replace("{group}", self._group(target.group, "one" if number == 1 else "many"))
                )

    def _group(self, group: Group, number: str) -> str:
        noun = "card" if group.type is None else self.vocabulary.name(TYPE, group.type).lower()
        before = [self._filter(each) for each in group.filters if not isinstance(each, StatCompare)]
        after = [self._filter(each) for each in group.filters if isinstance(each, StatCompare)]
        words = [*before, noun if number == "one" else noun + "s", self.phrases.side(group.side), *after]
        return " ".join(word for word in words if word)

    def _filter(self, each: Filter) -> str:
        match each:
            case Other():
                return "other"
            case HasTag():
                return self.vocabulary.name(TAG, each.tag)
            case Not():
                return f"non-{self._filter(each.filter)}"
            case ChoiceIs():
                return self.vocabulary.name(value_of(each.field), each.value)
            case StatCompare():
                stat = self.vocabulary.name(STAT, each.field).lower()
                return f"with {stat} {'' if each.compare == 'is' else each.compare + ' '}{each.number}"


def _sentence(text: str) -> str:
    text = text.strip()
    text = text[:1].upper() + text[1:]
    return text if text.endswith((".", "!", "?")) else text + "."
