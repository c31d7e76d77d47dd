"""Work on face plans: edited and undone, inherited, arranged, refused with a reason; adjustments of single cards; the proof; which faces are redrawn."""

from __future__ import annotations

import io
import json
from concurrent.futures import ThreadPoolExecutor
from threading import Event

import pytest
from PIL import Image

from dramok.core.faces.plan.adjustments import Adjustment
from dramok.core.faces.plan.plan import Variant
from dramok.services import Conflict, Missing, Refused
from dramok.services.cards import card_detail
from dramok.services.cards.card_detail import back_of, detail_of, make_detail
from dramok.services.cards.card_edits import duplicate_cards, edit_field
from dramok.services.cards.cells import CellEdit, write_cells
from dramok.services.cards.ripples import ripple_of
from dramok.services.cards.search import find
from dramok.services.faces.adjustments import copy_adjustments, set_adjustments, with_adjustments
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
from dramok.services.faces.pictures import store_picture
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


def edit(workspace, plan, places=None, base=None, page="one", **more):
    now = workspace.game(GAME).seq if base is None else base
    return edit_plan(workspace, GAME, plan, PlanEdit(places or {}, **more), now, page)


def digest(workspace, card):
    return detail_of(workspace.game(GAME), workspace.game(GAME).cards[card]).digest


def test_an_edit_affects_the_cards_that_use_the_plan_and_is_undone(workspace):
    plant, weather = digest(workspace, FERN), digest(workspace, WEATHER)
    sheet = detail_of(workspace.game(GAME), workspace.game(GAME).cards[WEATHER])
    done = edit(workspace, PLANT, {"name": {"y": 3.6}})
    assert done.op.label == "face Plant: Name moved"
    assert digest(workspace, FERN) != plant and digest(workspace, WEATHER) == weather
    after = workspace.game(GAME)
    assert detail_of(after, after.cards[WEATHER]) is sheet, "a face that nothing touched is not drawn again"
    assert (
        detail_of(after, after.cards[FERN]).words
        is detail_of(game_at(workspace, after, done.op.seq - 1), after.cards[FERN]).words
    )
    ripple = ripple_of(done)
    assert ripple.card_count == 64 and {each.face for each in ripple.cards} == {"re-laid"}
    undo(workspace, GAME, "one")
    assert digest(workspace, FERN) == plant
    redo(workspace, GAME, "one")
    assert digest(workspace, FERN) != plant
    assert "face plan: Plant" in " ".join(difference(workspace, workspace.game(GAME), done.op.seq - 1).others)
    then = game_at(workspace, workspace.game(GAME), done.op.seq - 1, FERN)
    assert make_detail(then, then.cards[FERN]).digest == plant, "the past is drawn by the plan of its day"


