"""Edits as data: an op and its changes, and how each change is written to the tables."""

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
"""What an op is to undo: an `edit` that can be undone; an `undo` or `redo` of another; `passed`, which leaves an op that no
longer can be undone as it is; `kept` (pictures brought, runs printed: they change no card) and `founding` are never undone."""


class Change(NamedTuple):
    """`entity` is one of `core.journal.ENTITIES`. `before` and `after` are JSON text, None where the thing or field is absent.

    Field `exists` makes or retires the thing; its value holds the whole of it. `deck` fields are `name` and `card/ID`; `game` fields are the parts of its rulebook, as `types/ID` (see `rulebook.amend`). Fields of a thing are the keys of its document.
    `card` is a card just made, so that nobody has to read it back from `after`; it is not stored.
    """

    entity: str
    id: str
    field: str
    before: str | None
    after: str | None
    card: Card | None = None

    @property
    def value(self) -> Any:
        """`after` read; None where it is absent."""
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
    """An op as the table holds it."""
    return Op(row.seq or 0, row.game, row.label, row.page, row.inverse_of, row.at, cast(OpKind, row.kind))


OP_COLUMNS = "seq, game, label, page, inverse_of, at, kind, asked"


def write_changes(connection: Connection, game: str, seq: int, changes: Sequence[Change]) -> None:
    """Writes the changes and the new state that follows from them."""
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
