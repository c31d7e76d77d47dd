"""Data that is stored outside the journal: pictures, answers of tracked tables, jobs, playtests."""

from __future__ import annotations

import json
from collections.abc import Iterator, Mapping, Sequence
from contextlib import contextmanager
from typing import Any

from sqlalchemy import Connection, Engine
from sqlalchemy.exc import OperationalError
from sqlmodel import Session, col, select

from dramok.store.idempotency import Key, KeyReused
from dramok.store.records import (
    ArtFacts,
    ArtRecord,
    Fetched,
    JobRecord,
    PlaytestRecord,
)
from dramok.store.tables import (
    ArtRow,
    FetchedRow,
    GameRow,
    PlaytestRow,
)


class NotWritten(ValueError):
    """The file could not be written: another process holds it, or the disk is full. Nothing was written."""


class UnjournalledData:
    """A writable database, with the data that no edit creates."""

    def __init__(self, engine: Engine) -> None:
        self._engine = engine

    @contextmanager
    def writing(self) -> Iterator[Connection]:
        """A transaction that holds the file's write lock from its start; rolled back on any error.

        Raises NotWritten if the file cannot be written: another process holds it, or the disk is full.
        """
        try:
            with self._engine.connect().execution_options(writing=True) as connection, connection.begin():
                yield connection
        except OperationalError as error:
            said = str(error.orig)
            if any(sign in said for sign in ("locked", "busy", "full", "readonly", "disk I/O")):
                raise NotWritten(said) from error
            raise

    def save_art(self, art: ArtRecord) -> None:
        """Store a picture; storing the same picture again changes nothing."""
        with self.writing() as connection:
            connection.exec_driver_sql(
                "INSERT OR IGNORE INTO art (sha, media, width, height, drawn, data) VALUES (?, ?, ?, ?, ?, ?)",
                (art.sha, art.media, art.width, art.height, art.drawn, art.data),
            )

    def art(self, sha: str) -> ArtRecord | None:
        with Session(self._engine) as session:
            row = session.get(ArtRow, sha)
            return ArtRecord(row.sha, row.media, row.width, row.height, row.drawn, row.data) if row else None

    def art_facts(self, shas: Sequence[str]) -> list[ArtFacts]:
        """Facts about the pictures that exist."""
        wanted = json.dumps(list(dict.fromkeys(shas)))
        with self._engine.connect() as connection:
            rows = connection.exec_driver_sql(
                "SELECT sha, media, width, height, length(data) FROM art WHERE sha IN (SELECT value FROM json_each(?))",
                (wanted,),
            ).all()
        return [ArtFacts(*row) for row in rows]

    def fetched(self, source: str) -> Fetched | None:
        with Session(self._engine) as session:
            row = session.get(FetchedRow, source)
            return (
                Fetched(row.source, row.at, row.problem, row.data, row.taken, row.taken_seq) if row else None
            )

    def save_reading(self, source: str, at: str, problem: str | None, data: bytes | None) -> None:
        """Store the answer of a tracked table.

        Without `data` the previous answer stays; what was imported is not touched.
        """
        with self.writing() as connection:
            connection.exec_driver_sql(
                "INSERT INTO fetched (source, at, problem, data, taken_seq) VALUES (?, ?, ?, ?, 0) ON CONFLICT (source) DO UPDATE"
                " SET at = excluded.at, problem = excluded.problem, data = coalesce(excluded.data, data)",
                (source, at, problem, data),
            )

    def save_taken(self, source: str, data: bytes, seq: int) -> None:
        """Record what was imported of a tracked table by op `seq`; newer answers stay."""
        with self.writing() as connection:
            connection.exec_driver_sql(
                "UPDATE fetched SET taken = ?, taken_seq = ? WHERE source = ?", (data, seq, source)
            )

    def outside(self, game: str) -> dict[str, Any]:
        """What a game's tracked tables may read: `on`, and the private `hosts` that its owner allows."""
        with Session(self._engine) as session:
            row = session.get(GameRow, game)
            held: dict[str, Any] = json.loads(row.outside) if row else {}
            return held

    def save_outside(self, game: str, allowed: Mapping[str, Any]) -> None:
        with self.writing() as connection:
            connection.exec_driver_sql(
                "UPDATE game SET outside = ? WHERE id = ?", (json.dumps(allowed), game)
            )

    def add_job(self, job: JobRecord) -> JobRecord:
        """Insert a job; if one with the same key exists, return that one."""
        with self.writing() as connection:
            if job.key is not None:
                known = connection.exec_driver_sql(
                    "SELECT id, game, asked FROM job WHERE key = ?", (job.key.text,)
                ).first()
                if known is not None:
                    if known[1] != job.game or (known[2] and job.key.asked and known[2] != job.key.asked):
                        raise KeyReused(job.key.text)
                    return self._job(connection, str(known[0])) or job
            text, asked = job.key or (None, "")
            connection.exec_driver_sql(
                'INSERT INTO job (id, game, kind, title, "order", state, at, key, asked) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)',
                (
                    job.id,
                    job.game,
                    job.kind,
                    job.title,
                    json.dumps(dict(job.order)),
                    job.state,
                    job.at,
                    text,
                    asked,
                ),
            )
        return job

    def job(self, ident: str) -> JobRecord | None:
        with self._engine.connect() as connection:
            return self._job(connection, ident)

    def jobs(
        self, game: str | None = None, states: Sequence[str] = (), newest: int = 1_000
    ) -> list[JobRecord]:
        """Jobs of a game, or of all games, in these states or in any: newest first."""
        asked, values = f"SELECT {_JOB} FROM job WHERE 1", []
        if game is not None:
            asked, values = f"{asked} AND game = ?", [game]
        if states:
            asked += f" AND state IN ({', '.join('?' * len(states))})"
            values += states
        with self._engine.connect() as connection:
            rows = connection.exec_driver_sql(
                f"{asked} ORDER BY at DESC, rowid DESC LIMIT ?", (*values, newest)
            ).all()
        return [_job(row) for row in rows]

    def set_job(self, ident: str, state: str, among: Sequence[str], **values: Any) -> bool:
        """Set a job's state and other columns, if it is in one of the states `among`; returns whether it was."""
        written = {"state": state, **values}
        names = ", ".join(f"{name} = ?" for name in written)
        marks = ", ".join("?" * len(among))
        with self.writing() as connection:
            done = connection.exec_driver_sql(
                f"UPDATE job SET {names} WHERE id = ? AND state IN ({marks})",
                (*written.values(), ident, *among),
            )
            return bool(done.rowcount)

    def remove_job(self, ident: str) -> None:
        with self.writing() as connection:
            connection.exec_driver_sql("DELETE FROM job WHERE id = ?", (ident,))

    @staticmethod
    def _job(connection: Connection, ident: str) -> JobRecord | None:
        row = connection.exec_driver_sql(f"SELECT {_JOB} FROM job WHERE id = ?", (ident,)).first()
        return _job(row) if row else None

    def save_playtest(self, record: PlaytestRecord) -> None:
        """Write a playtest, new or continued."""
        with self.writing() as connection:
            connection.exec_driver_sql(
                "INSERT INTO playtest (id, game, deck, deck_name, seed, program, decisions, at, key, asked)"
                " VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)"
                " ON CONFLICT (id) DO UPDATE SET decisions = excluded.decisions, key = excluded.key, asked = excluded.asked",
                (
                    record.id,
                    record.game,
                    record.deck,
                    record.deck_name,
                    record.seed,
                    record.program,
                    json.dumps(record.decisions),
                    record.at,
                    *(record.key or (None, "")),
                ),
            )

    def playtest(self, ident: str) -> PlaytestRecord | None:
        with Session(self._engine) as session:
            row = session.get(PlaytestRow, ident)
            return _playtest(row) if row else None

    def playtest_with_key(self, key: Key, game: str) -> PlaytestRecord | None:
        """The playtest whose latest write used a key. Raises KeyReused if it was another request."""
        with Session(self._engine) as session:
            row = session.exec(select(PlaytestRow).where(PlaytestRow.key == key.text)).first()
        if row is None:
            return None
        if row.game != game or (row.asked and key.asked and row.asked != key.asked):
            raise KeyReused(key.text)
        return _playtest(row)

    def playtests(self, game: str, newest: int | None = 20) -> list[PlaytestRecord]:
        """The latest playtests of a game, or all."""
        with Session(self._engine) as session:
            rows = session.exec(
                select(PlaytestRow)
                .where(PlaytestRow.game == game)
                .order_by(col(PlaytestRow.at).desc())
                .limit(newest)
            ).all()
            return [_playtest(row) for row in rows]


_JOB = 'id, game, kind, title, "order", state, at, ended, file, bytes, result'


def _job(row: Any) -> JobRecord:
    ident, game, kind, title, order, state, at, ended, file, size, result = row
    return JobRecord(
        ident, game, kind, title, json.loads(order), state, at, ended, file, size, json.loads(result) if result else None
    )  # fmt: skip


def _playtest(row: PlaytestRow) -> PlaytestRecord:
    decisions = tuple((str(what), *(int(each) for each in named)) for what, *named in json.loads(row.decisions))
    key = Key(row.key, row.asked) if row.key else None
    return PlaytestRecord(
        row.id, row.game, row.deck, row.deck_name, row.seed, row.program, decisions, row.at, key
    )
