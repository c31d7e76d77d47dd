"""A game that could not be read, backed up or restored is never written; an undo that no longer fits is a conflict."""

from __future__ import annotations

import io
import json
import random
import zipfile

import pytest
from bench.fuzz import whole

from dramok.core.cards import read_value
from dramok.core.effects import Script
from dramok.core.text_checks import InvalidInput, check_document, read_json, text_fault, without_controls
from dramok.services import Conflict, Missing, Refused, open_workspace
from dramok.services.cards.card_edits import card_in, retire_cards
from dramok.services.cards.cells import CellEdit, write_cells
from dramok.services.cards.notes import add_note
from dramok.services.decks.edits import add_deck, retire_deck, set_count
from dramok.services.files.archive import archive, restore_game
from dramok.services.files.sheet_import import Order, plan_import, write_import
from dramok.services.history import undo as undo_module
from dramok.services.history.history import journal, restore
from dramok.services.history.undo import next_steps, redo, undo
from dramok.services.rules.card_types import remove_type, write_type
from dramok.services.rules.choices import remove_set, write_list, write_set
from dramok.services.rules.keywords import plan_keywords, write_keywords
from dramok.store import Change, Key, KeyReused, NotWritten, open_store
from tests.conftest import GAME, SEED

ONE, TWO = f"c-{GAME}-rs-001", f"c-{GAME}-rs-002"
TOOL = f"c-{GAME}-rs-021"
BOTH = {"one", "two"}


def write(workspace, card, field, typed, page="one"):
    done = write_cells(workspace, GAME, [CellEdit(card, field, typed)], workspace.game(GAME).seq, page)
    assert not done.refused, done.refused
    return done.commit


def value(workspace, card, field):
    return workspace.game(GAME).cards[card].values.get(field)


def is_as_it_was(workspace, before):
    """Memory holds what it did, and so does the file."""
    fresh = open_workspace(workspace.store.path)
    assert whole(workspace.game(GAME)) == whole(fresh.game(GAME)) == before
    fresh.close()


# What cards share is looked at once, and nothing slips through by being like what was seen.


LIKE = [
    ("cost", "1", "true", "cost"), ("cost", "2", '"2"', "cost"), ("cost", "1", "[1]", "cost"), ("name", '"1"', "1", "name"),
    ("tags", '["a"]', '"a"', "tags"), ("tags", '["1"]', "[1]", "tags"), ("tags", '["a"]', '[["a"]]', "tags"), ("tags", '["a"]', '[{"a": 1}]', "tags"),
    ("name", '"Fern"', '"Fern\\u0000"', ""), ("name", '"Fern"', '{"lines": 1}', ""), ("cost", "1", "1e999", ""),
]  # fmt: skip


@pytest.mark.parametrize(("field", "good", "bad", "said"), LIKE)
@pytest.mark.parametrize("order", ["good first", "bad first"])
def test_a_value_equal_to_a_valid_one_is_checked_by_its_form(workspace, field, good, bad, said, order):
    """Two cards in one step: one with a sound value, one with a value that Python takes for the same, or for none at all."""
    before = whole(workspace.game(GAME))
    changes = [Change("card", ONE, field, None, good), Change("card", TWO, field, None, bad)]
    with pytest.raises(Refused) as caught:
        workspace.commit(GAME, "two", "page", lambda _: changes if order == "good first" else changes[::-1])
    assert said in caught.value.problem.what.lower() or not said
    is_as_it_was(workspace, before)
    alone = [Change("card", ONE, field, None, good)]
    workspace.commit(GAME, "one", "page", lambda _: alone)


def test_the_same_fault_on_many_cards_is_reported_for_the_first(workspace):
    ids = sorted(workspace.game(GAME).cards)[:30]
    random.Random(SEED).shuffle(ids)
    with pytest.raises(Refused) as caught:
        workspace.commit(
            GAME, "many", "page", lambda _: [Change("card", each, "cost", None, '"x"') for each in ids]
        )
    titles = {workspace.game(GAME).title(workspace.game(GAME).cards[each]) for each in ids}
    assert (
        caught.value.problem.where in titles
        and "Cost" in caught.value.problem.what + caught.value.problem.where
    )


# What is never written.

