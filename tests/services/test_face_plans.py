"""Face plans as they are worked on: edited and undone, inherited, arranged, refused with a reason; single cards overruled; the proof; what is drawn anew."""

from __future__ import annotations

import io
import json
from concurrent.futures import ThreadPoolExecutor
from threading import Event

import pytest
from PIL import Image

from dramok.core.faces.plan.adjustments import Look
from dramok.core.faces.plan.plan import Variant
from dramok.services import Conflict, Missing, Refused
from dramok.services.cards import card_detail
from dramok.services.cards.card_detail import back_of, make_sheet, sheet_of
from dramok.services.cards.card_edits import duplicate_cards, edit_field
from dramok.services.cards.cells import CellEdit, write_cells
from dramok.services.cards.ripples import ripple_of
from dramok.services.cards.search import find
from dramok.services.faces.adjustments import copy_looks, overrule, with_looks
from dramok.services.faces.face_plans import (
    PlanEdit,
    add_place,
    arrange,
    edit_plan,
    make_plan,
    plan_views,
    previewed,
    remove_plan,
    shown_card,
    stress,
    view_of,
)
from dramok.services.faces.pictures import keep_picture
from dramok.services.faces.proof import proof
from dramok.services.files.archive import archive, restore_game
from dramok.services.history.history import difference, restore, revisions
from dramok.services.history.undo import redo, undo
from dramok.services.rules.card_types import write_type
from dramok.services.rules.keywords import write_keywords
from dramok.services.workspace.past import game_at
from tests.conftest import A_BUSY_MACHINES, GAME

BASE, PLANT, TOOL = (f"f-{GAME}-{each}" for each in ("base", "plant", "tool"))
FERN = f"c-{GAME}-rs-001"
WEATHER = f"c-{GAME}-rs-017"


def edit(desk, plan, places=None, base=None, page="one", **more):
    now = desk.game(GAME).seq if base is None else base
    return edit_plan(desk, GAME, plan, PlanEdit(places or {}, **more), now, page)


def digest(desk, card):
    return sheet_of(desk.game(GAME), desk.game(GAME).cards[card]).digest


def test_an_edit_touches_the_cards_that_wear_the_plan_and_is_undone(desk):
    plant, weather = digest(desk, FERN), digest(desk, WEATHER)
    sheet = sheet_of(desk.game(GAME), desk.game(GAME).cards[WEATHER])
    done = edit(desk, PLANT, {"name": {"y": 3.6}})
    assert done.op.label == "face Plant: Name moved"
    assert digest(desk, FERN) != plant and digest(desk, WEATHER) == weather
    after = desk.game(GAME)
    assert sheet_of(after, after.cards[WEATHER]) is sheet, "a face that nothing touched is not drawn again"
    assert (
        sheet_of(after, after.cards[FERN]).words
        is sheet_of(game_at(desk, after, done.op.seq - 1), after.cards[FERN]).words
    )
    ripple = ripple_of(done)
    assert ripple.card_count == 64 and {each.face for each in ripple.cards} == {"re-laid"}
    undo(desk, GAME, "one")
    assert digest(desk, FERN) == plant
    redo(desk, GAME, "one")
    assert digest(desk, FERN) != plant
    assert "face plan: Plant" in " ".join(difference(desk, desk.game(GAME), done.op.seq - 1).others)
    then = game_at(desk, desk.game(GAME), done.op.seq - 1, FERN)
    assert make_sheet(then, then.cards[FERN]).digest == plant, "the past is drawn by the plan of its day"


