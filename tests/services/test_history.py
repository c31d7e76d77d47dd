"""History: revisions, reverts, marks, diffs between moments; notes; the same in queries."""

from __future__ import annotations

import random

import pytest

from dramok.services import Conflict, Missing, Refused
from dramok.services.cards.card_edits import add_card, card_in, duplicate_cards, edit_field, retire_cards
from dramok.services.cards.cells import CellEdit, write_cells
from dramok.services.cards.notes import add_note, edit_note, remove_note
from dramok.services.cards.search import find
from dramok.services.decks.edits import choose_rules, rename_deck, set_count, write_note
from dramok.services.files.sheet_additions import Making
from dramok.services.files.sheet_import import Order, write_import
from dramok.services.history.history import changes_in, detail_at, difference, journal, restore, revisions
from dramok.services.history.marks import add_mark, remove_mark, rename_mark
from dramok.services.history.undo import redo, undo
from dramok.services.rules.rule_parts import write_rules
from dramok.services.workspace.past import changed_cards, game_at
from tests.conftest import GAME

UNFOLDING = "c-ribbon-season-rs-016"


def edit(workspace, field, value, card=UNFOLDING, page="one"):
    return edit_field(workspace, GAME, card, field, value, workspace.game(GAME).seq, page)


def test_a_card_tells_its_past_and_goes_back_by_a_field_or_whole(workspace):
    edit(workspace, "height", "7")
    seq = edit(workspace, "bed", "Moss").op.seq
    edit(workspace, "name", "The Folding")
    past = revisions(workspace, workspace.game(GAME), UNFOLDING)
    assert [(each.revision, each.kind) for each in past] == [
        (4, "changed"),
        (3, "changed"),
        (2, "changed"),
        (1, "made"),
    ]
    assert [(each.name, each.before, each.after) for each in past[1].changes] == [("Bed", "Fern", "Moss")]
    then = detail_at(workspace, workspace.game(GAME), UNFOLDING, past[3].seq)
    assert then.card.values["height"] == 5 and ">5<" in then.svg and "The Unfolding" in then.svg
    restore(workspace, GAME, UNFOLDING, past[3].seq, "one", ["height"])
    card = workspace.game(GAME).cards[UNFOLDING]
    assert (card.values["height"], card.values["bed"], card.values["name"]) == (5, "moss", "The Folding")
    restore(workspace, GAME, UNFOLDING, seq, "one")
    card = workspace.game(GAME).cards[UNFOLDING]
    assert (card.values["height"], card.values["bed"], card.values["name"]) == (7, "moss", "The Unfolding")
    undo(workspace, GAME, "one")
    assert workspace.game(GAME).cards[UNFOLDING].values["name"] == "The Folding"
    with pytest.raises(Refused, match="nothing would change"):
        restore(workspace, GAME, UNFOLDING, workspace.game(GAME).seq, "one")
    with pytest.raises(Missing):
        restore(workspace, GAME, UNFOLDING, 0, "one")


def test_a_card_that_is_gone_comes_back_unless_its_code_is_taken(workspace):
    seq = edit(workspace, "height", "7").op.seq
    retire_cards(workspace, GAME, [UNFOLDING], "one")
    assert revisions(workspace, workspace.game(GAME), UNFOLDING)[0].kind == "removed"
    with pytest.raises(Missing):
        detail_at(workspace, workspace.game(GAME), UNFOLDING, workspace.game(GAME).seq)
    restore(workspace, GAME, UNFOLDING, seq, "one")
    assert workspace.game(GAME).cards[UNFOLDING].values["height"] == 7
    retire_cards(workspace, GAME, [UNFOLDING], "one")
    add_card(workspace, GAME, "plant", "first", "one", None, {"name": "Usurper", "code": "RS-016"})
    with pytest.raises(Conflict, match="taken by Usurper"):
        restore(workspace, GAME, UNFOLDING, seq, "one")


