"""Decks and odds on the command line."""

from __future__ import annotations

import json
from math import comb

import pytest

from tests.conftest import GAME
from tests.test_cli import run


def told(*args, code=0):
    return json.loads(run(*args, "--json", code=code))


def test_odds_without_a_game():
    found = told("odds", "--deck", 40, "--group", 3, "--hand", 4, "--draws", 1, "--turn", 4, "--at-least", 1)
    assert found["probability"] == pytest.approx(1 - comb(37, 8) / comb(40, 8), abs=1e-15)
    assert found["seen"] == 8 and len(found["curve"]) == 5
    later = told("odds", "--deck", 40, "--group", 3, "--hand", 4, "--draws", 1, "--turn", 4, "--at-least", 1, "--no-first-draw")  # fmt: skip
    assert later["probability"] == pytest.approx(1 - comb(37, 7) / comb(40, 7), abs=1e-15) and later["seen"] == 7  # fmt: skip
    both = told("odds", "--deck", 4, "--group", 1, "--group", 1, "--hand", 2, "--draws", 0, "--turn", 0)
    assert both["probability"] == pytest.approx(1 / 6) and [each["probability"] for each in both["groups"]] == [0.5, 0.5]  # fmt: skip
    either = told("odds", "--deck", 4, "--group", 1, "--group", 1, "--hand", 2, "--draws", 0, "--turn", 0, "--any")  # fmt: skip
    assert either["probability"] == pytest.approx(5 / 6)
    none = told("odds", "--deck", 4, "--group", 1, "--hand", 2, "--turn", 0, "--at-most", 0)
    assert none["probability"] == 0.5
    again = told("odds", "--deck", 4, "--group", 1, "--hand", 2, "--turn", 0, "--redraw", "whole-before")
    assert again["probability"] == 0.75
    more = told("odds", "--deck", 10, "--group", 1, "--hand", 1, "--draws", 1, "--turn", 2, "--extra", "2:3")
    assert more["probability"] == pytest.approx(0.6) and more["seen"] == 6
    cycle = told("odds", "--deck", 10, "--group", 1, "--hand", 5, "--turn", 2, "--reshuffle")
    assert cycle["probability"] == 1.0 and cycle["curve"][1] == pytest.approx(0.5)
    assert "about 1 game in 2" in run("odds", "--deck", 4, "--group", 2, "--hand", 1, "--turn", 0)


@pytest.mark.parametrize(
    ("args", "said"),
    [
        (("--deck", 4, "--group", 5), "5 cards in a deck of 4"),
        (("--deck", "many", "--group", 1), "not a number of cards"),
        (("--deck", 10**9, "--group", 1), "a deck of"),
        (("--deck", 4, "--group", -1), "-1 cards"),
        (("--deck", 4, "--group", 1, "--redraw", "sometimes"), "sometimes"),
        (("--deck", 4, "--group", 1, "--extra", "two"), "two"),
        (("--deck", 4, "--group", 1, "--at-least", 1, "--at-least", 2), "2 counts for 1 groups"),
        (("--deck", 4, "--group", 1, "--exactly", 1, "--at-most", 2), "at once"),
        (("--deck", 4, "--group", 1, "--reshuffle", "--turn", 0), "starts with turn 1"),
    ],
)
def test_impossible_odds_are_refused_with_a_fix(args, said):
    found = told("odds", *args, code=1)["error"]
    assert said in found["what"] and found["mend"]


def test_odds_of_a_deck(db):
    of = ("--game", GAME, "--deck", "Fern over Moss", "--db", db)
    found = told("odds", *of, "--group", "larch", "--turn", 3, "--no-first-draw")  # fmt: skip
    assert found["probability"] == pytest.approx(1 - comb(33, 7) / comb(36, 7))
    wrong = told("odds", *of, "--group", "hight > 3", code=1)["error"]
    assert wrong["where"].startswith("group 1") and wrong["what"] and wrong["mend"]
    missing = told("odds", "--game", GAME, "--deck", "Nothing", "--group", "larch", "--db", db, code=1)
    assert "no deck Nothing" in missing["error"]["what"]


def test_decks_are_checked_shown_imported_removed_and_created(db, tmp_path):
    of = ("--game", GAME, "--db", db)
    checked = told("deck", "check", *of, code=1)
    assert [(each["name"], each["legal"]) for each in checked] == [
        ("Fern over Moss", True),
        ("Hooks and Ribbons", True),
        ("Night Garden, draft", False),
    ]
    assert told("deck", "check", "fern over moss", *of)[0]["cards"] == 36
    shown = told("deck", "show", "Fern over Moss", *of)
    assert shown["sections"]["Main"]["RS-001"] == 3 and shown["curve"]["1"] == 12 and shown["words"] == 83
    for form in ("txt", "csv", "json"):
        path = tmp_path / f"list.{form}"
        run("deck", "export", "Fern over Moss", "--as", form, "--out", path, *of)
        assert "is there already" in run("deck", "export", "Fern over Moss", "--as", form, "--out", path, *of, code=1)  # fmt: skip
        made = told("deck", "import", path, "--name", f"From {form}", *of)
        assert (made["cards"], made["troubles"], made["legal"]) == (36, [], True)
        again = told("deck", "show", f"From {form}", *of)
        assert again["sections"] == shown["sections"]
    odd = tmp_path / "odd.txt"
    odd.write_text("3 Copper Larch Fern\n2 Lader Frond\n4 Nothing such\n")
    looked = told("deck", "import", odd, "--dry-run", *of)
    assert (looked["id"], looked["cards"], [each["taken"] for each in looked["troubles"]]) == (None, 5, [True, False])  # fmt: skip
    told("deck", "import", odd, "--into", "From txt", *of)
    assert told("deck", "show", "From txt", *of)["cards"] == 5
    odd.write_text("1 Copper Larch Fern\n")
    assert run("deck", "import", odd, "--into", "From csv", *of).startswith("1 card: From csv")
    assert "not legal in Duel, 1 card\n" in run("deck", "check", "From csv", *of, code=1)
    made = told("deck", "random", "--seed", 9, "--name", "Nine", *of)
    assert told("deck", "random", "--seed", 9, "--dry-run", *of)["cards"] == made["cards"]
    assert told("deck", "check", "Nine", *of)[0]["legal"]
    assert "no deck rules" in told("deck", "random", "--rules", "none", *of, code=1)["error"]["what"]
