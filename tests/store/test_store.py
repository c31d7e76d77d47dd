"""One file, several processes, older and foreign files."""

from __future__ import annotations

import json
import sqlite3
import subprocess
import sys

import pytest

from dramok.services import open_workspace
from dramok.store import Change, NotADatabase, migrate, open_store, read_values, write_values
from tests.conftest import GAME

WRITER = """
import sys, pathlib
from dramok.services import open_workspace
from dramok.services.cards.card_edits import edit_field
workspace = open_workspace(pathlib.Path(sys.argv[1])); page = sys.argv[2]
for number in range(30):
    desk_now = workspace.game("ribbon-season").seq
    edit_field(workspace, "ribbon-season", f"c-ribbon-season-rs-{int(sys.argv[3]) + number % 5:03}", "name", f"{page} {number}", 10**9, page)
"""


def test_two_processes_write_at_once_and_every_edit_is_kept(db):
    writers = [
        subprocess.Popen([sys.executable, "-c", WRITER, str(db), page, first])
        for page, first in (("one", "1"), ("two", "11"))
    ]
    assert [writer.wait() for writer in writers] == [0, 0]
    workspace = open_workspace(db)
    ops = workspace.store.ops(GAME)[1:]
    assert sorted(op.page for op in ops) == ["one"] * 30 + ["two"] * 30
    assert [workspace.game(GAME).cards[f"c-ribbon-season-rs-{n:03}"].text("name") for n in (5, 15)] == [
        "one 29",
        "two 29",
    ]
    workspace.close()


def test_a_transaction_that_fails_leaves_nothing(workspace):
    before = workspace.store.game_with_contents(GAME)
    with pytest.raises(RuntimeError), workspace.store.writing() as connection:
        workspace.store.commit(
            connection,
            GAME,
            "half",
            "one",
            [Change("set", "s2", "exists", None, json.dumps({"name": "Half", "code": "H"}))],
        )
        raise RuntimeError
    assert workspace.store.game_with_contents(GAME) == before


def test_a_code_is_taken_once_while_its_card_is_there(workspace):
    card = '{"code": "RS-001", "set": "first", "type": "plant", "values": {}}'
    with pytest.raises(Exception, match="has this code too"):
        workspace.commit(GAME, "twice", "one", lambda now: [Change("card", "c-new", "exists", None, card)])
    assert "c-new" not in workspace.game(GAME).cards


def test_a_file_is_copied_before_its_tables_change_and_foreign_files_are_left_alone(db, tmp_path):
    with sqlite3.connect(db) as connection:
        for table in ("fetched", "thing", "art", "job"):
            connection.execute(f"DROP TABLE {table}")
        connection.execute("ALTER TABLE game DROP COLUMN outside")
        connection.execute("ALTER TABLE game DROP COLUMN away")
        for part in ("prices", "formats"):
            connection.execute(f"ALTER TABLE game ADD COLUMN {part} VARCHAR NOT NULL DEFAULT ''")
            connection.execute(
                f"UPDATE game SET {part} = rulebook -> '$.{part}', rulebook = json_remove(rulebook, '$.{part}')"
            )
        connection.execute(
            "INSERT INTO game (id, name, rulebook, prices, formats) VALUES ('torn', 'Torn', '{', '{}', '[]')"
        )
        for column in ("pattern", "back"):
            connection.execute(f"ALTER TABLE card_set DROP COLUMN {column}")
        connection.execute("DROP INDEX playtest_key")
        for table, column in (("op", "kind"), ("op", "asked"), ("playtest", "key"), ("playtest", "asked")):
            connection.execute(f"ALTER TABLE {table} DROP COLUMN {column}")
        connection.execute("UPDATE op SET page = 'demo'")
        edit = connection.execute(
            "INSERT INTO op (game, label, page, at) VALUES (?, 'an edit', 'one', '')", (GAME,)
        ).lastrowid
        connection.execute(
            "INSERT INTO op (game, label, page, at) VALUES (?, 'a run', 'print runs', '')", (GAME,)
        )
        for inverse_of in (edit, edit + 2):
            connection.execute(
                "INSERT INTO op (game, label, page, at, inverse_of) VALUES (?, '', 'one', '', ?)",
                (GAME, inverse_of),
            )
        connection.execute("UPDATE deck SET doc = doc -> '$.cards'")
        connection.execute("UPDATE alembic_version SET version_num = '0001'")
    store = open_store(db)
    held = store.game_with_contents(GAME)[1]
    assert [each.pattern for each in held.sets] == ["RS-{n:03}"]
    decks = [("Fern over Moss", 36), ("Hooks and Ribbons", 36), ("Night Garden, draft", 18)]
    assert [(each.name, each.size) for each in held.decks] == decks
    kinds = [op.kind for op in store.ops(GAME)]
    assert kinds == ["founding", "edit", "kept", "undo", "redo"], (
        "what kind each op is follows from what it was"
    )
    rules = {each.id: each.rules for each in store.games()}
    assert (
        json.loads(rules[GAME])["prices"]["budgets"]
        and json.loads(rules[GAME])["formats"][0]["least_cards"] == 36
    )
    assert rules["torn"] == "{", "what cannot be read stays as it is"
    store.close()
    assert (tmp_path / "own.before-0007.db").stat().st_size > 0
    foreign = tmp_path / "letter.db"
    foreign.write_text("Dear designer, this is no database at all.")
    with pytest.raises(NotADatabase):
        open_store(foreign)
    assert foreign.read_text().startswith("Dear")


