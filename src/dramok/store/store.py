"""One SQLite file: open, migrate, read and write."""

from __future__ import annotations

import json
import sqlite3
import threading
from collections.abc import Iterable, Iterator, Sequence
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from sqlalchemy import Connection, Engine, create_engine, event, func
from sqlalchemy.exc import OperationalError
from sqlmodel import Session, col, select

from dramok.store.games import Games
from dramok.store.idempotency import Key, KeyReused
from dramok.store.journal import OP_COLUMNS, Change, Op, OpKind, op_of, write_changes
from dramok.store.json_documents import card_from, deck_from
from dramok.store.migrate import migrate
from dramok.store.records import (
    Contents,
    GameRecord,
    RawGame,
    SetRecord,
    Thing,
    WholeGame,
)
from dramok.store.restore import write_whole
from dramok.store.tables import (
    ChangeRow,
    OpRow,
)
from dramok.store.text_index import plain


class NotADatabase(ValueError):
    """The file is not a Dramok database."""


class FileDamaged(NotADatabase):
    """The file was a Dramok database, but SQLite can't read it: another program wrote to it, or the disk lost data."""


class FileBusy(OSError):
    """Another program has locked the file for more than ten seconds."""


def open_store(path: Path) -> Store:
    """Open or create a database. Raises NotADatabase for another kind of file, FileDamaged (then or later) for
    a broken one.

    Raises FileBusy if another program keeps it locked, and migrate.CopyFailed if a migration could not start.
    """
    path.parent.mkdir(parents=True, exist_ok=True)
    if path.exists():
        with path.open("rb") as file:
            if file.read(15) not in (b"", b"SQLite format 3"):
                raise NotADatabase(f"{path} is not a Dramok database")
    engine = create_engine(f"sqlite:///{path}", connect_args={"check_same_thread": False, "timeout": 10})
    event.listen(engine, "connect", _prepare)
    event.listen(engine, "begin", _begin)
    event.listen(engine, "handle_error", _say_damaged)
    try:
        migrate(engine, path)
        return Store(engine, path)
    except OperationalError as error:
        engine.dispose()
        if getattr(error.orig, "sqlite_errorcode", None) in (sqlite3.SQLITE_BUSY, sqlite3.SQLITE_LOCKED):
            raise FileBusy(f"another program holds {path}") from error
        raise


def _prepare(connection: Any, _record: Any) -> None:
    connection.isolation_level = None
    for pragma in ("journal_mode = WAL", "foreign_keys = ON", "busy_timeout = 10000", "synchronous = FULL"):
        connection.execute(f"PRAGMA {pragma}")
    # SQLite's own lower() handles English letters only.
    connection.create_function("plain", 1, plain, deterministic=True)


def _say_damaged(context: Any) -> None:
    error = context.original_exception
    if isinstance(error, sqlite3.DatabaseError) and any(sign in str(error) for sign in ("malformed", "not a database")):
        raise FileDamaged(f"the file is damaged: {error}") from error


def _begin(connection: Connection) -> None:
    connection.exec_driver_sql(
        "BEGIN IMMEDIATE" if connection.get_execution_options().get("writing") else "BEGIN"
    )


