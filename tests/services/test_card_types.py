"""Edits of card types, fields, choice lists and sets: what cards keep, what is refused, what undo restores."""

from __future__ import annotations

import io
import json

import pytest
from PIL import Image

from dramok.services import Conflict, Refused, open_workspace
from dramok.services.cards.card_detail import back_of, detail_of
from dramok.services.cards.card_edits import add_card
from dramok.services.cards.cells import CellEdit, write_cells
from dramok.services.cards.ripples import ripple_of
from dramok.services.cards.search import find
from dramok.services.faces.pictures import drawn_picture, store_picture
from dramok.services.history.undo import redo, undo
from dramok.services.rules.card_types import plan_type, remove_type, write_type
from dramok.services.rules.choices import plan_list, remove_list, remove_set, write_list, write_set
from tests.conftest import GAME

ONE = f"c-{GAME}-rs-001"
STATS = [
    {"id": "height", "name": "Height", "kind": "number"},
    {"id": "root", "name": "Root", "kind": "number"},
]


def type_doc(workspace, ident, game=GAME):
    found = workspace.game(game).rulebook.cards.type(ident).model_dump(mode="json")
    return json.loads(json.dumps(found))


def list_doc(workspace, ident):
    found = workspace.game(GAME).rulebook.cards.list(ident).model_dump(mode="json")
    found["values"] = [value for value in found["values"] if not value["retired"]]
    return found


def put(workspace, document, game=GAME):
    return write_type(workspace, game, document, workspace.game(game).seq, "one")


def put_list(workspace, document, moves=None):
    return write_list(workspace, GAME, document, moves or {}, workspace.game(GAME).seq, "one")


def state(workspace):
    game = workspace.game(GAME)
    cards = {card.id: (card.code, card.set, card.type, dict(card.values)) for card in game.cards.values()}
    return game.rulebook.cards.model_dump(), cards, [each.document for each in game.sets]


def test_a_field_added_to_the_base_is_on_every_type_and_undo_takes_it_back(workspace, db):
    before = state(workspace)
    base = type_doc(workspace, "card")
    base["fields"].append({"name": "Artist", "kind": "text", "default": "nobody"})
    put(workspace, base)
    schema = workspace.game(GAME).rulebook.cards
    assert all(schema.has_field(kind, "artist") for kind in ("plant", "weather", "tool"))
    _, ident = add_card(workspace, GAME, "tool", "first", "one")
    assert workspace.game(GAME).cards[ident].text("artist") == "nobody"
    again = open_workspace(db)
    assert again.game(GAME).rulebook == workspace.game(GAME).rulebook
    again.close()
    undo(workspace, GAME, "one")
    undo(workspace, GAME, "one")
    assert state(workspace) == before
    redo(workspace, GAME, "one")
    assert workspace.game(GAME).rulebook.cards.has_field("plant", "artist")


def test_a_derived_field_follows_its_card_and_its_fields_names(workspace):
    plant = type_doc(workspace, "plant")
    plant["fields"].append({"name": "Heft", "kind": "derived", "formula": "Height + Root * 2"})
    put(workspace, plant)
    assert [card.code for card in find(workspace, workspace.game(GAME), "heft >= 22").cards] == ["RS-087", "RS-088"]
    write_cells(workspace, GAME, [CellEdit(ONE, "root", "20")], workspace.game(GAME).seq, "one")
    assert ONE in [card.id for card in find(workspace, workspace.game(GAME), "heft >= 28").cards]
    renamed = type_doc(workspace, "plant")
    renamed["fields"][0]["name"] = "Stretch"
    put(workspace, renamed)
    assert ONE in [card.id for card in find(workspace, workspace.game(GAME), "heft >= 28 stretch is 1").cards]
    gone = type_doc(workspace, "plant")
    gone["fields"].append({"name": "Twice", "kind": "derived", "formula": "Heft * 2"})
    put(workspace, gone)
    gone = type_doc(workspace, "plant")
    gone["fields"][-2]["formula"] = "#twice + 1"
    with pytest.raises(Refused, match="in a circle: Heft → Twice → Heft"):
        put(workspace, gone)


