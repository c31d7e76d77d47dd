"""Parse typed text to a field's value, and format it again."""

from __future__ import annotations

from dramok.core.cards.schema.card import Value
from dramok.core.cards.schema.fields import FieldKind, Read
from dramok.core.cards.schema.schema import Schema
from dramok.core.effects import Vocabulary
from dramok.core.text_checks import without_controls


def read_value(
    field: FieldKind, typed: str, schema: Schema, vocabulary: Vocabulary, before: Value | None = None
) -> Read:
    """Parse the typed text of a field. Empty text gives None: the field is empty.

    Returns a value whenever the card can keep one; it may come with problems (a draft effect).
    """
    typed = without_controls(typed)
    text = field.tidied(typed)
    return field.read(text, schema, vocabulary, before) if text else field.empty(vocabulary, typed, before)


def shown_value(field: FieldKind, value: Value | None, schema: Schema, vocabulary: Vocabulary) -> str:
    """The editable text of a value; `read_value` of it returns the value again."""
    return "" if value is None else field.shown(value, schema, vocabulary)