class Store(Games):
    """Reads return whole documents; `commit` writes one op with its changes in one transaction."""

    def __init__(self, engine: Engine, path: Path) -> None:
        super().__init__(engine)
        self.path = path
        self._watch = engine.raw_connection()
        self._watching = threading.Lock()

    def close(self) -> None:
        self._watch.close()
        self._engine.dispose()

    def version(self) -> int:
        """A number that changes whenever anyone commits, including another process."""
        with self._watching:
            return int(self._watch.cursor().execute("PRAGMA data_version").fetchone()[0])

    def seqs(self) -> dict[str, int]:
        """The number of the latest op of each game that has one."""
        with Session(self._engine) as session:
            return {
                game: seq or 0
                for game, seq in session.exec(
                    select(OpRow.game, func.max(OpRow.seq)).group_by(OpRow.game)
                ).all()
            }

    def game_with_contents(self, game: str) -> tuple[GameRecord, Contents] | None:
        """A game and its content at one moment. Raises ValueError for a document that is not JSON.

        Plain SQL for speed: fifty games are read before the shelf is shown.
        """
        with self._engine.connect() as connection, connection.begin():

            def rows(asked: str) -> list[tuple[Any, ...]]:
                return [tuple(row) for row in connection.exec_driver_sql(asked, (game,))]

            found = rows("SELECT id, name, rulebook, away FROM game WHERE id = ?")
            if not found:
                return None
            ident, name, rules, away = found[0]
            return GameRecord(ident, name, rules, bool(away)), Contents(
                sets=[
                    SetRecord(ident, name, code, pattern, _plain(back))
                    for ident, name, code, pattern, back in rows(
                        "SELECT id, name, code, pattern, back FROM card_set WHERE game = ? AND retired = 0 ORDER BY rowid"
                    )
                ],
                cards=[
                    card_from(*row)
                    for row in rows(
                        "SELECT id, code, set_id, type, doc, revision, seq FROM card WHERE game = ? AND retired = 0 ORDER BY code, id"
                    )
                ],
                decks=[
                    deck_from(ident, doc, seq)
                    for ident, doc, seq in rows(
                        "SELECT id, doc, seq FROM deck WHERE game = ? AND retired = 0 ORDER BY name, id"
                    )
                ],
                things=[
                    Thing(kind, ident, json.loads(doc), seq)
                    for kind, ident, doc, seq in rows(
                        "SELECT kind, id, doc, seq FROM thing WHERE game = ? AND retired = 0"
                    )
                ],
                seq=int(rows("SELECT max(seq) FROM op WHERE game = ?")[0][0] or 0),
            )

    def raw(self, game: str) -> RawGame | None:
        """A game as its tables hold it; also works for a damaged one."""
        record = next((each for each in self.games() if each.id == game), None)
        if record is None:
            return None
        found: list[tuple[str, str, str | None]] = []
        with self._engine.connect() as connection:
            for entity, asked in _WHOLE.items():
                found += [
                    (kind or entity, ident, _composed(*rest))
                    for kind, ident, *rest in connection.exec_driver_sql(asked, (game,)).all()
                ]
            seq = connection.exec_driver_sql("SELECT max(seq) FROM op WHERE game = ?", (game,)).scalar()
        return RawGame(record, found, int(seq or 0))

    def rows_of(self, game: str) -> Iterator[tuple[str, list[dict[str, Any]]]]:
        """Every table with its raw rows of a game."""
        with self._engine.connect() as connection:
            for table, condition in _ROWS.items():
                rows = connection.exec_driver_sql(f"SELECT * FROM {table} WHERE {condition}", (game,))
                yield table, [dict(row) for row in rows.mappings()]

    def seqs_down(self, game: str) -> list[Op]:
        """Every op of a game, newest first."""
        with self._engine.connect() as connection:
            rows = connection.exec_driver_sql(
                f"SELECT {OP_COLUMNS} FROM op WHERE game = ? ORDER BY seq DESC", (game,)
            ).all()
        return [Op(*row) for row in rows]

    def copy_to(self, path: Path) -> None:
        """Copy the whole file; an existing target is replaced."""
        path.unlink(missing_ok=True)
        with self._engine.connect() as connection:
            connection.connection.execute("VACUUM INTO ?", (str(path),))

    def file_faults(self) -> list[str]:
        """The faults that SQLite finds in the file itself; empty if there are none."""
        with self._engine.connect() as connection:
            said = [str(row[0]) for row in connection.exec_driver_sql("PRAGMA quick_check").all()]
            loose = connection.exec_driver_sql("PRAGMA foreign_key_check").all()
        return [
            *(each for each in said if each != "ok"),
            *(f"a row of {row[0]} stands alone" for row in loose),
        ]

    def commit(
        self,
        connection: Connection,
        game: str,
        label: str,
        page: str,
        changes: Sequence[Change],
        inverse_of: int | None = None,
        key: Key | None = None,
        kind: OpKind = "edit",
    ) -> Op:
        """Write one op inside a `writing` transaction."""
        at = datetime.now(UTC).isoformat(timespec="milliseconds")
        text, asked = key or (None, "")
        cursor = connection.exec_driver_sql(
            "INSERT INTO op (game, label, page, inverse_of, at, key, kind, asked) VALUES (?, ?, ?, ?, ?, ?, ?, ?)",
            (game, label, page, inverse_of, at, text, kind, asked),
        )
        seq = int(cursor.lastrowid or 0)
        write_changes(connection, game, seq, changes)
        return Op(seq, game, label, page, inverse_of, at, kind, asked)

    @staticmethod
    def next_seq(connection: Connection) -> int:
        """The number of the next op: no one else writes during a `writing` transaction."""
        found = connection.exec_driver_sql("SELECT seq FROM sqlite_sequence WHERE name = 'op'").scalar()
        return int(found or 0) + 1

    def op_with_key(self, key: Key, game: str) -> Op | None:
        """The op that was written with a key. Raises KeyReused if it was another edit."""
        with self._engine.connect() as connection:
            row = connection.exec_driver_sql(
                f"SELECT {OP_COLUMNS} FROM op WHERE key = ?", (key.text,)
            ).first()
        if row is None:
            return None
        found = Op(*row)
        if found.game != game or (found.asked and key.asked and found.asked != key.asked):
            raise KeyReused(key.text)
        return found

    def game_with_key(self, key: Key) -> str | None:
        """The game that was restored or created with a key. Raises KeyReused if it was another edit."""
        with self._engine.connect() as connection:
            row = connection.exec_driver_sql(
                "SELECT game, asked, kind FROM op WHERE key = ?", (key.text,)
            ).first()
        if row is None:
            return None
        if row.kind != "founding" or (row.asked and key.asked and row.asked != key.asked):
            raise KeyReused(key.text)
        return str(row.game)

    def undoable(self, game: str, below: int, most: int) -> list[Op]:
        """The ops of a game below a number that undo considers, newest first."""
        with self._engine.connect() as connection:
            rows = connection.exec_driver_sql(
                f"SELECT {OP_COLUMNS} FROM op WHERE game = ? AND seq < ? AND kind NOT IN ('kept', 'founding')"
                " ORDER BY seq DESC LIMIT ?",
                (game, below, most),
            ).all()
        return [Op(*row) for row in rows]

    def ops(self, game: str, after: int = 0, newest: int = 1000) -> list[Op]:
        """The newest ops of a game after a number, oldest first."""
        with Session(self._engine) as session:
            query = (
                select(OpRow)
                .where(OpRow.game == game, col(OpRow.seq) > after)
                .order_by(col(OpRow.seq).desc())
                .limit(newest)
            )
            return [op_of(row) for row in reversed(session.exec(query).all())]

    def changes(self, op: int) -> list[Change]:
        with Session(self._engine) as session:
            rows = session.exec(select(ChangeRow).where(ChangeRow.op == op).order_by(col(ChangeRow.id))).all()
            return [Change(row.entity, row.entity_id, row.field, row.before, row.after) for row in rows]

    def journal(
        self,
        game: str,
        before: int | None = None,
        most: int = 100,
        text: str = "",
        thing: str = "",
        kind: str = "",
    ) -> list[tuple[Op, dict[str, int]]]:
        """Ops below a number, newest first, each with the number of changed entities by kind.

        `text` is searched in the label, ignoring case and accents; `thing` and `kind` select ops that changed
        that id or entity kind.
        """
        asked = "SELECT o.seq, o.game, o.label, o.page, o.inverse_of, o.at, o.kind FROM op o WHERE o.game = ? AND o.seq < ?"
        values: list[Any] = [game, before or 2**62]
        if text:
            asked += " AND instr(plain(o.label), plain(?))"
            values.append(text)
        if thing:
            asked += " AND EXISTS (SELECT 1 FROM change c WHERE c.op = o.seq AND c.entity_id = ?)"
            values.append(thing)
        if kind:
            asked += " AND EXISTS (SELECT 1 FROM change c WHERE c.op = o.seq AND c.entity = ?)"
            values.append(kind)
        with self._engine.connect() as connection:
            rows = connection.exec_driver_sql(f"{asked} ORDER BY o.seq DESC LIMIT ?", (*values, most)).all()
            counts: dict[int, dict[str, int]] = {row.seq: {} for row in rows}
            for seq in counts:
                for entity, count in connection.exec_driver_sql(
                    "SELECT entity, count(DISTINCT entity_id) FROM change WHERE op = ? GROUP BY entity",
                    (seq,),
                ):
                    counts[seq][entity] = count
        return [(Op(*row), counts[row.seq]) for row in rows]

    def op(self, seq: int) -> Op | None:
        with Session(self._engine) as session:
            row = session.get(OpRow, seq)
            return op_of(row) if row else None

    def changes_of(self, entity_id: str, most: int = 5_000) -> list[tuple[Op, Change]]:
        """The newest changes of one entity with their ops, oldest first."""
        with self._engine.connect() as connection:
            rows = connection.exec_driver_sql(
                "SELECT o.seq, o.game, o.label, o.page, o.inverse_of, o.at, o.kind, c.entity, c.entity_id, c.field, c.before, c.after"
                " FROM change c JOIN op o ON o.seq = c.op WHERE c.entity_id = ? ORDER BY c.op DESC, c.id DESC LIMIT ?",
                (entity_id, most),
            ).all()
        return [(Op(*row[:7]), Change(*row[7:])) for row in reversed(rows)]

    def changes_between(
        self, game: str, after: int, until: int | None = None, thing: str | None = None
    ) -> list[Change]:
        """Every change of the ops above `after`, up to `until`, in order.

        With `thing`, only those of that entity, the sets, the rules and the face plans.
        """
        asked = (
            "SELECT c.entity, c.entity_id, c.field, c.before, c.after FROM op o JOIN change c ON c.op = o.seq"
            " WHERE o.game = ? AND o.seq > ? AND o.seq <= ?"
        )
        values: list[Any] = [game, after, 2**62 if until is None else until]
        if thing is not None:
            asked += " AND (c.entity_id = ? OR c.entity IN ('game', 'set', 'plan'))"
            values.append(thing)
        with self._engine.connect() as connection:
            cursor = connection.exec_driver_sql(f"{asked} ORDER BY o.seq, c.id", tuple(values))
            return [Change(*row) for row in cursor.all()]

    def history(self, game: str) -> list[tuple[Op, list[Change]]]:
        """Every op of a game with its changes, oldest first."""
        with self._engine.connect() as connection:
            ops = connection.exec_driver_sql(
                "SELECT seq, game, label, page, inverse_of, at, kind FROM op WHERE game = ? ORDER BY seq",
                (game,),
            ).all()
            found: dict[int, tuple[Op, list[Change]]] = {row[0]: (Op(*row), []) for row in ops}
            changes = connection.exec_driver_sql(
                "SELECT c.op, c.entity, c.entity_id, c.field, c.before, c.after FROM change c JOIN op o ON o.seq = c.op"
                " WHERE o.game = ? ORDER BY c.op, c.id",
                (game,),
            ).all()
        for row in changes:
            found[row[0]][1].append(Change(*row[1:]))
        return list(found.values())

    def originals(self, shas: Sequence[str]) -> Iterator[tuple[str, str, bytes]]:
        """(SHA-256, media type, imported data) of pictures, as an iterator."""
        with self._engine.connect() as connection:
            for sha in shas:
                row = connection.exec_driver_sql("SELECT media, data FROM art WHERE sha = ?", (sha,)).first()
                if row is not None:
                    yield sha, row[0], row[1]

    def touched(self, after: int, game: str) -> set[tuple[str, str]]:
        """(entity, id) of everything changed by ops after a number."""
        with self._engine.connect() as connection:
            rows = connection.exec_driver_sql(
                "SELECT DISTINCT c.entity, c.entity_id FROM change c JOIN op o ON o.seq = c.op WHERE o.game = ? AND o.seq > ?",
                (game, after),
            ).all()
        return {(row[0], row[1]) for row in rows}

    def latest_change(self, entity_id: str, field: str, besides: str = "") -> int:
        """The number of the latest op by other pages that changed a field of an entity; 0 if there is none."""
        with self._engine.connect() as connection:
            found = connection.exec_driver_sql(
                "SELECT max(c.op) FROM change c JOIN op o ON o.seq = c.op"
                " WHERE c.entity_id = ? AND c.field IN (?, 'exists') AND o.page <> ?",
                (entity_id, field, besides),
            ).scalar()
        return int(found or 0)

    def any_used(self, card_ids: Iterable[str]) -> bool:
        """Whether any of these ids belongs to a card of any game, removed cards included."""
        with self._engine.connect() as connection:
            return any(
                connection.exec_driver_sql("SELECT 1 FROM card WHERE id = ?", (ident,)).first()
                for ident in card_ids
            )

    def restore(self, whole: WholeGame) -> None:
        """Write a whole game with its history in one transaction. Raises IdsTaken."""
        with self.writing() as connection:
            write_whole(connection, whole)

    def ids(self) -> set[str]:
        """Every id in use: games, sets, cards, decks, small entities and playtests, removed ones included."""
        with self._engine.connect() as connection:
            return {
                row[0]
                for table in ("game", "card_set", "card", "deck", "thing", "playtest")
                for row in connection.exec_driver_sql(f"SELECT id FROM {table}")
            }


