"""Typed text to a field's value, and back."""

from __future__ import annotations

from dramok.core.cards.schema.card import Value
from dramok.core.cards.schema.fields import FieldKind, Read
from dramok.core.cards.schema.schema import Schema
from dramok.core.effects import Vocabulary
from dramok.core.text_checks import without_controls


def read_value(
    field: FieldKind, typed: str, schema: Schema, vocabulary: Vocabulary, before: Value | None = None
) -> Read:
    """Reads what was typed into a field. Empty text gives None: the field is empty.

    A value comes back whenever the card can keep one; problems may stand beside it (a draft effect).
    """
    typed = without_controls(typed)
    text = field.tidied(typed)
    return field.read(text, schema, vocabulary, before) if text else field.empty(vocabulary, typed, before)


def shown_value(field: FieldKind, value: Value | None, schema: Schema, vocabulary: Vocabulary) -> str:
    """The text a person edits for a value; `read_value` of it gives the value again."""
    return "" if value is None else field.shown(value, schema, vocabulary)
