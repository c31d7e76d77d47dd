"""JSON Schema for the cards of one type, generated from the game's fields."""

from __future__ import annotations

from typing import Any

from dramok.core.cards import FieldKind
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import Missing


def schema_of(game: GameSnapshot, type_id: str) -> dict[str, Any]:
    """The Draft 2020-12 schema of a card as `GET /cards` returns it: every value is the text that a user types.

    Raises Missing.
    """
    schema = game.rulebook.cards
    if not schema.has_type(type_id):
        raise Missing(f"{game.name} has no card type {type_id[:60]}")
    fields = schema.fields_of(type_id)
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "$id": f"/api/games/{game.id}/types/{type_id}/schema",
        "title": f"{schema.type(type_id).name} of {game.name}",
        "type": "object",
        "properties": {
            "id": {"type": "string", "description": "lasting, never reused"},
            "code": {
                "type": "string",
                "maxLength": 40,
                "description": "the designer's own, unique in the game",
            },
            "type": {"const": type_id},
            "set": {"enum": [each.id for each in game.sets]},
            "revision": {"type": "integer", "minimum": 1},
            "values": {
                "type": "object",
                "properties": {field.id: _of(game, field) for field in fields},
                "required": [field.id for field in fields if field.required],
            },
        },
        "required": ["id", "code", "type", "set", "values"],
    }


def _of(game: GameSnapshot, field: FieldKind) -> dict[str, Any]:
    said = {"title": field.name, **({"description": field.help} if field.help else {})}
    return {**said, **field.described(game.rulebook.cards)}