def test_plans_inherit_are_reset_and_removed(workspace):
    edit(workspace, PLANT, {"name": {"y": 9.0, "largest": 4.0}})
    view = {each["id"]: each for each in view_of(workspace.game(GAME), PLANT).places}
    assert (view["name"]["y"], view["name"]["x"], view_of(workspace.game(GAME), PLANT).own["name"]) == (
        9.0,
        13.6,
        ("largest", "y"),
    )
    edit(workspace, BASE, {"name": {"x": 15.0}})
    assert next(each for each in view_of(workspace.game(GAME), PLANT).places if each["id"] == "name")["x"] == 15.0
    edit(workspace, PLANT, {"name": {"y": 2.6}})
    assert view_of(workspace.game(GAME), PLANT).own["name"] == ("largest",), "what is as beneath is not said again"
    edit(workspace, PLANT, {"name": None})
    assert "name" not in view_of(workspace.game(GAME), PLANT).own
    commit, rare = make_plan(workspace, GAME, "plant", "front", Variant(field="rarity", value="heirloom"), "one")
    assert commit.op.label == "face plan for Plant, Heirloom"
    with pytest.raises(Refused, match="already"):
        make_plan(workspace, GAME, "plant", "front", Variant(field="rarity", value="heirloom"), "one")
    views = {each.doc.id: each for each in plan_views(workspace.game(GAME))}
    assert views[rare].cards == 4 and views[rare].beneath == (BASE, PLANT)
    before = digest(workspace, FERN)
    edit(workspace, rare, {"frame": {"stroke": "#c0a030"}})
    assert digest(workspace, FERN) == before
    remove_plan(workspace, GAME, rare, "one")
    undo(workspace, GAME, "one")
    assert workspace.game(GAME).faces.plans[rare].places["frame"] == {"stroke": "#c0a030"}
    with pytest.raises(Refused, match="base plan"):
        remove_plan(workspace, GAME, BASE, "one")
    with pytest.raises(Missing):
        edit(workspace, "f-gone", {"name": {"x": 1.0}})


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
def test_what_can_not_be_drawn_is_refused_with_its_place_and_nothing_is_written(workspace, places, said):
    before = workspace.game(GAME)
    with pytest.raises(Refused) as refused:
        edit(workspace, BASE, places)
    assert said in f"{refused.value.problem.what}" and refused.value.problem.mend
    assert workspace.game(GAME) is before
    with pytest.raises(Refused):
        edit(workspace, BASE, head={"size": {"width": 1, "height": 1}})


def test_two_pages_meet_on_one_placement_only(workspace):
    base = workspace.game(GAME).seq
    edit(workspace, BASE, {"name": {"x": 14.0}}, page="one")
    edit(workspace, BASE, {"code": {"x": 16.0}}, base=base, page="two")
    with pytest.raises(Conflict):
        edit(workspace, BASE, {"name": {"x": 15.0}}, base=base, page="two")


def test_fields_are_placed_arranged_and_a_removed_field_is_reported(workspace):
    _, ident = add_place(workspace, GAME, PLANT, "copies", "one", (30, 60))
    view = view_of(workspace.game(GAME), PLANT)
    placed = next(each for each in view.places if each["id"] == ident)
    assert (placed["kind"], placed["field"], placed["x"], placed["y"]) == ("number", "copies", 25.5, 53.5)
    with pytest.raises(Refused, match="no such field"):
        add_place(workspace, GAME, PLANT, "gone", "one")
    done = arrange(workspace, GAME, PLANT, ["cost", "height", ident], "left", "one")
    assert {change.field for change in done.changes} == {f"place/{ident}"}, (
        "what stands there already is not moved"
    )
    with pytest.raises(Refused, match="3 placements are needed"):
        arrange(workspace, GAME, PLANT, ["cost"], "down", "one")
    game = workspace.game(GAME)
    kind = game.rulebook.cards.type("card").model_dump(mode="json")
    kind["fields"] = [each for each in kind["fields"] if each["id"] != "tags"]
    with pytest.raises(Refused):
        write_type(workspace, GAME, kind, game.seq, "one")
    edit(
        workspace,
        BASE,
        {"odd": {"kind": "text", "field": "gone", "name": "Odd", "x": 20, "y": 20, "width": 9, "height": 4}},
    )
    found = proof(workspace, workspace.game(GAME))
    assert [(name, problem.where) for name, problem in found.plans if name == "Base"] == [
        ("Base", "Odd")
    ] and not found.sound


def test_games_without_plans_begin_with_some_and_the_first_edit_writes_them_down(workspace):
    game = workspace.game(GAME)
    plain = json.loads(game.rulebook.model_dump_json())
    for each in game.of_kind("plan"):
        workspace.commit(GAME, "gone", "one", lambda now, each=each: [_gone(now, each)])
    started = workspace.game(GAME)
    assert set(started.faces.plans) == {BASE, f"f-{GAME}-back"} and not started.of_kind("plan")
    assert plain["roles"]["cost"] in started.faces.plans[BASE].places
    done = edit(workspace, BASE, {"name": {"y": 4.0}})
    assert {change.entity for change in done.changes} == {"plan"} and len(
        workspace.game(GAME).of_kind("plan")
    ) == 2
    undo(workspace, GAME, "one")
    assert not workspace.game(GAME).of_kind("plan")
    _, ident = make_plan(workspace, GAME, "tool", "front", None, "one")
    assert {BASE, ident} < set(workspace.game(GAME).faces.plans)


