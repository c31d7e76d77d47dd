"""The command line: the same use cases as the page."""

from __future__ import annotations

import json

from typer.testing import CliRunner

from dramok.cli import app
from dramok.studio import open_desk
from dramok.studio.faceplans import PlanEdit, edit_plan
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
    ) == (52, 46, 4, 2, False)
    assert looked["refused"][0] | {"others": []} == {
        "row": 9, "column": "BED", "value": "Breir", "why": "“Breir” is not among its values", "mend": "did you mean Briar?", "near": "Briar", "others": [],
    }  # fmt: skip
    assert (
        "52 rows = 47 taken + 4 skipped + 1 refused; 47 cards added as the new set Draft three (DT)."
        in run("import", SHEET, "--game", GAME, "--set", "Draft three", "--accept-near", "--db", db)
    )
    assert len(json.loads(run("price", "--game", GAME, "--json", "--db", db))["cards"]) == 96 + 47


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


def test_what_cannot_be_done_is_said_with_a_mend(db, tmp_path):
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
    desk = open_desk(db)
    plan = f"f-{GAME}-tool"
    edit_plan(desk, GAME, plan, PlanEdit({"name": {"width": 12.0}}), desk.game(GAME).seq, "one")
    desk.close()
    found = json.loads(run("proof", "--game", GAME, "--json", "--db", db, code=1))
    assert (
        found["looked"] == 96
        and set(found["counts"]) == {"overflow"}
        and found["cards"][0]["faults"][0]["place"] == "name"
    )
    assert "0 faults" in run("proof", "--game", GAME, "--query", "type is Plant", "--db", db)
    run("proof", "--game", "none", "--db", db, code=1)
