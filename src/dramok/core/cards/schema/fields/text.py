"""Text: one line, or paragraphs."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import TYPE_CHECKING, Any, ClassVar, Literal

from pydantic import Field

from dramok.core.cards.schema.card import Value
from dramok.core.cards.schema.fields.base import Compared, FieldBase, Read, SchemaLookup

if TYPE_CHECKING:
    from dramok.core.effects import Vocabulary

MOST_IN_SHEETS = 5_000
PROSE = "When the light goes, move it one place towards the door. It keeps what it has gained."
"""Sample text for a sample card."""
LINE: Mapping[str, Any] = {
    "kind": "text", "width": 36.0, "height": 5.0, "lines": 1, "rise": "middle", "largest": 3.2, "least": 2.2,
}  # fmt: skip
_PARAGRAPHS: Mapping[str, Any] = {"kind": "text", "width": 44.0, "height": 16.0}


class TextField(FieldBase):
    kind: Literal["text"] = "text"
    long: bool = False
    most: int = Field(default=2_000, ge=1, le=20_000)

    compared: ClassVar[Compared] = "text"
    guesses: ClassVar[tuple[str, ...]] = ("text",)
    worded: ClassVar[bool] = True

    def tidied(self, typed: str) -> str:
        return typed.strip() if self.long else super().tidied(typed)

    def read(self, text: str, schema: SchemaLookup, vocabulary: Vocabulary, before: Value | None) -> Read:
        if len(text) > self.most:
            return self.refused(f"{len(text):,} characters are too many", f"keep to {self.most:,}")
        return text, ()

    def holds(self, value: Value) -> bool:
        return isinstance(value, str)

    def described(self, schema: SchemaLookup) -> dict[str, Any]:
        return {"type": "string", "maxLength": self.most}

    def sample_value(self, schema: SchemaLookup) -> Value | None:
        return PROSE if self.long else self.name

    @property
    def placement(self) -> Mapping[str, Any]:
        return _PARAGRAPHS if self.long else LINE

    @classmethod
    def guess(cls, values: Sequence[str]) -> bool:
        return True

    @classmethod
    def guessed(cls, kind: str, values: Sequence[str], list_id: str) -> dict[str, Any]:
        long = any(len(value) > 80 or "\n" in value for value in values)
        return {"kind": kind, "long": long, "most": MOST_IN_SHEETS if long else 200}
