"""Tags: short words that several cards share."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import TYPE_CHECKING, Any, ClassVar, Literal

from dramok.core.cards.schema.card import Value
from dramok.core.cards.schema.fields.base import Compared, FieldBase, Key, Read, SchemaLookup, parts_of
from dramok.core.problem import fold

if TYPE_CHECKING:
    from dramok.core.effects import Vocabulary

MOST_TAGS = 20
LABELS: Mapping[str, Any] = {
    "kind": "tags", "width": 26.0, "height": 4.6, "font": "italic", "largest": 2.7, "least": 2.0, "rise": "middle",
}  # fmt: skip


class TagsField(FieldBase):
    kind: Literal["tags"] = "tags"

    compared: ClassVar[Compared] = "text"
    guesses: ClassVar[tuple[str, ...]] = ("tags",)
    worded: ClassVar[bool] = True

    def read(self, text: str, schema: SchemaLookup, vocabulary: Vocabulary, before: Value | None) -> Read:
        tags = tuple(dict.fromkeys(tag for tag in (fold(part) for part in parts_of(text)) if tag))
        if len(tags) > MOST_TAGS or any(len(tag) > 40 for tag in tags):
            return self.refused(
                "too many or too long tags", f"keep to {MOST_TAGS} tags of 40 characters, with commas between"
            )
        return tags or None, ()

    def holds(self, value: Value) -> bool:
        return isinstance(value, tuple)

    def shown(self, value: Value, schema: SchemaLookup, vocabulary: Vocabulary) -> str:
        return self.said(value, schema)

    def said(self, value: Value, schema: SchemaLookup) -> str:
        return ", ".join(value) if isinstance(value, tuple) else str(value)

    def order(self, value: Value, schema: SchemaLookup) -> Key:
        return (1, 0.0, fold(self.said(value, schema)))

    def in_json(self, text: str) -> Any:
        return text.split(", ")

    def described(self, schema: SchemaLookup) -> dict[str, Any]:
        return {"type": "string", "description": "tags with commas between"}

    def sample_value(self, schema: SchemaLookup) -> Value | None:
        return ("first", "second")

    @property
    def placement(self) -> Mapping[str, Any]:
        return LABELS

    @classmethod
    def guess(cls, values: Sequence[str]) -> bool:
        parts = {fold(part) for value in values for part in value.split(",")}
        return len(parts) * 2 <= len(values) and all(len(part) <= 30 for part in parts)
