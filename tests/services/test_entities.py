"""The entities of the journal: each created, edited, removed, restored and undone, in memory and in the tables."""

from __future__ import annotations

import json
from random import Random

import pytest

from dramok.core.journal import ENTITIES, THINGS, part, put
from dramok.core.rulebook.part_edit import part_of
from dramok.formats.small_entity_docs import DOCS
from dramok.services import open_workspace
from dramok.services.files.archive import archive, restore_game
from dramok.services.history.undo import undo
from dramok.services.rules.keywords import write_keywords
from dramok.services.rules.rule_parts import write_rules
from dramok.services.workspace.entity_registry import made, text_of
from dramok.store import Change
from dramok.store.rows import RELATIONS
from tests.conftest import GAME, SEED

WHOLE = {
    "set": {"name": "Winter", "code": "WI", "pattern": "WI-{n:03}", "back": {"title": "Wintér", "colour": "#123456", "ground": "panes"}},
    "card": {"code": "ZZ-001", "set": "first", "type": "plant", "values": {"name": "Ünder Glass", "cost": 3, "tags": ["climber"]}},
    "deck": {"name": "Ours", "cards": {f"c-{GAME}-rs-001": 2, f"c-{GAME}-rs-002": 1}},
    "view": {"name": "A look", "doc": {"query": "cost > 2", "sort": "", "look": "grid", "set": ""}},
    "mark": {"name": "before it", "seq": 1, "at": "2026-11-27T10:00:00+00:00"},
    "note": {"card": f"c-{GAME}-rs-001", "text": "Watch “this”", "answer": "", "state": "open", "at": "2026-11-27T10:00:00+00:00"},
    "layout": {"name": "Labels", "columns": [{"heading": "Code", "front": ["code"]}]},
    "picture": {"name": "larch.png", "sha": "a" * 64},
    "plan": {"name": "A plan"},
    "run": {"name": "Playtest 9", "at": "2026-11-27T10:00:00+00:00", "order": {}, "faces": {}},
    "measurement": {
        "name": "Before", "at": "2026-11-27T10:00:00+00:00", "games": 900, "player": "plain", "seed": 7, "seq": 1, "digest": "0a1b", "first": [2.0, 1.0, 3.0], "turns": 12.5,
        "cards": {f"c-{GAME}-rs-001": [1.5, 0.5, 2.5, True, 40]},
    },
    "source": {"name": "Ours", "address": "https://cards.example/sheet.csv", "order": {}},
}  # fmt: skip
EDITS = {
    "set": [("name", "Winter again"), ("pattern", ""), ("back", None), ("back", {"title": "B", "colour": "#654321", "ground": "plain"})],
    "card": [("name", "Other"), ("cost", 9), ("cost", None), ("code", "ZZ-002"), ("type", "tool"), ("tags", ["a", "b"])],
    "deck": [
        ("name", "Theirs"), (f"card/c-{GAME}-rs-003", 3), (f"card/c-{GAME}-rs-001", None), (f"in/side/c-{GAME}-rs-002", 2), ("note", "slow"), ("format", "duel"),
    ],  # fmt: skip
    "view": [("doc", {"query": "cost > 3"}), ("name", "Another look")],
    "note": [("state", "answered"), ("answer", "Done — ✓")],
    "layout": [("separator", ";")],
    "mark": [("name", "after it")],
    "picture": [("name", "larch 2.png")],
    "run": [("name", "Playtest 10")],
    "plan": [("name", "Another plan")],
    "measurement": [("name", "After"), ("cards", {f"c-{GAME}-rs-002": [0.5, 0.25, 0.75, False, 3]})],
    "source": [("name", "Theirs")],
}  # fmt: skip


def test_every_room_knows_every_entity():
    assert RELATIONS.keys() == ENTITIES.keys() and DOCS.keys() == set(THINGS)
    assert WHOLE.keys() == EDITS.keys() == ENTITIES.keys() - {"game"}
    for each in ENTITIES.values():
        assert each.noun and (not each.thing or each.most > 0)