def test_values_come_back_as_they_went(game):
    for card in game.cards.values():
        assert read_values(write_values(card.values)) == dict(card.values)


KILLED = """
import os, sqlite3, sys
connection = sqlite3.connect(sys.argv[1])
connection.execute("PRAGMA journal_mode = WAL")
connection.execute("PRAGMA wal_autocheckpoint = 0")
connection.execute("UPDATE alembic_version SET version_num = '0006'")
for number in range(3_000):
    connection.execute("INSERT INTO op (game, label, page, at) VALUES ('ribbon-season', 'typed', 'one', '')")
connection.commit()
os.kill(os.getpid(), 9)
"""


def test_the_copy_before_a_migration_has_what_a_killed_server_left_in_its_log(db):
    """Edits that are in the write-ahead log alone: the file itself does not have them, the copy does. A copy of an earlier attempt stays."""
    plain = sqlite3.connect(db)
    before = plain.execute("SELECT count(*) FROM op").fetchone()[0]
    plain.close()
    subprocess.run([sys.executable, "-c", KILLED, str(db)], check=False)
    assert db.with_name(db.name + "-wal").stat().st_size > 100_000, "the edits are in the log"
    earlier = db.with_suffix(".before-0007.db")
    earlier.write_bytes(b"an earlier copy")
    store = open_store(db)
    store.close()
    copy = sqlite3.connect(db.with_suffix(".before-0007-2.db"))
    assert copy.execute("SELECT count(*) FROM op").fetchone()[0] == before + 3_000
    assert copy.execute("SELECT version_num FROM alembic_version").fetchone()[0] == "0006"
    assert copy.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
    copy.close()
    assert earlier.read_bytes() == b"an earlier copy"
    # The copy can be opened, and migrated itself.
    again = open_store(db.with_suffix(".before-0007-2.db"))
    assert {each.id for each in again.games()} == {each.id for each in open_store(db).games()}
    again.close()


def test_nothing_is_migrated_where_the_copy_can_not_be_made_whole(db, monkeypatch):
    """The database is as it was, and the half copy is gone."""
    connection = sqlite3.connect(db)
    connection.execute("UPDATE alembic_version SET version_num = '0006'")
    connection.commit()
    connection.close()
    counted = iter([{"op": 1}, {"op": 0}])
    monkeypatch.setattr(migrate, "_counted", lambda connection: next(counted))
    with pytest.raises(migrate.CopyFailed, match="before the migration"):
        open_store(db)
    monkeypatch.undo()
    assert not list(db.parent.glob("*.part")) and not list(db.parent.glob("*.before-*"))
    connection = sqlite3.connect(db)
    assert connection.execute("SELECT version_num FROM alembic_version").fetchone()[0] == "0006"
    connection.close()