def test_walking_the_journal_back_gives_every_earlier_state(workspace):
    """Any run of edits, cards, imports, undos and redos: each moment comes back as it was."""
    chance = random.Random(5)
    seen = {}
    for number in range(40):
        game = workspace.game(GAME)
        seen[game.seq] = game
        card = chance.choice(list(game.cards))
        try:
            match chance.randrange(7):
                case 0:
                    retire_cards(workspace, GAME, [card], "one")
                case 1:
                    duplicate_cards(workspace, GAME, [card], "one")
                case 2:
                    undo(workspace, GAME, "one")
                case 3:
                    redo(workspace, GAME, "one")
                case 4:
                    make = Making({1: (f"Luck {number}", "number")}) if number % 2 else Making()
                    write_import(
                        workspace,
                        GAME,
                        f"Name,Luck {number}\nLucky,{number}\n".encode(),
                        "l.csv",
                        "one",
                        Order(make=make),
                    )
                case _:
                    edit(workspace, chance.choice(["cost", "root", "height"]), str(chance.randrange(9)), card)
        except (Refused, Conflict):
            continue
    now = workspace.game(GAME)
    for seq, then in seen.items():
        back = game_at(workspace, now, seq)
        assert {each.id: (each.code, each.type, dict(each.values)) for each in back.cards.values()} == {
            each.id: (each.code, each.type, dict(each.values)) for each in then.cards.values()
        }
        assert back.rulebook == then.rulebook and back.sets == then.sets


def test_what_changed_between_two_marks_counts_only_what_stayed_changed(workspace):
    commit, before = add_mark(workspace, GAME, "before playtest 3", "one")
    edit(workspace, "height", "7")
    edit(workspace, "cost", "2")
    edit(workspace, "cost", "6")  # as it was
    edit(workspace, "root", "4", card="c-ribbon-season-rs-001")
    retire_cards(workspace, GAME, ["c-ribbon-season-rs-002"], "one")
    _, fresh = add_card(workspace, GAME, "plant", "first", "one", None, {"name": "New"})
    _, gone = add_card(workspace, GAME, "plant", "first", "one", None, {"name": "Not for long"})
    retire_cards(workspace, GAME, [gone], "one")
    _, after = add_mark(workspace, GAME, "after", "one")
    edit(workspace, "height", "9")
    game = workspace.game(GAME)
    marks = [int(game.things[each].doc["seq"]) for each in (before, after)]
    found = difference(workspace, game, *marks)
    assert [
        (each.code, each.kind, [(c.field, c.before, c.after) for c in each.changes]) for each in found.cards
    ] == [
        (game.cards[fresh].code, "added", []),
        ("RS-001", "changed", [("root", "2", "4")]),
        ("RS-016", "changed", [("height", "5", "7")]),
        ("RS-002", "gone", []),
    ]
    assert [each.code for each in find(workspace, game, 'changed since "after"').cards] == ["RS-016"]
    assert {each.code for each in find(workspace, game, "changed since before playtest 3").cards} == {
        "RS-001",
        "RS-016",
        game.cards[fresh].code,
    }
    problem = find(workspace, game, "changed since befor").problem
    assert problem is not None and "there is no mark" in problem.what and "before playtest 3" in problem.mend
    with pytest.raises(Refused, match="already"):
        rename_mark(workspace, GAME, after, "Before Playtest 3", "one")
    remove_mark(workspace, GAME, after, "one")
    assert [each.name for each in workspace.game(GAME).of_kind("mark")] == ["before playtest 3"]


def test_the_journal_is_filtered_by_word_and_kind_and_shows_what_one_edit_did(workspace):
    edit(workspace, "height", "7")
    add_note(workspace, GAME, UNFOLDING, "Too long?", "one")
    game = workspace.game(GAME)
    assert [each.op.label for each in journal(workspace, game)][:2] == [
        "note on The Unfolding",
        "The Unfolding: height",
    ]
    assert [each.counts for each in journal(workspace, game, text="HEIGHT")] == [(("card", 1),)]
    assert [each.op.label for each in journal(workspace, game, kind="note")] == [
        "note on The Unfolding",
        "the demo game",
    ]
    found = changes_in(workspace, game, journal(workspace, game)[1].op.seq)
    assert found.count("changed") == 1 and found.cards[0].changes[0].after == "7"
    assert changes_in(workspace, game, game.seq).others == ("1 note: The Unfolding added",)