def test_another_kind_shows_what_does_not_convert_and_keeps_it(workspace):
    base = type_doc(workspace, "card")
    base["fields"].append({"name": "Size", "kind": "text"})
    put(workspace, base)
    cards = [f"c-{GAME}-rs-{n:03}" for n in range(1, 6)]
    typed = ["3", "tall", "4,0", "12 cm", "7"]
    write_cells(
        workspace,
        GAME,
        [CellEdit(card, "size", text) for card, text in zip(cards, typed, strict=True)],
        workspace.game(GAME).seq,
        "one",
    )
    before = state(workspace)
    base = type_doc(workspace, "card")
    base["fields"][-1] = {"id": "size", "name": "Size", "kind": "number"}
    (moved,) = plan_type(workspace.game(GAME), json.loads(json.dumps(base))).moved
    assert (moved.kept, [lost.text for lost in moved.lost]) == (3, ["tall", "12 cm"]) and state(
        workspace
    ) == before
    put(workspace, base)
    game = workspace.game(GAME)
    assert [game.cards[card].number("size") for card in cards] == [3, None, 4, None, 7]
    kept = next(field for field in game.rulebook.cards.type("card").fields if field.retired)
    assert kept.name == "Size, as it was" and [game.cards[card].text(kept.id) for card in cards] == [
        "",
        "tall",
        "",
        "12 cm",
        "",
    ]
    back = type_doc(workspace, "card")
    for field in back["fields"]:
        field["retired"] = False
    put(workspace, back)
    assert [card.code for card in find(workspace, workspace.game(GAME), '"size, as it was" has cm').cards] == ["RS-004"]
    undo(workspace, GAME, "one")
    undo(workspace, GAME, "one")
    assert state(workspace) == before


def test_a_field_put_away_keeps_its_values_and_what_the_rules_lean_on_stays(workspace):
    base = type_doc(workspace, "card")
    base["fields"].append({"name": "Story", "kind": "text", "long": True})
    put(workspace, base)
    write_cells(workspace, GAME, [CellEdit(ONE, "story", "Once.")], workspace.game(GAME).seq, "one")
    base = type_doc(workspace, "card")
    base["fields"].pop()
    assert plan_type(workspace.game(GAME), json.loads(json.dumps(base))).put_away == ("Story",)
    put(workspace, base)
    game = workspace.game(GAME)
    assert not game.rulebook.cards.has_field("plant", "story") and game.cards[ONE].text("story") == "Once."
    for gone, said in (("cost", "plays the part of the cost"), ("effect", "plays the part of the effect")):
        base = type_doc(workspace, "card")
        base["fields"] = [field for field in base["fields"] if field["id"] != gone]
        with pytest.raises(Refused, match=said):
            put(workspace, base)
    base = type_doc(workspace, "card")
    base["fields"][3] = {"id": "cost", "name": "Cost", "kind": "text"}
    with pytest.raises(Refused, match="it stays of kind number"):
        put(workspace, base)


def test_a_type_goes_only_when_its_cards_have_somewhere_to_go(workspace):
    before = state(workspace)
    with pytest.raises(Refused, match=r"^\d\d cards of this type: Morning Mist"):
        remove_type(workspace, GAME, "weather", None, "one")
    with pytest.raises(Refused, match="Plant and Weather and Tool extend Card"):
        remove_type(workspace, GAME, "card", "plant", "one")
    remove_type(workspace, GAME, "weather", "tool", "one")
    assert not workspace.game(GAME).rulebook.cards.has_type("weather")
    assert {card.type for card in workspace.game(GAME).cards.values()} == {"plant", "tool"}
    assert all(detail_of(workspace.game(GAME), card) for card in workspace.game(GAME).cards.values())
    undo(workspace, GAME, "one")
    after = state(workspace)
    assert after[1] == before[1] and {each["id"] for each in after[0]["types"]} == {
        each["id"] for each in before[0]["types"]
    }


def test_a_value_renamed_in_one_place_is_renamed_on_every_card_face_and_effect(workspace):
    write_cells(
        workspace,
        GAME,
        [CellEdit(ONE, "effect", "upon play this: deal 1 to pick own plant [bed is Moss]")],
        workspace.game(GAME).seq,
        "one",
    )
    beds = list_doc(workspace, "beds")
    beds["values"][3]["name"] = "Wet Velvet"
    commit = put_list(workspace, beds)
    game = commit.after
    assert len(commit.changes) == 1 and len(find(workspace, game, "bed is wet velvet").cards) == 24
    assert "Wet Velvet" in " ".join(detail_of(game, game.cards[ONE]).printed.lines)
    assert ripple_of(commit).card_count == 25


