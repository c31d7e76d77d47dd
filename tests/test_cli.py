"""The command line: the same use cases as the page."""

from __future__ import annotations

import json
import os
import sqlite3
import subprocess
import sys
from contextlib import closing

import pytest
from typer.testing import CliRunner

from dramok.cli import COMMANDS, app
from dramok.services import open_workspace
from dramok.services.faces.face_plans import PlanEdit, edit_plan
from tests.conftest import GAME, SAMPLES

SHEET = str(SAMPLES / "draft-sheet.csv")


def run(*args, code=0):
    result = CliRunner().invoke(app, [str(arg) for arg in args])
    assert result.exit_code == code, result.output
    return result.output


def test_import_accounts_for_every_row_and_writes_only_when_asked(db):
    looked = json.loads(run("import", SHEET, "--game", GAME, "--dry-run", "--json", "--db", db))
    assert (
        looked["rows"],
        looked["taken"],
        len(looked["skipped"]),
        len(looked["refused"]),
        looked["written"],
    ) == (52, 47, 4, 1, False)
    assert looked["refused"][0] | {"others": []} == {
        "row": 9, "column": "BED", "value": "Breir", "why": "“Breir” is not among its values", "mend": "did you mean Briar?", "near": "Briar", "others": [],
    }  # fmt: skip
    assert (
        "52 rows: 48 to import, 0 left out, 4 no cards; 48 cards added as the new set Draft three (DT)."
        in run("import", SHEET, "--game", GAME, "--set", "Draft three", "--accept-near", "--db", db)
    )
    assert len(json.loads(run("price", "--game", GAME, "--json", "--db", db))["cards"]) == 96 + 48


def test_price_lines_sum_and_check_lists_what_is_wrong(db):
    priced = json.loads(run("price", "--game", GAME, "--card", "rs-016", "--json", "--db", db))
    assert (
        sum(line["points"] for line in priced["lines"]) == priced["worth"] - priced["budget"] == 1.0
        and priced["verdict"] == "over"
    )
    said = run("price", "--game", GAME, "--card", "RS-016", "--db", db).splitlines()
    assert said[0] == "RS-016 The Unfolding: worth 13.5 - budget 12.5 = +1 (over)"
    assert said[3] == "        +3  draw 2  (taking cards: 3)"
    found = json.loads(run("check", "--game", GAME, "--json", "--db", db))["findings"]
    assert {f["thing"] for f in found} == {
        "Night Garden, draft",
    }


def test_impossible_requests_are_refused_with_a_fix(db, tmp_path):
    (tmp_path / "not.db").write_text("plain text, no database")
    (tmp_path / "empty.csv").write_text("")
    assert "its games are: ribbon-season" in run("price", "--game", "nowhere", "--db", db, code=1)
    assert "has no card XX" in run("price", "--game", GAME, "--card", "XX", "--db", db, code=1)
    assert (
        json.loads(run("import", tmp_path / "none.csv", "--game", GAME, "--db", db, "--json", code=1))[
            "error"
        ]["mend"]
        == "check the path"
    )
    assert "the file is empty" in run("import", tmp_path / "empty.csv", "--game", GAME, "--db", db, code=1)
    assert "is not a Dramok database" in run("check", "--game", GAME, "--db", tmp_path / "not.db", code=1)


def test_the_proof_ends_with_a_code_that_says_whether_it_found_something(db):
    assert "96 faces looked through, 0 faults." in run("proof", "--game", GAME, "--db", db)
    workspace = open_workspace(db)
    plan = f"f-{GAME}-tool"
    edit_plan(workspace, GAME, plan, PlanEdit({"name": {"width": 12.0}}), workspace.game(GAME).seq, "one")
    workspace.close()
    found = json.loads(run("proof", "--game", GAME, "--json", "--db", db, code=1))
    assert (
        found["looked"] == 96
        and set(found["counts"]) == {"overflow"}
        and found["cards"][0]["faults"][0]["place"] == "name"
    )
    assert "0 faults" in run("proof", "--game", GAME, "--query", "type is Plant", "--db", db)
    run("proof", "--game", "none", "--db", db, code=1)