@pytest.mark.parametrize("entity", WHOLE)
def test_a_part_put_into_a_document_is_found_there_and_the_document_stays(entity):
    document = json.loads(json.dumps(WHOLE[entity]))
    for field, value in EDITS[entity]:
        after = put(entity, document, field, value)
        assert part(entity, after, field) == value and document == WHOLE[entity]
        back = put(entity, after, field, part(entity, document, field))
        assert {k: v for k, v in back.items() if v is not None} == {
            k: v for k, v in document.items() if v is not None
        }
    record = made(entity, "x-1", document, 7)
    for field in document:
        if entity != "card" and field != "cards":
            found = text_of(entity, record, field)
            assert (None if found is None else json.loads(found)) == document[field]


def test_a_rule_put_into_a_rulebook_is_found_there(workspace):
    rules = workspace.game(GAME).rulebook
    whole = rules.model_dump(mode="json")
    for field in ("tags", "table", "types/plant", "lists/beds"):
        value = part_of(rules, field)
        assert part("game", put("game", whole, field, value), field) == value
    assert part("game", put("game", whole, "lists/beds", None), "lists/beds") is None


def state(workspace):
    game = workspace.game(GAME)
    return (
        game.rulebook,
        dict(game.cards),
        dict(game.decks),
        {each.id: each for each in game.sets},
        dict(game.things),
    )


@pytest.mark.parametrize("entity", WHOLE)
def test_memory_and_tables_say_the_same_after_every_change_and_undo_leads_back(workspace, db, entity):
    """One interpreter: an edit makes the same snapshot as a restarted program reads."""
    dice = Random(f"{SEED} {entity}")
    ident, first = f"x-{entity}-1", state(workspace)
    whole = json.dumps(WHOLE[entity], ensure_ascii=False)

    def commit(field, before, after):
        workspace.commit(
            GAME, f"{entity} {field}", "one", lambda now: [Change(entity, ident, field, before, after)]
        )
        again = open_workspace(db)
        assert state(again) == state(workspace), (field, before, after)
        again.close()

    commit("exists", None, whole)
    steps = 1
    edits = list(EDITS[entity])
    dice.shuffle(edits)
    for field, value in edits:
        now = workspace.game(GAME).text_of(Change(entity, ident, field, None, None))
        after = None if value is None else json.dumps(value)
        if now == after or (now and after and json.loads(now) == json.loads(after)):
            continue
        commit(field, now, after)
        steps += 1
    gone = workspace.game(GAME).text_of(Change(entity, ident, "exists", None, None))
    commit("exists", gone, None)
    commit("exists", None, gone)
    for _ in range(steps + 2):
        undo(workspace, GAME, "one")
    assert state(workspace)[1:] == first[1:] and workspace.game(GAME).record(entity, ident) is None


RULE_EDITS = {
    "name": "Third Draft", "tags": ["climber", "early"], "keywords": [{"name": "Rooted", "reminder": "Stays."}],
    "prices": {"stats": {"height": "2.5"}, "rows": [], "budgets": {"": {"by_cost": ["1", "3"]}}},
    "formats": [{"id": "open", "name": "Open", "least_cards": 3, "most_cards": 9, "copies": 1}],
}  # fmt: skip


@pytest.mark.parametrize("field", RULE_EDITS)
def test_every_part_of_the_rules_is_an_edit_that_is_written_read_undone_and_backed_up(workspace, field):
    """What makes a game is data in the journal: resources, names, worths, deck rules and whether it is put away."""
    before, stored = workspace.game(GAME).rules, workspace.store.raw(GAME).record
    if field == "keywords":
        write_keywords(workspace, GAME, RULE_EDITS[field], workspace.game(GAME).seq, "one")
    else:
        write_rules(workspace, GAME, field, RULE_EDITS[field], None, "one")
    after = workspace.game(GAME)
    assert after.rules[field] != before.get(field)
    fresh = open_workspace(workspace.store.path)
    assert fresh.game(GAME).rules == after.rules and fresh.game(GAME).name == after.name
    record = next(each for each in fresh.store.games() if each.id == GAME)
    assert (record.name, bool(record.away)) == (after.name, after.away), (
        "the list of games knows it without reading the rules"
    )
    fresh.close()
    restored = restore_game(workspace, archive(workspace, after), None)
    assert {**restored.rules, "name": ""} == {**after.rules, "name": ""}
    assert not restored.away, "what is brought in stands on the shelf"
    undo(workspace, GAME, "one")
    assert workspace.game(GAME).rules == before
    assert (
        json.loads(workspace.store.raw(GAME).record.rules)["prices"] == json.loads(stored.rules)["prices"]
        or field == "prices"
    )
