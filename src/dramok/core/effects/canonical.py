"""The model back to text, in the one canonical form."""

from __future__ import annotations

from dramok.core.effects.lexer import is_bare
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
from dramok.core.effects.vocabulary import CHOICE, RESOURCE, STAT, TAG, TYPE, Vocabulary, as_typed, value_of


def ability_text(ability: Ability, vocabulary: Vocabulary) -> str:
    """One line of text that parses to the very same ability."""
    if isinstance(ability, Continuous):
        raises = (
            f"raise {_name(STAT, r.stat, vocabulary)} of this by {_amount(r.amount, vocabulary)}"
            for r in ability.raises
        )
        return f"always: {'; '.join(raises)}"
    return f"upon {ability.cue} this: {'; '.join(_step(step, vocabulary) for step in ability.steps)}"


def quoted(name: str) -> str:
    """A name as it is typed: bare where it can be, else in quotes."""
    return name if is_bare(name) else '"' + name.replace('"', "”") + '"'


def _name(kind: str, ident: str, vocabulary: Vocabulary) -> str:
    return quoted(as_typed(kind, vocabulary.name(kind, ident)))


def _step(step: Step, vocabulary: Vocabulary) -> str:
    text = f"{step.verb} {_amount(step.amount, vocabulary)}"
    resource, target = resource_of(step), target_of(step)
    if resource is not None:
        return f"{text} {_name(RESOURCE, resource, vocabulary)}"
    return f"{text} to {_target(target, vocabulary)}" if target is not None else text


def _amount(amount: Amount, vocabulary: Vocabulary) -> str:
    return str(amount.value) if isinstance(amount, Number) else f"count ({_group(amount.group, vocabulary)})"


def _target(target: Target, vocabulary: Vocabulary) -> str:
    match target:
        case This() | It():
            return target.kind
        case Pick(least=least, most=most):
            span = "" if (least, most) == (1, 1) else f"{most} " if least == most else f"{least}..{most} "
            return f"pick {span}{_group(target.group, vocabulary)}"
        case All():
            return f"all {_group(target.group, vocabulary)}"
        case Random(number=number):
            return f"random {'' if number == 1 else f'{number} '}{_group(target.group, vocabulary)}"


def _group(group: Group, vocabulary: Vocabulary) -> str:
    side = "" if group.side == "any" else group.side + " "
    noun = "card" if group.type is None else _name(TYPE, group.type, vocabulary)
    filters = ", ".join(_filter(each, vocabulary) for each in group.filters)
    return f"{side}{noun}{f' [{filters}]' if filters else ''}"


def _filter(each: Filter, vocabulary: Vocabulary) -> str:
    match each:
        case Other():
            return "other"
        case HasTag():
            return f"tag {_name(TAG, each.tag, vocabulary)}"
        case Not():
            return f"not {_filter(each.filter, vocabulary)}"
        case ChoiceIs():
            return f"{_name(CHOICE, each.field, vocabulary)} is {_name(value_of(each.field), each.value, vocabulary)}"
        case StatCompare():
            return f"{_name(STAT, each.field, vocabulary)} {each.compare} {each.number}"