BAD = [
    ("card of a type that is gone", lambda g: [Change("card", ONE, "type", '"plant"', '"herb"')]),
    ("card of a set that is gone", lambda g: [Change("card", ONE, "set", '"first"', '"second"')]),
    ("a type that cards have", lambda g: [Change("game", GAME, "types/tool", "{}", None)]),
    ("a set that cards have", lambda g: [Change("set", "first", "exists", "{}", None)]),
    ("the code of another", lambda g: [Change("card", ONE, "code", '"RS-001"', '"rs-002"')]),
    ("no code", lambda g: [Change("card", ONE, "code", '"RS-001"', '""')]),
    ("a text where a number is", lambda g: [Change("card", ONE, "cost", "1", '"one"')]),
    ("a number where a text is", lambda g: [Change("card", ONE, "name", '"x"', "7")]),
    ("a NUL", lambda g: [Change("card", ONE, "name", None, json.dumps("a\0b"))]),
    ("half a character", lambda g: [Change("card", ONE, "name", None, '"\\ud800"')]),
    ("a number of over 64 bits", lambda g: [Change("card", ONE, "cost", None, str(2**64))]),
    ("what is not JSON", lambda g: [Change("card", ONE, "name", None, "{")]),
    ("an id of odd letters", lambda g: [Change("deck", "a b", "exists", None, '{"name": "x", "cards": {}}')]),
    ("a deck without a name", lambda g: [Change("deck", "d1", "exists", None, '{"cards": {}}')]),
    ("a count below one", lambda g: [Change("deck", next(iter(g.decks)), f"card/{ONE}", None, "-3")]),
    ("a note without its card", lambda g: [Change("note", "n1", "exists", None, '{"text": "x"}')]),
    ("a mark at no moment", lambda g: [Change("mark", "m1", "exists", None, '{"name": "x", "seq": "now", "at": ""}')]),
    ("a plan with a text for a place", lambda g: [Change("plan", f"f-{GAME}-base", "place/name", None, '{"z": "1"}')]),
    ("a plan with a key nobody knows", lambda g: [Change("plan", f"f-{GAME}-base", "place/name", None, '{"zz": 1}')]),
    ("a picture of no picture", lambda g: [Change("picture", "p1", "exists", None, '{"name": "x", "sha": "y"}')]),
    ("a back of no colour", lambda g: [Change("set", "first", "back", None, '{"colour": "red"}')]),
    ("a part that rules have not", lambda g: [Change("game", GAME, "nonsense", None, "1")]),
    ("an edit of what is not there", lambda g: [Change("card", "c-gone", "cost", None, "1")]),
    ("a run of no faces", lambda g: [Change("run", "r1", "exists", None, '{"name": "x", "at": ""}')]),
    ("cards paid with what is no resource", lambda g: [Change("game", GAME, "table", None, '{"pays": "gold"}')]),
    ("the resource removed that pays", lambda g: [Change("game", GAME, "resources", None, "[]")]),
    ("two resources of one id", lambda g: [Change("game", GAME, "resources", None, json.dumps([g.rulebook.resources[0].model_dump(mode="json")] * 2))]),
    ("no name", lambda g: [Change("game", GAME, "name", '"Ribbon Season"', '""')]),
    ("a worth that is not a number", lambda g: [Change("game", GAME, "prices", None, '{"stats": {"height": "NaN"}}')]),
    ("a budget without costs", lambda g: [Change("game", GAME, "prices", None, '{"budgets": {"": {"by_cost": []}}}')]),
    ("deck rules that say nothing", lambda g: [Change("game", GAME, "formats", None, "[{}]")]),
    ("no deck rules at all", lambda g: [Change("game", GAME, "formats", None, "[]")]),
    ("types in a circle", lambda g: [Change("game", GAME, "types/card", None, json.dumps({**g.rulebook.cards.type("card").model_dump(mode="json"), "extends": "plant"}))]),
]  # fmt: skip


@pytest.mark.parametrize(("what", "made"), BAD, ids=[what for what, _ in BAD])
def test_it_is_refused_inside_the_transaction_and_leaves_nothing(workspace, what, made):
    before, seq = whole(workspace.game(GAME)), workspace.game(GAME).seq
    with pytest.raises(Refused) as refused:
        workspace.commit(GAME, what, "one", lambda now: made(now))
    assert refused.value.problem.what and refused.value.problem.mend
    assert workspace.game(GAME).seq == seq
    is_as_it_was(workspace, before)
    write(workspace, ONE, "cost", "5")
    assert value(workspace, ONE, "cost") == 5, "and the next edit is written"


def test_labels_and_pages_are_previewed(workspace):
    change = (Change("card", ONE, "cost", "1", "4"),)
    for label, page in (("a\0", "one"), ("x" * 3_000, "one"), ("x", "p" * 90), ("\ud800", "one")):
        with pytest.raises(Refused):
            workspace.commit(GAME, label, page, lambda now: change)


