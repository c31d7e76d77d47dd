"""Games: created in three ways, renamed, duplicated, put away, removed for good, and every part of their rules edited."""

from __future__ import annotations

import json
import os
import random
import signal
import sqlite3
import subprocess
import sys
import time
from hashlib import sha256

import pytest

from dramok.formats.own_fonts import read_font
from dramok.services import Conflict, Missing, Refused, open_workspace
from dramok.services.cards.card_detail import detail_of
from dramok.services.cards.cells import CellEdit, write_cells
from dramok.services.faces.own_files import store_font
from dramok.services.faces.pictures import store_picture
from dramok.services.files.archive import archive, restore_game
from dramok.services.games.first_steps import first_steps
from dramok.services.games.games import (
    SHAPES,
    SheetOptions,
    begin,
    create_game_from_sheet,
    duplicate,
    put_away,
    remove_for_good,
    remove_samples,
    rename_game,
    shapes,
)
from dramok.services.history.undo import redo, undo
from dramok.services.rules.rule_parts import PARTS, write_rules
from dramok.services.workspace.ids import is_of_samples
from dramok.services.workspace.invariants import faults_of
from tests.conftest import GAME, SEED
from tests.formats.fonts import made_font
from tests.services.test_pictures import picture

SHEET = (
    b"Card Title,Clan,Cost,Atk,What it does,Category,How many\n"
    b"Iron Fox,Smiths,3,2,When played draw a card,Beast,x2\n"
    b"Oak Wall,Grove,2,,Blocks.,Building,1\n"
    b"Lark,Grove,1,1,,Beast,3\n"
)
DEMO_WORDS = ("glasshouse", "ribbon", "mildew", "cistern", "fern", "orchid", "briar", "moss", "vigour", "cutting", "compost", "bench", "bed")  # fmt: skip


@pytest.fixture
def empty(tmp_path):
    workspace = open_workspace(tmp_path / "own.db", demo=False)
    assert workspace.games() == []
    yield workspace
    workspace.close()


def is_sound(workspace, game):
    """Nothing is wrong with it, and the file says what memory says; its backup can be restored."""
    assert list(faults_of(game)) == []
    fresh = open_workspace(workspace.store.path, demo=False)
    assert fresh.game(game.id).rules == game.rules and dict(fresh.game(game.id).cards) == dict(game.cards)
    fresh.close()
    back = restore_game(workspace, archive(workspace, game))
    assert {**back.rules, "id": "", "name": ""} == {**game.rules, "id": "", "name": ""}
    assert [each.values for each in back.cards.values()] == [each.values for each in game.cards.values()]
    remove = put_away(workspace, back.id, True, "page").after
    remove_for_good(workspace, remove.id, remove.name)


@pytest.mark.parametrize("shape", SHAPES)
def test_a_shape_is_a_sound_game_whose_cards_all_have_faces_prices_and_behaviour(empty, shape):
    game = begin(empty, f"Of {shape}", shape)
    assert 8 <= len(game.cards) <= 12 and len(game.sets) == 2
    for card in game.cards.values():
        sheet = detail_of(game, card)
        assert not sheet.problems and not sheet.faults and sheet.fits, game.title(card)
        assert sheet.ledger.judgement in ("over", "fair", "under", "open")
        if shape != "plain":
            assert sheet.printed.behaviour_written or not sheet.printed.lines, game.title(card)
    is_sound(empty, game)
    said = json.dumps(game.rules).lower() + " ".join(map(game.title, game.cards.values())).lower()
    words = set(said.replace('"', " ").replace(",", " ").replace(".", " ").split())
    assert not words & set(DEMO_WORDS), "nothing of the demo worlds is in a game of another"


def test_samples_go_with_one_action_from_decks_too_and_come_back_with_one(empty):
    from dramok.services.decks.edits import add_deck, set_count

    game = begin(empty, "Mine", "duel")
    some = next(iter(game.cards))
    deck = add_deck(empty, game.id, "First", "page")[1]
    set_count(empty, game.id, deck, some, 2, empty.game(game.id).seq, "page")
    remove_samples(empty, game.id, "page")
    after = empty.game(game.id)
    assert (
        not after.cards
        and [each.name for each in after.sets] == ["First set"]
        and not after.decks[deck].cards
    )
    with pytest.raises(Refused, match="no sample cards"):
        remove_samples(empty, game.id, "page")
    undo(empty, game.id, "page")
    back = empty.game(game.id)
    assert len(back.cards) == 12 and back.decks[deck].cards == {some: 2}
    assert [each.name for each in back.sets if is_of_samples(each.id)] == ["Samples"]


