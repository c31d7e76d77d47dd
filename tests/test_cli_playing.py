"""Matches on the command line: played from a script, by the thousand, and replayed; compiled and not."""

from __future__ import annotations

import json
import os
import shutil
import subprocess
import sys
from pathlib import Path
from random import Random

import pytest
from typer.testing import CliRunner

from dramok.cli import app
from dramok.core.engine.match_batch import RESULT, play_games
from dramok.services import open_workspace
from dramok.services.play.simulation import SimulationAsked, simulate
from dramok.workers.compiled_kernel import can_compile
from dramok.workers.kernel_process import play
from tests.conftest import SEED
from tests.core import generated

GAME = "ribbon-season"
DECKS = ["--deck", "Fern over Moss", "--deck", "Hooks and Ribbons"]


@pytest.fixture
def db(tmp_path, demo_file):
    return str(shutil.copy(demo_file, tmp_path / "play.db"))


def said(*words: str, code: int = 0):
    done = CliRunner().invoke(app, list(words))
    assert done.exit_code == code, done.output
    return done.output if code else done.stdout


def test_a_match_is_played_by_a_script_kept_and_played_again(db, tmp_path):
    script = tmp_path / "moves.txt"
    script.write_text("# keep the hand, end every phase\n" + "Done\n" + "End Tending\n" * 40)
    kept = tmp_path / "kept.json"
    options = ["play", "--game", GAME, *DECKS, "--seed", "7", "--db", db, "--json"]
    script.write_text("Done\nEnd Tending\n1\n")
    found = json.loads(said(*options, "--script", str(script), "--save", str(kept)))
    assert found["seed"] == 7 and found["decisions"][0] == ["done", -1, -1] and len(found["events"]) > 10
    again = json.loads(said("replay", str(kept), "--json"))
    assert again["holds"] and again["events"] == found["events"]
    assert [each["event"] for each in again["record"]][:2] == ["shuffled", "shuffled"] and len(again["record"]) == len(again["events"])
    assert "Tending begins" in said("replay", str(kept))
    broken = json.loads(kept.read_text())
    broken["decisions"].insert(2, ["fly", 1, -1])
    kept.write_text(json.dumps(broken))
    assert "It can't be replayed from decision 3 on" in said("replay", str(kept), code=1)
    kept.write_text('{"form": "other"}')
    assert "not a kept match" in said("replay", str(kept), code=1)
    script.write_text("Dance\n")
    assert "is not an option now" in said(*options[:-1], "--script", str(script), code=1)
    watched = ["play", "--game", "potting-shed", "--seats", "3", "--seed", "8", "--db", db]
    assert "has won in turn" in said(*watched, "--own-player", "simple") and json.loads(said(*watched, "--own-player", "simple", "--json"))["over"]
    assert "there is no automatic player nobody" in said(*watched, "--own-player", "nobody", code=1)


def test_games_by_the_thousand_have_one_digest_on_any_number_of_threads(db):
    options = ["simulate", "--game", GAME, *DECKS, "--games", "60", "--seed", "5", "--db", db, "--json"]
    one, two = (json.loads(said(*options, "--threads", threads)) for threads in ("1", "2"))
    assert (
        one["digest"] == two["digest"]
        and one["wins"] == two["wins"]
        and sum(one["wins"]) + one["draws"] + one["runaways"] == 60
    )
    assert one["compiled"] is can_compile() and one["runaways"] == 0 and 4 <= one["turns"]["50"] <= 40
    random_decks = json.loads(
        said("simulate", "--game", GAME, "--random-decks", "--games", "40", "--db", db, "--json")
    )
    assert sum(random_decks["wins"]) == 40
    assert "seat 1 won" in said(*options[:-1])

DECISIONS = RESULT.index("decisions")


