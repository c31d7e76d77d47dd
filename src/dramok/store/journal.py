"""Ops and their changes as data, and how each change is written to the tables."""

from __future__ import annotations

import json
from collections.abc import Sequence
from typing import Any, Literal, NamedTuple, cast

from sqlalchemy import Connection

from dramok.core.cards import Card
from dramok.core.journal import ENTITIES, EXISTS, put
from dramok.store import rows
from dramok.store.tables import OpRow

OpKind = Literal["edit", "undo", "redo", "passed", "kept", "founding"]
"""The role of an op for undo:

`edit` can be undone; `undo` and `redo` invert another op; `passed` skips an op that can't be undone as it is;
`kept` (imported pictures, print runs: no card changes) and `founding` are never undone.
"""


class Change(NamedTuple):
    """One changed field. `entity` is one of `core.journal.ENTITIES`. `before` and `after` are JSON text, None
    if the entity or field is absent.

    Field `exists` creates or retires an entity; its value is the whole document. Fields of a `deck` are `name`
    and `card/ID`; those of a `game` are parts of its rulebook such as `types/ID` (see `rulebook.part_edit`);
    those of a small entity are the keys of its document. `card` is a card just created, kept to avoid parsing
    `after`; it is not stored.
    """

    entity: str
    id: str
    field: str
    before: str | None
    after: str | None
    card: Card | None = None

    @property
    def value(self) -> Any:
        """`after` parsed; None if absent."""
        return None if self.after is None else json.loads(self.after)


class Op(NamedTuple):
    seq: int
    game: str
    label: str
    page: str
    inverse_of: int | None
    at: str
    kind: OpKind = "edit"
    asked: str = ""


def op_of(row: OpRow) -> Op:
    """An op from its table row."""
    return Op(row.seq or 0, row.game, row.label, row.page, row.inverse_of, row.at, cast(OpKind, row.kind))


OP_COLUMNS = "seq, game, label, page, inverse_of, at, kind, asked"


def write_changes(connection: Connection, game: str, seq: int, changes: Sequence[Change]) -> None:
    """Write the changes and the resulting state."""
    if not changes:
        return
    connection.exec_driver_sql(
        "INSERT INTO change (op, entity, entity_id, field, before, after) VALUES (?, ?, ?, ?, ?, ?)",
        [(seq, *change[:5]) for change in changes],
    )
    gone: dict[str, list[str]] = {}
    made: set[str] = set()
    edited: dict[tuple[str, str], list[Change]] = {}
    for change in changes:
        if change.field != EXISTS:
            edited.setdefault((change.entity, change.id), []).append(change)
        elif change.after is None:
            gone.setdefault(change.entity, []).append(change.id)
        else:
            made.add(change.entity)
    for entity in ENTITIES:
        if entity in gone:
            rows.retire(connection, seq, entity, gone[entity])
        if entity in made:
            rows.make(connection, game, seq, entity)
    for (entity, ident), edits in edited.items():
        document = rows.held(connection, entity, ident)
        for edit in edits:
            document = put(entity, document, edit.field, edit.value)
        rows.write(connection, seq, entity, ident, document)