def test_an_empty_game_has_one_type_and_takes_its_first_card(empty):
    from dramok.services.cards.card_edits import add_card

    game = begin(empty, "Nothing yet")
    assert not game.cards and len(game.sets) == 1
    commit, ident = add_card(empty, game.id, "card", game.sets[0].id, "page", typed={"name": "First"})
    assert detail_of(commit.after, commit.after.cards[ident]).fits
    is_sound(empty, commit.after)


def test_a_sheet_is_a_game_with_roles_lists_codes_and_types(empty):
    game, look = create_game_from_sheet(empty, SHEET, "the_third-draft.csv")
    assert (game.name, game.id, game.sets[0].name, game.sets[0].pattern) == ("The third draft", "the-third-draft", "The third draft", "TTD-{n:03}")  # fmt: skip
    roles = game.rulebook.roles
    assert (roles.name, roles.cost, roles.faction, roles.copies, roles.stats) == ("card-title", "cost", "clan", "how-many", ("atk",))  # fmt: skip
    (fox, wall, lark) = game.cards.values()
    assert (fox.code, fox.type, fox.number("how-many"), fox.text(roles.printed)) == ("TTD-001", "beast", 2, "When played draw a card")  # fmt: skip
    assert detail_of(game, fox).printed.lines == ("When played draw a card",)
    assert not look.intake.refused
    is_sound(empty, game)


def test_typed_text_is_in_the_journal_and_the_game_is_not_undone(empty):
    game, _ = create_game_from_sheet(empty, SHEET, "a.csv")
    with pytest.raises(Refused, match="nothing to undo"):
        undo(empty, game.id, "page")
    (op,) = empty.store.ops(game.id)
    assert op.kind == "founding" and op.label == "a game begun from a.csv"


@pytest.mark.parametrize(
    ("name", "said"),
    [("", "needs a name"), ("   \n", "needs a name"), ("x" * 10_000, "10,000 characters"), ("first", "is there already"), ("FIRST ", "is there already")],
)  # fmt: skip
def test_names_that_no_game_can_have(empty, name, said):
    begin(empty, "First")
    with pytest.raises(Refused, match=said) as caught:
        begin(empty, name, "duel")
    assert caught.value.problem.mend and len(empty.games()) == 1


@pytest.mark.parametrize(
    "name",
    ["🌋 Ash", "שם המשחק", "Ünïcode’s “game”", "shelf", "new", "-", "1", "a" * 120, "Sets/../..", "<b>x</b>"],
)
def test_names_that_look_odd_are_names(empty, name):
    game = begin(empty, name, "plain")
    assert game.name == name and game.id.isascii() and game.id[0].isalpha()
    assert game.id not in ("shelf", "new") and "/" not in game.id
    is_sound(empty, game)


def test_two_games_of_one_name_at_once_are_two_games_or_one_refusal(empty):
    from concurrent.futures import ThreadPoolExecutor

    def make(number):
        try:
            return begin(empty, f"Game {number % 3}", "plain").id
        except Refused:
            return None

    with ThreadPoolExecutor(6) as pool:
        made = [each for each in pool.map(make, range(12)) if each]
    assert len(made) == len(set(made)) >= 3
    assert {each.id for each in empty.games()} == set(made)


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"", "empty"), (b"Name\n", "no line below"), (b"\x00\x01\x02", "not a table"), (b"PK\x03\x04nonsense", "."), (b"{}", "."), (b"<html></html>", "web page"),
        (",".join(f"c{n}" for n in range(5_000)).encode() + b"\n" + b"1," * 5_000, "columns"),
    ],
)  # fmt: skip
def test_sheets_that_are_no_game_are_refused_and_nothing_is_made(empty, data, said):
    with pytest.raises(Refused, match=said):
        create_game_from_sheet(empty, data, "x.csv", "Mine")
    assert empty.games() == []


def test_a_key_makes_one_game(empty):
    from dramok.store import Key

    key = Key("k1", "asked")
    one = begin(empty, "Mine", "duel", key)
    again = empty.store.game_with_key(key)
    assert again == one.id
    with pytest.raises(Refused):
        begin(empty, "Mine", "duel")
    assert len(empty.games()) == 1


# Renamed, doubled, put away.


