"""Convert the model to text in its single canonical form."""

from __future__ import annotations

from collections.abc import Iterable
from typing import assert_never

from dramok.core.effects.lexer import is_bare
from dramok.core.effects.model import (
    EVERYWHERE,
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
from dramok.core.effects.verbs import CUES, VERBS, Slot
from dramok.core.effects.vocabulary import (
    CARD,
    CHOICE,
    KEYWORD,
    PHASE,
    RESOURCE,
    STAT,
    TAG,
    TYPE,
    ZONE,
    Vocabulary,
    as_typed,
    value_of,
)


def ability_text(ability: Ability, vocabulary: Vocabulary) -> str:
    """The canonical text of an ability; parsing it returns the same ability."""
    return _Text(vocabulary).ability(ability)


def amount_text(amount: Amount, vocabulary: Vocabulary) -> str:
    """The canonical text of an amount that belongs to no card; parsing it returns the same amount."""
    return _Text(vocabulary).sum(amount)


def quoted(name: str) -> str:
    """A name as users type it: without quotes if possible."""
    return name if is_bare(name) else '"' + name.replace('"', "”") + '"'


class _Text:
    def __init__(self, vocabulary: Vocabulary) -> None:
        self.vocabulary = vocabulary

    def ability(self, ability: Ability) -> str:
        match ability:
            case Triggered():
                return f"upon {self._cue(ability)}{self._guards(ability.limit, ability.condition)}: {self._steps(ability.steps)}"
            case Offered():
                return f"offer {self._cost(ability.cost)}{self._guards(ability.limit, ability.condition)}: {self._steps(ability.steps)}"
            case Continuous():
                return f"always{self._guards(None, ability.condition)}: {self._steps(ability.lasting)}"
            case Keyworded():
                return f"has {', '.join(self._name(KEYWORD, each) for each in ability.keywords)}"
        assert_never(ability)

    def _name(self, kind: str, ident: str) -> str:
        return quoted(as_typed(kind, self.vocabulary.name(kind, ident)))

    def _cue(self, ability: Triggered) -> str:
        about = CUES[ability.cue].about
        words = [ability.cue]
        if about == "card":
            words.append(self._group(ability.of) if ability.of is not None else "this")
            words += ["from", self._group(ability.source)] if ability.source is not None else []
        elif about == "whose" and ability.when is not None:
            words.append(self._whose(ability.when))
        elif about == "total" and ability.resource is not None:
            words += [*(["rival"] if ability.side else []), self._name(RESOURCE, ability.resource)]
            words += [ability.compare, str(ability.number)] if ability.compare else []
        return " ".join(words)

    def _guards(self, limit: Limit | None, condition: Condition | None) -> str:
        text = f", limit {limit.number} a {limit.each}" if limit else ""
        return text + (f", if {self._condition(condition)}" if condition else "")

    def _steps(self, steps: Iterable[Step]) -> str:
        return "; ".join(self._step(step) for step in steps)

    def _step(self, step: Step) -> str:
        parts = (self._slot(slot, step) for slot in VERBS[step.verb].slots)
        return " ".join([step.verb, *(part for part in parts if part)])

    def _slot(self, slot: Slot, step: Step) -> str:
        match slot:
            case "amount":
                return self._amount(step.amount) if step.amount else ""
            case "resource":
                return self._name(RESOURCE, step.resource or "")
            case "seats":
                if step.by is not None:
                    return f"for {step.seats} {self._atom(step.by)}"
                return f"for {step.seats}" if step.seats else ""
            case "to":
                return f"to {self._target(step.target)}"
            case "target":
                return self._target(step.target)
            case "stat":
                amount = self._amount(step.amount) if step.amount else ""
                return f"{self._name(STAT, step.stat or '')} of {self._target(step.target)} by {amount}"
            case "until":
                return f"until {self._when(step.until)}" if step.until else ""
            case "put":
                return f"to {self._zone(step.zone)}"
            case "from_zone":
                return f"of {self._zone(step.zone)}" if step.zone else ""
            case "zone":
                return self._zone(step.zone)
            case "made":
                return self._name(CARD, step.card or "")
            case "grant":
                return f"{self._name(KEYWORD, step.keyword or '')} to {self._target(step.target)}"
            case "strip":
                return f"{self._name(KEYWORD, step.keyword or '')} of {self._target(step.target)}"
            case "act":
                return f"{step.act} {self._target(step.target)}"
            case "steps":
                return f"({self._steps(step.steps or ())})"
            case "options":
                return f"{step.choose} of ({' | '.join(self._steps(each) for each in step.options or ())})"
            case "group":
                return self._group(step.group or Group())
            case "condition":
                return self._condition(step.condition) if step.condition else ""
            case "otherwise":
                return f"otherwise ({self._steps(step.otherwise)})" if step.otherwise else ""
            case "cost":
                return self._cost(step.cost or ())
            case "moment":
                return self._when(step.moment)
        assert_never(slot)

    def _cost(self, cost: Iterable[CostPart]) -> str:
        said = []
        for part in cost:
            if part.how == "pay":
                said.append(f"pay {part.number} {self._name(RESOURCE, part.resource or '')}")
            else:
                said.append(f"discard {part.number}" if part.how == "discard" else f"{part.how} this")
        return " + ".join(said) or "free"

    def _when(self, when: When | None) -> str:
        if when is None:
            return ""
        plain = when.at == "begin" and when.phase is not None
        return self._whose(when) if plain else f"{when.at} {self._whose(when)}"

    def _whose(self, when: When) -> str:
        what = "turn" if when.phase is None else self._name(PHASE, when.phase)
        return what if when.side == "any" else f"{when.side} {what}"

    def _zone(self, zone: Zone | None) -> str:
        if zone is None:
            return ""
        words = ["" if zone.side == "any" else zone.side, self._name(ZONE, zone.zone), "" if zone.place == "top" else zone.place]
        return " ".join(word for word in words if word)

    def _amount(self, amount: Amount) -> str:
        """An amount after a verb; a computed one is in brackets."""
        match amount:
            case Number() | Count() | SumOf() | StatOf():
                return self._atom(amount)
            case Combined(how="least") | Combined(how="most"):
                return self._atom(amount)
            case HeldTotal() | Half() | Combined():
                return f"({self.sum(amount)})"
        assert_never(amount)

    def sum(self, amount: Amount) -> str:
        if isinstance(amount, Combined) and amount.how in ("+", "-"):
            return f"{self.sum(amount.left)} {amount.how} {self._product(amount.right)}"
        return self._product(amount)

    def _product(self, amount: Amount) -> str:
        if isinstance(amount, Combined) and amount.how == "x":
            return f"{self._product(amount.left)} x {self._atom(amount.right)}"
        return self._atom(amount)

    def _atom(self, amount: Amount) -> str:
        match amount:
            case Number():
                return str(amount.value)
            case Count():
                return f"count ({self._group(amount.group)})"
            case SumOf():
                return f"sum ({self._name(STAT, amount.field)} of {self._group(amount.group)})"
            case StatOf():
                return f"{self._name(STAT, amount.field)} of {amount.of}"
            case HeldTotal():
                return f"held {'rival ' if amount.side == 'rival' else ''}{self._name(RESOURCE, amount.resource)}"
            case Half():
                return f"half {'up ' if amount.up else ''}{self._atom(amount.of)}"
            case Combined(how="least" | "most"):
                return f"{amount.how} ({self.sum(amount.left)}, {self.sum(amount.right)})"
            case Combined():
                return f"({self.sum(amount)})"
        assert_never(amount)

    def _condition(self, condition: Condition) -> str:
        match condition:
            case Comparison():
                return f"{self.sum(condition.left)} {condition.compare} {self.sum(condition.right)}"
            case Together(kind="all"):
                return " and ".join(self._condition(each) for each in condition.parts)
            case Together():
                return " or ".join(self._condition(each) for each in condition.parts)
            case Unless():
                return f"not {self._condition(condition.part)}"
        assert_never(condition)

    def _target(self, target: Target | None) -> str:
        match target:
            case None:
                return ""
            case This() | It() | That() | Host():
                return target.kind
            case Pick(least=least, most=most):
                span = "" if (least, most) == (1, 1) and not target.of_it else f"{most} " if least == most else f"{least}..{most} "
                return f"pick {span}{'of it' if target.of_it else self._group(target.group)}"
            case All():
                return f"all {self._group(target.group)}"
            case Random(number=number):
                return f"random {'' if number == 1 else f'{number} '}{self._group(target.group)}"
        assert_never(target)

    def _group(self, group: Group) -> str:
        side = "" if group.side == "any" else group.side + " "
        noun = "card" if group.type is None else self._name(TYPE, group.type)
        filters = ", ".join(self._filter(each) for each in group.filters)
        zone = f" {EVERYWHERE}" if group.zone == EVERYWHERE else f" in {self._name(ZONE, group.zone)}" if group.zone else ""
        return f"{side}{noun}{f' [{filters}]' if filters else ''}{zone}"

    def _filter(self, each: Filter) -> str:
        match each:
            case Other():
                return "other"
            case HasTag():
                return f"tag {self._name(TAG, each.tag)}"
            case HasKeyword():
                return f"has {self._name(KEYWORD, each.keyword)}"
            case InState():
                return STATE_WORDS[each.state]
            case Not():
                return f"not {self._filter(each.filter)}"
            case ChoiceIs():
                return f"{self._name(CHOICE, each.field)} is {self._name(value_of(each.field), each.value)}"
            case StatCompare():
                return f"{self._name(STAT, each.field)} {each.compare} {each.number}"
        assert_never(each)


STATE_WORDS = {"tilted": "tilted", "hurt": "wounded", "created": "created"}
"""The words for the state of a card: `hurt` is the word of a cue."""
