"""The command line: tables, text tables, pictures and whole games exported and imported, with a message for every refusal and no file overwritten."""

from __future__ import annotations

import io
import json
import sqlite3
import zipfile

import pytest
from PIL import Image

from dramok.services import open_workspace
from dramok.services.files.exports import save_layout
from tests.conftest import GAME
from tests.test_cli import run


def png(colour: str = "#336699") -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (60, 80), colour).save(out, "PNG")
    return out.getvalue()


@pytest.mark.parametrize("ending", ["csv", "tsv", "xlsx", "json"])
def test_cards_go_to_a_table_of_each_format_and_come_back_unchanged(db, tmp_path, ending):
    out = tmp_path / f"cards.{ending}"
    said = json.loads(run("export", "--game", GAME, out, "--query", "bed is Moss", "--json", "--db", db))
    assert said["cards"] == 24 and said["bytes"] == out.stat().st_size and said["notes"] == []
    assert "24 cards written to" in run(
        "export", "--game", GAME, tmp_path / f"again.{ending}", "--query", "bed is Moss", "--db", db
    )
    back = json.loads(
        run("import", out, "--game", GAME, "--update", "code", "--dry-run", "--json", "--db", db)
    )
    assert back["refused"] == [] and back["rows"] == 24 and back["written"] is False
    assert not any(back["update"][what] for what in ("added", "changed"))


def test_an_existing_file_is_overwritten_only_on_request(db, tmp_path):
    out = tmp_path / "cards.csv"
    out.write_text("mine")
    refused = run("export", "--game", GAME, out, "--db", db, code=1)
    assert "--force" in refused and out.read_text() == "mine"
    run("export", "--game", GAME, out, "--force", "--db", db)
    assert out.read_text(encoding="utf-8-sig").startswith("Code,")
    assert "choose one of" in run("export", "--game", GAME, tmp_path / "cards.docx", "--db", db, code=1)
    assert not (tmp_path / "cards.docx").exists()
    wrong = json.loads(
        run(
            "export",
            "--game",
            GAME,
            tmp_path / "x.csv",
            "--query",
            "bed is Mosss",
            "--json",
            "--db",
            db,
            code=1,
        )
    )
    assert (
        wrong["error"]["what"] == "no bed is called Mosss" and wrong["error"]["mend"] == "did you mean Moss?"
    )


def test_a_saved_text_table_is_written_by_its_name(db, tmp_path):
    out = tmp_path / "labels.txt"
    assert "Labels for sleeves" in run(
        "export", "--game", GAME, out, "--layout", "Labels", "--db", db, code=1
    )
    run(
        "export",
        "--game",
        GAME,
        out,
        "--layout",
        "labels FOR sleeves",
        "--query",
        "rarity is Heirloom",
        "--db",
        db,
    )
    lines = out.read_text(encoding="utf-8").splitlines()
    assert lines[0] == "Label\tKind\tCost" and any("Wardian Trunk" in line for line in lines[1:])
    with_none = open_workspace(db)
    for each in with_none.game(GAME).of_kind("layout"):
        save_layout(with_none, GAME, {**each.doc, "name": "Other", "separator": "semicolon"}, "one")
    with_none.close()
    run("export", "--game", GAME, tmp_path / "other.csv", "--layout", "Other", "--db", db)
    assert (tmp_path / "other.csv").read_text(encoding="utf-8").startswith("Label;Kind;Cost")


def test_a_game_is_exported_whole_or_shared_and_imported_as_another_game(db, tmp_path):
    whole, shared = tmp_path / "whole.zip", tmp_path / "shared.zip"
    assert json.loads(run("backup", "--game", GAME, whole, "--json", "--db", db))["kind"] == "backup"
    assert "96 cards, written to" in run("backup", "--game", GAME, shared, "--shared", "--db", db)
    names = zipfile.ZipFile(shared).namelist()
    assert "prices.json" in zipfile.ZipFile(whole).namelist() and "prices.json" not in names
    other = tmp_path / "other.db"
    back = json.loads(run("restore", whole, "--name", "Second Season", "--json", "--db", other))
    assert (back["name"], back["cards"]) == ("Second Season", 96)
    assert "is there as" in run("restore", whole, "--db", other)
    workspace = open_workspace(other, demo=False)
    assert [each.name for each in workspace.games()] == ["Second Season", "Ribbon Season"] and len(
        {each.id for each in workspace.games()}
    ) == 2
    workspace.close()
    broken = tmp_path / "broken.zip"
    broken.write_bytes(whole.read_bytes()[:2000])
    told = json.loads(run("restore", broken, "--json", "--db", other, code=1))
    assert told["error"]["what"] and told["error"]["mend"]
    assert "mend" in run("restore", tmp_path / "none.zip", "--json", "--db", other, code=1)


def test_pictures_of_a_folder_a_zip_or_one_file_are_put_on_their_cards(db, tmp_path):
    workspace = open_workspace(db)
    from dramok.services.rules.card_types import write_type

    card = workspace.game(GAME).rulebook.cards.type("card").model_dump(mode="json")
    card["fields"].append({"name": "Art", "kind": "picture"})
    write_type(workspace, GAME, card, workspace.game(GAME).seq, "one")
    before = workspace.game(GAME).seq
    workspace.close()
    folder = tmp_path / "art"
    (folder / "deep").mkdir(parents=True)
    (folder / "Copper Larch Fern.png").write_bytes(png())
    (folder / "deep" / "RS-002.png").write_bytes(png("#993366"))
    (folder / "Ladder Frondd.png").write_bytes(png("#112233"))
    (folder / "notes.txt").write_text("no picture")
    looked = json.loads(run("import-pictures", folder, "--game", GAME, "--dry-run", "--json", "--db", db))
    assert (
        looked["written"] is False
        and len(looked["placed"]) == 3
        and looked["refused"][0]["file"] == "notes.txt"
    )
    workspace = open_workspace(db)
    game = workspace.game(GAME)
    with sqlite3.connect(db) as file:
        stored = file.execute("SELECT count(*) FROM art").fetchone()
    assert game.seq == before and not list(game.of_kind("picture")) and stored == (0,), "a dry run writes nothing"
    workspace.close()
    said = run("import-pictures", folder, "--game", GAME, "--db", db)
    assert "3 pictures brought, 2 put on cards." in said and "notes.txt:" in said
    workspace = open_workspace(db)
    held = [workspace.game(GAME).cards[f"c-{GAME}-rs-{number:03}"].text("art") for number in (1, 2, 3)]
    assert len(held[0]) == len(held[1]) == 64 and held[0] != held[1] and held[2] == ""
    workspace.close()
    packed = tmp_path / "art.zip"
    with zipfile.ZipFile(packed, "w") as archive:
        archive.writestr("RS-003.png", png("#445566"))
    assert "1 picture brought, 1 put on cards." in run("import-pictures", packed, "--game", GAME, "--db", db)
    assert "1 picture brought" in run(
        "import-pictures", folder / "Copper Larch Fern.png", "--game", GAME, "--db", db
    )
    assert "mend" in run(
        "import-pictures", tmp_path / "none.png", "--game", GAME, "--json", "--db", db, code=1
    )