def test_a_game_is_renamed_undone_and_found_by_its_new_name(workspace):
    rename_game(workspace, GAME, "  Third   Draft ", "page")
    assert workspace.game(GAME).name == workspace.game(GAME).rulebook.name == "Third Draft"
    assert next(each for each in workspace.store.games() if each.id == GAME).name == "Third Draft"
    undo(workspace, GAME, "page")
    assert workspace.game(GAME).name == "Ribbon Season"
    redo(workspace, GAME, "page")
    assert workspace.game(GAME).name == "Third Draft"
    with pytest.raises(Refused, match="is there already"):
        rename_game(workspace, GAME, "Crowded Bed", "page")


def test_a_copy_is_whole_or_only_the_rules(workspace):
    game = workspace.game(GAME)
    whole = duplicate(workspace, game)
    assert whole.name == "Ribbon Season 2" and len(whole.cards) == 96 and len(whole.decks) == len(game.decks)
    rules = duplicate(workspace, game, "Only the rules", cards=False)
    assert (
        not rules.cards
        and not rules.decks
        and [each.name for each in rules.sets] == [each.name for each in game.sets]
    )
    assert {**rules.rules, "id": 0, "name": 0} == {**game.rules, "id": 0, "name": 0}
    assert len(rules.of_kind("plan")) == len(game.of_kind("plan"))
    assert not rules.of_kind("note") and not rules.of_kind("mark")
    again = duplicate(workspace, game, "Only the rules", cards=False)
    assert again.name == "Only the rules 2" and not set(rules.things) & set(again.things)


def test_what_is_put_away_is_whole_and_only_then_can_go_for_good(workspace):
    with pytest.raises(Refused, match="is on the start screen"):
        remove_for_good(workspace, GAME, "Ribbon Season")
    put_away(workspace, GAME, True, "page")
    assert workspace.game(GAME).away and len(workspace.game(GAME).cards) == 96
    with pytest.raises(Refused, match="is put away already"):
        begin(workspace, "ribbon season")
    put_away(workspace, GAME, False, "page")
    assert not workspace.game(GAME).away
    with pytest.raises(Refused, match="nothing to undo"):
        undo(workspace, GAME, "page")
    put_away(workspace, GAME, True, "page")
    assert open_workspace(workspace.store.path).game(GAME).away, "undo is of what is in a game, not of where it stands"
    with pytest.raises(Refused, match="not its name"):
        remove_for_good(workspace, GAME, "Ribbon")
    backup = archive(workspace, workspace.game(GAME))
    others = {each.id: each.rules for each in workspace.games() if each.id != GAME}
    remove_for_good(workspace, GAME, "ribbon season")
    with pytest.raises(Missing):
        workspace.game(GAME)
    assert {each.id: each.rules for each in workspace.games()} == others and workspace.store.file_faults() == []
    with sqlite3.connect(workspace.store.path) as connection:
        tables = [row[0] for row in connection.execute("SELECT name FROM sqlite_master WHERE type = 'table'")]
        for table in tables:
            columns = [row[1] for row in connection.execute(f"PRAGMA table_info({table})")]
            if "game" in columns:
                assert not connection.execute(
                    f"SELECT count(*) FROM {table} WHERE game = ?", (GAME,)
                ).fetchone()[0], table
    assert len(restore_game(workspace, backup).cards) == 96


def test_pictures_that_another_game_has_stay_when_a_game_goes(workspace):
    from io import BytesIO

    from PIL import Image

    from dramok.services.faces.pictures import add_pictures

    def picture(colour):
        out = BytesIO()
        Image.new("RGB", (30, 40), colour).save(out, "PNG")
        return out.getvalue()

    both, own = picture("red"), picture("blue")
    add_pictures(workspace, GAME, [("both.png", both), ("own.png", own)])
    add_pictures(workspace, "crowded-bed", [("both.png", both)])
    shas = {each.name: str(each.doc["sha"]) for each in workspace.game(GAME).of_kind("picture")}
    put_away(workspace, GAME, True, "page")
    remove_for_good(workspace, GAME, "Ribbon Season")
    assert workspace.store.art(shas["both.png"]) is not None and workspace.store.art(shas["own.png"]) is None


# Every part of the rules.

SUN, BOXES = sha256(picture("red")).hexdigest(), read_font(made_font()).sha


def with_files(workspace) -> None:
    """Keeps the files that edits of symbols and fonts name."""
    assert (store_picture(workspace, picture("red")), store_font(workspace, made_font()).sha) == (SUN, BOXES)


