"""Games on the command line: created, listed, renamed, duplicated, put away, brought back."""

from __future__ import annotations

import json

import pytest

from dramok.services import open_workspace
from tests.test_cli import run

SHEET = "Title,Clan,Price,Power,What it does,Count\nIron Fox,Smiths,3,2,Draws a card when it is played.,x2\nLark,Grove,1,,,1\n"


@pytest.fixture
def own(tmp_path):
    """An empty database."""
    open_workspace(tmp_path / "own.db", demo=False).close()
    return tmp_path / "own.db"


@pytest.fixture
def sheet(tmp_path):
    path = tmp_path / "fox forge.csv"
    path.write_text(SHEET)
    return path


def told(*args, code=0):
    return json.loads(run(*args, "--json", code=code))


def test_a_game_is_begun_from_a_sheet_and_tells_what_was_guessed(own, sheet):
    made = told("new", "Fox Forge", "--from", sheet, "--db", own)
    assert (made["id"], made["cards"], made["types"], made["refused"]) == ("fox-forge", 2, ["Card"], [])
    assert made["roles"] == {
        "name": "title", "cost": "price", "rarity": None, "faction": "clan", "effect": "effect", "printed": "what-it-does", "tags": None,
        "copies": "count", "damage_limit": None, "stats": ["power"],
    }  # fmt: skip
    assert [(each["heading"], each["kind"], each["role"]) for each in made["guessed"]] == [
        ("Title", "text", "name"), ("Clan", "choice", "faction"), ("Price", "number", "cost"), ("Power", "number", "stat"),
        ("What it does", "effect", None), ("Count", "number", "copies"),
    ]  # fmt: skip
    assert {each["name"] for each in made["fields"]} >= {"Title", "Clan", "Price", "Power", "Count"}
    said = run("new", "Second", "--from", sheet, "--db", own)
    assert "Second is created as second: 2 cards." in said and "Price: cost" in said


@pytest.mark.parametrize("shape", ["duel", "builder", "placement", "solo", "plain", None])
def test_a_game_is_begun_of_every_shape_and_priced_printed_and_checked_like_any_other(own, tmp_path, shape):
    made = told("new", "Mine", *(["--shape", shape] if shape else []), "--db", own)
    assert made["guessed"] == [] and (made["cards"] > 7) == bool(shape)
    assert told("check", "--db", own)
    priced = told("price", "--game", "mine", "--db", own)
    assert len(priced["cards"]) == made["cards"]
    if shape:
        run("print", tmp_path / "p.pdf", "--game", "mine", "--db", own)
        assert (tmp_path / "p.pdf").read_bytes()[:5] == b"%PDF-"


def test_games_are_listed_renamed_doubled_put_away_and_brought_back(own):
    assert "no games yet" in run("games", "--db", own)
    assert told("games", "--db", own) == []
    run("new", "One", "--shape", "plain", "--db", own)
    run("rename", "one", "The One", "--db", own)
    copy = told("duplicate", "one", "--db", own)
    rules = told("duplicate", "one", "--rules-only", "--name", "Rules", "--db", own)
    assert (copy["name"], copy["cards"], rules["cards"]) == ("The One 2", 8, 0)
    assert told("put-away", "one", "--db", own)["away"] is True
    assert [each["name"] for each in told("games", "--db", own)] == ["The One 2", "Rules"]
    assert [each["name"] for each in told("games", "--all", "--db", own)] == ["The One", "The One 2", "Rules"]
    assert "is back" in run("bring-back", "one", "--db", own)
    assert len(told("games", "--db", own)) == 3


def test_the_demo_games_are_put_into_a_database_once(own):
    run("new", "Mine", "--shape", "duel", "--db", own)
    assert told("demo", "--fill", "--db", own) == {"added": ["ribbon-season", "crowded-bed", "potting-shed"]}
    assert told("demo", "--fill", "--db", own) == {"added": []}
    workspace = open_workspace(own, demo=False)
    assert [each.name for each in workspace.games()] == ["Mine", "Ribbon Season", "Crowded Bed", "Potting Shed"]
    workspace.close()


@pytest.mark.parametrize(
    ("args", "said"),
    [
        (["new", ""], "needs a name"), (["new", "x" * 500], "500 characters"), (["new", "Mine", "--shape", "chess"], "no template called"), (["new", "Mine", "--from", "gone.csv"], "can't be read"),
        (["rename", "gone", "X"], "no game called"), (["duplicate", "gone"], "no game called"), (["put-away", "gone"], "no game called"), (["bring-back", "gone"], "no game called"),
    ],
)  # fmt: skip
def test_impossible_requests_are_refused_with_a_fix_and_leave_nothing(own, args, said):
    error = told(*args, "--db", own, code=1)["error"]
    assert said in error["what"] and error["mend"]
    assert told("games", "--db", own) == []


def test_a_sheet_and_a_shape_together_are_one_too_many(own, sheet):
    assert (
        "leave one"
        in told("new", "Mine", "--from", sheet, "--shape", "duel", "--db", own, code=1)["error"]["mend"]
    )


def test_lines_that_cannot_be_cards_are_reported(own, tmp_path):
    path = tmp_path / "codes.csv"
    path.write_text("Code,Name,Cost\nA-1,One,1\nA-2,Two,2\n,Three,3\n")
    made = told("new", "Codes", "--from", path, "--db", own)
    assert made["cards"] == 3 and made["refused"] == []
    workspace = open_workspace(own, demo=False)
    assert sorted(card.code for card in workspace.game("codes").cards.values())[:2] == ["A-1", "A-2"]
    workspace.close()


def test_every_shape_is_named_in_the_help():
    from dramok.services.games.games import SHAPES

    said = " ".join(run("new", "--help").split())
    assert all(shape in said for shape in SHAPES)
