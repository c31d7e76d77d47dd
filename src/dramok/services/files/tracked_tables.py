"""Tracked tables: a file or an address that is read again on request or on a schedule; differences are shown
before they are imported.
"""

from __future__ import annotations

import hashlib
import logging
import threading
import time
from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import UTC, datetime
from pathlib import PurePath
from typing import Any
from urllib.parse import unquote

from dramok.core.problem import Problem
from dramok.formats.tables import ReadAs
from dramok.net import NotFetched, fetch, parts_of, read_file
from dramok.services.files.sheet_import import ImportPlan, Order, plan_import, write_import
from dramok.services.workspace import small_entities
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import Commit, Missing, Refused, Workspace
from dramok.store import Fetched, Key, Thing

MOST_ADDRESS = 1_000
LEAST_MINUTES = 1
MOST_MINUTES = 7 * 24 * 60
LOOK_EVERY = 5.0
CLOCK = "clock"


@dataclass(frozen=True)
class Allowed:
    """What tracked tables of a game may read: no address until `on`; private `hosts` by name only; files only
    if `files` is on.
    """

    on: bool = False
    hosts: tuple[str, ...] = ()
    files: bool = False


@dataclass(frozen=True)
class TrackedTable:
    """A tracked table and its last answer.

    `waiting`: the last answer was not imported yet. `problem`: why there is no answer.
    """

    source: Thing
    read_at: str | None
    problem: str | None
    waiting: bool


def allowed(workspace: Workspace, game_id: str) -> Allowed:
    held = workspace.store.outside(game_id)
    return Allowed(bool(held.get("on")), tuple(held.get("hosts", ())), bool(held.get("files")))


def allow(workspace: Workspace, game_id: str, wanted: Allowed) -> Allowed:
    """Switch requests on or off, and set the private hosts that are allowed.

    Not undoable: undo must not switch requests on. Raises Refused, Missing.
    """
    workspace.game(game_id)
    hosts = tuple(dict.fromkeys(host.strip().lower() for host in wanted.hosts if host.strip()))
    bad = next((host for host in hosts if len(host) > 200 or any(sign in host for sign in "/@ ?#")), None)
    if bad is not None or len(hosts) > 50:
        raise Refused(
            Problem(
                where="hosts",
                what=f"{(bad or 'this number of hosts')[:60]} can't be allowed",
                mend="write a host such as sheets.local or 127.0.0.1:8000",
            )
        )
    workspace.store.save_outside(game_id, {"on": wanted.on, "hosts": list(hosts), "files": wanted.files})
    return allowed(workspace, game_id)


def follow(
    workspace: Workspace,
    game_id: str,
    name: str,
    address: str,
    page: str,
    order: Mapping[str, Any] | None = None,
    minutes: int = 0,
    ident: str | None = None,
    key: Key | None = None,
) -> tuple[Commit, str]:
    """Track a table or change its settings; returns its id. `order` is how it is read (see `order_from`);
    `minutes` 0: on request only.

    Raises Refused, Missing.
    """
    address = address.strip()
    if not 1 <= len(address) <= MOST_ADDRESS:
        raise Refused(
            Problem(
                where="address",
                what="there is no address",
                mend="write a file's path, or an address that starts with https://",
            )
        )
    if "://" in address:
        try:
            parts_of(address)
        except NotFetched as error:
            raise Refused(error.problem) from error
    if minutes and not LEAST_MINUTES <= minutes <= MOST_MINUTES:
        raise Refused(
            Problem(
                where="minutes",
                what="that is not a valid interval",
                mend=f"write {LEAST_MINUTES} to {MOST_MINUTES:,} minutes, or 0",
            )
        )
    doc = {
        "name": small_entities.named("source", name or _name_of(address)),
        "address": address,
        "order": dict(order or {}),
        "minutes": minutes,
    }
    if ident is None:
        return small_entities.make(workspace, game_id, "source", doc, f"{doc['name']} followed", page, key)
    return small_entities.edit(workspace, game_id, "source", ident, doc, f"followed table {doc['name']}", page, key), ident


def unfollow(workspace: Workspace, game_id: str, ident: str, page: str, key: Key | None = None) -> Commit:
    name = small_entities.thing_of(workspace.game(game_id), "source", ident).name
    return small_entities.take_out(workspace, game_id, "source", [ident], f"{name} no longer followed", page, key)


def _name_of(address: str) -> str:
    if "://" not in address:
        return (PurePath(address).stem or "Table")[: small_entities.MOST_NAME]
    parts = parts_of(address)
    return (unquote(PurePath(parts.path).stem) or parts.hostname or "Table")[: small_entities.MOST_NAME]


def followed(workspace: Workspace, game: GameSnapshot) -> list[TrackedTable]:
    """The tracked tables of a game, by name."""
    found = []
    for source in game.of_kind("source"):
        held = workspace.store.fetched(source.id)
        waiting = held is not None and held.data is not None and held.data != held.taken
        found.append(
            TrackedTable(
                source,
                held.at if held else None,
                held.problem if held else None,
                waiting,
            )
        )
    return found