EDITS = {
    "name": ["Third Draft"],
    "roles": [{"name": "name", "cost": "cost", "effect": "effect", "printed": "printed", "stats": ["height"]}],
    "resources": [
        [
            {"id": "water", "name": "Water", "names": "Water", "symbol": "drop", "start": 5, "shared": True},
            {"id": "ribbon", "name": "Ribbon", "names": "Ribbons", "symbol": "ribbon"},
        ]
    ],
    "table": [{"pays": "water", "opening_hand": 7, "turn_draw": 2, "hand_limit": 9, "turn": "round"}],
    "play": [{"seats": 2, "zones": [{"id": "forecast", "name": "Weather glass"}], "phases": [{"id": "dawn", "name": "Dawn"}, {"id": "tending", "name": "Tending", "does": [{"do": "draw"}, {"do": "play"}]}], "goals": [{"kind": "reach", "total": "ribbon", "number": 9}]}],
    "phrases": [{"cues": {"play": "When played: "}, "verbs": {"draw": "take {n} card"}, "damage": "harm"}],
    "tags": [["early", "late"]],
    "prices": [{"stats": {"height": "2"}, "rows": [{"id": "d", "verb": "draw", "curve": {"each": "1.5"}}], "budgets": {"": {"by_cost": ["1", "2"]}}}],
    "symbols": [[{"id": "own-sun", "name": "Sun", "art": SUN}]],
    "fonts": [[{"id": "own-boxes", "name": "Boxes", "file": BOXES, "uses": ["body"]}]],
    "formats": [[{"id": "short", "name": "Short", "least_cards": 5, "most_cards": 9, "copies": 2}]],
}  # fmt: skip


@pytest.mark.parametrize("part", PARTS)
def test_a_part_is_written_undone_redone_and_recorded_in_the_journal(workspace, part):
    with_files(workspace)
    before = workspace.game(GAME).rules
    (value,) = EDITS[part]
    commit = write_rules(workspace, GAME, part, value, None, "page")
    after = commit.after.rules
    assert after[part] != before[part] and {key for key in after if after[key] != before.get(key)} == {part}
    assert commit.op.label.endswith("changed")
    faces = {card.id: detail_of(commit.after, card).svg for card in list(commit.after.cards.values())[:5]}
    undo(workspace, GAME, "page")
    assert workspace.game(GAME).rules == before
    redo(workspace, GAME, "page")
    assert workspace.game(GAME).rules == after
    assert {ident: detail_of(workspace.game(GAME), workspace.game(GAME).cards[ident]).svg for ident in faces} == faces
    with pytest.raises(Refused, match="nothing would change"):
        write_rules(workspace, GAME, part, value, None, "page")


@pytest.mark.parametrize(
    ("part", "value", "said"),
    [
        ("resources", [], "not a resource"), ("table", {"pays": "gold"}, "not a resource"), ("table", {"opening_hand": 99}, "20"), ("roles", {"cost": "name"}, "plays the part"),
        ("name", "", "."), ("name", "x" * 5_000, "."), ("tags", 3, "."), ("formats", [], "."), ("formats", [{"id": "x"}], "."), ("prices", {"stats": {"height": "NaN"}}, "."),
        ("prices", {"budgets": {"": {"by_cost": ["1", "Infinity"]}}}, "."), ("prices", {"rows": [{"id": "x", "verb": "fly", "curve": {"each": "1"}}]}, "no verb fly"), ("nonsense", 1, "no such part"), ("types/plant", {}, "."),
        ("phrases", {"cues": 1}, "."), ("prices", "x", "."), ("prices", {"stats": {"height": "1e400"}}, "."), ("prices", {"stats": {"height": 10**18}}, "."), ("prices", {"budgets": {"": {"by_cost": ["-1e9"]}}}, "."),
        ("formats", [{"id": "x", "name": "X", "least_cards": 9, "most_cards": 3, "copies": 1}], "no deck can be so"), ("formats", [{"id": "x", "name": "X", "least_cards": -1, "most_cards": 3, "copies": 1}], "."),
        ("resources", [{"id": "water", "name": "W", "names": "W", "symbol": "drop", "start": 10**18}], "."), ("resources", [{"id": i, "name": "Same ", "names": "S", "symbol": "drop"} for i in ("water", "ribbon")], "the same name"),
    ],
)  # fmt: skip
def test_what_a_part_cannot_hold_is_refused_with_its_place(workspace, part, value, said):
    before = workspace.game(GAME).rules
    with pytest.raises(Refused, match=said) as caught:
        write_rules(workspace, GAME, part, value, None, "page")
    assert caught.value.problem.mend and workspace.game(GAME).rules == before


