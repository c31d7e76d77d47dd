"""The names that a query can use, and where it uses them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal, assert_never

from dramok.core.cards.schema.schema import Schema

MeantKind = Literal["field", "choice", "type", "deck", "set", "mark", "run"]


@dataclass(frozen=True)
class Names:
    """The available names: fields of the schema, decks, sets, marks and print runs by id, and the field with
    the card's name.
    """

    schema: Schema
    decks: Mapping[str, str]
    sets: Mapping[str, str]
    name_field: str = "name"
    marks: Mapping[str, str] = field(default_factory=dict)
    runs: Mapping[str, str] = field(default_factory=dict)

    def of(self, thing: Meant) -> str | None:
        """The name of an entity; None if it does not exist."""
        schema = self.schema
        match thing.kind:
            case "field":
                found = schema.field(thing.id)
                return found.name if found else None
            case "choice":
                choice = schema.list(thing.among).get(thing.id) if schema.has_list(thing.among) else None
                return choice.name if choice else None
            case "type":
                return schema.type(thing.id).name if schema.has_type(thing.id) else None
            case "deck":
                return self.decks.get(thing.id)
            case "set":
                return self.sets.get(thing.id)
            case "mark":
                return self.marks.get(thing.id)
            case "run":
                return self.runs.get(thing.id)
        assert_never(thing.kind)


@dataclass(frozen=True)
class Meant:
    """A named entity of the game; a choice belongs to the list `among`."""

    kind: MeantKind
    id: str
    among: str = ""


@dataclass(frozen=True)
class Named:
    """A name in a query: `start` to `end` are its characters."""

    start: int
    end: int
    thing: Meant