# Undo and restore that no longer fit.


def test_a_card_is_not_brought_back_into_a_type_or_set_that_is_gone(workspace):
    retire_cards(workspace, GAME, [TOOL], "one")
    gone = workspace.game(GAME).seq
    remove_type(workspace, GAME, "tool", "plant", "two")
    with pytest.raises(Conflict, match="card type tool is gone") as conflict:
        undo(workspace, GAME, "one", BOTH)
    assert conflict.value.theirs and conflict.value.yours and conflict.value.op == gone
    with pytest.raises(Refused, match="tool is gone"):
        restore(workspace, GAME, TOOL, gone - 1, "one")
    undo(workspace, GAME, "two", BOTH)
    undo(workspace, GAME, "one", BOTH)
    assert TOOL in workspace.game(GAME).cards


def test_a_conflict_can_be_solved_three_ways(workspace):
    seen = workspace.game(GAME).seq
    edits = [CellEdit(ONE, "height", "7"), CellEdit(ONE, "root", "7"), CellEdit(TWO, "cost", "7")]
    write_cells(workspace, GAME, edits, seen, "one")
    op = workspace.game(GAME).seq
    write(workspace, ONE, "root", "9", "two")
    with pytest.raises(Conflict) as conflict:
        undo(workspace, GAME, "one", BOTH)
    assert (conflict.value.theirs, conflict.value.yours) == ("9", "2")
    assert (conflict.value.op, conflict.value.rest) == (op, 2)
    undo(workspace, GAME, "one", BOTH, how="rest", only=op)
    assert [value(workspace, ONE, "height"), value(workspace, ONE, "root"), value(workspace, TWO, "cost")] == [1, 9, 2]
    redo(workspace, GAME, "one", BOTH)
    assert [value(workspace, ONE, "height"), value(workspace, ONE, "root"), value(workspace, TWO, "cost")] == [7, 9, 7]
    write(workspace, ONE, "height", "8", "two")
    write(workspace, ONE, "root", "3", "one")
    assert next_steps(workspace, GAME, "one", BOTH).undo.label.endswith("root")
    undo(workspace, GAME, "one", BOTH)
    undo(workspace, GAME, "one", BOTH, how="over")
    assert [value(workspace, ONE, "height"), value(workspace, TWO, "cost")] == [1, 2], "over what is there now"


def test_a_skipped_step_stays_skipped_and_is_not_offered_again(workspace):
    write(workspace, ONE, "root", "6")
    write(workspace, ONE, "height", "7")
    write(workspace, ONE, "height", "9", "two")
    with pytest.raises(Conflict) as conflict:
        undo(workspace, GAME, "one", BOTH)
    with pytest.raises(Missing):
        undo(workspace, GAME, "one", BOTH, how="pass", only=conflict.value.op - 1)
    undo(workspace, GAME, "one", BOTH, how="pass", only=conflict.value.op)
    undo(workspace, GAME, "one", BOTH)
    assert (value(workspace, ONE, "height"), value(workspace, ONE, "root")) == (9, 2)
    redo(workspace, GAME, "one", BOTH)
    assert (value(workspace, ONE, "height"), value(workspace, ONE, "root")) == (9, 6)


def test_undo_of_a_count_that_others_changed_names_both(workspace):
    deck = next(iter(workspace.game(GAME).decks.values()))
    card = next(iter(deck.cards))
    old = deck.cards[card]
    set_count(workspace, GAME, deck.id, card, 5, workspace.game(GAME).seq, "one")
    set_count(workspace, GAME, deck.id, card, 7, workspace.game(GAME).seq, "two")
    with pytest.raises(Conflict) as conflict:
        undo(workspace, GAME, "one", BOTH)
    assert (conflict.value.theirs, conflict.value.yours) == ("7", str(old))


@pytest.mark.parametrize("piece", [1, 3, 300])
def test_undo_goes_by_the_whole_journal_whatever_the_others_did(workspace, monkeypatch, piece):
    monkeypatch.setattr(undo_module, "PIECE", piece)
    for number in range(12):
        write(workspace, ONE, "height", str(number + 2))
        for more in range(4):
            write(workspace, TWO, "printed", f"text {number * 4 + more}", "two")
    for number in reversed(range(12)):
        assert value(workspace, ONE, "height") == number + 2
        undo(workspace, GAME, "one", BOTH)
    assert value(workspace, ONE, "height") == 1
    with pytest.raises(Refused, match="nothing to undo"):
        undo(workspace, GAME, "one", BOTH)
    for number in range(12):
        redo(workspace, GAME, "one", BOTH)
        assert value(workspace, ONE, "height") == number + 2
    assert value(workspace, TWO, "printed") == "text 47", "what the other window did stands"


