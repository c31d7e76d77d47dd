"""Edits as data: an op and its changes, and how each change is written to the tables."""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping, Sequence
from typing import Any, Literal, NamedTuple

from sqlalchemy import Connection

from dramok.core.cards import Card
from dramok.core.rulebook.amend import amended

EXISTS = "exists"
COLUMNS = {"code": "code", "set": "set_id", "type": "type"}
THINGS = ("view", "mark", "note", "source", "layout", "picture", "plan", "run")


OpKind = Literal["edit", "undo", "redo", "passed", "kept", "founding"]
"""What an op is to undo: an `edit` that can be undone; an `undo` or `redo` of another; `passed`, which leaves an op that no
longer can be undone as it is; `kept` (pictures brought, runs printed: they change no card) and `founding` are never undone."""


class Change(NamedTuple):
    """`entity` is card, deck, set, game, or the kind of a thing (`THINGS`). `before` and `after` are JSON text, None where the thing or field is absent.

    Field `exists` makes or retires the thing; its value holds the whole of it. `deck` fields are `name` and `card/ID`; `game` fields are the parts of its rulebook, as `types/ID` (see `rulebook.amend`). Fields of a thing are the keys of its document.
    `card` is a card just made, so that nobody has to read it back from `after`; it is not stored.
    """

    entity: str
    id: str
    field: str
    before: str | None
    after: str | None
    card: Card | None = None


class Op(NamedTuple):
    seq: int
    game: str
    label: str
    page: str
    inverse_of: int | None
    at: str
    kind: OpKind = "edit"
    asked: str = ""


OP_COLUMNS = "seq, game, label, page, inverse_of, at, kind, asked"


def write_changes(connection: Connection, game: str, seq: int, changes: Sequence[Change]) -> None:
    """Writes the changes and the new state that follows from them."""
    if not changes:
        return
    connection.exec_driver_sql(
        "INSERT INTO change (op, entity, entity_id, field, before, after) VALUES (?, ?, ?, ?, ?, ?)",
        [(seq, *change[:5]) for change in changes],
    )
    made = [change for change in changes if change.field == EXISTS]
    for entity, write in (
        ("set", _make_sets),
        ("card", _make_cards),
        ("deck", _make_decks),
    ):
        write(connection, game, seq, [change for change in made if change.entity == entity])
    _make_things(connection, game, seq, [change for change in made if change.entity in THINGS])
    by_thing: dict[tuple[str, str], list[Change]] = {}
    for change in changes:
        if change.field != EXISTS:
            by_thing.setdefault((change.entity, change.id), []).append(change)
    for (entity, ident), edits in by_thing.items():
        EDITS[entity](connection, seq, ident, edits)


def _make_sets(connection: Connection, game: str, seq: int, changes: Iterable[Change]) -> None:
    for change in changes:
        if change.after is None:
            connection.exec_driver_sql("UPDATE card_set SET retired = 1 WHERE id = ?", (change.id,))
            continue
        made = json.loads(change.after)
        connection.exec_driver_sql(
            "INSERT INTO card_set (id, game, name, code, pattern, back, retired) VALUES (?, ?, ?, ?, ?, ?, 0)"
            " ON CONFLICT (id) DO UPDATE SET retired = 0, name = excluded.name, code = excluded.code,"
            " pattern = excluded.pattern, back = excluded.back",
            (change.id, game, made["name"], made["code"], made.get("pattern", ""), _text(made.get("back"))),
        )


def _make_cards(connection: Connection, game: str, seq: int, changes: Sequence[Change]) -> None:
    """Cards come into being (or back) straight from the changes just written; the rest is retired."""
    gone = [(seq, change.id) for change in changes if change.after is None]
    if gone:
        connection.exec_driver_sql(
            "UPDATE card SET retired = 1, revision = revision + 1, seq = ? WHERE id = ?", gone
        )
    connection.exec_driver_sql(
        "INSERT INTO card (id, game, set_id, code, type, doc, revision, seq, retired)"
        " SELECT entity_id, ?, after ->> '$.set', after ->> '$.code', after ->> '$.type', after -> '$.values',"
        " coalesce(after ->> '$.revision', 0) + 1, op, 0"
        " FROM change WHERE op = ? AND entity = 'card' AND field = 'exists' AND after IS NOT NULL"
        " ON CONFLICT (id) DO UPDATE SET retired = 0, set_id = excluded.set_id, code = excluded.code, type = excluded.type,"
        " doc = excluded.doc, revision = excluded.revision, seq = excluded.seq",
        (game, seq),
    )


