"""Typed text to a field's value, and back."""

from __future__ import annotations

import re
from decimal import Decimal

from dramok.core.cards.card import Card, Value
from dramok.core.cards.choices import Choice, ChoiceList
from dramok.core.cards.fields import (
    ChoiceField,
    ChoicesField,
    DerivedField,
    EffectField,
    FieldKind,
    NumberField,
    PictureField,
    Schema,
    TagsField,
    TextField,
    YesNoField,
)
from dramok.core.cards.formula import shown_formula
from dramok.core.effects import Script, Vocabulary, read_script, script_text
from dramok.core.problem import Problem, fold, nearest_name
from dramok.core.soundtext import without_controls

NUMBER_WORDS = (
    "none", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve",
)  # fmt: skip
YES, NO = ("yes", "y", "true", "x", "✓", "1"), ("no", "n", "false", "-", "0")
MOST_TAGS = 20
OFFERED = 12
_WHOLE = re.compile(r"[+-]?\d{1,9}(?:[.,]0+)?")
_DECIMAL = re.compile(r"[+-]?\d{1,9}(?:[.,]\d{1,4}0*)?")
_PICTURE = re.compile(r"[0-9a-f]{64}")
_FILE_NAME = re.compile(r"[^\x00-\x1f/\\<>\"|?*]{1,180}\.[A-Za-z0-9]{2,5}")

Read = tuple[Value | None, tuple[Problem, ...]]


def read_value(
    field: FieldKind, typed: str, schema: Schema, vocabulary: Vocabulary, before: Value | None = None
) -> Read:
    """Reads what was typed into a field. Empty text gives None: the field is empty.

    A value comes back whenever the card can keep one; problems may stand beside it (a draft effect).
    """
    typed = without_controls(typed)
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
            return _choice(field, text, schema.list(field.list))
        case ChoicesField():
            return _choices(field, text, schema.list(field.list))
        case TagsField():
            return _tags(field, text)
        case YesNoField():
            return _yes_no(field, text)
        case PictureField():
            return (
                (text, ())
                if _PICTURE.fullmatch(text) or _FILE_NAME.fullmatch(text)
                else _wrong(
                    field,
                    "this is no picture",
                    "choose a picture file, or write the name of one that is to come",
                )
            )
        case DerivedField():
            return _wrong(
                field,
                "it is derived from other fields",
                f"change them, or its formula: {shown_formula(field.formula, schema, _owner(schema, field))}",
            )
        case TextField() if len(text) > field.most:
            return _wrong(field, f"{len(text):,} characters are too many", f"keep to {field.most:,}")
        case _:
            return text, ()


def _owner(schema: Schema, field: DerivedField) -> str:
    return next((each.id for each in schema.types if schema.has_field(each.id, field.id)), schema.types[0].id)


def _number(field: NumberField, text: str) -> Read:
    if not (_WHOLE if field.whole else _DECIMAL).fullmatch(text):
        word, noun = (
            fold(text),
            "a whole number" if field.whole else "a number with up to four decimal places",
        )
        mend = (
            f"write {NUMBER_WORDS.index(word)}"
            if word in NUMBER_WORDS
            else f"write {noun}, such as {max(field.least, min(3, field.most))}"
        )
        wrong = _problem(field, f"“{text[:40]}” is not {noun if field.whole else 'a number'}", mend)
        near = str(NUMBER_WORDS.index(word)) if word in NUMBER_WORDS else None
        return None, (wrong.model_copy(update={"nearest": near}),)
    exact = Decimal(text.replace(",", "."))
    number = int(exact) if field.whole or exact == exact.to_integral_value() else float(exact)
    problem = value_problem(field, number)
    return (None, (problem,)) if problem else (number, ())


def _choice(field: ChoiceField, text: str, choices: ChoiceList) -> Read:
    found, problem = _called(field, text, choices)
    return (found.id if found else None), ((problem,) if problem else ())