def _gone(game, thing):
    from dramok.store import Change

    return Change("plan", thing.id, "exists", json.dumps(thing.doc), None)


def test_a_look_writes_nothing_and_an_unworn_plan_is_shown_with_an_invented_card(workspace):
    game = workspace.game(GAME)
    after = previewed(game, PLANT, PlanEdit({"name": {"y": 30.0}}))
    assert shown_card(after, PLANT, FERN).digest != shown_card(game, PLANT, FERN).digest
    assert workspace.game(GAME) is game
    write_type(
        workspace,
        GAME,
        {"name": "Seed", "extends": "card", "fields": [{"name": "Days", "kind": "number"}]},
        game.seq,
        "one",
    )
    _, ident = make_plan(workspace, GAME, "seed", "front", None, "one")
    sheet = shown_card(workspace.game(GAME), ident, None)
    assert sheet.card.id not in workspace.game(GAME).cards and "Some Seed" in sheet.svg
    assert stress(workspace.game(GAME), ident) == []
    named = {reason for each in stress(game, PLANT) for reason in each.reasons}
    assert {"longest name", "longest effect", "largest height", "widest tags"} <= named


def test_a_card_is_nudged_marked_copied_and_reset(workspace):
    first = digest(workspace, FERN)
    look = {"picture": Adjustment(across=2, up=-1, zoom=1.3), "name": Adjustment(size=3.1)}
    assert with_adjustments(workspace.game(GAME), FERN, look).digest != first == digest(workspace, FERN)
    set_adjustments(workspace, GAME, [FERN], look, "one")
    card = workspace.game(GAME).cards[FERN]
    assert (card.values["look/picture"], card.values["look/name"]) == ("across 2 up -1 zoom 1.3", "size 3.1")
    assert [each.id for each in find(workspace, workspace.game(GAME), "adjusted").cards] == [FERN]
    assert [each.id for each in find(workspace, workspace.game(GAME), "overruled").cards] == [FERN], "as it was called"
    assert revisions(workspace, workspace.game(GAME), FERN)[0].changes[0].name == "picture on the face"
    copy_adjustments(workspace, GAME, FERN, [FERN, WEATHER], "one")
    assert workspace.game(GAME).cards[WEATHER].values["look/name"] == "size 3.1"
    _, (twin,) = duplicate_cards(workspace, GAME, [FERN], "one")
    assert workspace.game(GAME).cards[twin].values["look/name"] == "size 3.1"
    seq = workspace.game(GAME).seq
    set_adjustments(workspace, GAME, [FERN], {"picture": Adjustment(), "name": Adjustment()}, "one")
    assert "look/picture" not in workspace.game(GAME).cards[FERN].values and digest(workspace, FERN) == first
    restore(workspace, GAME, FERN, seq, "one", ["look/picture"])
    assert workspace.game(GAME).cards[FERN].values["look/picture"] == "across 2 up -1 zoom 1.3"
    with pytest.raises(Refused, match="all as its plan says"):
        copy_adjustments(workspace, GAME, f"c-{GAME}-rs-005", [FERN], "one")
    with pytest.raises(Missing):
        set_adjustments(workspace, GAME, ["c-gone"], look, "one")


def test_plans_and_looks_go_through_an_archive_and_a_shared_copy(workspace):
    edit(workspace, PLANT, {"name": {"y": 4.4}})
    set_adjustments(workspace, GAME, [FERN], {"picture": Adjustment(across=2)}, "one")
    faces = [digest(workspace, each) for each in (FERN, WEATHER)]
    for shared in (False, True):
        copy = restore_game(workspace, archive(workspace, workspace.game(GAME), shared), f"Copy {shared}")
        by_code = {card.code: card for card in copy.cards.values()}
        assert [detail_of(copy, by_code[code]).digest for code in ("RS-001", "RS-017")] == faces


