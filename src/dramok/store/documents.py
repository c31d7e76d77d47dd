"""Cards and their values to JSON text and back."""

from __future__ import annotations

import json
from collections.abc import Mapping
from typing import Any

from dramok.core.cards import Card, Value
from dramok.core.effects import Script


def write_value(value: Value) -> Any:
    """A value in the form JSON holds: scripts as objects, tags as lists."""
    if isinstance(value, Script):
        return value.model_dump(mode="json", exclude_none=True)
    return list(value) if isinstance(value, tuple) else value


def read_value(raw: Any) -> Value:
    if isinstance(raw, dict):
        return Script.model_validate(raw)
    return tuple(raw) if isinstance(raw, list) else raw


def write_values(values: Mapping[str, Value]) -> str:
    return json.dumps({name: write_value(value) for name, value in values.items()}, ensure_ascii=False)


def read_values(text: str) -> dict[str, Value]:
    return {name: read_value(raw) for name, raw in json.loads(text).items()}


def card_from(ident: str, code: str, set_id: str, kind: str, doc: str, revision: int, seq: int) -> Card:
    return Card(ident, code, set_id, kind, read_values(doc), revision, seq)
