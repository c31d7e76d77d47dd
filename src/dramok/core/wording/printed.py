"""From abilities to the lines on the face."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from functools import partial
from typing import assert_never

from dramok.core.cards import Card
from dramok.core.effects.meaning import aimed, inside
from dramok.core.effects.model import (
    Ability,
    All,
    Amount,
    ChoiceIs,
    Combined,
    Comparison,
    Condition,
    Continuous,
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
    Keyworded,
    Limit,
    Not,
    Number,
    Offered,
    Other,
    Pick,
    Random,
    StatCompare,
    StatOf,
    Step,
    Target,
    That,
    This,
    Together,
    Triggered,
    Unless,
    When,
    Zone,
)
from dramok.core.effects.verbs import ALLOWED, CUES, FORBIDDEN
from dramok.core.effects.vocabulary import CARD, KEYWORD, PHASE, STAT, TAG, TYPE, ZONE, Vocabulary, value_of
from dramok.core.rulebook import Rulebook
from dramok.core.rulebook.phrases import ANY_CARD, several

_ARTICLE = re.compile(r"\b[aA](?= [aeiouAEIOU])")
Part = Callable[[], str]
_REMOVED = "removed card"
"""What is printed for a card that an effect creates and that was taken out of the game."""


@dataclass(frozen=True)
class PrintedText:
    """`lines`: one paragraph an ability. `overridden`: the designer's own words stand instead of the generated ones."""

    lines: tuple[str, ...]
    overridden: bool
    behaviour_written: bool


def printed_text(card: Card, rulebook: Rulebook, vocabulary: Vocabulary) -> PrintedText:
    """The text on a card's face. A symbol stands as `{id}` of its resource."""
    card = rulebook.cards.seen(card)
    script = card.script(rulebook.roles.effect)
    own = card.text(rulebook.roles.printed)
    writer = _Writer(rulebook, vocabulary)
    lines = tuple(own.splitlines()) if own else tuple(writer.ability(ability) for ability in script.abilities)
    written = not script.has_draft and bool(script.abilities or not own)
    return PrintedText(lines=lines, overridden=bool(own), behaviour_written=written)


def phrases_of(card: Card, rulebook: Rulebook, vocabulary: Vocabulary) -> frozenset[str]:
    """The ids of the phrase book's slots that the card's generated text is made of, whether or not its own words stand instead."""
    writer = _Writer(rulebook, vocabulary)
    for ability in rulebook.cards.seen(card).script(rulebook.roles.effect).abilities:
        writer.ability(ability)
    return frozenset(writer.used)


def steps_said(steps: tuple[Step, ...], rulebook: Rulebook, vocabulary: Vocabulary) -> str:
    """Some steps of an effect as they print, in one sentence after the other."""
    return " ".join(_sentence(text) for text in _Writer(rulebook, vocabulary).steps(steps))


def group_said(group: Group, rulebook: Rulebook, vocabulary: Vocabulary, one: bool = True) -> str:
    """The cards of a group as they print: own plant, other cards with Twining."""
    return _Writer(rulebook, vocabulary)._group(group, one)


