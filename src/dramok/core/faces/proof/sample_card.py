"""A sample card for plans of types without cards."""

from __future__ import annotations

from dramok.core.cards import Card, Value
from dramok.core.cards.schema.fields.text import PROSE
from dramok.core.rulebook import Rulebook
from dramok.core.wording import PrintedText

INVENTED = "invented"


def make_sample_card(type_id: str, rulebook: Rulebook) -> tuple[Card, PrintedText]:
    """A card of a type with a value in every field, and its printed text."""
    schema, roles = rulebook.cards, rulebook.roles
    name = schema.type(type_id).name
    values: dict[str, Value] = {}
    for field in schema.fields_of(type_id):
        value = f"Some {name}" if field.id == roles.name else field.sample_value(schema)
        if value is not None:
            values[field.id] = value
    values.pop(roles.printed or "", None)
    card = Card(f"{INVENTED}-{type_id}", "X-000", "", type_id, values)
    return card, PrintedText((PROSE,), False, True)