def read_again(workspace: Workspace, game_id: str, ident: str) -> Fetched:
    """Read a tracked table now and store the answer or the error. Raises Missing, Refused if it is not allowed."""
    source = small_entities.thing_of(workspace.game(game_id), "source", ident)
    address = str(source.doc["address"])
    may = allowed(workspace, game_id)
    is_address = "://" in address
    if is_address and not may.on:
        raise Refused(
            Problem(
                where="address",
                what="this game asks no other computer",
                mend="switch requests out on first, above the followed tables",
            )
        )
    if not is_address and not may.files:
        raise Refused(
            Problem(
                where="file",
                what="this game reads no files of this computer",
                mend="allow it first, above the followed tables",
            )
        )
    at = datetime.now(UTC).isoformat(timespec="seconds")
    problem, data = None, None
    try:
        data = fetch(address, may.hosts) if is_address else read_file(address)
    except NotFetched as error:
        problem = f"{error.problem.what}: {error.problem.mend}"
    # Someone may have imported the previous answer while this request ran.
    workspace.store.save_reading(ident, at, problem, data)
    return workspace.store.fetched(ident) or Fetched(ident, at, problem, data)


def order_from(source: Thing, wanted: Order | None = None) -> Order:
    """How to read a tracked table: as stored, or as `wanted` this once. It always updates."""
    held = source.doc.get("order") or {}
    order = wanted or Order(
        set_name=held.get("set_name"),
        set_id=held.get("set_id") or None,
        match=held.get("match", "code"),
        read=ReadAs(held.get("encoding"), held.get("delimiter"), held.get("sheet")),
        leave_out=frozenset(held.get("leave_out", ("gone",))),
        default_type=held.get("default_type"),
    )
    return order if order.match != "new" else replace(order, match="code")


def _answer(workspace: Workspace, source: Thing, reading: str = "") -> tuple[bytes, bytes | None]:
    """The last answer of a tracked table, and the version imported before.

    Raises Refused if it was not read, or is not the `reading` that the user saw (see `reading_of`).
    """
    held = workspace.store.fetched(source.id)
    if held is None or held.data is None:
        raise Refused(Problem(where=source.name, what="it was not read yet", mend="read it first"))
    if reading and reading != reading_of(held.data):
        raise Refused(Problem(where=source.name, what="it was read again since and says something else now", mend="look at what differs now"))
    return held.data, held.taken


def reading_of(data: bytes) -> str:
    """A short hash of an answer."""
    return _digest(data)[:20]


def differences_of(
    workspace: Workspace, game: GameSnapshot, ident: str, wanted: Order | None = None
) -> tuple[ImportPlan, str]:
    """What importing the last answer would change, and its hash. Raises Missing, Refused."""
    source = small_entities.thing_of(game, "source", ident)
    data, last = _answer(workspace, source)
    return plan_import(game, data, _file_of(source), order_from(source, wanted), last), reading_of(data)


def import_differences(
    workspace: Workspace,
    game_id: str,
    ident: str,
    page: str,
    wanted: Order | None = None,
    key: Key | None = None,
    reading: str = "",
) -> tuple[Commit, ImportPlan]:
    """Import the last answer as one op; with `reading`, only if it is that answer. Raises Missing, Refused."""
    source = small_entities.thing_of(workspace.game(game_id), "source", ident)
    data, last = _answer(workspace, source, reading)
    commit, plan = write_import(
        workspace, game_id, data, _file_of(source), page, order_from(source, wanted), key, last
    )
    workspace.store.save_taken(ident, data, commit.op.seq)
    return commit, plan


def mark_imported(workspace: Workspace, game_id: str, ident: str, reading: str = "") -> None:
    """Mark the last answer as imported without importing it. Raises Missing, Refused."""
    source = small_entities.thing_of(workspace.game(game_id), "source", ident)
    data, _ = _answer(workspace, source, reading)
    workspace.store.save_taken(ident, data, workspace.game(game_id).seq)


def _file_of(source: Thing) -> str:
    address = str(source.doc["address"])
    try:
        path = parts_of(address).path if "://" in address else address
    except NotFetched:
        path = ""
    return unquote(PurePath(path).name) or source.name


class TrackingScheduler:
    """Background task that polls tracked tables on their schedule; it imports nothing."""

    def __init__(self, workspace: Workspace) -> None:
        self._workspace = workspace
        self._stop = threading.Event()
        self._due: dict[str, float] = {}
        self._thread = threading.Thread(target=self._run, name=CLOCK, daemon=True)

    def start(self) -> None:
        self._thread.start()

    def stop(self) -> None:
        self._stop.set()

    def _run(self) -> None:
        while not self._stop.wait(LOOK_EVERY):
            try:
                self.look()
            except Exception:
                # An error with one table must not stop the polling of others.
                logging.getLogger(__name__).exception("followed tables were not all read")

    def look(self) -> list[str]:
        """Read the tables that are due; returns the ids of those with a new answer."""
        news = []
        for game in self._workspace.games():
            for source in game.of_kind("source"):
                minutes = int(source.doc.get("minutes") or 0)
                now = time.monotonic()
                if not minutes or now < self._due.setdefault(source.id, now + minutes * 60):
                    continue
                self._due[source.id] = now + minutes * 60
                before = self._workspace.store.fetched(source.id)
                try:
                    after = read_again(self._workspace, game.id, source.id)
                except (Refused, Missing):
                    continue
                if _digest(before.data if before else None) != _digest(after.data):
                    news.append(source.id)
        return news


def _digest(data: bytes | None) -> str:
    return hashlib.sha256(data or b"").hexdigest()
