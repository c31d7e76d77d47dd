"""What an import adds to the rules: card types, choice values, and fields for columns without one."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from pydantic import ValidationError

from dramok.core.cards.schema.ids import id_from, name_apart
from dramok.core.cards.sheets.schema_guess import GUESSED, field_document, list_document, with_values
from dramok.core.problem import Problem, fold
from dramok.core.rulebook import Rulebook
from dramok.core.rulebook.part_edit import amended, part_of
from dramok.services.workspace.workspace import Refused
from dramok.store import Change

MOST_TYPES = 20
MOST_VALUES = 500
NOT_IDS = {"code", "type", "set", "exists"}
"""Names of card columns, which no field may have as its id."""


@dataclass(frozen=True)
class Making:
    """What an import adds to the rules: fields by column (name, kind), card types by name, values by choice list."""

    fields: Mapping[int, tuple[str, str]] = field(default_factory=dict)
    types: tuple[str, ...] = ()
    values: Mapping[str, tuple[str, ...]] = field(default_factory=dict)


class Additions:
    """Adds to the documents of card types and choice lists, and validates the result."""

    def __init__(self, rulebook: Rulebook) -> None:
        self._before = rulebook
        self._document: dict[str, Any] = rulebook.model_dump(mode="json")
        self._types: list[dict[str, Any]] = [dict(each) for each in self._document["cards"]["types"]]
        self._lists: list[dict[str, Any]] = [dict(each) for each in self._document["cards"]["lists"]]
        self._by_name = {fold(each["name"]): each["id"] for each in self._types}

    def add_types(self, names: Sequence[str]) -> None:
        """Add card types that extend the first type without a parent."""
        root = next((each for each in self._types if not each.get("extends")), self._types[0])
        for name in names[:MOST_TYPES]:
            if fold(name) not in self._by_name:
                ident = id_from(name, {each["id"] for each in self._types}, "type")
                self._by_name[fold(name)] = ident
                self._types.append({"id": ident, "name": " ".join(name.split())[:60], "extends": root["id"], "fields": []})

    def type_called(self, name: str | None) -> str | None:
        """The id of a type that is given by name or id."""
        return self._by_name.get(fold(name), name) if name else name

    def add_values(self, values: Mapping[str, Sequence[str]]) -> None:
        """Add values to choice lists, by list id."""
        for each in self._lists:
            added = [name for name in values.get(each["id"], ()) if name.strip()][:MOST_VALUES]
            names = {fold(value["name"]) for value in each["values"] if not value.get("retired")}
            fresh = [" ".join(name.split())[:80] for name in dict.fromkeys(added) if fold(name) not in names]
            each["values"] = with_values(each["values"], fresh)

    def add_fields(self, fields: Mapping[int, tuple[str, str]], rows: Sequence[Sequence[str]], default: str | None) -> dict[int, str]:
        """Add a field for each column, (name, kind) by column, to the root type of `default` or to all root types.

        `rows` are the rows below the header. Returns the field id of each column. Raises Refused for an unknown kind.
        """
        homes = self._homes(default)
        made: dict[int, str] = {}
        for column, (name, kind) in fields.items():
            if kind not in GUESSED or not name.strip():
                raise Refused(Problem(where=name[:60] or "field", what=f"there is no kind of field {kind[:20]}", mend=f"choose one of {', '.join(GUESSED)}"))
            values = [row[column].strip() for row in rows if column < len(row) and row[column].strip()]
            document = self._field(name, kind, values)
            for home in homes:
                home["fields"] = [*home["fields"], document]
            made[column] = document["id"]
        return made

    def _homes(self, default: str | None) -> list[dict[str, Any]]:
        """The types that get new fields."""
        schema = self._before.cards
        homes = [each for each in self._types if not each.get("extends")]
        if not schema.has_type(default or ""):
            return homes
        root = default
        while (parent := schema.type(root or "").extends) is not None:
            root = parent
        return [each for each in homes if each["id"] == root] or homes

    def _field(self, name: str, kind: str, values: list[str]) -> dict[str, Any]:
        """The document of a new field; a choice gets a new list with the values."""
        fields = [each for one in self._types for each in one["fields"]]
        used = {each["id"] for each in fields} | NOT_IDS
        list_id = id_from(name, {each["id"] for each in self._lists}, "list") if kind == "choice" else ""
        called = [each["name"] for each in fields if not each.get("retired")]
        made = field_document(name_apart(" ".join(name.split()), called), kind, values, used, list_id)
        if kind == "choice":
            self._lists.append(list_document(made["name"], values, list_id))
        return made

    def rulebook(self) -> Rulebook:
        """The rulebook with all additions. Raises Refused if it is invalid."""
        after = self._document
        for part, documents in (("types", self._types), ("lists", self._lists)):
            for each in documents:
                after = amended(after, f"{part}/{each['id']}", each)
        try:
            return Rulebook.model_validate(after)
        except ValidationError as error:
            raise Refused(Problem(where="rules", what=str(error.errors()[0]["msg"])[:200], mend="give the new field another name or kind")) from error

    def changes(self, game: str, after: Rulebook) -> tuple[Change, ...]:
        """The changes of the game's rules that lead to `after`."""
        parts = [*(f"types/{each['id']}" for each in self._types), *(f"lists/{each['id']}" for each in self._lists)]
        texts = [(part, _text(self._before, part), _text(after, part)) for part in parts]
        return tuple(Change("game", game, part, before, text) for part, before, text in texts if before != text)


def _text(rulebook: Rulebook, part: str) -> str | None:
    document = part_of(rulebook, part)
    return None if document is None else json.dumps(document, ensure_ascii=False)
