"""Yes or no."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import TYPE_CHECKING, Any, ClassVar, Literal

from dramok.core.cards.schema.card import Value
from dramok.core.cards.schema.fields.base import (
    Compared,
    FieldBase,
    Grouping,
    Key,
    Read,
    SchemaLookup,
    mostly,
)
from dramok.core.cards.schema.fields.text import LINE
from dramok.core.problem import fold

if TYPE_CHECKING:
    from dramok.core.effects import Vocabulary

YES, NO = ("yes", "y", "true", "x", "✓", "1"), ("no", "n", "false", "-", "0")


class YesNoField(FieldBase):
    kind: Literal["yesno"] = "yesno"

    compared: ClassVar[Compared] = "yesno"
    guesses: ClassVar[tuple[str, ...]] = ("yesno",)

    def read(self, text: str, schema: SchemaLookup, vocabulary: Vocabulary, before: Value | None) -> Read:
        word = fold(text)
        if word in YES or word in NO:
            return word in YES, ()
        return self.refused(f"“{text[:40]}” is neither yes nor no", "write yes or no")

    def holds(self, value: Value) -> bool:
        return isinstance(value, bool)

    def shown(self, value: Value, schema: SchemaLookup, vocabulary: Vocabulary) -> str:
        return self.group_of(value, schema)

    def said(self, value: Value, schema: SchemaLookup) -> str:
        """A face shows the field's name for yes, and nothing for no."""
        return self.name if value else ""

    def order(self, value: Value, schema: SchemaLookup) -> Key:
        return (0, float(bool(value)), "")

    @property
    def groupable(self) -> bool:
        return True

    def groups(self, values: Sequence[Value | None], schema: SchemaLookup) -> Sequence[Grouping] | None:
        return [Grouping("yes", f"{self.name}: yes"), Grouping("no", f"{self.name}: no")]

    def group_of(self, value: Value, schema: SchemaLookup) -> str:
        return "yes" if value else "no"

    def in_json(self, text: str) -> Any:
        return text == "yes"

    def described(self, schema: SchemaLookup) -> dict[str, Any]:
        return {"enum": ["", "yes", "no"]}

    def sample_value(self, schema: SchemaLookup) -> Value | None:
        return True

    @property
    def placement(self) -> Mapping[str, Any]:
        return LINE

    @classmethod
    def guess(cls, values: Sequence[str]) -> bool:
        return mostly(values, lambda value: fold(value) in YES + NO)
