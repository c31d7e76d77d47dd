"""References by name follow a rename, and undo reverts them: views, text tables, print runs, conditions, formulas."""

from __future__ import annotations

import json
from random import Random

import pytest

from dramok.core.cards.values.derived import derived_values
from dramok.core.effects import read_script, script_text
from dramok.core.rulebook import Keyword
from dramok.core.rulebook.part_edit import part_of
from dramok.services import Refused
from dramok.services.cards.card_edits import edit_field
from dramok.services.cards.saved_views import save_view
from dramok.services.cards.search import find
from dramok.services.decks.edits import rename_deck
from dramok.services.faces.face_plans import PlanEdit, cards_of, edit_plan
from dramok.services.files.exports import save_layout
from dramok.services.history.marks import add_mark, rename_mark
from dramok.services.history.undo import undo
from dramok.services.output.print_runs import rename_run
from dramok.services.rules.card_types import remove_type, write_type
from dramok.services.rules.choices import remove_set, write_list, write_set
from dramok.services.workspace.small_entities import make
from dramok.store import Change
from tests.conftest import GAME, SEED

BASE = f"f-{GAME}-base"
QUERY = 'cost >= 2 bed is Fern, Moss or rarity > Grown in deck "{deck}" not changed since "before all" in set "First Showing"'


def type_doc(workspace, ident):
    return workspace.game(GAME).rulebook.cards.type(ident).model_dump(mode="json")


def put_type(workspace, ident, change):
    document = type_doc(workspace, ident)
    change(document)
    return write_type(workspace, GAME, document, workspace.game(GAME).seq, "one")


def put_list(workspace, ident, change, moves=None):
    document = workspace.game(GAME).rulebook.cards.list(ident).model_dump(mode="json")
    document["values"] = [value for value in document["values"] if not value["retired"]]
    change(document["values"])
    return write_list(workspace, GAME, document, moves or {}, workspace.game(GAME).seq, "one")


def call(ident, name):
    def change(each):
        found = next(one for one in (each["fields"] if isinstance(each, dict) else each) if one["id"] == ident)
        found["name"] = name

    return change


def texts(workspace) -> dict[str, str]:
    """Every text that names things."""
    game = workspace.game(GAME)
    base = next(each for each in game.of_kind("plan") if each.id == BASE)
    found = {each.name: each.doc["doc"].get("query", "") for each in game.of_kind("view")}
    found |= {each.id: each.doc["order"]["choice"]["query"] for each in game.of_kind("run")}
    found |= {each.name: each.doc["query"] for each in game.of_kind("layout")}
    found["condition"] = base.doc["place/name"]["when"]
    found["formula"] = game.rulebook.cards.field("heft").formula
    return found


def meant(workspace) -> tuple:
    """What those texts come to."""
    game = workspace.game(GAME)
    said = texts(workspace)
    answers = {}
    for name, text in said.items():
        if name not in ("condition", "formula"):
            found = find(workspace, game, text)
            assert found.problem is None, (text, found.problem)
            answers[name] = [card.id for card in found.cards]
    plan = game.faces.plan(BASE)
    assert not plan.problems
    place = next(each for each in plan.places if each.place.id == "name")
    worn = [card.id for card in game.cards.values() if place.condition is not None and place.condition(card)]
    schema = game.rulebook.cards
    return answers, worn, [derived_values(card, schema)[0].get("heft") for card in game.cards.values()]


