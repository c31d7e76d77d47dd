"""A damaged game: listed apart with its reason, reverted to its last valid moment, backed up as it is."""

from __future__ import annotations

import io
import json
import sqlite3
import zipfile

import pytest
from fastapi.testclient import TestClient
from typer.testing import CliRunner

from dramok.cli import app
from dramok.server.app import create_app
from dramok.services import Damaged, Refused, Workspace, open_workspace
from dramok.services.cards.cells import CellEdit, write_cells
from dramok.services.files.archive import restore_game
from dramok.services.files.repair import damage_of, damaged_games, repair, rescue
from dramok.store import Change, open_store
from tests.conftest import GAME

ONE, TWO = f"c-{GAME}-rs-001", f"c-{GAME}-rs-002"
HERE = {"base_url": "http://127.0.0.1"}


def write(workspace: Workspace, card: str, field: str, typed: str):
    return write_cells(workspace, GAME, [CellEdit(card, field, typed)], workspace.game(GAME).seq, "one").commit


def behind_the_desk(db, *changes: Change) -> None:
    """Writes changes that no door lets through, as a fault of the program, or of another one, might."""
    store = open_store(db)
    with store.writing() as connection:
        store.commit(connection, GAME, "a fault", "one", changes)
    store.close()


def without_a_type(db) -> Change:
    with sqlite3.connect(db) as connection:
        rulebook = json.loads(
            connection.execute("SELECT rulebook FROM game WHERE id = ?", (GAME,)).fetchone()[0]
        )
    tool = next(each for each in rulebook["cards"]["types"] if each["id"] == "tool")
    return Change("game", GAME, "types/tool", json.dumps(tool), None)


def rows(db, text: str, *values: object) -> None:
    with sqlite3.connect(db) as connection:
        assert connection.execute(text, values).rowcount > 0


@pytest.fixture
def walked(db):
    """A game with two sound edits, then a fault, then one more edit; and what it was before the fault."""
    workspace = open_workspace(db)
    write(workspace, ONE, "cost", "7")
    last = write(workspace, TWO, "name", "Before the Fault")
    before = dict(workspace.game(GAME).cards)
    workspace.close()
    behind_the_desk(db, without_a_type(db))
    behind_the_desk(db, Change("card", ONE, "cost", "7", "8"))
    return db, last.op, before


def test_one_damaged_game_hides_none_of_the_others_and_says_why(walked):
    workspace = open_workspace(walked[0])
    shelf = {each.ident if isinstance(each, Damaged) else each.id: each for each in workspace.shelf()}
    assert set(shelf) == {"ribbon-season", "crowded-bed", "potting-shed"}
    assert isinstance(shelf[GAME], Damaged) and "card type tool is gone" in shelf[GAME].problem.what
    assert [each.id for each in workspace.games()] == ["crowded-bed", "potting-shed"]
    assert len(workspace.game("potting-shed").cards) == 60
    with pytest.raises(Damaged, match="tool is gone"):
        workspace.game(GAME)


def test_it_is_walked_back_to_its_last_sound_moment_and_the_journal_keeps_the_rest(walked):
    db, last, before = walked
    workspace = open_workspace(db)
    found = damage_of(workspace, GAME)
    assert (found.sound.seq, found.steps) == (last.seq, 2) and len(found.faults) == 17
    with pytest.raises(Refused, match="not its last sound moment"):
        repair(workspace, GAME, last.seq - 1)
    game = repair(workspace, GAME, found.sound.seq)
    assert {ident: dict(card.values) for ident, card in game.cards.items()} == {
        ident: dict(card.values) for ident, card in before.items()
    }
    assert game.rulebook.cards.has_type("tool") and not damaged_games(workspace)
    labels = [op.label for op in workspace.store.seqs_down(GAME)]
    assert labels[0].startswith("walked back to “") and labels[0].endswith(": name”")
    assert labels[1:3] == ["a fault"] * 2
    write(workspace, ONE, "cost", "3")
    assert open_workspace(db).game(GAME).cards[ONE].values["cost"] == 3
    with pytest.raises(Refused, match="is sound"):
        repair(workspace, GAME, last.seq)


