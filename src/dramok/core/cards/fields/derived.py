"""A value computed from the card's other fields."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING, Any, ClassVar, Literal

from pydantic import Field

from dramok.core.cards.card import Value
from dramok.core.cards.fields.base import Compared, FieldBase, Key, Read
from dramok.core.cards.fields.number import FIGURES, shown_number
from dramok.core.cards.formula import shown_formula
from dramok.core.problem import fold

if TYPE_CHECKING:
    from dramok.core.cards.schema import Schema
    from dramok.core.effects import Vocabulary

MOST_FORMULA = 500


class DerivedField(FieldBase):
    """Computed from the card's other fields; `formula` names them as `#id` (see `formula`)."""

    kind: Literal["derived"] = "derived"
    formula: str = Field(max_length=MOST_FORMULA)

    compared: ClassVar[Compared] = "number"
    typed: ClassVar[bool] = False

    def read(self, text: str, schema: Schema, vocabulary: Vocabulary, before: Value | None) -> Read:
        owner = next(
            (each.id for each in schema.types if schema.has_field(each.id, self.id)), schema.types[0].id
        )
        formula = shown_formula(self.formula, schema, owner)
        return self.refused("it is derived from other fields", f"change them, or its formula: {formula}")

    def holds(self, value: Value) -> bool:
        return True

    def shown(self, value: Value, schema: Schema, vocabulary: Vocabulary) -> str:
        return self.said(value, schema)

    def said(self, value: Value, schema: Schema) -> str:
        if isinstance(value, bool):
            return "yes" if value else "no"
        return shown_number(value)

    def order(self, value: Value, schema: Schema) -> Key:
        return (0, float(value), "") if isinstance(value, int | float) else (2, 0.0, fold(str(value)))

    def described(self, schema: Schema) -> dict[str, Any]:
        return {"type": "string", "readOnly": True}

    def invented(self, schema: Schema) -> Value | None:
        return None

    @property
    def placement(self) -> Mapping[str, Any]:
        return FIGURES
