"""Random edits of choice lists: cards follow, every value of a card is in its list, and undo restores the start."""

from __future__ import annotations

from random import Random

import pytest

from dramok.services import Refused
from dramok.services.history.undo import undo
from dramok.services.rules.choices import plan_list, write_list
from dramok.services.workspace.workspace import Conflict
from tests.conftest import GAME, SEED


def beds(workspace):
    return next(each for each in workspace.game(GAME).rulebook.cards.lists if each.id == "beds")


def document(workspace):
    return beds(workspace).model_dump(mode="json")


def write(workspace, doc, moves=None):
    return write_list(workspace, GAME, doc, moves or {}, workspace.game(GAME).seq, "one")


def sound(workspace):
    game = workspace.game(GAME)
    ids = [value.id for value in beds(workspace).values]
    offered = {value.id for value in beds(workspace).offered}
    assert len(set(ids)) == len(ids)
    for card in game.cards.values():
        assert card.text("bed") in offered | {""}, (card.code, card.text("bed"))


def state(workspace):
    game = workspace.game(GAME)
    return game.rulebook.cards.lists, {ident: dict(card.values) for ident, card in game.cards.items()}


@pytest.mark.parametrize("turn", range(4))
def test_any_edits_of_a_list_keep_the_cards_sound_and_are_undone(workspace, turn):
    dice = Random(f"{SEED} {turn}")
    first, done = state(workspace), 0
    for number in range(14):
        doc = document(workspace)
        live = [value for value in doc["values"] if not value.get("retired")]
        way = dice.choice(["add", "rename", "move", "merge", "remove", "colour", "remove unplaced"])
        moves: dict[str, str | None] = {}
        if way == "add":
            doc["values"] = [*live, {"id": "", "name": f"Bed {number}"}]
        elif way == "rename":
            dice.choice(live)["name"] = f"Renamed {number}"
            doc["values"] = live
        elif way == "move":
            dice.shuffle(live)
            doc["values"] = live
        elif way == "colour":
            dice.choice(live)["colour"] = f"#{dice.randrange(16**6):06x}"
            doc["values"] = live
        elif len(live) > 1:
            gone = live.pop(dice.randrange(len(live)))
            doc["values"] = live
            if way != "remove unplaced":
                moves = {gone["id"]: dice.choice(live)["id"] if way == "merge" else None}
        plan = plan_list(workspace.game(GAME), doc, moves)
        if plan.unplaced:
            before = workspace.game(GAME).seq
            with pytest.raises(Refused, match="cards? ha"):
                write(workspace, doc, moves)
            assert workspace.game(GAME).seq == before
            continue
        if not plan.changes:
            with pytest.raises(Refused):
                write(workspace, doc, moves)
            continue
        held = {card.id: card.text("bed") for card in workspace.game(GAME).cards.values()}
        write(workspace, doc, moves)
        done += 1
        sound(workspace)
        for card in workspace.game(GAME).cards.values():
            was = held[card.id]
            assert card.text("bed") == ((moves[was] or "") if was in moves else was), (
                "a card follows where it was sent, and no other moves"
            )
    for _ in range(done):
        undo(workspace, GAME, "one")
        sound(workspace)
    assert state(workspace) == first


@pytest.mark.parametrize(
    ("change", "said"),
    [
        (lambda doc: doc["values"].append({"id": "", "name": "FERN"}), "FERN"), (lambda doc: doc["values"].append({"id": "", "name": " "}), ""),
        (lambda doc: doc.update(name=""), ""), 
        (lambda doc: doc["values"].append({"id": "fern", "name": "Twice"}), ""), (lambda doc: doc["values"][0].update(colour="red"), ""),
    ],
)  # fmt: skip
def test_a_list_that_cannot_be_is_refused_and_nothing_changes(workspace, change, said):
    before, doc = state(workspace), document(workspace)
    change(doc)
    with pytest.raises(Refused) as refused:
        write(workspace, doc)
    assert refused.value.problem.what and refused.value.problem.mend and said in str(refused.value.problem)
    assert state(workspace) == before


def test_two_windows_at_one_list_do_not_write_over_each_other(workspace):
    base, mine, theirs = workspace.game(GAME).seq, document(workspace), document(workspace)
    theirs["values"][0]["name"] = "Bracken"
    write_list(workspace, GAME, theirs, {}, base, "two")
    mine["values"][1]["name"] = "Bramble"
    with pytest.raises(Conflict):
        write_list(workspace, GAME, mine, {}, base, "one")
    assert [value.name for value in beds(workspace).values][:2] == ["Bracken", "Briar"]
