"""A card that nobody wrote: what a plan shows while its type has no cards."""

from __future__ import annotations

from dramok.core.cards import (
    Card,
    ChoiceField,
    ChoicesField,
    EffectField,
    FieldKind,
    NumberField,
    Schema,
    TagsField,
    TextField,
    Value,
    YesNoField,
)
from dramok.core.rulebook import Rulebook
from dramok.core.wording import PrintedText

PROSE = "When the glass mists over, move it one place towards the door. It keeps what it has grown."
INVENTED = "invented"


def invented_card(type_id: str, rulebook: Rulebook) -> tuple[Card, PrintedText]:
    """A card of a type with something in every field, and the text that its face shows."""
    schema, roles = rulebook.cards, rulebook.roles
    name = schema.type(type_id).name
    values: dict[str, Value] = {}
    for field in schema.fields_of(type_id):
        value = f"Some {name}" if field.id == roles.name else _value(field, schema)
        if value is not None:
            values[field.id] = value
    values.pop(roles.printed or "", None)
    card = Card(f"{INVENTED}-{type_id}", "X-000", "", type_id, values)
    return card, PrintedText((PROSE,), False, True)


def _value(field: FieldKind, schema: Schema) -> Value | None:
    match field:
        case NumberField():
            return min(field.most, max(field.least, 3))
        case ChoiceField():
            offered = schema.list(field.list).offered
            return offered[0].id if offered else None
        case ChoicesField():
            return tuple(each.id for each in schema.list(field.list).offered[:2])
        case TagsField():
            return ("first", "second")
        case TextField():
            return PROSE if field.long else field.name
        case YesNoField():
            return True
        case EffectField():
            return None
    return None