@pytest.mark.skipif(not can_compile(), reason="llvmlite is not installed")
def test_the_compiled_and_the_plain_kernel_play_the_same_games(db):
    """The same rows for made-up games of all three players: pure and compiled."""
    dice = Random(f"compiled {SEED}")
    decks = [[dice.randrange(4) for _ in range(12)] for _ in range(3)]
    pairs = [[dice.randrange(3), dice.randrange(3)] for _ in range(8)]
    order: dict = {"decks": decks, "seed": SEED, "threads": 1}

    def compiled(player: str, *games: int) -> dict:
        """Games of one player on each side, one batch each: a game's chance is that of its number."""
        return play({**order, "players": [player] * 2, "pairs": [pairs[game] for game in games], "first": games[0]})

    # Some generated games need thousands of decisions, which takes minutes, most of all for the player who looks ahead: a shorter one is used.
    # Where the plain player ends soon, the one who looks ahead mostly does as well.
    for _ in range(24):
        while (program := generated.program(dice)).seats != 2 or len(program.cards) < 4:
            pass
        order |= {"numbers": program.numbers}
        decisions, short = min((row[DECISIONS], place) for place, row in enumerate(compiled("plain", *range(8))["results"]))
        if decisions < 80 and compiled("ahead", short)["results"][0][DECISIONS] < 80:
            break
    else:
        pytest.fail(f"seed {SEED}: 24 made-up games without a short one")
    for player in ("random", "plain", "ahead"):
        found = compiled(player, short)
        assert found["compiled"]
        if found["results"][0][DECISIONS] >= 800:
            continue
        as_it_stands = play_games(program.numbers, decks, [pairs[short]], SEED, [player] * 2, first=short)
        assert (found["results"], found["tally"]) == (list(map(list, as_it_stands.results)), list(map(list, as_it_stands.tally))), f"seed {SEED}, {player}"


@pytest.mark.parametrize(
    ("words", "what"),
    [
        (["simulate", "--game", GAME, "--games", "5"], "which decks"), (["simulate", "--game", GAME, "--random-decks", "--player", "clever"], "no automatic player clever"),
        (["simulate", "--game", GAME, "--deck", "No Such"], "No Such"), (["simulate", "--game", GAME, "--random-decks", "--games", "9999999"], "can't be played at once"),
        (["play", "--game", GAME, "--player", "clever"], "no automatic player"), (["play", "--game", GAME, *DECKS, "--deck", "Fern over Moss"], "2 seats, and 3 decks"),
        (["replay", "nowhere.json"], "can't be read"),
    ],
)  # fmt: skip
def test_what_cannot_be_played_is_said_plainly(db, words, what):
    assert what in said(*words, *([] if words[0] == "replay" else ["--db", db]), code=1)


def test_better_players_win(db):
    """Random loses to plain by far, with seats swapped as well."""
    workspace = open_workspace(Path(db))
    game = workspace.game(GAME)
    first = simulate(game, SimulationAsked(100, 3, (), ("plain", "random")))
    second = simulate(game, SimulationAsked(100, 3, (), ("random", "plain")))
    workspace.close()
    assert first.wins[0] >= 80 and second.wins[1] >= 80


def test_the_compiler_is_not_imported_to_play_at_the_table():
    code = "import sys, dramok.core.engine, dramok.services.play.playtests, dramok.server.app; assert 'llvmlite' not in sys.modules and 'numpy' not in sys.modules"
    assert subprocess.run([sys.executable, "-c", code]).returncode == 0


def test_a_game_from_the_deck_builder_template_simulates_at_once_with_any_number_of_seats(tmp_path):
    db = tmp_path / "shop.db"
    done = CliRunner().invoke(app, ["new", "Corner Shop", "--template", "deck-builder", "--db", str(db)])
    assert done.exit_code == 0, done.output
    for seats in (1, 2, 3, 4):
        done = CliRunner().invoke(app, ["simulate", "--game", "corner-shop", "--db", str(db), "--games", "6", "--seats", str(seats), "--json"])
        assert done.exit_code == 0, done.output
        found = json.loads(done.stdout)
        assert len(found["wins"]) == len(found["scores"]) == seats and sum(found["wins"]) + found["draws"] + found["runaways"] == 6
        assert all(list(lines) == ["Points"] for lines in found["scores"]) and sum(found["purchases"].values()) > 0
    done = CliRunner().invoke(app, ["simulate", "--game", "corner-shop", "--db", str(db), "--seats", "5"])
    assert done.exit_code != 0
    done = CliRunner().invoke(app, ["simulate", "--game", "corner-shop", "--db", str(db), "--random-decks"])
    assert done.exit_code != 0 and "everyone begins with the same deck" in done.output
    done = CliRunner().invoke(app, ["play", "--game", "corner-shop", "--db", str(db), "--seats", "3", "--seed", "4", "--script", os.devnull, "--json"])
    assert done.exit_code == 0 and json.loads(done.stdout)["seats"] == 3