@pytest.fixture
def full(workspace):
    """The demo game with a text of each kind."""
    deck = next(iter(workspace.game(GAME).decks.values())).name
    query = QUERY.format(deck=deck)
    add_mark(workspace, GAME, "before all", "one")
    put_type(workspace, "card", lambda doc: doc["fields"].append({"id": "", "name": "Heft", "kind": "derived", "formula": "if Bed is Fern and Rarity is not Grown then Cost + 1 else Cost"}))
    save_view(workspace, GAME, "Asked", {"query": query, "sort": "-cost"}, "one")
    save_layout(workspace, GAME, {"name": "Labels", "query": "type is Plant heft >= 2", "columns": [{"front": ["title"]}]}, "one")
    make(workspace, GAME, "run", {"name": "First print", "at": "2026-11-01T10:00:00+00:00", "order": {"choice": {"query": "bed is not Briar"}}, "faces": {}}, "print run", "one")
    save_view(workspace, GAME, "Printed", {"query": 'not printed in "First print" cost < 9'}, "one")
    edit_plan(workspace, GAME, BASE, PlanEdit({"name": {"when": "bed is Fern or type is Weather"}}), workspace.game(GAME).seq, "one")
    assert cards_of(workspace.game(GAME), BASE)
    return workspace


RENAMES = {
    "field": (lambda workspace: put_type(workspace, "card", call("bed", "Ground")), "Ground is Fern, Moss"),
    "field, awkward": (lambda workspace: put_type(workspace, "card", call("bed", "in or out")), '"in or out" is Fern, Moss'),
    "choice": (lambda workspace: put_list(workspace, "beds", call("fern", "Bracken")), "bed is Bracken, Moss"),
    "choice, awkward": (lambda workspace: put_list(workspace, "beds", call("fern", "Fern, wild")), 'bed is "Fern, wild", Moss'),
    "deck": (lambda workspace: rename_deck(workspace, GAME, next(iter(workspace.game(GAME).decks)), "Old (1)", "one"), 'in deck "Old (1)" not'),
    "mark": (lambda workspace: rename_mark(workspace, GAME, workspace.game(GAME).of_kind("mark")[0].id, "Beginning", "one"), "changed since Beginning in"),
    "set": (lambda workspace: write_set(workspace, GAME, {**json.loads(json.dumps(workspace.game(GAME).sets[0].document)), "id": workspace.game(GAME).sets[0].id, "name": "Show 1"}, "one"), 'in set "Show 1"'),
}


@pytest.mark.parametrize("what", RENAMES)
def test_a_rename_leaves_what_was_asked_as_it_was_and_is_undone_with_it(full, what):
    rename, said = RENAMES[what]
    before, wanted = texts(full), meant(full)
    rename(full)
    assert said in texts(full)["Asked"] and meant(full) == wanted
    undo(full, GAME, "one")
    assert texts(full) == before and meant(full) == wanted


def test_types_and_print_runs_are_called_otherwise_too(full):
    wanted = meant(full)
    put_type(full, "plant", lambda doc: doc.update(name="Growth"))
    rename_run(full, GAME, full.game(GAME).of_kind("run")[0].id, "Sheet, first", "one")
    now = texts(full)
    assert (now["Labels"], now["Printed"], now["condition"]) == ("type is Growth heft >= 2", 'not printed in "Sheet, first" cost < 9', "bed is Fern or type is Weather")
    assert meant(full) == wanted
    assert find(full, full.game(GAME), 'printed in "First print"').problem


def test_what_takes_the_place_of_a_choice_a_type_or_a_set_is_asked_for_instead(full):
    put_list(full, "beds", lambda values: values.pop(0), {"fern": "moss"})
    now = texts(full)
    assert "bed is Moss, Moss" in now["Asked"] and now["condition"] == "bed is Moss or type is Weather"
    assert now["formula"] == "if #bed is Moss and #rarity is not Grown then #cost + 1 else #cost"
    remove_type(full, GAME, "weather", "tool", "one")
    assert texts(full)["condition"] == "bed is Moss or type is Tool"
    _, ident = write_set(full, GAME, {"name": "Second Show"}, "one")
    remove_set(full, GAME, full.game(GAME).sets[0].id, ident, "one")
    assert 'in set "Second Show"' in texts(full)["Asked"] or "in set Second Show" in texts(full)["Asked"]
    assert len(meant(full)[1]) > 0
    for _ in range(4):
        undo(full, GAME, "one")
    assert texts(full)["condition"] == "bed is Fern or type is Weather"


