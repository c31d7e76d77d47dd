"""The tables of editable entities: which column holds which key of a document, for reading and writing."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from sqlalchemy import Connection

from dramok.core.journal import ENTITIES, THINGS


@dataclass(frozen=True)
class Relation:
    """`columns`: by key of the document, its column; `documents` are those that hold JSON.

    If there is a column `whole`, it holds the whole document; the keys in `beside` are also stored in a column
    of their own, so that they can be listed without parsing it. `counted`: rows count their revisions; `dated`:
    they store the op that last changed them.
    """

    name: str
    columns: Mapping[str, str] = field(default_factory=dict)
    documents: tuple[str, ...] = ()
    whole: str = ""
    beside: tuple[str, ...] = ()
    counted: bool = False
    dated: bool = True

    @property
    def every(self) -> tuple[str, ...]:
        return (self.whole, *self.beside) if self.whole else tuple(self.columns.values())

    def read(self, row: Mapping[str, Any]) -> dict[str, Any]:
        """The document of a row. Raises ValueError for invalid JSON."""
        if self.whole:
            return dict(json.loads(row[self.whole]))
        return {
            key: (json.loads(row[column]) if row[column] is not None else None)
            if column in self.documents
            else row[column]
            for key, column in self.columns.items()
        }

    def write(self, document: Mapping[str, Any]) -> list[Any]:
        """The values of `every` column for a document."""
        if self.whole:
            return [
                json.dumps(document, ensure_ascii=False),
                *(document.get(key) or 0 for key in self.beside),
            ]
        return [self._value(column, document.get(key)) for key, column in self.columns.items()]

    def _value(self, column: str, value: Any) -> Any:
        if column in self.documents:
            return None if value is None else json.dumps(value, ensure_ascii=False)
        return "" if value is None else value


SETS = Relation(
    "card_set",
    {"name": "name", "code": "code", "pattern": "pattern", "back": "back"},
    documents=("back",),
    dated=False,
)
CARDS = Relation(
    "card",
    {"set": "set_id", "code": "code", "type": "type", "values": "doc"},
    documents=("doc",),
    counted=True,
)
DECKS = Relation("deck", whole="doc", beside=("name",))
DOCUMENTS = Relation("thing", whole="doc")
RULES = Relation("game", whole="rulebook", beside=("name", "away"), dated=False)

RELATIONS: Mapping[str, Relation] = {
    "set": SETS, "card": CARDS, "deck": DECKS, "game": RULES, **dict.fromkeys(THINGS, DOCUMENTS),
}  # fmt: skip
"""The table of each entity."""


def make(connection: Connection, game: str, seq: int, entity: str) -> None:
    """Insert or restore the entities of the `exists` changes of op `seq`, directly from the changes just written."""
    table = RELATIONS[entity]
    columns = {column: f"after ->> '$.{key}'" for key, column in table.columns.items()}
    for column in table.documents:
        key = next(key for key, each in table.columns.items() if each == column)
        columns[column] = f"nullif(after -> '$.{key}', 'null')"
    if table.whole:
        columns = {table.whole: "after", **{key: f"after ->> '$.{key}'" for key in table.beside}}
    if table is DOCUMENTS:
        columns["kind"] = "entity"
    if table is SETS:
        columns["pattern"] = "coalesce(after ->> '$.pattern', '')"
    if table.counted:
        columns["revision"] = "coalesce(after ->> '$.revision', 0) + 1"
    if table.dated:
        columns["seq"] = "op"
    again = ", ".join(f"{column} = excluded.{column}" for column in columns)
    connection.exec_driver_sql(
        f"INSERT INTO {table.name} (id, game, retired, {', '.join(columns)})"
        f" SELECT entity_id, ?, 0, {', '.join(columns.values())} FROM change"
        " WHERE op = ? AND entity = ? AND field = 'exists' AND after IS NOT NULL"
        f" ORDER BY id ON CONFLICT (id) DO UPDATE SET retired = 0, {again}",
        (game, seq, entity),
    )


def retire(connection: Connection, seq: int, entity: str, ids: Sequence[str]) -> None:
    table = RELATIONS[entity]
    connection.exec_driver_sql(
        f"UPDATE {table.name} SET retired = 1{_moved(table)} WHERE id = ?",
        [(*([seq] if table.dated else []), ident) for ident in ids],
    )


def _moved(table: Relation) -> str:
    return (", revision = revision + 1" if table.counted else "") + (", seq = ?" if table.dated else "")


def held(connection: Connection, entity: str, ident: str) -> dict[str, Any]:
    """The document as the tables hold it."""
    table = RELATIONS[entity]
    row = connection.exec_driver_sql(
        f"SELECT {', '.join(table.every)} FROM {table.name} WHERE id = ?", (ident,)
    ).one()
    return table.read(dict(row._mapping))


def write(connection: Connection, seq: int, entity: str, ident: str, document: Mapping[str, Any]) -> None:
    table = RELATIONS[entity]
    columns = ", ".join(f"{column} = ?" for column in table.every)
    connection.exec_driver_sql(
        f"UPDATE {table.name} SET {columns}{_moved(table)} WHERE id = ?",
        (*table.write(document), *([seq] if table.dated else []), ident),
    )


assert RELATIONS.keys() == ENTITIES.keys(), "every entity has its table"