def test_a_value_in_use_does_not_vanish_and_a_merge_takes_cards_and_effects_along(workspace):
    before = state(workspace)
    write_cells(
        workspace,
        GAME,
        [CellEdit(ONE, "effect", "upon play this: deal 1 to pick own plant [bed is Moss]")],
        workspace.game(GAME).seq,
        "one",
    )
    beds = list_doc(workspace, "beds")
    beds["values"] = beds["values"][:3]
    (unplaced,) = plan_list(workspace.game(GAME), beds, {}).unplaced
    assert (unplaced.name, unplaced.cards) == ("Moss", 24)
    with pytest.raises(Refused, match="24 cards have it"):
        put_list(workspace, beds)
    with pytest.raises(Refused, match="not there"):
        put_list(workspace, beds, {"moss": "sand"})
    put_list(workspace, beds, {"moss": "fern"})
    game = workspace.game(GAME)
    assert len(find(workspace, game, "bed is fern").cards) == 48 and [
        value.name for value in game.rulebook.cards.list("beds").offered
    ] == ["Fern", "Briar", "Orchid"]
    assert "Fern" in " ".join(detail_of(game, game.cards[ONE]).printed.lines)
    again = list_doc(workspace, "beds")
    again["values"].append({"name": "moss"})
    put_list(workspace, again)
    assert (
        game.rulebook.cards.list("beds").get("moss").retired
        and workspace.game(GAME).rulebook.cards.list("beds").offered[-1].id == "moss"
    )
    for _ in range(3):
        undo(workspace, GAME, "one")
    assert state(workspace) == before


def test_lists_refuse_two_of_a_name_and_hold_five_thousand_values(workspace):
    beds = list_doc(workspace, "beds")
    beds["values"].append({"name": " fern "})
    with pytest.raises(Refused, match="two values are called fern; merge them"):
        put_list(workspace, beds)
    put_list(workspace, {"name": "Gardeners", "values": [{"name": f"Gardener {n}"} for n in range(5_000)]})
    game = workspace.game(GAME)
    assert len(game.rulebook.cards.list("gardeners").offered) == 5_000
    base = type_doc(workspace, "card")
    base["fields"].append({"name": "Gardener", "kind": "choice", "list": "gardeners"})
    put(workspace, base)
    write_cells(workspace, GAME, [CellEdit(ONE, "gardener", "gardener 4321")], workspace.game(GAME).seq, "one")
    assert [card.code for card in find(workspace, workspace.game(GAME), "gardener is gardener 4321").cards] == [
        "RS-001"
    ]
    with pytest.raises(Refused, match="Gardener chooses from it"):
        remove_list(workspace, GAME, "gardeners", "one")


def test_a_choice_within_another_is_offered_and_kept_within_it(workspace):
    put_list(
        workspace,
        {
            "name": "Sub-beds",
            "values": [{"name": "Tree fern", "within": "fern"}, {"name": "Peat moss", "within": "moss"}],
        },
    )
    base = type_doc(workspace, "card")
    base["fields"].append({"name": "Sub-bed", "kind": "choice", "list": "sub-beds", "within": "bed"})
    put(workspace, base)
    done = write_cells(workspace, GAME, [CellEdit(ONE, "sub-bed", "Peat moss")], workspace.game(GAME).seq, "one")
    assert done.refused[0].problem.what == "Peat moss belongs to Moss"
    both = write_cells(
        workspace,
        GAME,
        [CellEdit(ONE, "sub-bed", "Peat moss"), CellEdit(ONE, "bed", "Moss")],
        workspace.game(GAME).seq,
        "one",
    )
    assert not both.refused
    write_cells(workspace, GAME, [CellEdit(ONE, "bed", "Fern")], workspace.game(GAME).seq, "one")
    sheet = detail_of(workspace.game(GAME), workspace.game(GAME).cards[ONE])
    assert (
        sheet.unfinished
        and sheet.problems[0].what == "Peat moss belongs to Moss"
        and sheet.card.text("sub-bed") == "peat-moss"
    )


