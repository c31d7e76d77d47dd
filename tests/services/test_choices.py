"""Choice lists edited at random: cards follow, every value that a card has is in its list, and undo leads back to the beginning."""

from __future__ import annotations

from random import Random

import pytest

from dramok.services import Refused
from dramok.services.history.undo import undo
from dramok.services.rules.choices import plan_list, write_list
from dramok.services.workspace.workspace import Conflict
from tests.conftest import GAME, SEED


def beds(desk):
    return next(each for each in desk.game(GAME).rulebook.cards.lists if each.id == "beds")


def document(desk):
    return beds(desk).model_dump(mode="json")


def write(desk, doc, moves=None):
    return write_list(desk, GAME, doc, moves or {}, desk.game(GAME).seq, "one")


def sound(desk):
    game = desk.game(GAME)
    ids = [value.id for value in beds(desk).values]
    offered = {value.id for value in beds(desk).offered}
    assert len(set(ids)) == len(ids)
    for card in game.cards.values():
        assert card.text("bed") in offered | {""}, (card.code, card.text("bed"))


def state(desk):
    game = desk.game(GAME)
    return game.rulebook.cards.lists, {ident: dict(card.values) for ident, card in game.cards.items()}


@pytest.mark.parametrize("turn", range(4))
def test_any_edits_of_a_list_keep_the_cards_sound_and_are_undone(desk, turn):
    dice = Random(f"{SEED} {turn}")
    first, done = state(desk), 0
    for number in range(14):
        doc = document(desk)
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
        plan = plan_list(desk.game(GAME), doc, moves)
        if plan.unplaced:
            before = desk.game(GAME).seq
            with pytest.raises(Refused, match="cards? ha"):
                write(desk, doc, moves)
            assert desk.game(GAME).seq == before
            continue
        if not plan.changes:
            with pytest.raises(Refused):
                write(desk, doc, moves)
            continue
        held = {card.id: card.text("bed") for card in desk.game(GAME).cards.values()}
        write(desk, doc, moves)
        done += 1
        sound(desk)
        for card in desk.game(GAME).cards.values():
            was = held[card.id]
            assert card.text("bed") == ((moves[was] or "") if was in moves else was), (
                "a card follows where it was sent, and no other moves"
            )
    for _ in range(done):
        undo(desk, GAME, "one")
        sound(desk)
    assert state(desk) == first


@pytest.mark.parametrize(
    ("change", "said"),
    [
        (lambda doc: doc["values"].append({"id": "", "name": "FERN"}), "FERN"), (lambda doc: doc["values"].append({"id": "", "name": " "}), ""),
        (lambda doc: doc.update(name=""), ""), 
        (lambda doc: doc["values"].append({"id": "fern", "name": "Twice"}), ""), (lambda doc: doc["values"][0].update(colour="red"), ""),
    ],
)  # fmt: skip
def test_a_list_that_cannot_be_is_refused_and_nothing_changes(desk, change, said):
    before, doc = state(desk), document(desk)
    change(doc)
    with pytest.raises(Refused) as refused:
        write(desk, doc)
    assert refused.value.problem.what and refused.value.problem.mend and said in str(refused.value.problem)
    assert state(desk) == before


def test_two_windows_at_one_list_do_not_write_over_each_other(desk):
    base, mine, theirs = desk.game(GAME).seq, document(desk), document(desk)
    theirs["values"][0]["name"] = "Bracken"
    write_list(desk, GAME, theirs, {}, base, "two")
    mine["values"][1]["name"] = "Bramble"
    with pytest.raises(Conflict):
        write_list(desk, GAME, mine, {}, base, "one")
    assert [value.name for value in beds(desk).values][:2] == ["Bracken", "Briar"]
