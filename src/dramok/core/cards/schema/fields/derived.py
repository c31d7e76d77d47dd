"""A value computed from the card's other fields."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING, Any, ClassVar, Literal

from pydantic import Field

from dramok.core.cards.schema.card import Value
from dramok.core.cards.schema.fields.base import Compared, FieldBase, Key, Read, SchemaLookup
from dramok.core.cards.schema.fields.number import FIGURES, shown_number
from dramok.core.cards.schema.formula import with_names
from dramok.core.problem import fold

if TYPE_CHECKING:
    from dramok.core.effects import Vocabulary

MOST_FORMULA = 500


class DerivedField(FieldBase):
    """Computed from the card's other fields; `formula` names them as `#id` (see `formula`)."""

    kind: Literal["derived"] = "derived"
    formula: str = Field(max_length=MOST_FORMULA)

    compared: ClassVar[Compared] = "number"
    typed: ClassVar[bool] = False

    def read(self, text: str, schema: SchemaLookup, vocabulary: Vocabulary, before: Value | None) -> Read:
        owner = next(
            (each for each in schema.type_ids if schema.has_field(each, self.id)), schema.type_ids[0]
        )

        def name_of(ident: str) -> str | None:
            field = schema.field_of(owner, ident)
            return field.name if field else None

        formula = with_names(self.formula, name_of)
        return self.refused("it is derived from other fields", f"change them, or its formula: {formula}")

    def holds(self, value: Value) -> bool:
        return True

    def shown(self, value: Value, schema: SchemaLookup, vocabulary: Vocabulary) -> str:
        return self.said(value, schema)

    def said(self, value: Value, schema: SchemaLookup) -> str:
        if isinstance(value, bool):
            return "yes" if value else "no"
        return shown_number(value)

    def order(self, value: Value, schema: SchemaLookup) -> Key:
        return (0, float(value), "") if isinstance(value, int | float) else (2, 0.0, fold(str(value)))

    def described(self, schema: SchemaLookup) -> dict[str, Any]:
        return {"type": "string", "readOnly": True}

    def sample_value(self, schema: SchemaLookup) -> Value | None:
        return None

    @property
    def placement(self) -> Mapping[str, Any]:
        return FIGURES
