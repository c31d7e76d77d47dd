"""Typed text to a field's value, and back."""

from __future__ import annotations

import re

from dramok.core.cards.card import Value
from dramok.core.cards.fields import (
    ChoiceField,
    EffectField,
    FieldKind,
    NumberField,
    Schema,
    TagsField,
    TextField,
)
from dramok.core.effects import Script, Vocabulary, read_script, script_text
from dramok.core.problem import Problem, fold, nearest_name

NUMBER_WORDS = [
    "none",
    "one",
    "two",
    "three",
    "four",
    "five",
    "six",
    "seven",
    "eight",
    "nine",
    "ten",
    "eleven",
    "twelve",
]
MOST_TAGS = 20
_WHOLE = re.compile(r"[+-]?\d{1,9}(?:[.,]0+)?")


def read_value(
    field: FieldKind, typed: str, schema: Schema, vocabulary: Vocabulary, before: Value | None = None
) -> tuple[Value | None, tuple[Problem, ...]]:
    """Reads what was typed into a field. Empty text gives None: the field is empty.

    A value comes back whenever the card can keep one; problems may stand beside it (a draft effect).
    """
    if isinstance(field, EffectField):
        script, problems = read_script(typed, vocabulary, before if isinstance(before, Script) else None)
        return script or None, problems
    text = " ".join(typed.split()) if not (isinstance(field, TextField) and field.long) else typed.strip()
    if not text:
        return None, ()
    match field:
        case NumberField():
            return _number(field, text)
        case ChoiceField():
            return _choice(field, text, schema)
        case TagsField():
            return _tags(field, text)
        case TextField() if len(text) > field.most:
            return None, (
                _problem(field, f"{len(text):,} characters are too many", f"keep to {field.most:,}"),
            )
        case _:
            return text, ()


def _number(field: NumberField, text: str) -> tuple[int | None, tuple[Problem, ...]]:
    if not _WHOLE.fullmatch(text):
        word = fold(text)
        mend = (
            f"write {NUMBER_WORDS.index(word)}"
            if word in NUMBER_WORDS
            else f"write a whole number, such as {max(field.least, 3)}"
        )
        return None, (_problem(field, f"“{text[:40]}” is not a whole number", mend),)
    number = int(re.split("[.,]", text)[0])
    problem = value_problem(field, number)
    return (None, (problem,)) if problem else (number, ())


def _choice(field: ChoiceField, text: str, schema: Schema) -> tuple[str | None, tuple[Problem, ...]]:
    values = schema.list(field.list).values
    for value in values:
        if fold(value.name) == fold(text):
            return value.id, ()
    near = nearest_name(text, [value.name for value in values])
    names = ", ".join(value.name for value in values[:12])
    problem = _problem(
        field,
        f"“{text[:40]}” is not among its values",
        f"did you mean {near}?" if near else f"write one of {names}",
    )
    return None, (
        problem.model_copy(update={"nearest": near, "expected": tuple(v.name for v in values[:12])}),
    )


def _tags(field: TagsField, text: str) -> tuple[tuple[str, ...] | None, tuple[Problem, ...]]:
    tags = tuple(dict.fromkeys(tag for tag in (fold(part) for part in re.split("[,;|]", text)) if tag))
    if len(tags) > MOST_TAGS or any(len(tag) > 40 for tag in tags):
        return None, (
            _problem(
                field,
                "too many or too long tags",
                f"keep to {MOST_TAGS} tags of 40 characters, with commas between",
            ),
        )
    return tags or None, ()


def value_problem(field: FieldKind, value: Value) -> Problem | None:
    """Why a value already in its form is refused, or None."""
    if isinstance(field, NumberField) and isinstance(value, int) and not field.least <= value <= field.most:
        return _problem(
            field, f"{value} is out of its bounds", f"write a number from {field.least} to {field.most}"
        )
    return None


def shown_value(field: FieldKind, value: Value | None, schema: Schema, vocabulary: Vocabulary) -> str:
    """The text a person edits for a value; `read_value` of it gives the value again."""
    if value is None:
        return ""
    if isinstance(value, Script):
        return script_text(value, vocabulary)
    if isinstance(value, tuple):
        return ", ".join(value)
    if isinstance(field, ChoiceField):
        choice = schema.list(field.list).get(str(value))
        return choice.name if choice else str(value)
    return str(value)


def _problem(field: FieldKind, what: str, mend: str) -> Problem:
    return Problem(where=field.name, what=what, mend=mend)