def test_a_page_called_like_a_quiet_op_undoes_its_own_and_nothing_else(workspace):
    for name in ("demo", "pictures", "print runs", "dramok"):
        write(workspace, ONE, "height", "7", name)
        undo(workspace, GAME, name, {name, "one"})
        assert value(workspace, ONE, "height") == 1
        with pytest.raises(Refused, match="nothing to undo"):
            undo(workspace, GAME, name, {name, "one"})
    assert len(workspace.game(GAME).cards) == 96, "the founding is nobody's to undo"


def test_more_than_a_thousand_edits_can_all_be_undone(workspace):
    for number in range(1_100):
        write(workspace, ONE, "height", str(number % 2 + 2))
    for _ in range(1_100):
        undo(workspace, GAME, "one", BOTH)
    assert value(workspace, ONE, "height") == 1


def test_own_edits_that_wait_in_line_never_conflict_and_those_of_others_do(workspace):
    seen = workspace.game(GAME).seq
    for typed in ("4", "5", "6"):
        write_cells(workspace, GAME, [CellEdit(ONE, "height", typed)], seen, "one")
    assert value(workspace, ONE, "height") == 6
    (refused,) = write_cells(workspace, GAME, [CellEdit(ONE, "height", "9")], seen, "two").refused
    assert refused.theirs == "6"


# Keys.


def test_a_key_is_of_one_game_and_one_request(workspace):
    key = Key("k", "digest one")
    first = write_cells(
        workspace, GAME, [CellEdit(ONE, "height", "7")], workspace.game(GAME).seq, "one", key=key
    ).commit
    again = write_cells(
        workspace, GAME, [CellEdit(ONE, "height", "7")], workspace.game(GAME).seq, "one", key=key
    ).commit
    assert again.repeated and again.op.seq == first.op.seq and again.changes
    with pytest.raises(KeyReused):
        add_deck(workspace, GAME, "Other", "one", key=Key("k", "digest two"))
    with pytest.raises(KeyReused):
        add_deck(workspace, "potting-shed", "Other", "one", key=key)
    with pytest.raises(KeyReused):
        restore_game(workspace, archive(workspace, workspace.game(GAME)), key=key)
    assert undo(workspace, GAME, "one", key=Key("u")).op.seq == undo(workspace, GAME, "one", key=Key("u")).op.seq
    assert value(workspace, ONE, "height") == 1


def test_a_repeated_deck_is_given_back_also_when_it_is_gone_since(workspace):
    _, deck = add_deck(workspace, GAME, "Twice", "one", key=Key("k"))
    retire_deck(workspace, GAME, deck, "one")
    commit, again = add_deck(workspace, GAME, "Twice", "one", key=Key("k"))
    assert again == deck and commit.repeated and deck not in workspace.game(GAME).decks


def test_a_file_that_is_held_says_so(workspace, monkeypatch):
    other = open_store(workspace.store.path)
    workspace.store._engine.dispose()
    with workspace.store._engine.connect() as connection:
        connection.exec_driver_sql("PRAGMA busy_timeout = 1")
    monkeypatch.setattr("dramok.store.store._prepare", lambda *_: None)
    with other.writing() as held, pytest.raises(NotWritten, match="locked"):
        held.exec_driver_sql("SELECT 1")
        with workspace.store._engine.connect() as connection:
            connection.exec_driver_sql("PRAGMA busy_timeout = 1")
        write(workspace, ONE, "height", "7")
    other.close()
    write(workspace, ONE, "height", "7")


# Ids of what is restored.


def test_a_note_whose_id_is_that_of_a_card_type_renames_nothing_in_the_rules(workspace):
    """An archive from another program: its ids are words that occur elsewhere too."""
    add_note(workspace, GAME, ONE, "plant", "one")
    data = archive(workspace, workspace.game(GAME))
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as source, zipfile.ZipFile(out, "w") as target:
        for name in source.namelist():
            held = source.read(name)
            if name == "things/note.json":
                notes = json.loads(held)
                notes[-1]["id"] = "plant"
                held = json.dumps(notes).encode()
            target.writestr(name, held)
    game = restore_game(workspace, out.getvalue(), "Beside")
    assert game.rulebook.cards == workspace.game(GAME).rulebook.cards
    assert {card.type for card in game.cards.values()} == {"plant", "weather", "tool"}
    for note in game.of_kind("note"):
        assert note.doc["card"] in game.cards, "a note stays with its card"
    for deck in game.decks.values():
        assert deck.cards and set(deck.cards) <= set(game.cards)
    assert len(workspace.shelf()) == 4 and not any(isinstance(each, Exception) for each in workspace.shelf())


