"""Pictures in bulk: matched to cards, assigned, unused and missing ones listed."""

from __future__ import annotations

import io
import zipfile

import pytest
from PIL import Image

from dramok.services import Refused
from dramok.services.cards.card_edits import edit_field
from dramok.services.cards.cells import CellEdit, write_cells
from dramok.services.faces.pictures import (
    add_pictures,
    import_zip,
    listed,
    match_pictures,
    remove_pictures,
)
from dramok.services.files.sheet_additions import Making
from dramok.services.files.sheet_import import Order, write_import
from dramok.services.history.undo import next_steps, undo
from tests.conftest import GAME, SAMPLES


def picture(colour: str, kind: str = "PNG") -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (30, 40), colour).save(out, kind)
    return out.getvalue()


@pytest.fixture
def shed(workspace):
    """The demo game with thirty two-faced bulbs, whose pictures are still to come."""
    data = (SAMPLES / "two-faced.tsv").read_bytes()
    make = Making({1: ("Label", "text"), 2: ("In winter", "picture"), 3: ("In summer", "picture")}, ("Bulb",))
    write_import(workspace, GAME, data, "two-faced.tsv", "one", Order(make=make, default_type="Bulb"))
    return workspace


def test_files_go_to_cards_by_what_they_wait_for_by_code_column_or_name(shed):
    game = shed.game(GAME)
    files = [
        "art/bulb 001 dry.png",
        "BULB 001 in flower.jpg",
        "RS-016.png",
        "RS-002_final.png",
        "copper-larch-fern.webp",
        "Slate Sedge a l ombre.png",
        "Glashouse Braken.png",
        "nobody.png",
        "RS-016 v2.png",
    ]
    found = {each.file: each for each in match_pictures(game, files, column="label")}
    cards = {card.id: card for card in game.cards.values()}
    said = {
        file: (cards[each.card].code if each.card else None, each.field, each.how, each.near, each.taken)
        for file, each in found.items()
    }
    assert said == {
        "art/bulb 001 dry.png": ("BU-001", "in-winter", "this file is missing", False, None),
        "BULB 001 in flower.jpg": ("BU-001", "in-summer", "this file is missing", False, None),
        "RS-016.png": ("RS-016", "in-winter", "code", False, None),
        "RS-002_final.png": ("RS-002", "in-winter", "code", False, None),
        "copper-larch-fern.webp": ("RS-001", "in-winter", "name", False, None),
        "Slate Sedge a l ombre.png": ("BU-001", "in-winter", "the column", False, "art/bulb 001 dry.png"),
        "Glashouse Braken.png": ("RS-006", "in-winter", "a name like it", True, None),
        "nobody.png": (None, None, "no card is called so", False, None),
        "RS-016 v2.png": ("RS-016", "in-winter", "code", False, "RS-016.png"),
    }


def test_a_zip_is_brought_put_on_cards_and_listed(shed):
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        for name, data in (
            ("a/bulb 001 dry.png", picture("red", "JPEG")),
            ("bulb 002.png", picture("blue")),
            ("left over.gif", picture("green", "GIF")),
            ("a/readme.txt", b"hi"),
            ("__MACOSX/x.png", b""),
        ):
            archive.writestr(name, data)
    brought = import_zip(shed, GAME, out.getvalue())
    assert [(each.name, each.problem.what if each.problem else None) for each in brought] == [
        ("a/bulb 001 dry.png", None), ("bulb 002.png", None), ("left over.gif", None), ("a/readme.txt", "this is not a picture, or a damaged one"),
    ]  # fmt: skip
    shas = {each.name: each.sha for each in brought}
    placed = [
        each
        for each in match_pictures(shed.game(GAME), [name for name, sha in shas.items() if sha])
        if each.card
    ]
    write_cells(
        shed,
        GAME,
        [CellEdit(each.card, each.field, shas[each.file]) for each in placed],
        shed.game(GAME).seq,
        "one",
    )
    found, wanting = listed(shed, shed.game(GAME))
    assert [(each.name, len(each.cards)) for each in found] == [
        ("bulb 001 dry.png", 1),
        ("bulb 002.png", 1),
        ("left over.gif", 0),
    ]
    waits = [each.file for each in wanting if each.file]
    assert len(waits) == 36 and "bulb 001 in flower.JPG" in waits and len(wanting) > 96
    with pytest.raises(Refused, match="bulb 002.png is on Honey Moss|on BU-002"):
        remove_pictures(shed, GAME, [found[1].id], "one")
    remove_pictures(shed, GAME, [found[2].id], "one")
    assert len(listed(shed, shed.game(GAME))[0]) == 2
    undo(shed, GAME, "one")
    assert len(listed(shed, shed.game(GAME))[0]) == 3
    following = next_steps(shed, GAME, "one").undo
    assert following is None or "brought" not in following.label


def test_the_same_picture_is_kept_once_and_named_in_tables(shed):
    again = add_pictures(
        shed, GAME, [("one.png", picture("red")), ("two.png", picture("red")), ("one.png", picture("red"))]
    )
    assert len({each.sha for each in again}) == 1 and len(shed.game(GAME).of_kind("picture")) == 2
    edit_field(shed, GAME, "BU-002", "in-winter", again[0].sha, shed.game(GAME).seq, "one")
    sheet = b"Code,In winter\nBU-003,two.png\nBU-004,later.png\nBU-005,not a file\n"
    commit, plan = write_import(shed, GAME, sheet, "art.csv", "one", Order(match="code"))
    cards = {card.code: card for card in commit.after.cards.values()}
    assert (
        cards["BU-003"].values["in-winter"] == again[0].sha
        and cards["BU-004"].values["in-winter"] == "later.png"
    )
    assert (
        "left out" in plan.intake.taken[2].notes[0]
        and cards["BU-005"].values["in-winter"] == "bulb 005 dry.png"
    )
    with pytest.raises(Refused, match="no card type has a field for pictures"):
        match_pictures(shed.game("potting-shed"), ["x.png"])
