"""Abilities to printed lines: each line states everything it does, and different behaviours never print alike."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from functools import partial
from typing import assert_never

from dramok.core.cards import Card
from dramok.core.effects.model import (
    Ability,
    Amount,
    Condition,
    Continuous,
    Count,
    Group,
    Keyworded,
    Limit,
    Number,
    Offered,
    Pick,
    Step,
    This,
    Triggered,
)
from dramok.core.effects.verbs import ACTING, ALLOWED, CUES, FORBIDDEN, VERBS
from dramok.core.effects.vocabulary import Vocabulary
from dramok.core.english import lower_first
from dramok.core.rulebook import Rulebook
from dramok.core.rulebook.phrases import several
from dramok.core.wording.sentence_parts import Latest, Part, Parts

LETTERS = "XYZWVUTS"
"""Letters for computed amounts, one for each amount of a line."""


@dataclass(frozen=True)
class PrintedText:
    """`lines`: one paragraph for each ability. `overridden`: the user's own words, not generated."""

    lines: tuple[str, ...]
    overridden: bool
    behaviour_written: bool


def printed_text(card: Card, rulebook: Rulebook, vocabulary: Vocabulary) -> PrintedText:
    """The text on a card's face. A symbol is written as `{id}` of its resource."""
    card = rulebook.cards.seen(card)
    script = card.script(rulebook.roles.effect)
    own = card.text(rulebook.roles.printed)
    writer = LineWriter(rulebook, vocabulary)
    lines = tuple(own.splitlines()) if own else tuple(writer.ability(ability) for ability in script.abilities)
    written = not script.has_draft and bool(script.abilities or not own)
    return PrintedText(lines=lines, overridden=bool(own), behaviour_written=written)


def phrases_of(card: Card, rulebook: Rulebook, vocabulary: Vocabulary) -> frozenset[str]:
    """The ids of the phrases that the generated text uses, even if the user's own words are printed instead."""
    writer = LineWriter(rulebook, vocabulary)
    for ability in rulebook.cards.seen(card).script(rulebook.roles.effect).abilities:
        writer.ability(ability)
    return frozenset(writer.used)


def steps_text(steps: tuple[Step, ...], rulebook: Rulebook, vocabulary: Vocabulary) -> str:
    """Some steps of an effect as printed, one sentence after the other."""
    writer = LineWriter(rulebook, vocabulary)
    return writer.spelled(" ".join(_sentence(text) for text in writer.steps(steps, Latest())))


def group_text(group: Group, rulebook: Rulebook, vocabulary: Vocabulary, one: bool = True) -> str:
    """The cards of a group as printed: own plant, other cards with Twining."""
    writer = LineWriter(rulebook, vocabulary)
    return writer.spelled(writer.group(group, one))


def ability_in_words(ability: Ability, rulebook: Rulebook, vocabulary: Vocabulary) -> str:
    """One line of an effect as printed."""
    return LineWriter(rulebook, vocabulary).ability(ability)


def with_resource_names(text: str, rulebook: Rulebook) -> str:
    """A printed text with the names of resources in place of their symbols."""
    for resource in rulebook.resources:
        text = re.sub(rf"(?<![\d.])1 \{{{resource.id}\}}", f"1 {lower_first(resource.name)}", text)
        text = text.replace(f"{{{resource.id}}}", lower_first(resource.names))
    return text


def amount_in_words(amount: Amount, rulebook: Rulebook, vocabulary: Vocabulary) -> str:
    """An amount that belongs to no card as printed: the total merit of cards you own."""
    return LineWriter(rulebook, vocabulary).amount(amount, Latest())