def test_a_game_is_restored_as_a_second_copy_repeatedly(workspace):
    data = archive(workspace, workspace.game(GAME))
    shapes = []
    game = workspace.game(GAME)
    for number in range(3):
        game = restore_game(workspace, data if number < 2 else archive(workspace, game), f"Copy {number}")
        shapes.append(
            (
                sorted(card.code for card in game.cards.values()),
                sorted(deck.size for deck in game.decks.values()),
            )
        )
        assert journal(workspace, game)
    assert shapes[0] == shapes[1] == shapes[2]


# Text.


def test_controls_go_and_lines_end_in_one_way():
    assert without_controls("a\r\nb\rc\x07d\te\x0bf\x7f") == "a\nb\ncd\tef"


@pytest.mark.parametrize(
    ("document", "where"),
    [
        ({"a": [{"b": "x\0"}]}, "a.0.b"),
        ({"a\0": 1}, ""),
        ([1, 2, float("inf")], "2"),
        ({"n": 2**63}, "n"),
        ({"n": -(2**63) - 1}, "n"),
    ],
)
def test_invalid_values_are_reported_with_their_place(document, where):
    with pytest.raises(InvalidInput) as told:
        check_document(document)
    assert told.value.where == where and told.value.mend


def test_sound_documents_pass_whatever_they_hold():
    chance = random.Random(SEED)

    def any_of(depth):
        if depth == 0:
            return chance.choice([None, True, 0, -(2**63) + 1, 2**63 - 1, 0.5, "", "☘\n", "\U0001f33f", "é"])
        if chance.random() < 0.5:
            return [any_of(depth - 1) for _ in range(chance.randrange(4))]
        return {chance.choice("abcé☘"): any_of(depth - 1) for _ in range(chance.randrange(4))}

    for _ in range(200):
        document = any_of(chance.randrange(5))
        assert read_json(json.dumps(document)) == document, SEED
    assert text_fault("\ud83c\udf3f") and not text_fault("\U0001f33f")


def test_what_is_typed_holds_no_controls_afterwards(game):
    schema, vocabulary = game.rulebook.cards, game.vocabulary
    printed = schema.field("printed")
    assert read_value(printed, "a\x07\r\nb", schema, vocabulary)[0] == "a\nb"
    script, _ = read_value(
        schema.field("effect"), "upon play this: draw 1\r\nnot\x00 a line", schema, vocabulary
    )
    assert isinstance(script, Script) and script.lines[1].draft == "not a line"


# Renames and what they take along.


def keywords(workspace):
    return [{"name": each.name, "reminder": each.reminder} for each in workspace.game(GAME).rulebook.keywords]


def test_a_keyword_that_is_renamed_is_renamed_in_prose_reminders_and_phrases(workspace):
    write(workspace, ONE, "printed", "Mildew, MILDEW; unmildewed, mildew's mildews.")
    write(workspace, TWO, "effect", "some prose of mildew\nupon play this: draw 1")
    before = whole(workspace.game(GAME))
    wanted = [{**each, "name": "canker"} for each in keywords(workspace)]
    plan = plan_keywords(workspace.game(GAME), wanted, {"mildew": "canker"})
    assert plan.cards == 2 and {use.where for use in plan.uses} >= {"the phrase book", "reminder of canker", "Printed text", "Effect"}  # fmt: skip
    commit = write_keywords(workspace, GAME, wanted, workspace.game(GAME).seq, "one", renames={"mildew": "canker"})
    assert commit.op.label == f"keyword mildew renamed to canker, and in {len(plan.uses)} texts"
    game = workspace.game(GAME)
    assert value(workspace, ONE, "printed") == "Canker, Canker; unmildewed, canker's mildews."
    assert value(workspace, TWO, "effect").lines[0].draft == "some prose of canker"
    assert value(workspace, TWO, "effect").lines[1].ability is not None
    assert game.rulebook.phrases.damage == "canker" and "canker" in game.rulebook.keywords[0].reminder
    undo(workspace, GAME, "one")
    assert whole(workspace.game(GAME)) == before
    alone = write_keywords(workspace, GAME, wanted, workspace.game(GAME).seq, "one")
    assert alone.op.label == "keyword mildew renamed to canker"
    assert workspace.game(GAME).rulebook.phrases.damage == "mildew"