def test_the_proof_is_asked_by_queries_and_follows_every_edit(workspace):
    assert proof(workspace, workspace.game(GAME)).sound
    edit(workspace, TOOL, {"name": {"width": 16.0}})
    found = proof(workspace, workspace.game(GAME))
    assert found.looked == 96 and set(found.counts) == {"overflow"} and not found.sound
    assert {each.card for each in found.cards} == {
        card.id for card in find(workspace, workspace.game(GAME), "any fault").cards
    }
    part = proof(workspace, workspace.game(GAME), "type is Weather", 0, 5)
    assert (part.total, part.looked, part.cards) == (16, 5, ())
    ripple = ripple_of(
        edit_field(workspace, GAME, f"c-{GAME}-rs-021", "name", "Mist ☃", workspace.game(GAME).seq, "one")
    )
    assert ripple.cards[0].faults == ("glyph",)
    assert [card.code for card in find(workspace, workspace.game(GAME), "glyph missing").cards] == ["RS-021"]
    with pytest.raises(Refused):
        proof(workspace, workspace.game(GAME), "cost is is")


def test_a_brought_picture_is_measured_upright_and_faces_wait_for_no_stale_drawing(workspace):
    game = workspace.game(GAME)
    kind = game.rulebook.cards.type("card").model_dump(mode="json")
    kind["fields"] += [
        {"name": "Art", "kind": "picture"},
        {"name": "Behind", "kind": "picture", "side": "back"},
    ]
    write_type(workspace, GAME, kind, game.seq, "one")
    out = io.BytesIO()
    Image.new("RGB", (40, 20), "#228844").save(out, "PNG")
    sha = store_picture(workspace, out.getvalue())
    done = write_cells(
        workspace, GAME, [CellEdit(FERN, "art", sha), CellEdit(FERN, "behind", sha)], workspace.game(GAME).seq, "one"
    )
    assert not done.refused
    now = workspace.game(GAME)
    sheet = detail_of(now, now.cards[FERN])
    assert f"/api/art/{sha}" in sheet.svg and f"/api/art/{sha}" in back_of(now, now.cards[FERN])
    assert [fault.kind for fault in sheet.faults] == ["coarse", "coarse"], "in front and behind"
    edit_field(workspace, GAME, FERN, "art", "fern.png", workspace.game(GAME).seq, "one")
    now = workspace.game(GAME)
    assert detail_of(now, now.cards[FERN]).faults[0].what == "missing: fern.png"
    assert [card.id for card in find(workspace, now, "picture missing").cards] == [FERN]


def test_keywords_are_bold_on_every_face_and_written_as_one_step(workspace):
    before = digest(workspace, f"c-{GAME}-rs-002")
    words = [{"name": "take", "reminder": "Into your hand."}]
    write_keywords(workspace, GAME, words, workspace.game(GAME).seq, "one")
    assert digest(workspace, f"c-{GAME}-rs-002") != before
    undo(workspace, GAME, "one")
    assert digest(workspace, f"c-{GAME}-rs-002") == before
    with pytest.raises(Refused, match="twice"):
        write_keywords(workspace, GAME, [*words, {"name": "Take"}], workspace.game(GAME).seq, "one")
    with pytest.raises(Refused):
        write_keywords(workspace, GAME, [{"name": " "}], workspace.game(GAME).seq, "one")


def test_backs_are_proofed_and_those_who_ask_at_once_wait_for_one_sheet(workspace, monkeypatch):
    edit(workspace, f"f-{GAME}-back", {"title": {"width": 6.0}})
    found = proof(workspace, workspace.game(GAME))
    assert found.counts == {"overflow": 96} and found.cards[0].faults[0].name == "Back, Title"
    undo(workspace, GAME, "one")
    game, made, go = workspace.game(GAME), [], Event()
    cache = card_detail.DetailCache()
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
