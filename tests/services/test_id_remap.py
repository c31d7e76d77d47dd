"""A game imported as a second copy: every id is new, in every document, and nothing else changes."""

from __future__ import annotations

import json
import re
from random import Random

import pytest

from dramok.core.journal import ENTITIES
from dramok.services import open_workspace
from dramok.services.cards.card_edits import edit_field, retire_cards
from dramok.services.cards.notes import add_note
from dramok.services.decks.edits import add_deck, set_count
from dramok.services.files.archive import archive, restore_game
from dramok.services.files.id_remap import IdMap
from dramok.services.history.history import journal
from dramok.services.history.marks import add_mark
from dramok.services.history.undo import undo
from tests.conftest import GAME, SEED

IDS = {"c-1": "c-1~b", "c-2": "c-2~b", "s-1": "s-1~b", "d-1": "d-1~b", "r-1": "r-1~b"}
NEW = IdMap(IDS)


@pytest.mark.parametrize(
    ("entity", "document", "renamed"),
    [
        ("card", {"set": "s-1", "code": "c-1", "values": {"name": "c-1"}}, {"set": "s-1~b", "code": "c-1", "values": {"name": "c-1"}}),
        ("deck", {"name": "c-1", "cards": {"c-1": 2, "x": 1}}, {"name": "c-1", "cards": {"c-1~b": 2, "x": 1}}),
        ("deck", {"name": "d", "cards": {}, "sections": {"c-1": {"c-1": 2}}}, {"name": "d", "cards": {}, "sections": {"c-1": {"c-1~b": 2}}}),
        ("game", {"name": "c-1", "formats": [{"id": "c-1", "banned": ["c-1"], "limited": {"c-1": 1}, "sets": ["s-1"]}]},
         {"name": "c-1", "formats": [{"id": "c-1", "banned": ["c-1~b"], "limited": {"c-1~b": 1}, "sets": ["s-1~b"]}]}),
        ("note", {"card": "c-2", "text": "c-2 is slow"}, {"card": "c-2~b", "text": "c-2 is slow"}),
        ("run", {"faces": {"c-1": ["a", "", 1]}, "order": {"choice": {"deck": "d-1", "set": "s-1", "run": "r-1", "query": "c-1"}}},
         {"faces": {"c-1~b": ["a", "", 1]}, "order": {"choice": {"deck": "d-1~b", "set": "s-1~b", "run": "r-1~b", "query": "c-1"}}}),
        ("source", {"order": {"set_id": "s-1", "leave_out": ["changed/c-1/cost", "gone/c-2", "added", "other/c-1"]}},
         {"order": {"set_id": "s-1~b", "leave_out": ["changed/c-1~b/cost", "gone/c-2~b", "added", "other/c-1"]}}),
        ("view", {"name": "c-1", "doc": {"query": "c-1"}}, {"name": "c-1", "doc": {"query": "c-1"}}),
        ("mark", {"name": "c-1", "seq": 3}, {"name": "c-1", "seq": 3}),
        ("measurement", {"name": "c-1", "cards": {"c-1": [1, 0, 2, True, 4], "x": [0, 0, 0, False, 1]}}, {"name": "c-1", "cards": {"c-1~b": [1, 0, 2, True, 4], "x": [0, 0, 0, False, 1]}}),
    ],
)  # fmt: skip
def test_ids_are_renamed_by_their_places_and_texts_stay(entity, document, renamed):
    before = json.dumps(document)
    assert NEW.document(entity, document) == renamed
    assert json.dumps(document) == before, "what was given stays as it was"
    assert json.loads(NEW.text(entity, "exists", before)) == renamed
    assert IdMap({}).document(entity, document) == document


def test_fields_and_values_of_changes_are_renamed():
    assert (
        NEW.field("deck", "card/c-1") == "card/c-1~b"
        and NEW.field("deck", "in/side/c-1") == "in/side/c-1~b"
        and NEW.field("deck", "name") == "name"
        and NEW.field("card", "card/c-1") == "card/c-1"
    )
    assert (
        NEW.text("card", "set", '"s-1"') == '"s-1~b"'
        and NEW.text("card", "name", '"s-1"') == '"s-1"'
        and NEW.text("card", "set", None) is None
    )
    assert json.loads(NEW.text("run", "faces", '{"c-1": ["a", "", 1]}')) == {"c-1~b": ["a", "", 1]}
    played = NEW.program(
        json.dumps({"cards": [{"id": "c-1", "set": "s-1", "code": "c-1"}], "deck": {"c-1": 2}})
    )
    assert json.loads(played) == {
        "cards": [{"id": "c-1~b", "set": "s-1~b", "code": "c-1"}],
        "deck": {"c-1~b": 2},
    }