def test_plans_inherit_are_reset_and_taken_out(desk):
    edit(desk, PLANT, {"name": {"y": 9.0, "largest": 4.0}})
    view = {each["id"]: each for each in view_of(desk.game(GAME), PLANT).places}
    assert (view["name"]["y"], view["name"]["x"], view_of(desk.game(GAME), PLANT).own["name"]) == (
        9.0,
        13.6,
        ("largest", "y"),
    )
    edit(desk, BASE, {"name": {"x": 15.0}})
    assert next(each for each in view_of(desk.game(GAME), PLANT).places if each["id"] == "name")["x"] == 15.0
    edit(desk, PLANT, {"name": {"y": 2.6}})
    assert view_of(desk.game(GAME), PLANT).own["name"] == ("largest",), "what is as beneath is not said again"
    edit(desk, PLANT, {"name": None})
    assert "name" not in view_of(desk.game(GAME), PLANT).own
    commit, rare = make_plan(desk, GAME, "plant", "front", Variant(field="rarity", value="heirloom"), "one")
    assert commit.op.label == "face plan for Plant, Heirloom"
    with pytest.raises(Refused, match="already"):
        make_plan(desk, GAME, "plant", "front", Variant(field="rarity", value="heirloom"), "one")
    views = {each.doc.id: each for each in plan_views(desk.game(GAME))}
    assert views[rare].cards == 4 and views[rare].beneath == (BASE, PLANT)
    before = digest(desk, FERN)
    edit(desk, rare, {"frame": {"stroke": "#c0a030"}})
    assert digest(desk, FERN) == before
    remove_plan(desk, GAME, rare, "one")
    undo(desk, GAME, "one")
    assert desk.game(GAME).faces.plans[rare].places["frame"] == {"stroke": "#c0a030"}
    with pytest.raises(Refused, match="base plan"):
        remove_plan(desk, GAME, BASE, "one")
    with pytest.raises(Missing):
        edit(desk, "f-gone", {"name": {"x": 1.0}})


@pytest.mark.parametrize(
    ("places", "said"),
    [
        ({"name": {"x": "far"}}, "x:"),
        ({"name": {"largest": -3}}, "largest"),
        ({"name": {"ink": "blue"}}, "ink"),
        ({"Name!": {"kind": "text", "field": "name"}}, "id"),
        ({"new": {"kind": "hologram"}}, "kind"),
        ({"name": {"width": float("inf")}}, "width"),
        ({f"p{number}": {"kind": "panel"} for number in range(301)}, "placements are too many"),
    ],
)  # fmt: skip
def test_what_can_not_be_drawn_is_refused_with_its_place_and_nothing_is_written(desk, places, said):
    before = desk.game(GAME)
    with pytest.raises(Refused) as refused:
        edit(desk, BASE, places)
    assert said in f"{refused.value.problem.what}" and refused.value.problem.mend
    assert desk.game(GAME) is before
    with pytest.raises(Refused):
        edit(desk, BASE, head={"size": {"width": 1, "height": 1}})


def test_two_pages_meet_on_one_placement_only(desk):
    base = desk.game(GAME).seq
    edit(desk, BASE, {"name": {"x": 14.0}}, page="one")
    edit(desk, BASE, {"code": {"x": 16.0}}, base=base, page="two")
    with pytest.raises(Conflict):
        edit(desk, BASE, {"name": {"x": 15.0}}, base=base, page="two")


def test_fields_are_placed_arranged_and_a_field_that_goes_is_told(desk):
    _, ident = add_place(desk, GAME, PLANT, "copies", "one", (30, 60))
    view = view_of(desk.game(GAME), PLANT)
    placed = next(each for each in view.places if each["id"] == ident)
    assert (placed["kind"], placed["field"], placed["x"], placed["y"]) == ("number", "copies", 25.5, 53.5)
    with pytest.raises(Refused, match="no such field"):
        add_place(desk, GAME, PLANT, "gone", "one")
    done = arrange(desk, GAME, PLANT, ["cost", "height", ident], "left", "one")
    assert {change.field for change in done.changes} == {f"place/{ident}"}, (
        "what stands there already is not moved"
    )
    with pytest.raises(Refused, match="3 placements are needed"):
        arrange(desk, GAME, PLANT, ["cost"], "down", "one")
    game = desk.game(GAME)
    kind = game.rulebook.cards.type("card").model_dump(mode="json")
    kind["fields"] = [each for each in kind["fields"] if each["id"] != "tags"]
    with pytest.raises(Refused):
        write_type(desk, GAME, kind, game.seq, "one")
    edit(
        desk,
        BASE,
        {"odd": {"kind": "text", "field": "gone", "name": "Odd", "x": 20, "y": 20, "width": 9, "height": 4}},
    )
    found = proof(desk, desk.game(GAME))
    assert [(name, problem.where) for name, problem in found.plans if name == "Base"] == [
        ("Base", "Odd")
    ] and not found.sound