def test_two_people_at_one_type_see_each_other(workspace):
    seen, mine = workspace.game(GAME).seq, type_doc(workspace, "plant")
    theirs = type_doc(workspace, "plant")
    theirs["name"] = "Planting"
    put(workspace, theirs)
    mine["stays"] = False
    with pytest.raises(Conflict, match="Plant was changed meanwhile"):
        write_type(workspace, GAME, mine, seen, "two")


@pytest.mark.parametrize(
    ("change", "said"),
    [({"extends": "plant"}, "circle"), ({"name": ""}, "at least 1 character"), ({"shape": "heptagon"}, "portrait"), ({"fields": [*STATS, {"name": "Cost", "kind": "tags", "id": "cost"}]}, "of kind"), ({"fields": [*STATS, {"name": "X", "kind": "derived", "formula": "Cost +"}]}, "is not complete")],
)  # fmt: skip
def test_types_that_cannot_be_are_refused_and_nothing_changes(workspace, change, said):
    before = state(workspace)
    with pytest.raises(Refused, match=said):
        put(workspace, {**type_doc(workspace, "plant"), **change})
    assert state(workspace) == before


def test_sets_have_patterns_and_backs_and_give_their_cards_away(workspace):
    commit, ident = write_set(
        workspace,
        GAME,
        {
            "name": "Second Showing",
            "code": "SS",
            "pattern": "SS-{n:02}",
            "back": {"title": "Second", "colour": "#333366", "ground": "furrows"},
        },
        "one",
    )
    _, card = add_card(workspace, GAME, "plant", ident, "one")
    game = workspace.game(GAME)
    assert game.cards[card].code == "SS-01" and "Second" in back_of(game, game.cards[card])
    for wrong, said in (
        ({"name": " "}, "needs a name"),
        ({"name": "Third", "pattern": "no number"}, "has its number once"),
        ({"name": "first showing"}, "already"),
        ({"name": "T", "back": {"colour": "red"}}, "pattern"),
    ):
        with pytest.raises(Refused, match=said):
            write_set(workspace, GAME, wrong, "one")
    with pytest.raises(Refused, match="1 card in it"):
        remove_set(workspace, GAME, ident, None, "one")
    remove_set(workspace, GAME, ident, "first", "one")
    assert workspace.game(GAME).cards[card].set == "first"
    undo(workspace, GAME, "one")
    assert (
        workspace.game(GAME).cards[card].set == ident
        and workspace.game(GAME).set_of(ident).document["pattern"] == "SS-{n:02}"
    )


def picture(kind="PNG", size=(40, 60), exif=None) -> bytes:
    out = io.BytesIO()
    Image.new("RGB", size, "#336699").save(out, kind, **({"exif": exif} if exif else {}))
    return out.getvalue()


def test_pictures_are_stored_by_content_and_shown_on_the_face(workspace):
    base = type_doc(workspace, "card")
    base["fields"] += [
        {"name": "Art", "kind": "picture"},
        {"name": "Other side", "kind": "picture", "side": "back"},
    ]
    put(workspace, base)
    turned = Image.Exif()
    turned[0x0112] = 6
    sha = store_picture(workspace, picture("JPEG", (3000, 1500), turned))
    drawn = Image.open(io.BytesIO(drawn_picture(workspace, sha)))
    assert drawn.height == 1100 and drawn.width == 550
    write_cells(
        workspace,
        GAME,
        [CellEdit(ONE, "art", sha), CellEdit(ONE, "other-side", store_picture(workspace, picture()))],
        workspace.game(GAME).seq,
        "one",
    )
    game = workspace.game(GAME)
    assert f"/api/art/{sha}" in detail_of(game, game.cards[ONE]).svg and "/api/art/" in back_of(
        game, game.cards[ONE]
    )
    for bad in (b"", b"\x89PNG\r\n\x1a\n" + b"0" * 200, picture()[:60]):
        with pytest.raises(Refused, match="not a picture, or a damaged one"):
            store_picture(workspace, bad)
    write_cells(workspace, GAME, [CellEdit(ONE, "art", "larch.png")], game.seq, "one")
    waiting = workspace.game(GAME)
    assert "/api/art/" not in detail_of(waiting, waiting.cards[ONE]).svg
    done = write_cells(workspace, GAME, [CellEdit(ONE, "art", "../larch")], waiting.seq, "one")
    assert done.refused[0].problem.what == "this is not a picture"
