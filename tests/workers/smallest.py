"""An order for one game with one seat that ends at once."""

from __future__ import annotations

from typing import Any

from dramok.core.cards import Card
from dramok.core.engine.program import compile_program
from dramok.core.rulebook import Rulebook


def smallest() -> dict[str, Any]:
    field = {"id": "name", "name": "Name", "kind": "text"}
    document = {"id": "x", "name": "X", "cards": {"types": [{"id": "card", "name": "Card", "fields": [field]}]}, "roles": {"cost": None, "effect": None, "rarity": None, "printed": None, "tags": None, "copies": None}}  # fmt: skip
    program = compile_program(Rulebook.model_validate(document), [Card("a", "A", "x", "card", {"name": "A"}, 0)])
    return {"numbers": program.numbers, "decks": [[0] * 3], "pairs": [[0]], "seed": 1, "players": ["plain"], "threads": 1}