def test_two_pages_on_one_part_meet_in_a_conflict(workspace):
    seen = workspace.game(GAME).seq
    write_rules(workspace, GAME, "tags", ["one"], seen, "one")
    with pytest.raises(Conflict):
        write_rules(workspace, GAME, "tags", ["two"], seen, "two")
    write_rules(workspace, GAME, "formats", EDITS["formats"][0], seen, "two")


def test_prices_of_the_past_are_those_of_their_time(workspace):
    """A verdict follows the worths; walking them back walks the verdicts back."""
    card = f"c-{GAME}-rs-004"

    def worth():
        game = workspace.game(GAME)
        return detail_of(game, game.cards[card]).ledger.worth

    before = worth()
    doubled = {key: str(float(value) * 2) for key, value in workspace.game(GAME).rules["prices"]["stats"].items()}
    write_rules(workspace, GAME, "prices", {**workspace.game(GAME).rules["prices"], "stats": doubled}, None, "page")
    assert worth() > before
    write_cells(workspace, GAME, [CellEdit(card, "cost", "1")], workspace.game(GAME).seq, "page")
    undo(workspace, GAME, "page")
    undo(workspace, GAME, "page")
    assert worth() == before


def test_edits_of_rules_in_any_order_undone_one_by_one_lead_back(workspace):
    dice = random.Random(SEED)
    with_files(workspace)
    states = [workspace.game(GAME).rules]
    for number in range(14):
        part = dice.choice([each for each in PARTS if each != "resources"])
        (value,) = EDITS[part]
        if part == "name":
            value = f"Draft {number}"
        elif part == "tags":
            value = [f"tag {number}"]
        elif part == "play":
            value = {**value, "goals": [{"kind": "reach", "total": "ribbon", "number": number + 1}]}
        elif part == "table":
            value = {**value, "opening_hand": number % 20}
        try:
            write_rules(workspace, GAME, part, value, None, "page")
        except Refused:
            continue
        states.append(workspace.game(GAME).rules)
    for state in reversed(states[:-1]):
        undo(workspace, GAME, "page")
        assert workspace.game(GAME).rules == state, f"seed {SEED}"


# Killed half-way.

KILLED = """
import sys, threading, os, signal
from pathlib import Path
from dramok.services import open_workspace
from dramok.services.games.games import create_game_from_sheet, put_away, remove_for_good
workspace = open_workspace(Path(sys.argv[1]), demo=False)
rows = "Name,Cost,Text\\n" + "".join(f"Card {n},{n % 9},Some words that are long enough to be rules.\\n" for n in range(4000))
print("ready", flush=True)
if sys.argv[2] == "new":
    create_game_from_sheet(workspace, rows.encode(), "large.csv", "Large")
else:
    remove_for_good(workspace, "large", "Large")
print("done", flush=True)
"""


@pytest.mark.parametrize("what", ["new", "remove"])
def test_killed_half_way_a_game_is_there_whole_or_not_at_all(tmp_path, what):
    path = tmp_path / "k.db"
    workspace = open_workspace(path, demo=False)
    if what == "remove":
        rows = "Name,Cost\n" + "".join(f"Card {n},{n % 9}\n" for n in range(4_000))
        game, _ = create_game_from_sheet(workspace, rows.encode(), "large.csv", "Large")
        put_away(workspace, game.id, True, "page")
    workspace.close()
    dice = random.Random(f"{SEED}{what}")
    for _ in range(5):
        process = subprocess.Popen(
            [sys.executable, "-c", KILLED, str(path), what], stdout=subprocess.PIPE, text=True
        )
        assert process.stdout.readline() == "ready\n"
        time.sleep(dice.random() * 0.6)
        os.kill(process.pid, signal.SIGKILL)
        process.wait()
        workspace = open_workspace(path, demo=False)
        found = workspace.shelf()
        assert all(not isinstance(each, Exception) for each in found)
        assert [len(each.cards) for each in found] in ([], [4_000]) and workspace.store.file_faults() == []
        whole = bool(found)
        workspace.close()
        if whole == (what == "new"):
            break


def test_templates_are_listed_with_a_description():
    assert [each.id for each in shapes()] == list(SHAPES)
    assert all(each.about.endswith(".") and len(each.name) < 30 for each in shapes())