def _make_decks(connection: Connection, game: str, seq: int, changes: Iterable[Change]) -> None:
    for change in changes:
        if change.after is None:
            connection.exec_driver_sql("UPDATE deck SET retired = 1, seq = ? WHERE id = ?", (seq, change.id))
            continue
        made = json.loads(change.after)
        connection.exec_driver_sql(
            "INSERT INTO deck (id, game, name, doc, seq, retired) VALUES (?, ?, ?, ?, ?, 0)"
            " ON CONFLICT (id) DO UPDATE SET retired = 0, name = excluded.name, doc = excluded.doc, seq = excluded.seq",
            (change.id, game, made["name"], json.dumps(made["cards"]), seq),
        )


def _make_things(connection: Connection, game: str, seq: int, changes: Sequence[Change]) -> None:
    gone = [(seq, change.id) for change in changes if change.after is None]
    if gone:
        connection.exec_driver_sql("UPDATE thing SET retired = 1, seq = ? WHERE id = ?", gone)
    made = [(change.id, game, change.entity, change.after, seq) for change in changes if change.after]
    if made:
        connection.exec_driver_sql(
            "INSERT INTO thing (id, game, kind, doc, seq, retired) VALUES (?, ?, ?, ?, ?, 0)"
            " ON CONFLICT (id) DO UPDATE SET retired = 0, doc = excluded.doc, seq = excluded.seq",
            made,
        )


def _text(value: object) -> str | None:
    return None if value is None else json.dumps(value)


def _edit_card(connection: Connection, seq: int, ident: str, edits: Sequence[Change]) -> None:
    row = connection.exec_driver_sql("SELECT doc, code, set_id, type FROM card WHERE id = ?", (ident,)).one()
    doc = json.loads(row.doc)
    columns = {"code": row.code, "set_id": row.set_id, "type": row.type}
    for edit in edits:
        if edit.field in COLUMNS:
            columns[COLUMNS[edit.field]] = json.loads(edit.after or '""')
        elif edit.after is None:
            doc.pop(edit.field, None)
        else:
            doc[edit.field] = json.loads(edit.after)
    connection.exec_driver_sql(
        "UPDATE card SET doc = ?, code = ?, set_id = ?, type = ?, revision = revision + 1, seq = ? WHERE id = ?",
        (
            json.dumps(doc, ensure_ascii=False),
            columns["code"],
            columns["set_id"],
            columns["type"],
            seq,
            ident,
        ),
    )


def _edit_deck(connection: Connection, seq: int, ident: str, edits: Sequence[Change]) -> None:
    row = connection.exec_driver_sql("SELECT name, doc FROM deck WHERE id = ?", (ident,)).one()
    name, cards = row.name, json.loads(row.doc)
    for edit in edits:
        if edit.field == "name":
            name = json.loads(edit.after or '""')
        elif edit.after is None:
            cards.pop(edit.field.removeprefix("card/"), None)
        else:
            cards[edit.field.removeprefix("card/")] = json.loads(edit.after)
    connection.exec_driver_sql(
        "UPDATE deck SET name = ?, doc = ?, seq = ? WHERE id = ?", (name, json.dumps(cards), seq, ident)
    )


def _edit_set(connection: Connection, seq: int, ident: str, edits: Sequence[Change]) -> None:
    for edit in edits:
        value = json.loads(edit.after) if edit.after is not None else None
        column = {"name": "name", "code": "code", "pattern": "pattern", "back": "back"}[edit.field]
        connection.exec_driver_sql(
            f"UPDATE card_set SET {column} = ? WHERE id = ?",
            (_text(value) if column == "back" else value or "", ident),
        )


def _edit_thing(connection: Connection, seq: int, ident: str, edits: Sequence[Change]) -> None:
    doc = json.loads(connection.exec_driver_sql("SELECT doc FROM thing WHERE id = ?", (ident,)).scalar_one())
    connection.exec_driver_sql(
        "UPDATE thing SET doc = ?, seq = ? WHERE id = ?", (json.dumps(with_edits(doc, edits)), seq, ident)
    )


def with_edits(doc: Mapping[str, Any], edits: Iterable[Change]) -> dict[str, Any]:
    """A thing's document after edits of its keys."""
    after = dict(doc)
    for edit in edits:
        if edit.after is None:
            after.pop(edit.field, None)
        else:
            after[edit.field] = json.loads(edit.after)
    return after


def _edit_game(connection: Connection, seq: int, ident: str, edits: Sequence[Change]) -> None:
    text = connection.exec_driver_sql("SELECT rulebook FROM game WHERE id = ?", (ident,)).scalar_one()
    document = json.loads(text)
    for edit in edits:
        document = amended(document, edit.field, json.loads(edit.after) if edit.after is not None else None)
    connection.exec_driver_sql(
        "UPDATE game SET rulebook = ? WHERE id = ?", (json.dumps(document, ensure_ascii=False), ident)
    )


EDITS = {
    "card": _edit_card,
    "deck": _edit_deck,
    "set": _edit_set,
    "game": _edit_game,
    **dict.fromkeys(THINGS, _edit_thing),
}