def test_games_without_plans_begin_with_some_and_the_first_edit_writes_them_down(desk):
    game = desk.game(GAME)
    plain = json.loads(game.rulebook.model_dump_json())
    for each in game.of_kind("plan"):
        desk.commit(GAME, "gone", "one", lambda now, each=each: [_gone(now, each)])
    started = desk.game(GAME)
    assert set(started.faces.plans) == {BASE, f"f-{GAME}-back"} and not started.of_kind("plan")
    assert plain["roles"]["cost"] in started.faces.plans[BASE].places
    done = edit(desk, BASE, {"name": {"y": 4.0}})
    assert {change.entity for change in done.changes} == {"plan"} and len(
        desk.game(GAME).of_kind("plan")
    ) == 2
    undo(desk, GAME, "one")
    assert not desk.game(GAME).of_kind("plan")
    _, ident = make_plan(desk, GAME, "tool", "front", None, "one")
    assert {BASE, ident} < set(desk.game(GAME).faces.plans)


def _gone(game, thing):
    from dramok.store import Change

    return Change("plan", thing.id, "exists", json.dumps(thing.doc), None)


def test_a_look_writes_nothing_and_an_unworn_plan_is_shown_with_an_invented_card(desk):
    game = desk.game(GAME)
    after = previewed(game, PLANT, PlanEdit({"name": {"y": 30.0}}))
    assert shown_card(after, PLANT, FERN).digest != shown_card(game, PLANT, FERN).digest
    assert desk.game(GAME) is game
    write_type(
        desk,
        GAME,
        {"name": "Seed", "extends": "card", "fields": [{"name": "Days", "kind": "number"}]},
        game.seq,
        "one",
    )
    _, ident = make_plan(desk, GAME, "seed", "front", None, "one")
    sheet = shown_card(desk.game(GAME), ident, None)
    assert sheet.card.id not in desk.game(GAME).cards and "Some Seed" in sheet.svg
    assert stress(desk.game(GAME), ident) == []
    named = {reason for each in stress(game, PLANT) for reason in each.reasons}
    assert {"longest name", "longest effect", "largest height", "widest tags"} <= named


def test_a_card_is_nudged_marked_copied_and_reset(desk):
    first = digest(desk, FERN)
    look = {"picture": Look(across=2, up=-1, zoom=1.3), "name": Look(size=3.1)}
    assert with_looks(desk.game(GAME), FERN, look).digest != first == digest(desk, FERN)
    overrule(desk, GAME, [FERN], look, "one")
    card = desk.game(GAME).cards[FERN]
    assert (card.values["look/picture"], card.values["look/name"]) == ("across 2 up -1 zoom 1.3", "size 3.1")
    assert [each.id for each in find(desk, desk.game(GAME), "adjusted").cards] == [FERN]
    assert [each.id for each in find(desk, desk.game(GAME), "overruled").cards] == [FERN], "as it was called"
    assert revisions(desk, desk.game(GAME), FERN)[0].changes[0].name == "picture on the face"
    copy_looks(desk, GAME, FERN, [FERN, WEATHER], "one")
    assert desk.game(GAME).cards[WEATHER].values["look/name"] == "size 3.1"
    _, (twin,) = duplicate_cards(desk, GAME, [FERN], "one")
    assert desk.game(GAME).cards[twin].values["look/name"] == "size 3.1"
    seq = desk.game(GAME).seq
    overrule(desk, GAME, [FERN], {"picture": Look(), "name": Look()}, "one")
    assert "look/picture" not in desk.game(GAME).cards[FERN].values and digest(desk, FERN) == first
    restore(desk, GAME, FERN, seq, "one", ["look/picture"])
    assert desk.game(GAME).cards[FERN].values["look/picture"] == "across 2 up -1 zoom 1.3"
    with pytest.raises(Refused, match="all as its plan says"):
        copy_looks(desk, GAME, f"c-{GAME}-rs-005", [FERN], "one")
    with pytest.raises(Missing):
        overrule(desk, GAME, ["c-gone"], look, "one")


def test_plans_and_looks_go_through_an_archive_and_a_shared_copy(desk):
    edit(desk, PLANT, {"name": {"y": 4.4}})
    overrule(desk, GAME, [FERN], {"picture": Look(across=2)}, "one")
    faces = [digest(desk, each) for each in (FERN, WEATHER)]
    for shared in (False, True):
        copy = restore_game(desk, archive(desk, desk.game(GAME), shared), f"Copy {shared}")
        by_code = {card.code: card for card in copy.cards.values()}
        assert [sheet_of(copy, by_code[code]).digest for code in ("RS-001", "RS-017")] == faces