def test_wishes_reach_the_game(empty):
    from dramok.core.rulebook.game_from_sheet import ColumnOverride

    wishes = SheetOptions(
        columns={3: ColumnOverride(role="cost"), 2: ColumnOverride(kind="out"), 1: ColumnOverride(name="House")}
    )
    game, _ = create_game_from_sheet(empty, SHEET, "x.csv", "Mine", wishes)
    fields = {each.id: each.name for each in game.rulebook.cards.fields}
    assert game.rulebook.roles.cost == "atk" and "cost" not in fields and fields["house"] == "House"


def test_a_resource_that_effects_refer_to_is_not_removed_and_the_cards_are_named(workspace):
    game = workspace.game(GAME)
    left = [each for each in game.rules["resources"] if each["id"] != "ribbon"]
    with pytest.raises(Refused, match="cards gain or lose it: .*, .*, .* and") as caught:
        write_rules(workspace, GAME, "resources", left, None, "page")
    assert caught.value.problem.where == "Ribbon"
    more = [*game.rules["resources"], {"id": "calm", "name": "Calm", "names": "Calm", "symbol": "drop"}]
    write_rules(workspace, GAME, "resources", more, None, "page")
    card = f"c-{GAME}-rs-001"
    done = write_cells(
        workspace, GAME, [CellEdit(card, "effect", "upon play this: gain 2 calm")], workspace.game(GAME).seq, "page"
    )
    assert not done.refused
    with pytest.raises(Refused, match="1 card gains or loses it"):
        write_rules(workspace, GAME, "resources", game.rules["resources"], None, "page")
    undo(workspace, GAME, "page")
    write_rules(workspace, GAME, "resources", game.rules["resources"], None, "page")
    assert workspace.game(GAME).rules == game.rules


def test_first_steps_are_what_is_really_there(empty, workspace):
    from dramok.services.decks.edits import add_deck, set_count

    game = begin(empty, "Mine", "duel")
    steps = first_steps(empty, game)
    assert (steps.own, steps.cards, steps.priced, steps.decks, steps.played, steps.printed) == (
        True,
        0,
        True,
        0,
        False,
        False,
    )
    deck = add_deck(empty, game.id, "First", "page")[1]
    assert first_steps(empty, empty.game(game.id)).decks == 0, "a deck without cards is none yet"
    set_count(empty, game.id, deck, next(iter(game.cards)), 1, empty.game(game.id).seq, "page")
    assert first_steps(empty, empty.game(game.id)).decks == 1
    sheet, _ = create_game_from_sheet(empty, SHEET, "a.csv")
    assert first_steps(empty, sheet).cards == 3 and not first_steps(empty, sheet).priced
    assert not first_steps(workspace, workspace.game(GAME)).own, "a demo game was not begun here"


def test_a_user_set_named_samples_is_not_the_sample_set(empty):
    game, _ = create_game_from_sheet(empty, SHEET, "samples.csv", "Mine")
    assert [each.name for each in game.sets] == ["Samples"] and first_steps(empty, game).cards == 3
    with pytest.raises(Refused, match="no sample cards"):
        remove_samples(empty, game.id, "page")
    shaped = begin(empty, "Shaped", "plain")
    again = duplicate(empty, shaped)
    remove_samples(empty, again.id, "page")
    assert not empty.game(again.id).cards and len(empty.game(shaped.id).cards) == 8


def test_a_view_of_one_set_is_of_the_copys_own_set(workspace):
    from dramok.services.cards.saved_views import save_view

    game = workspace.game(GAME)
    save_view(workspace, GAME, "One set", {"query": "", "set": game.sets[0].id}, "page")
    for copy in (
        duplicate(workspace, workspace.game(GAME), "Rules", cards=False),
        duplicate(workspace, workspace.game(GAME), "Whole"),
    ):
        (view,) = [each for each in copy.of_kind("view") if each.name == "One set"]
        assert view.doc["doc"]["set"] == copy.sets[0].id != game.sets[0].id


def test_lines_are_counted_as_in_the_file(empty):
    data = b"The latest draft\n\nName,Cost\nOne,1\nTwo,2\n"
    game, look = create_game_from_sheet(empty, data, "a.csv")
    assert look.reading.header == 3 and [each.row for each in look.intake.taken] == [4, 5]


def test_what_was_brought_back_meanwhile_is_not_removed(workspace):
    """The name was typed, and another page brought the game back before the rows were deleted."""
    put_away(workspace, GAME, True, "one")
    other = open_workspace(workspace.store.path)
    put_away(other, GAME, False, "two")
    assert not workspace.store.remove_game(GAME)
    assert len(other.game(GAME).cards) == 96
    other.close()