def test_a_small_edit_of_a_deck_says_what_was_and_what_became(workspace):
    first = workspace.game(GAME).rules["formats"][0]
    other = {**first, "id": "tall", "name": "Tall Beds", "sections": [{"id": "side", "name": "Seed Box"}]}
    write_rules(workspace, GAME, "formats", [first, other], None, "one")
    deck = next(iter(workspace.game(GAME).decks.values()))
    count = deck.cards.get(UNFOLDING, 0)

    def told() -> str:
        return journal(workspace, workspace.game(GAME), most=1)[0].said

    set_count(workspace, GAME, deck.id, UNFOLDING, count + 2, workspace.game(GAME).seq, "one")
    assert told() == f"The Unfolding: {count} → {count + 2}"
    choose_rules(workspace, GAME, deck.id, "tall", "one")
    assert told() == "deck rules: Duel → Tall Beds"
    set_count(workspace, GAME, deck.id, UNFOLDING, 3, workspace.game(GAME).seq, "one", section="side")
    assert told() == "The Unfolding, Seed Box: 0 → 3"
    write_note(workspace, GAME, deck.id, "Too slow against moss.\nAsk Ada.", "one")
    assert told() == "note: empty → Too slow against moss. ⏎ Ask Ada."
    rename_deck(workspace, GAME, deck.id, "Slow Fern", "one")
    assert told() == f"name: {deck.name} → Slow Fern"
    undo(workspace, GAME, "one")
    assert told() == f"name: Slow Fern → {deck.name}"
    choose_rules(workspace, GAME, deck.id, "", "one")
    assert told() == "deck rules: Tall Beds → Duel"
    assert [each.said for each in journal(workspace, workspace.game(GAME), most=3)][2] == "name: " + f"{deck.name} → Slow Fern"


def test_notes_are_open_until_answered_and_found_by_queries(workspace):
    _, note = add_note(workspace, GAME, UNFOLDING, "  Too strong on turn 2?  ", "one")
    assert [each.code for each in find(workspace, workspace.game(GAME), "open notes").cards] == ["RS-009", "RS-016"]
    edit_note(workspace, GAME, note, "one", answer="Cost raised.", answered=True)
    game = workspace.game(GAME)
    assert (
        game.things[note].doc["text"] == "Too strong on turn 2?"
        and game.things[note].doc["state"] == "answered"
    )
    assert [each.code for each in find(workspace, game, "open notes").cards] == ["RS-009"] and len(
        find(workspace, game, "answered notes bed is Fern").cards
    ) == 1
    undo(workspace, GAME, "one")
    assert workspace.game(GAME).things[note].doc["state"] == "open"
    remove_note(workspace, GAME, note, "one")
    assert [each.code for each in find(workspace, workspace.game(GAME), "any notes").cards] == ["RS-009", "RS-058"]
    for text in ("", " ", "x" * 5_000):
        with pytest.raises(Refused, match="words|too many"):
            add_note(workspace, GAME, UNFOLDING, text, "one")


def test_undo_of_a_field_that_another_page_touched_shows_both(workspace):
    edit(workspace, "height", "7", page="one")
    edit(workspace, "height", "8", page="two")
    with pytest.raises(Conflict) as both:
        undo(workspace, GAME, "one", live={"two"})
    assert (both.value.theirs, both.value.yours) == ("8", "5")
    write_cells(workspace, GAME, [CellEdit(UNFOLDING, "height", "7")], workspace.game(GAME).seq, "two")
    undo(workspace, GAME, "one", live={"two"})
    assert card_in(workspace.game(GAME), "RS-016").values["height"] == 5


def test_cards_changed_since_an_op_are_those_that_exist_and_differ(workspace):
    """Not a card changed there and back, not one that was removed, and nothing that is no card."""
    since = workspace.game(GAME).seq
    other, gone = "c-ribbon-season-rs-017", "c-ribbon-season-rs-018"
    edit(workspace, "height", "7")
    before = workspace.game(GAME).cards[other].text("name")
    edit(workspace, "name", "Another", other)
    edit(workspace, "name", before, other)
    edit(workspace, "name", "Soon gone", gone)
    retire_cards(workspace, GAME, [gone], "one")
    deck = next(iter(workspace.game(GAME).decks.values()))
    rename_deck(workspace, GAME, deck.id, "Renamed", "one")
    assert changed_cards(workspace, workspace.game(GAME), since) == [UNFOLDING]