@pytest.mark.parametrize("garbage", ["{", "[]", "", '{"cost": {"lines": 3}}', "\x00"])
def test_an_unreadable_document_is_rebuilt_from_the_journal(db, garbage):
    workspace = open_workspace(db)
    write(workspace, ONE, "cost", "7")
    before = dict(workspace.game(GAME).cards[ONE].values)
    workspace.close()
    rows(db, "UPDATE card SET doc = ? WHERE id = ?", garbage, ONE)
    workspace = open_workspace(db)
    with pytest.raises(Damaged):
        workspace.game(GAME)
    found = damage_of(workspace, GAME)
    assert found.sound is not None and found.faults
    game = repair(workspace, GAME, found.sound.seq)
    assert dict(game.cards[ONE].values) == before or found.steps > 0
    if not found.steps:
        assert found.rebuilt == (ONE,), "nothing was taken back"


def test_rules_that_are_no_json_have_no_way_back_and_hide_nothing(db):
    rows(db, "UPDATE game SET rulebook = '{' WHERE id = ?", GAME)
    workspace = open_workspace(db)
    assert len(workspace.games()) == 2
    found = damage_of(workspace, GAME)
    assert found.sound is None and found.faults[0].entity == "game"
    packed = zipfile.ZipFile(io.BytesIO(rescue(workspace, GAME)))
    assert "dramok.json" not in packed.namelist() and packed.read("rows/card.jsonl").count(b"\n") == 96


def test_its_backup_holds_the_current_rows_and_restores_the_last_valid_moment(walked):
    db, _, before = walked
    workspace = open_workspace(db)
    data = rescue(workspace, GAME)
    packed = zipfile.ZipFile(io.BytesIO(data))
    card = next(
        json.loads(line) for line in packed.read("rows/card.jsonl").splitlines() if ONE.encode() in line
    )
    assert json.loads(card["doc"])["cost"] == 8, "as it stands"
    restored = restore_game(workspace, data, "Rescued")
    assert sorted(dict(card.values).get("cost", 0) for card in restored.cards.values()) == sorted(
        dict(card.values).get("cost", 0) for card in before.values()
    )


def test_over_http_a_damaged_game_is_listed_explained_and_repaired(walked):
    client = TestClient(create_app(open_workspace(walked[0])), **HERE)
    listed = {each["id"]: each for each in client.get("/api/games").json()}
    assert "card type tool is gone" in listed[GAME]["damage"]["what"]
    assert listed["potting-shed"]["damage"] is None
    answer = client.get(f"/api/games/{GAME}/cards")
    assert (
        answer.status_code == 409
        and answer.json()["title"] == "damaged"
        and "go back to its last undamaged state" in answer.json()["mend"]
    )
    told = client.get(f"/api/games/{GAME}/damage").json()
    assert told["steps"] == 2 and told["faults"][0]["entity"] == "card"
    assert client.get(f"/api/games/{GAME}/rescue").content.startswith(b"PK")
    assert (
        client.post(f"/api/games/{GAME}/repair", json={"to": told["sound"]["seq"]}).json()["damage"] is None
    )
    assert client.get(f"/api/games/{GAME}/cards").json()["total"] == 96
    assert client.get("/api/games/no-such/damage").status_code == 404


def test_the_command_line_finds_damage_and_walks_back_after_asking(walked, tmp_path):
    db = str(walked[0])
    run = CliRunner().invoke
    found = run(app, ["check", "--db", db])
    assert (
        found.exit_code == 1
        and "It was sound 2 edits ago" in found.output
        and "2 games sound, 1 damaged." in found.output
    )
    assert json.loads(run(app, ["check", "--db", db, "--json"]).output)["damaged"][0]["steps"] == 2
    said_no = run(app, ["repair", "--db", db], input="n\n")
    assert said_no.exit_code == 1 and "1 left as they are" in said_no.output
    said_yes = run(app, ["repair", "--db", db], input="y\n")
    assert said_yes.exit_code == 0, said_yes.output
    assert (tmp_path / "own.before-repair.db").stat().st_size > 0
    assert run(app, ["check", "--db", db]).exit_code == 0
    assert "Nothing is damaged." in run(app, ["repair", "--db", db]).output