def test_the_proof_is_asked_by_queries_and_follows_every_edit(desk):
    assert proof(desk, desk.game(GAME)).sound
    edit(desk, TOOL, {"name": {"width": 16.0}})
    found = proof(desk, desk.game(GAME))
    assert found.looked == 96 and set(found.counts) == {"overflow"} and not found.sound
    assert {each.card for each in found.cards} == {
        card.id for card in find(desk, desk.game(GAME), "any fault").cards
    }
    part = proof(desk, desk.game(GAME), "type is Weather", 0, 5)
    assert (part.total, part.looked, part.cards) == (16, 5, ())
    ripple = ripple_of(
        edit_field(desk, GAME, f"c-{GAME}-rs-021", "name", "Mist ☃", desk.game(GAME).seq, "one")
    )
    assert ripple.cards[0].faults == ("glyph",)
    assert [card.code for card in find(desk, desk.game(GAME), "glyph missing").cards] == ["RS-021"]
    with pytest.raises(Refused):
        proof(desk, desk.game(GAME), "cost is is")


def test_a_brought_picture_is_measured_upright_and_faces_wait_for_no_stale_drawing(desk):
    game = desk.game(GAME)
    kind = game.rulebook.cards.type("card").model_dump(mode="json")
    kind["fields"] += [
        {"name": "Art", "kind": "picture"},
        {"name": "Behind", "kind": "picture", "side": "back"},
    ]
    write_type(desk, GAME, kind, game.seq, "one")
    out = io.BytesIO()
    Image.new("RGB", (40, 20), "#228844").save(out, "PNG")
    sha = keep_picture(desk, out.getvalue())
    done = write_cells(
        desk, GAME, [CellEdit(FERN, "art", sha), CellEdit(FERN, "behind", sha)], desk.game(GAME).seq, "one"
    )
    assert not done.refused
    now = desk.game(GAME)
    sheet = sheet_of(now, now.cards[FERN])
    assert f"/api/art/{sha}" in sheet.svg and f"/api/art/{sha}" in back_of(now, now.cards[FERN])
    assert [fault.kind for fault in sheet.faults] == ["coarse", "coarse"], "in front and behind"
    edit_field(desk, GAME, FERN, "art", "fern.png", desk.game(GAME).seq, "one")
    now = desk.game(GAME)
    assert sheet_of(now, now.cards[FERN]).faults[0].what == "missing: fern.png"
    assert [card.id for card in find(desk, now, "picture missing").cards] == [FERN]


def test_keywords_are_bold_on_every_face_and_written_as_one_step(desk):
    before = digest(desk, f"c-{GAME}-rs-002")
    words = [{"name": "take", "reminder": "Into your hand."}]
    write_keywords(desk, GAME, words, desk.game(GAME).seq, "one")
    assert digest(desk, f"c-{GAME}-rs-002") != before
    undo(desk, GAME, "one")
    assert digest(desk, f"c-{GAME}-rs-002") == before
    with pytest.raises(Refused, match="twice"):
        write_keywords(desk, GAME, [*words, {"name": "Take"}], desk.game(GAME).seq, "one")
    with pytest.raises(Refused):
        write_keywords(desk, GAME, [{"name": " "}], desk.game(GAME).seq, "one")


def test_backs_are_proofed_and_those_who_ask_at_once_wait_for_one_sheet(desk, monkeypatch):
    edit(desk, f"f-{GAME}-back", {"title": {"width": 6.0}})
    found = proof(desk, desk.game(GAME))
    assert found.counts == {"overflow": 96} and found.cards[0].faults[0].name == "Back, Title"
    undo(desk, GAME, "one")
    game, made, go = desk.game(GAME), [], Event()
    cache = card_detail.SheetCache()
    real = card_detail.words_of

    def slow(*args):
        made.append(1)
        go.wait(A_BUSY_MACHINES)
        return real(*args)

    monkeypatch.setattr(card_detail, "words_of", slow)
    with ThreadPoolExecutor(4) as pool:
        asked = [pool.submit(cache.sheet, game, game.cards[FERN]) for _ in range(4)]
        while not made:
            pass
        go.set()
        assert len({id(each.result()) for each in asked}) == 1
    assert len(made) == 1