class _Writer:
    """Says abilities, and remembers which slots of the phrase book it went by."""

    def __init__(self, rulebook: Rulebook, vocabulary: Vocabulary) -> None:
        self.rulebook = rulebook
        self.phrases = rulebook.phrases
        self.vocabulary = vocabulary
        self.used: set[str] = set()

    def _card(self, ident: str) -> str:
        name = self.vocabulary.name(CARD, ident)
        return name if name != ident else _REMOVED

    def ability(self, ability: Ability) -> str:
        match ability:
            case Keyworded():
                return _sentence(", ".join(self.vocabulary.name(KEYWORD, each) for each in ability.keywords))
            case Continuous():
                said = " ".join(_sentence(text) for text in self.steps(ability.lasting))
                return _sentence(self._under(ability.condition, said))
            case Offered():
                steps = self.steps(ability.steps)
                first = self._under(ability.condition, steps[0]) + self._limit(ability.limit)
                return " ".join(_sentence(text) for text in [f"{self._cost(ability.cost)}: {first}", *steps[1:]])
            case Triggered():
                steps = self.steps(ability.steps)
                first = self._under(ability.condition, steps[0]) + self._limit(ability.limit)
                return " ".join(_sentence(text) for text in [f"{self._cue(ability)} {first}", *steps[1:]])
        assert_never(ability)

    def _under(self, condition: Condition | None, text: str) -> str:
        if condition is None:
            return text
        small = text[:1].lower() + text[1:] if self.phrases.english and not text[1:2].isupper() else text
        parts: dict[str, Part] = {"if": partial(self._condition, condition), "step": lambda: small}
        return self._say("guard", **parts)

    def _limit(self, limit: Limit | None) -> str:
        if limit is None:
            return ""
        return " " + self._say(f"limit-{limit.each}", n=lambda: self.phrases.number(limit.number))

    def _cue(self, ability: Triggered) -> str:
        cue = CUES[ability.cue]
        other = ability.of is not None or cue.about == "total" and cue.of and ability.compare is not None
        self.used.add(f"cues/{ability.cue}{'s' if other else ''}")
        text = self.phrases.cue_of(ability.cue) if other else self.phrases.cue(ability.cue)
        what = self._resource(ability.resource) if ability.resource else ""
        return self._filled(
            text,
            group=lambda: self._picked(ability.of) if ability.of else "",
            when=lambda: self._whose(ability.when) if ability.when else "",
            what=lambda: self._say("held-rival", what=lambda: what) if ability.side else what,
            n=lambda: str(ability.number or 0),
            held=lambda: self._say(ability.compare or "is", left=lambda: "it", right=lambda: str(ability.number or 0)),
        )  # fmt: skip

    def _picked(self, group: Group) -> str:
        return self._of(self._pick("one"), group, one=True)

    def steps(self, steps: Iterable[Step], latest: Target | None = None) -> list[str]:
        return [self._step(step, target, it) for step, target, it in aimed(steps, latest)]

    def _verb(self, word: str, one: bool) -> str:
        self.used.add(f"verbs/{word if one or self.phrases.as_one(word) else several(word)}")
        return self.phrases.verb(word, one)

    def _pick(self, word: str) -> str:
        self.used.add(f"picks/{word}")
        return self.phrases.pick(word)

    def _narrowed(self, word: str) -> str:
        self.used.add(f"filters/{word}")
        return self.phrases.filter(word)

    def _say(self, word: str, **parts: Part) -> str:
        self.used.add(f"says/{word}")
        return self._filled(self.phrases.say(word), **parts)

    def _stat(self, ident: str) -> str:
        return self.phrases.small(self.vocabulary.name(STAT, ident))

    def _resource(self, ident: str) -> str:
        return f"{{{self.rulebook.resource(ident).id}}}"

    def _step(self, step: Step, meant: Target | None, it: Target) -> str:
        amount = step.amount
        # What is counted is said as one for each: "take 1 card for each plant".
        one = (amount is None or not isinstance(amount, Number) or amount.value == 1) and not step.otherwise
        if step.stat is not None:
            one = isinstance(step.target, This)
        within = inside(step, it)
        parts: dict[str, Part] = {
            "n": partial(self._amount, amount) if amount is not None else lambda: self.phrases.number(step.choose or 1),
            "what": lambda: self._resource(step.resource or ""),
            "target": lambda: self._target_of(step, meant),
            "each": partial(self._each, amount),
            "stat": lambda: self._stat(step.stat or ""),
            "zone": lambda: self._zone(step.zone),
            "card": lambda: self._card(step.card or ""),
            "keyword": lambda: self.vocabulary.name(KEYWORD, step.keyword or ""),
            "act": lambda: {**FORBIDDEN, **({} if step.verb == "forbid" else ALLOWED)}.get(step.act or "", ""),
            "steps": lambda: self._blocks(step, within),
            "otherwise": lambda: self._joined(step.otherwise or (), within),
            "cost": lambda: self._cost(step.cost or ()),
            "if": lambda: self._condition(step.condition) if step.condition else "",
            "when": lambda: self._moment(step.moment),
        }
        text = self._filled(self._verb(step.verb, one), **parts)
        if step.until is not None:
            text = f"{text} {self._say(f'until-{step.until.at}', when=lambda: self._whose(step.until))}"
        if step.seats is not None:
            said = text
            text = self._say(f"seats-{step.seats}", step=lambda: said)
        return text

    def _blocks(self, step: Step, within: Target | None) -> str:
        if step.options is None:
            return self._joined(step.steps or (), within)
        return "; ".join(self._joined(option, within) for option in step.options)

    def _joined(self, steps: Iterable[Step], within: Target | None) -> str:
        said = [text[:1].lower() + text[1:] if self.phrases.english and text[:1].isalpha() else text for text in self.steps(steps, within)]
        return self._say("and", left=lambda: ", ".join(said[:-1]), right=lambda: said[-1]) if len(said) > 1 else "".join(said)

    def _target_of(self, step: Step, meant: Target | None) -> str:
        if step.group is not None:
            return self._of(self._pick("all"), step.group, one=True)
        return self._target(step.target, meant) if step.target is not None else ""

    def _filled(self, text: str, **parts: Part) -> str:
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
        match amount:
            case Number():
                return self.phrases.number(amount.value)
            case Count():
                return self.phrases.number(1)
        return self._reckoned(amount)

    def _each(self, amount: Amount | None) -> str:
        if not isinstance(amount, Count):
            return ""
        return self._of(self._pick("each"), amount.group, one=True)

    def _reckoned(self, amount: Amount) -> str:
        match amount:
            case Number():
                return self.phrases.number(amount.value)
            case Count():
                return self._say("count", group=lambda: self._group(amount.group, one=False))
            case StatOf():
                return self._say("stat-of", stat=lambda: self._stat(amount.field), target=lambda: self._pick(amount.of))
            case HeldTotal():
                return self._say(f"held-{amount.side}", what=lambda: self._resource(amount.resource))
            case Half():
                return self._say("half-up" if amount.up else "half-down", n=partial(self._reckoned, amount.of))
            case Combined():
                word = {"+": "plus", "-": "minus", "x": "times"}.get(amount.how, f"{amount.how}-of")
                return self._say(word, left=partial(self._reckoned, amount.left), right=partial(self._reckoned, amount.right))
        assert_never(amount)

    def _condition(self, condition: Condition) -> str:
        match condition:
            case Comparison():
                return self._say(condition.compare, left=partial(self._reckoned, condition.left), right=partial(self._reckoned, condition.right))
            case Unless():
                return self._say("not", **{"if": partial(self._condition, condition.part)})
            case Together():
                word = "and" if condition.kind == "all" else "or"
                *before, last = (self._condition(each) for each in condition.parts)
                return self._say(word, left=lambda: ", ".join(before), right=lambda: last)
        assert_never(condition)

    def _cost(self, cost: Iterable[CostPart]) -> str:
        said = []
        for part in cost:
            what = self._resource(part.resource) if part.resource else ""
            number = part.number or 0
            said.append(self._say(f"cost-{part.how}", n=partial(self.phrases.number, number), what=partial(str, what)))
        return ", ".join(said)

    def _whose(self, when: When | None) -> str:
        if when is None:
            return ""
        what = self.vocabulary.name(PHASE, when.phase) if when.phase else self.rulebook.table.turn
        return self._say(f"when-{when.side}", when=lambda: what)

    def _moment(self, when: When | None) -> str:
        return self._say(f"at-{when.at}", when=lambda: self._whose(when)) if when is not None else ""

    def _zone(self, zone: Zone | None) -> str:
        name = self.vocabulary.name(ZONE, zone.zone if zone else "draw")
        side = zone.side if zone else "own"
        said = self._say(f"zone-{side}", zone=lambda: name)
        return self._say("bottom", zone=lambda: said) if zone and zone.place == "bottom" else said

    def _target(self, target: Target, meant: Target | None) -> str:
        match target:
            case This() | That() | Host():
                return self._pick(target.kind)
            case It():
                many = isinstance(meant, Pick) and meant.most > 1
                return self._pick("them" if many else "it")
            case Pick(of_it=True, most=most):
                return self._of(self._pick("one" if most == 1 else "upto").replace("{n}", self.phrases.number(most)), Group(), one=most == 1)
            case Pick(least=1, most=1):
                return self._of(self._pick("one"), target.group, one=True)
            case Pick(least=least, most=most):
                text = self._pick("some" if least == most else "upto")
                return self._of(text.replace("{n}", self.phrases.number(most)), target.group, one=False)
            case All():
                return self._of(self._pick("all"), target.group, one=True)
            case Random(number=number):
                text = self._pick("random" if number == 1 else "randoms")
                return self._of(text.replace("{n}", self.phrases.number(number)), target.group, one=number == 1)
        assert_never(target)

    def _of(self, text: str, group: Group, one: bool) -> str:
        return text.replace("{group}", self._group(group, one)) if "{group}" in text else text

    def _group(self, group: Group, one: bool) -> str:
        name = "card" if group.type is None else self.vocabulary.name(TYPE, group.type)
        noun = self.phrases.noun(group.type, name, one)
        key = group.type or ANY_CARD
        self.used.update({f"plurals/{key}"} if not one else ())
        self.used.update({f"nouns/{key}"} if one or not self.phrases.plurals.get(key) else ())
        after_noun = (StatCompare, HasKeyword)
        before = [self._filter(each) for each in group.filters if not isinstance(each, after_noun)]
        after = [self._filter(each) for each in group.filters if isinstance(each, after_noun)]
        self.used.add(f"sides/{group.side}")
        said = " ".join(word for word in [*before, noun, self.phrases.side(group.side), *after] if word)
        if group.zone is None:
            return said
        return self._say("in", group=lambda: said, zone=lambda: self.vocabulary.name(ZONE, group.zone or ""))

    def _filter(self, each: Filter) -> str:
        match each:
            case Other():
                return self._narrowed("other")
            case HasTag():
                return self.vocabulary.name(TAG, each.tag)
            case HasKeyword():
                return self._narrowed("has").replace("{word}", self.vocabulary.name(KEYWORD, each.keyword))
            case InState():
                return self._narrowed(each.state)
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
        assert_never(each)


def _sentence(text: str) -> str:
    text = text.strip()
    text = text[:1].upper() + text[1:]
    return text if text.endswith((".", "!", "?")) else text + "."