class LineWriter(Parts):
    """Writes abilities in words, and records in `used` the phrases it read.

    What applies to the whole line (cue, limit, condition, price) comes first, up to a colon; then each step is
    a sentence. Nested steps are joined by "then", and are in brackets if several, or one with nested steps, are
    inside another block. `letters`: amounts named so far.
    """

    letters = 0

    def ability(self, ability: Ability) -> str:
        self.cue = ability if isinstance(ability, Triggered) else None
        self.letters = 0
        match ability:
            case Keyworded():
                return _sentence(", ".join(self.keyword(each) for each in ability.keywords))
            case Continuous():
                head = self._head("", None, ability.condition)
                return self._line(head, [self._lasting(step) for step in ability.lasting])
            case Offered():
                head = self._head(self.cost(ability.cost) + ":", ability.limit, ability.condition)
                return self._line(head, self.steps(ability.steps, Latest()))
            case Triggered():
                head = self._head(self._cue(ability), ability.limit, ability.condition)
                return self._line(head, self.steps(ability.steps, Latest()))
        assert_never(ability)

    def _line(self, head: str, steps: Sequence[str]) -> str:
        first, *rest = steps
        if head:
            first = f"{head} {first if not self.phrases.english else _small(first)}"
        return self.spelled(" ".join(_sentence(text) for text in [first, *rest]))

    def _head(self, head: str, limit: Limit | None, condition: Condition | None) -> str:
        """The beginning of a line up to its colon: cue or price, limit, and condition."""
        more = [self._limit(limit)] if limit is not None else []
        more += [self.say("guard", **{"if": partial(self.condition, condition, Latest())})] if condition is not None else []
        if not more:
            return head
        return ", ".join([each for each in (head.removesuffix(":").rstrip(), *more) if each]) + ":"

    def _limit(self, limit: Limit) -> str:
        word = f"limit-{limit.each}"
        return self.say(f"{word}-once") if limit.number == 1 else self.say(word, n=lambda: self.phrases.number(limit.number))

    def _cue(self, ability: Triggered) -> str:
        cue = CUES[ability.cue]
        other = ability.of is not None or cue.about == "total" and bool(cue.of) and ability.compare is not None
        key = f"{several(ability.cue) if other else ability.cue}"
        if ability.source is not None:
            self.used.add(f"cues/{key}-by")
            text = self.phrases.cue_by(ability.cue, other)
        else:
            self.used.add(f"cues/{key}")
            text = self.phrases.cue_of(ability.cue) if other else self.phrases.cue(ability.cue)
        return self.filled(
            text,
            group=lambda: self._one(ability.of),
            source=lambda: self._one(ability.source),
            when=lambda: self.whose(ability.when),
            what=lambda: self._total(ability),
            n=lambda: str(ability.number or 0),
            held=lambda: self.say(ability.compare or "is", left=lambda: "it", right=lambda: str(ability.number or 0)),
        )  # fmt: skip

    def _one(self, group: Group | None) -> str:
        return self.pick("one", group=lambda: self.group(group, one=True)) if group is not None else ""

    def _total(self, ability: Triggered) -> str:
        resource = ability.resource or ""
        if self.rulebook.resource(resource).shared and not ability.side:
            return self.resource(resource)
        return self.held(resource, ability.side or "own")

    # Steps.

    def steps(self, steps: Iterable[Step], latest: Latest, depth: int = 0) -> list[str]:
        """Each step in words; `depth`: the number of enclosing blocks."""
        said = []
        for step in steps:
            said.append(self._step(step, latest, depth))
            latest = _after(step, latest)
        return said

    def _lasting(self, step: Step) -> str:
        self.used.add(f"lasting/{step.verb}")
        return self._worded(step, self.phrases.last(step.verb), Latest())

    def _step(self, step: Step, latest: Latest, depth: int) -> str:
        return self._block(step, latest, depth) if VERBS[step.verb].form == "block" else self._plain(step, latest)

    def _plain(self, step: Step, latest: Latest) -> str:
        if step.stat is not None:
            one = isinstance(step.target, This)
        elif step.amount is not None:
            # Counted things are printed as one for each: "take 1 card for each plant".
            one = isinstance(step.amount, Count) and step.verb not in ("look", "reveal") or isinstance(step.amount, Number) and step.amount.value == 1
        else:
            one = not self.many(step.target, latest)
        self._verb_used(step.verb, one)
        return self._worded(step, self.phrases.verb(step.verb, one), latest)

    def _verb_used(self, word: str, one: bool) -> None:
        record = VERBS[word]
        alone = one or self.phrases.as_one(word) or not (record.phrases or record.counts)
        self.used.add(f"verbs/{word if alone else several(word)}")

    def _worded(self, step: Step, text: str, latest: Latest) -> str:
        """A plain step in the words of its phrase, with its duration, side, and computed amount."""
        amount, letter = step.amount, ""
        counted = isinstance(amount, Count) and "{each}" in text and step.verb not in ("look", "reveal")
        if amount is not None and not isinstance(amount, Number) and not counted:
            letter = LETTERS[self.letters % len(LETTERS)]
            self.letters += 1
        many = self.many(step.target, latest)
        acts = FORBIDDEN if step.verb == "forbid" else ALLOWED
        parts: dict[str, Part] = {
            "n": lambda: letter or self.phrases.number(amount.value if isinstance(amount, Number) else 1),
            "what": lambda: self.resource(step.resource or ""),
            "target": lambda: self.target(step.target, latest) if step.target is not None else "",
            "each": lambda: self.pick("each", group=lambda: self.group(amount.group, one=True)) if counted and isinstance(amount, Count) else "",
            "stat": lambda: self.stat(step.stat or ""),
            "zone": lambda: self.goal(step.zone, many) if step.verb == "put" else self._looked_through(step),
            "card": lambda: self.card(step.card or ""),
            "keyword": lambda: self.keyword(step.keyword or ""),
            "act": lambda: acts[step.act or ""],
            "acting": lambda: ACTING.get(step.act or "", step.act or ""),
        }
        said = self.filled(text, **parts)
        if step.until is not None:
            said = f"{said} {self.say(f'until-{step.until.at}', when=lambda: self.whose(step.until))}"
        if step.seats is not None:
            plain = said
            by = step.by
            if by is None:
                said = self.say(f"seats-{step.seats}", step=lambda: plain)
            else:
                said = self.say(f"seats-{step.seats}", step=lambda: plain, n=lambda: self.amount(by, Latest()))
        if letter and amount is not None:
            before, priced_parts = said, amount
            said = self.say("where", step=lambda: before, letter=lambda: letter, n=lambda: self.amount(priced_parts, latest))
        return said

    def _looked_through(self, step: Step) -> str:
        return self.source(step.zone.zone, step.zone.side) if step.zone is not None else self.source("draw", "own")

    # Steps with nested steps.

    def _block(self, step: Step, latest: Latest, depth: int) -> str:
        one = not step.otherwise
        self._verb_used(step.verb, one)
        inner = Latest("loop") if step.verb == "each" else latest
        group, condition = step.group, step.condition
        joined: Callable[[Sequence[Step]], str] = partial(self._joined, latest=inner, depth=depth + 1, bare=step.verb != "may")
        parts: dict[str, Part] = {
            "n": lambda: self.phrases.number(step.choose or 1),
            "target": lambda: self.pick("all", group=lambda: self.group(group, one=True)) if group is not None else "",
            "cost": lambda: self.cost(step.cost or ()),
            "if": lambda: self.condition(condition, latest) if condition is not None else "",
            "when": lambda: self.moment(step.moment),
            "steps": lambda: self._options(step, inner, depth) if step.options is not None else joined(step.steps or ()),
            "otherwise": lambda: joined(step.otherwise or ()),
        }
        said = self.filled(self.phrases.verb(step.verb, one), **parts)
        # Within another block its end must be visible.
        return f"({said})" if depth else said

    def _options(self, step: Step, latest: Latest, depth: int) -> str:
        *first, last = (self._joined(option, latest, depth + 1) for option in step.options or ())
        said = first[0]
        for each in [*first[1:], last]:
            before, after = said, each
            said = self.say("option", left=partial(str, before), right=partial(str, after))
        return said

    def _joined(self, steps: Sequence[Step], latest: Latest, depth: int, bare: bool = True) -> str:
        """Nested steps, one or several in order.

        Not `bare`: after "you may", which requires other words for some steps.
        """
        said = self.steps(steps, latest, depth)
        if self.phrases.english:
            said = [_small(text) for text in said]
        text = said[0]
        for each in said[1:]:
            before, after = text, each
            text = self.say("then", left=partial(str, before), right=partial(str, after))
        if len(said) > 1 and depth > 1:
            text = f"({text})"
        if bare or VERBS[steps[0].verb].form != "block" and not text.startswith("("):
            return text
        return self.say("do-this", steps=lambda: text)


def _after(step: Step, latest: Latest) -> Latest:
    """The meaning of `it` after a step."""
    if step.verb == "look":
        return Latest("seen", not isinstance(step.amount, Number) or step.amount.value > 1)
    if isinstance(step.target, Pick):
        return Latest("it", step.target.most > 1)
    return latest


def _small(text: str) -> str:
    """The first letter in lower case, unless the word is all capitals or a single letter."""
    return text[:1].lower() + text[1:] if text[:1].isalpha() and not text[1:2].isupper() else text


def _sentence(text: str) -> str:
    text = text.strip()
    text = text[:1].upper() + text[1:]
    return text if text.endswith((".", "!", "?")) else text + "."