def test_a_file_that_is_not_there_is_begun_by_those_alone_that_put_something_into_it(tmp_path, db):
    (tmp_path / "in").mkdir()
    none = tmp_path / "in" / "none.db"
    for words in (["games"], ["price", "--game", GAME], ["rename", GAME, "Other"], ["check"], ["put-away", GAME], ["backup", "a.zip", "--game", GAME], ["import", SHEET, "--game", GAME]):
        assert f"there is no file {none}" in run(*words, "--db", none, code=1)
        assert json.loads(run(*words, "--json", "--db", none, code=1))["error"]["mend"]
        assert list(none.parent.iterdir()) == [], f"{words} leaves nothing behind"
    archive = tmp_path / "kept.zip"
    run("backup", archive, "--game", GAME, "--db", db)
    run("restore", archive, "--db", none)
    assert "Ribbon Season" in run("games", "--db", none)
    run("new", "Harbour Rows", "--db", tmp_path / "second.db")
    assert "Harbour Rows" in run("games", "--db", tmp_path / "second.db")


def typed(*words: bytes | str) -> tuple[int, str]:
    """What a terminal gets that types these words, some of them bytes that are no text."""
    done = subprocess.run([sys.executable, "-m", "dramok", *words], capture_output=True, check=False, env={**os.environ, "COLUMNS": "100"})
    return done.returncode, (done.stdout + done.stderr).decode()


def test_bytes_that_are_no_text_are_refused_and_files_may_be_called_so(tmp_path, db):
    before = open_workspace(db)
    stood = [game.id for game in before.games()]
    before.close()
    for words in (["put-away", b"Fern\xff"], ["new", b"\xffFern"], ["rename", GAME, b"Fe\xc3rn"], ["price", "--game", GAME, "--card", b"\xed\xa0\x80"]):
        code, said = typed(*words, "--db", db)
        assert code == 1 and "holds bytes that are no UTF-8" in said and "fix: " in said and "Traceback" not in said, said
    code, said = typed("put-away", b"Fern\xff", "--json", "--db", db)
    assert code == 1 and json.loads(said)["error"]["mend"]
    # A folder whose name is not valid text is reported in JSON as well.
    os.mkdir(os.fsencode(tmp_path) + b"/Folder \xff")
    code, said = typed("new", "Mine", "--from", os.fsencode(tmp_path) + b"/Folder \xff", "--json", "--db", db)
    assert code == 1 and "Folder \ufffd can't be read" in json.loads(said)["error"]["what"]
    odd = os.fsencode(tmp_path) + b"/Barges \xff.csv"
    with open(odd, "wb") as file:
        file.write(b"Name,Cost\nOld Barge,1\n")
    code, said = typed("import", odd, "--game", GAME, "--db", db)
    assert code == 0 and "1 card added as the new set Barges \ufffd" in said, said
    after = open_workspace(db)
    assert [game.id for game in after.games()] == stood
    assert after.game(GAME).sets[-1].name == "Barges \ufffd"
    after.close()


def test_a_file_that_another_program_keeps_locked_is_waited_for_with_a_word_and_then_refused(db):
    with closing(sqlite3.connect(db, isolation_level=None)) as other:
        assert other.execute("PRAGMA journal_mode = DELETE").fetchone() == ("delete",)
        other.execute("BEGIN EXCLUSIVE")
        said = run("check", "--game", GAME, "--db", db, code=1)
        assert said.startswith(f"opening {db}…\n") and f"another program holds {db}" in said and "fix: stop the other program" in said
        other.execute("ROLLBACK")
    assert "RS-001" in run("price", "--game", GAME, "--card", "RS-001", "--db", db)


def test_the_overview_lists_every_command_with_its_own_help():
    """The table that `--help` prints without importing the commands says what they say."""
    import typer

    program = typer.main.get_command(app)
    found = {name: " ".join((each.help or "").split("\n\n")[0].split()) for name, each in program.commands.items()}
    assert found == {name: about for name, (_, about) in COMMANDS.items()}
    assert list(found)[:31] == [name for name in COMMANDS if name != "deck"]


def test_the_overview_imports_nothing_that_is_slow():
    code = "import sys\nsys.argv = ['dramok', '--help']\nfrom dramok.cli import main\ntry:\n    main()\nexcept SystemExit as end:\n    assert end.code == 0\nassert not {'typer', 'pydantic', 'sqlalchemy', 'fastapi'} & set(sys.modules)"
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True)
    assert done.returncode == 0 and "put-away" in done.stdout, done.stderr[-400:]


@pytest.mark.parametrize("name", {module: name for name, (module, _) in COMMANDS.items()}.values())
def test_a_command_needs_only_its_own_module(name):
    """In a process of its own: another command's module would be found by chance."""
    code = f"import sys\nfrom dramok.cli import command_of\ncommand_of({name!r})\nprint(*sorted(each for each in sys.modules if each.startswith('dramok.cli.')))"
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True)
    loaded = {each.rpartition(".")[2] for each in done.stdout.split()}
    assert done.returncode == 0 and loaded == {"overview", "context", COMMANDS[name][0]}, done.stderr[-400:]