def _plain(text: str | None) -> str | None:
    """JSON text in its in-memory form; unreadable text stays unchanged and is reported as damage."""
    try:
        return json.dumps(json.loads(text)) if text else None
    except ValueError:
        return text


_WHOLE = {
    "set": "SELECT NULL, id, NULL, json_object('name', name, 'code', code, 'pattern', pattern), back, NULL, NULL FROM card_set WHERE game = ? AND retired = 0 ORDER BY rowid",
    "card": "SELECT NULL, id, doc, NULL, NULL, json_object('code', code, 'set', set_id, 'type', type, 'revision', revision - 1), 'values' FROM card WHERE game = ? AND retired = 0",
    "deck": "SELECT NULL, id, doc, NULL, NULL, NULL, NULL FROM deck WHERE game = ? AND retired = 0",
    "thing": "SELECT kind, id, doc, NULL, NULL, NULL, NULL FROM thing WHERE game = ? AND retired = 0",
}
"""By entity: kind, id, and the parts of its document (see `_composed`)."""
_ROWS = {
    "game": "id = ?", "card_set": "game = ?", "card": "game = ?", "deck": "game = ?", "thing": "game = ?", "op": "game = ?",
    "change": "op IN (SELECT seq FROM op WHERE game = ?)", "playtest": "game = ?",
}  # fmt: skip


def _composed(
    doc: str | None, whole: str | None, back: str | None, around: str | None, place: str | None
) -> str | None:
    """A document in the form of an `exists` change, composed as text so that unreadable parts stay as they are."""
    if whole is not None:
        return f'{whole[:-1]}, "back": {back or "null"}}}'
    if around is not None and doc is not None:
        return f'{around[:-1]}, "{place}": {doc}}}'
    return doc