def test_a_second_copy_of_a_game_shares_no_id_and_both_are_independent(workspace, tmp_path):
    for number in Random(SEED).sample(range(2, 60), 5):
        typed = str(7 + number % 3)
        edit_field(workspace, GAME, f"RS-{number:03}", "cost", typed, workspace.game(GAME).seq, "one")
    _, deck = add_deck(workspace, GAME, "Ours", "one")
    set_count(workspace, GAME, deck, f"c-{GAME}-rs-001", 2, workspace.game(GAME).seq, "one")
    add_note(workspace, GAME, "RS-001", "Watch this", "one")
    add_mark(workspace, GAME, "before it", "one")
    retire_cards(workspace, GAME, ["RS-090"], "one")
    first = workspace.game(GAME)
    other = restore_game(workspace, archive(workspace, first))
    for holding in ("cards", "decks", "things"):
        assert not set(getattr(first, holding)) & set(getattr(other, holding)), holding
    assert len(other.cards) == len(first.cards) and len(other.decks) == len(first.decks)
    assert {each.id for each in first.sets}.isdisjoint(each.id for each in other.sets)
    copy = next(each for each in other.decks.values() if each.name == "Ours")
    assert {other.cards[ident].code: count for ident, count in copy.cards.items()} == {"RS-001": 2}
    (note,) = [each for each in other.of_kind("note") if each.doc["text"] == "Watch this"]
    assert other.cards[note.doc["card"]].code == "RS-001"
    assert [each.op.label for each in journal(workspace, other)][1:6] == [
        each.op.label for each in journal(workspace, first)
    ][:5]
    undone = undo(workspace, other.id, "one").after
    assert len(undone.cards) == len(first.cards) + 1 and workspace.game(GAME) is first
    whole = json.dumps(
        [[each.id, *map(str, each.values.values())] for each in undone.cards.values()]
        + [dict(each.doc) for each in undone.things.values()],
        default=str,
    )
    assert not re.search(rf'"c-{GAME}-rs-\d+"', whole), "no document names a card of the other game"
    again = open_workspace(tmp_path / "third.db", demo=False)
    assert set(restore_game(again, archive(workspace, undone)).cards) == set(undone.cards), (
        "where its ids are free it keeps them"
    )
    again.close()


def test_every_entity_that_names_another_is_looked_through():
    """An entity that is new here has to be thought of: does its document name cards, sets, decks or runs?"""
    assert set(ENTITIES) == {
        "set",
        "card",
        "deck",
        "view",
        "mark",
        "note",
        "source",
        "layout",
        "picture",
        "plan",
        "run",
        "measurement",
        "game",
    }


def test_cards_that_effects_create_and_rules_lay_out_are_renamed_too():
    step = {"verb": "create", "card": "c-1", "amount": {"kind": "number", "value": 1}}
    inner = {"lines": [{"ability": {"kind": "upon", "cue": "play", "steps": [{"verb": "may", "steps": [step]}]}}]}
    renamed = NEW.document("card", {"set": "first", "values": {"effect": inner, "note": "c-1"}})["values"]
    assert renamed["effect"]["lines"][0]["ability"]["steps"][0]["steps"][0]["card"] == "c-1~b" and renamed["note"] == "c-1"
    assert json.loads(NEW.text("card", "effect", json.dumps(inner))) == renamed["effect"]
    play = {"seats": 1, "set_up": {"placed": [{"zone": "hand", "cards": {"c-1": 2, "RS-001": 1}}]}}
    expected = {"c-1~b": 2, "RS-001": 1}
    assert NEW.document("game", {"play": play})["play"]["set_up"]["placed"][0]["cards"] == expected
    assert json.loads(NEW.text("game", "play", json.dumps(play)))["set_up"]["placed"][0]["cards"] == expected
