"""The card's behaviour, in the effect language."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, ClassVar, Literal

from dramok.core.cards.schema.card import Value
from dramok.core.cards.schema.fields.base import Compared, FieldBase, Key, Read, SchemaLookup
from dramok.core.effects import Script, Vocabulary, read_script, script_text

_RULED: Mapping[str, Any] = {
    "kind": "text",
    "width": 44.0,
    "height": 22.0,
    "ruled": True,
    "head_ink": "#5d5a4a",
}


class EffectField(FieldBase):
    kind: Literal["effect"] = "effect"

    compared: ClassVar[Compared] = "effect"
    worded: ClassVar[bool] = True

    def tidied(self, typed: str) -> str:
        return typed

    def read(self, text: str, schema: SchemaLookup, vocabulary: Vocabulary, before: Value | None) -> Read:
        """A draft is a valid value: it is returned with problems, and `before` provides the last readable version."""
        script, problems = read_script(text, vocabulary, before if isinstance(before, Script) else None)
        return script or None, problems

    def empty(self, vocabulary: Vocabulary, typed: str, before: Value | None) -> Read:
        script, problems = read_script(typed, vocabulary, before if isinstance(before, Script) else None)
        return script or None, problems

    def holds(self, value: Value) -> bool:
        return isinstance(value, Script)

    def shown(self, value: Value, schema: SchemaLookup, vocabulary: Vocabulary) -> str:
        return script_text(value, vocabulary) if isinstance(value, Script) else str(value)

    def said(self, value: Value, schema: SchemaLookup) -> str:
        """Faces show the printed text, which is generated elsewhere."""
        return ""

    def order(self, value: Value, schema: SchemaLookup) -> Key:
        return (1, float(len(value.lines)), "") if isinstance(value, Script) else (2, 0.0, "")

    def described(self, schema: SchemaLookup) -> dict[str, Any]:
        return {"type": "string", "description": "lines of the effect language"}

    def sample_value(self, schema: SchemaLookup) -> Value | None:
        return None

    @property
    def placement(self) -> Mapping[str, Any]:
        return _RULED