def test_labels_of_renames_say_both_names(workspace):
    game = workspace.game(GAME)
    beds = next(each for each in game.rulebook.cards.lists if each.name == "Beds")
    document = beds.model_dump(mode="json")
    document["values"][0]["name"] = "Thicket"
    old = beds.values[0].name
    assert write_list(workspace, GAME, document, {}, game.seq, "one").op.label == f"{old} renamed to Thicket"
    document["name"] = "Plots"
    assert (
        write_list(workspace, GAME, document, {}, workspace.game(GAME).seq, "one").op.label
        == "choice list Beds renamed to Plots"
    )
    plant = workspace.game(GAME).rulebook.cards.type("plant").model_dump(mode="json")
    plant["fields"][0]["name"] = "Stature"
    label = write_type(workspace, GAME, plant, workspace.game(GAME).seq, "one").op.label
    assert label.startswith("Plant: ") and label.endswith(" renamed to Stature")
    plant["name"] = "Growth"
    assert (
        write_type(workspace, GAME, plant, workspace.game(GAME).seq, "one").op.label
        == "card type Plant renamed to Growth"
    )


def test_the_journal_says_what_a_small_edit_was_and_became(workspace):
    write(workspace, ONE, "height", "7")
    write(
        workspace,
        ONE,
        "printed",
        "A first line.\nA second line that goes on for longer than anybody wants to read here.",
    )
    deck = next(iter(workspace.game(GAME).decks.values()))
    card = next(iter(deck.cards))
    set_count(workspace, GAME, deck.id, card, 5, workspace.game(GAME).seq, "one")
    said = [each.said for each in journal(workspace, workspace.game(GAME), most=4)]
    assert said[2] == "Height: 1 → 7" and said[3] == ""
    assert said[1].startswith("Printed text: empty → A first line. ⏎ A second") and said[1].endswith("…")
    assert said[0] == f"{workspace.game(GAME).title(workspace.game(GAME).cards[card])}: {deck.cards[card]} → 5"


# Imports.


def test_a_sheet_whose_codes_are_known_is_an_update_and_new_rows_join_the_others(workspace):
    write_set(workspace, GAME, {"name": "Second", "code": "S2"}, "one")
    sheet = (
        "Code,Name,Type,Cost\n"
        + "".join(f"RS-{n:03},New Name {n},,\n" for n in (1, 2, 3))
        + "RS-900,Fresh,Plant,2\n"
    )
    plan = plan_import(workspace.game(GAME), sheet.encode(), "own.csv", Order())
    assert plan.suggested == "code"
    order = Order(match="code")
    assert plan_import(workspace.game(GAME), sheet.encode(), "own.csv", order).suggested is None
    commit, _ = write_import(workspace, GAME, sheet.encode(), "own.csv", "one", order)
    assert len(commit.after.sets) == 2, "no new set"
    assert card_in(commit.after, "RS-900").set == "first" and value(workspace, ONE, "name") == "New Name 1"
    foreign = plan_import(workspace.game(GAME), b"Code,Name\nXX-1,One\nXX-2,Two\nRS-001,Three\n", "x.csv", Order())
    assert foreign.suggested is None


def test_the_broken_effect_of_a_sheet_is_reported(workspace):
    sheet = "Code,Effect\nRS-001,upon play this: drw 1\nRS-002,upon play this: draw 1\n"
    plan = plan_import(workspace.game(GAME), sheet.encode(), "own.csv", Order(match="code"))
    notes = {row.code: row.notes for row in plan.intake.taken}
    assert any("“drw” can't be here" in note and "write draw" in note for note in notes["RS-001"])
    assert not notes["RS-002"]


def test_sets_are_removed_only_with_a_new_set_for_their_cards(workspace):
    commit, other = write_set(workspace, GAME, {"name": "Second", "code": "S2"}, "one")
    assert commit.after.set_of(other)
    with pytest.raises(Refused):
        remove_set(workspace, GAME, "first", None, "one")
    remove_set(workspace, GAME, "first", other, "one")
    assert {card.set for card in workspace.game(GAME).cards.values()} == {other}
    undo(workspace, GAME, "one")
    assert {card.set for card in workspace.game(GAME).cards.values()} == {"first"}