def test_a_name_that_a_formula_can_not_hold_is_refused_by_the_field(full):
    before = texts(full)
    with pytest.raises(Refused) as refused:
        put_list(full, "beds", call("fern", 'The "old" fern'))
    assert (refused.value.problem.where, refused.value.problem.what) == ("Heft", "its formula names Fern, and can't hold a name with quotes")
    assert texts(full) == before


@pytest.mark.parametrize("turn", range(3))
def test_any_renames_one_after_another_change_no_answer(full, turn):
    dice = Random(f"{SEED} names {turn}")
    words = ["Fern", "in", "Grown", "not", "Night, draft", "empty", "2 to 4", "Größe", "Cost", "is", "or", "Moss", "has", "Old (1)", "then"]
    wanted, first, done = meant(full), texts(full), 0
    for _ in range(8):
        name = f"{dice.choice(words)}{dice.choice(['', f' {dice.randrange(99)}'])}"
        try:
            match dice.choice(["field", "list", "deck", "mark"]):
                case "field":
                    put_type(full, "card", call(dice.choice(["bed", "cost", "rarity", "heft"]), name))
                case "list":
                    kind = dice.choice(["beds", "rarities"])
                    value = dice.choice(full.game(GAME).rulebook.cards.list(kind).offered)
                    put_list(full, kind, call(value.id, name))
                case "deck":
                    rename_deck(full, GAME, next(iter(full.game(GAME).decks)), name, "one")
                case _:
                    rename_mark(full, GAME, full.game(GAME).of_kind("mark")[0].id, name, "one")
        except Refused:
            continue
        done += 1
        assert meant(full) == wanted, texts(full)
    assert done
    for _ in range(done):
        undo(full, GAME, "one")
    assert texts(full) == first


def test_two_choices_give_way_at_once_in_effects_of_cards_and_of_keywords(workspace):
    card = f"c-{GAME}-rs-001"
    both = "upon play this: deal 1 to all own plant [bed is Briar]\nupon play this: deal 2 to all own plant [bed is Orchid]"
    edit_field(workspace, GAME, card, "effect", both, workspace.game(GAME).seq, "one")
    stings = "upon play this: deal 1 to all own plant [bed is Orchid]"
    rulebook = workspace.game(GAME).rulebook
    thorny = Keyword(name="Thorny", effect=read_script(stings, workspace.game(GAME).vocabulary)[0])
    after = rulebook.model_copy(update={"keywords": (*rulebook.keywords, thorny)})
    change = Change("game", GAME, "keywords", *(json.dumps(part_of(each, "keywords")) for each in (rulebook, after)))
    workspace.commit(GAME, "a keyword", "one", lambda _: [change])

    def said():
        game = workspace.game(GAME)
        thorny = next(each for each in game.rulebook.keywords if each.name == "Thorny")
        return script_text(game.cards[card].values["effect"], game.vocabulary), script_text(thorny.effect, game.vocabulary)

    before = said()
    assert before == (both, stings)
    put_list(workspace, "beds", lambda values: values.__delitem__(slice(1, 3)), {"briar": "moss", "orchid": "fern"})
    assert said() == (
        "upon play this: deal 1 to all own plant [bed is Moss]\nupon play this: deal 2 to all own plant [bed is Fern]",
        "upon play this: deal 1 to all own plant [bed is Fern]",
    )
    undo(workspace, GAME, "one")
    assert said() == before


def test_two_fields_of_a_type_are_never_called_the_same(workspace):
    for change in (call("bed", "cost"), lambda doc: doc["fields"].append({"id": "", "name": "COST", "kind": "text"})):
        with pytest.raises(Refused) as refused:
            put_type(workspace, "card", change)
        assert refused.value.problem.mend == "give one of them another name" and "two fields called" in refused.value.problem.what
    with pytest.raises(Refused, match="Plant would have two fields called Height"):
        put_type(workspace, "card", lambda doc: doc["fields"].append({"id": "", "name": "Height", "kind": "text"}))
    put_type(workspace, "plant", call("height", "Tallness"))