def _choices(field: ChoicesField, text: str, choices: ChoiceList) -> Read:
    picked: set[str] = set()
    for part in re.split("[,;|]", text):
        if not part.strip():
            continue
        found, problem = _called(field, part.strip(), choices)
        if problem:
            return None, (problem,)
        assert found is not None
        picked.add(found.id)
    return tuple(sorted(picked, key=choices.position)) or None, ()


def _called(field: FieldKind, text: str, choices: ChoiceList) -> tuple[Choice | None, Problem | None]:
    found = choices.called(text)
    if found is not None:
        return found, None
    names = [value.name for value in choices.offered]
    near = nearest_name(text, names)
    some = ", ".join(names[:OFFERED]) + (" …" if len(names) > OFFERED else "")
    mend = (
        f"did you mean {near}?"
        if near
        else f"write one of {some}"
        if names
        else f"add values to {choices.name} first"
    )
    problem = _problem(field, f"“{text[:40]}” is not among its values", mend)
    return None, problem.model_copy(update={"nearest": near, "expected": tuple(names[:OFFERED])})


def _tags(field: TagsField, text: str) -> Read:
    tags = tuple(dict.fromkeys(tag for tag in (fold(part) for part in re.split("[,;|]", text)) if tag))
    if len(tags) > MOST_TAGS or any(len(tag) > 40 for tag in tags):
        return _wrong(
            field,
            "too many or too long tags",
            f"keep to {MOST_TAGS} tags of 40 characters, with commas between",
        )
    return tags or None, ()


def _yes_no(field: YesNoField, text: str) -> Read:
    word = fold(text)
    if word in YES or word in NO:
        return word in YES, ()
    return _wrong(field, f"“{text[:40]}” is neither yes nor no", "write yes or no")


def is_brought(picture: str) -> bool:
    """Whether a picture field's value is a picture, not the name of a file that is still to come."""
    return _PICTURE.fullmatch(picture) is not None


def value_problem(field: FieldKind, value: Value) -> Problem | None:
    """Why a value already in its form is refused, or None."""
    if (
        isinstance(field, NumberField)
        and isinstance(value, int | float)
        and not field.least <= value <= field.most
    ):
        return _problem(
            field, f"{value} is out of its bounds", f"write a number from {field.least} to {field.most}"
        )
    return None


def misplaced(card: Card, field: FieldKind, schema: Schema) -> Problem | None:
    """Why a choice does not belong within the outer choice of its card, or None."""
    if not isinstance(field, ChoiceField) or field.within is None:
        return None
    choice = schema.list(field.list).get(card.text(field.id))
    outer = schema.field_of(card.type, field.within)
    if choice is None or choice.within is None or outer is None or choice.within == card.text(field.within):
        return None
    outer_list = schema.choices(outer)
    home = outer_list.get(choice.within) if outer_list else None
    belongs = home.name if home else choice.within
    return _problem(
        field,
        f"{choice.name} belongs to {belongs}",
        f"choose another {field.name.lower()}, or make {outer.name.lower()} {belongs}",
    )


def shown_value(field: FieldKind, value: Value | None, schema: Schema, vocabulary: Vocabulary) -> str:
    """The text a person edits for a value; `read_value` of it gives the value again."""
    if value is None:
        return ""
    if isinstance(value, str) and not isinstance(field, ChoiceField):
        return value
    if isinstance(value, Script):
        return script_text(value, vocabulary)
    if isinstance(value, bool):
        return "yes" if value else "no"
    choices = schema.choices(field)
    if isinstance(value, tuple):
        return ", ".join(_name(choices, each) for each in value)
    if isinstance(value, float):
        return f"{value:.4f}".rstrip("0").rstrip(".")
    return _name(choices, str(value))


def _name(choices: ChoiceList | None, ident: str) -> str:
    choice = choices.get(ident) if choices else None
    return choice.name if choice else ident


def _wrong(field: FieldKind, what: str, mend: str) -> Read:
    return None, (_problem(field, what, mend),)


def _problem(field: FieldKind, what: str, mend: str) -> Problem:
    return Problem(where=field.name, what=what, mend=mend)
