"""Many cells as one step, new cards, copies, generated ones; two pages at once; found and saved."""

from __future__ import annotations

import re

import pytest

from dramok.core.cards.making.find_replace import replacements
from dramok.core.cards.making.generate import Range, Recipe
from dramok.core.cards.query.column_index import CardIndex
from dramok.core.cards.query.ordering import SortBy
from dramok.services import Refused, open_workspace
from dramok.services.cards.card_detail import back_of, detail_of, preview
from dramok.services.cards.card_edits import (
    add_card,
    duplicate_cards,
    generate_cards,
    make_variants,
    retire_cards,
)
from dramok.services.cards.cells import CellEdit, NewCard, write_cells
from dramok.services.cards.saved_views import remove_view, save_view
from dramok.services.cards.search import find, query_offers, wall_of
from dramok.services.history.undo import redo, undo
from dramok.store import Key
from tests.conftest import GAME

ONE, TWO, THREE = (f"c-{GAME}-rs-{n:03}" for n in (1, 2, 3))
RAIN = f"c-{GAME}-rs-017"


def write(workspace, *edits, base=None, page="one", new=(), key=None):
    cells = [CellEdit(*each) for each in edits]
    return write_cells(workspace, GAME, cells, workspace.game(GAME).seq if base is None else base, page, new, key=key)


def values(workspace, card):
    found = workspace.game(GAME).cards[card]
    return {**found.values, "code": found.code, "type": found.type, "set": found.set}


def test_a_paste_is_one_step_and_what_does_not_fit_comes_back_with_the_reason(workspace):
    before = workspace.game(GAME)
    done = write(
        workspace, (ONE, "cost", "4"), (ONE, "bed", "moss"), (TWO, "cost", "three"), (TWO, "name", "Ladder 🌿 سلم"), (THREE, "code", "rs-004"),
        (RAIN, "height", "3"), (ONE, "type", "Wether"), (THREE, "type", "Tool"), ("c-none", "cost", "1"), (TWO, "code", "RS-003"), (THREE, "code", "RS-300"),
    )  # fmt: skip
    assert [(each.card, each.field, each.problem.what) for each in done.refused] == [
        (ONE, "type", "there is no type Wether"),
        (TWO, "cost", "“three” is not a whole number"),
        (TWO, "code", "RS-003 is taken by Cistern Maidenhair"),
        (THREE, "code", "rs-004 is taken by Potbound Spleenwort"),
        (RAIN, "height", "Weather has no such field"),
        ("c-none", "cost", "this card is gone"),
    ]
    now = values(workspace, ONE)
    assert (now["cost"], now["bed"]) == (4, "moss") and values(workspace, TWO)["name"] == "Ladder 🌿 سلم"
    assert (values(workspace, THREE)["type"], values(workspace, THREE)["code"]) == ("tool", "RS-300")
    after = undo(workspace, GAME, "one").after
    assert {card.id: dict(card.values) for card in after.cards.values()} == {
        card.id: dict(card.values) for card in before.cards.values()
    }
    assert (
        values(workspace, THREE)["code"] == "RS-003"
        and redo(workspace, GAME, "one").after.cards[ONE].number("cost") == 4
    )


def test_two_pages_pasting_over_each_other_both_keep_what_they_have(workspace):
    seen = workspace.game(GAME).seq
    write(workspace, (ONE, "cost", "5"), (TWO, "height", "7"), page="other")
    done = write(workspace, (ONE, "cost", "6"), (ONE, "height", "3"), (TWO, "height", "7"), base=seen)
    (refused,) = done.refused
    assert (refused.card, refused.field, refused.typed, refused.theirs) == (ONE, "cost", "6", "5")
    assert values(workspace, ONE)["cost"] == 5 and values(workspace, ONE)["height"] == 3
    again = write(workspace, (ONE, "cost", "6"))
    assert not again.refused and values(workspace, ONE)["cost"] == 6


def test_nothing_is_written_twice_and_too_much_is_refused_whole(workspace):
    first = write(workspace, (ONE, "cost", "5"), new=[NewCard("plant", "first", {"name": "Twice"})], key=Key("k1"))
    second = write(
        workspace, (ONE, "cost", "5"), new=[NewCard("plant", "first", {"name": "Twice"})], key=Key("k1")
    )
    assert second.commit.repeated and second.made == first.made and len(workspace.game(GAME).cards) == 97
    assert write(workspace, (ONE, "cost", "5")).commit is None
    with pytest.raises(Refused, match="too many at once"):
        write(workspace, *[(ONE, "cost", "1")] * 50_001)


def test_new_cards_take_defaults_codes_and_what_is_typed(workspace):
    done = write(
        workspace, new=[NewCard("plant", "first", {"name": "Fresh", "cost": "2", "bed": "Fern"}), NewCard("weather", "first", {"cost": "many", "code": "RS-500"}), NewCard("plant", "first", {"code": "RS-097"})],
    )  # fmt: skip
    codes = [values(workspace, ident)["code"] for ident in done.made]
    assert codes == ["RS-097", "RS-500", "RS-098"]
    fresh = values(workspace, done.made[0])
    assert (fresh["copies"], fresh["cost"], fresh["bed"]) == (2, 2, "fern")
    assert [(each.card, each.field) for each in done.refused] == [("new/1", "cost"), ("new/2", "code")]
    assert detail_of(workspace.game(GAME), workspace.game(GAME).cards[done.made[0]]).unfinished
    with pytest.raises(Refused, match="no such card type"):
        add_card(workspace, GAME, "card", "first", "one")


def test_copies_variants_and_generated_cards_are_steps_of_their_own(workspace):
    commit, made = duplicate_cards(workspace, GAME, [ONE, TWO], "one")
    assert [values(workspace, ident)["name"] for ident in made] == ["Copper Larch Fern", "Ladder Frond"]
    assert [values(workspace, ident)["code"] for ident in made] == [
        "RS-097",
        "RS-098",
    ] and commit.op.label == "2 cards duplicated"
    _, variants = make_variants(workspace, GAME, ONE, "height", 3, 2, "one")
    assert [values(workspace, ident)["height"] for ident in variants] == [3, 5, 7]
    recipe = Recipe(5, 42, (Range("height", 1, 4), Range("root", 1, 4)), (), 5, 6)
    made_by_seed = generate_cards(workspace, GAME, "plant", "first", recipe, {"bed": "Moss"}, "one").made
    drawn = [
        (values(workspace, ident)["height"], values(workspace, ident)["root"], values(workspace, ident)["bed"])
        for ident in made_by_seed
    ]
    assert len(set(drawn)) == 5 and all(
        5 <= height + root <= 6 and bed == "moss" for height, root, bed in drawn
    )
    with pytest.raises(Refused, match="out of its bounds"):
        generate_cards(workspace, GAME, "plant", "first", Recipe(1, 1, (Range("height", 90, 95),)), {}, "one")
    with pytest.raises(Refused, match="Weather has no height"):
        generate_cards(workspace, GAME, "weather", "first", recipe, {}, "one")
    with pytest.raises(Refused, match="the numbers would run from"):
        make_variants(workspace, GAME, ONE, "height", 30, 1, "one")
    retire_cards(workspace, GAME, [*made, *variants], "one")
    assert len(undo(workspace, GAME, "one").after.cards) == 96 + 2 + 3 + 5


def test_a_card_does_not_come_back_onto_a_code_that_is_taken(workspace):
    _, (ident,) = duplicate_cards(workspace, GAME, [ONE], "one")
    undo(workspace, GAME, "one")
    add_card(workspace, GAME, "plant", "first", "two")
    with pytest.raises(Exception, match="code RS-097 is taken by RS-097 by now"):
        redo(workspace, GAME, "one", {"two"})


def found(workspace, query, *sort):
    return [card.code for card in find(workspace, workspace.game(GAME), query, sort).cards]


def test_words_are_found_in_every_text_whatever_their_case_and_accents_and_right_after_an_edit(workspace):
    assert found(workspace, "COPPER lar") == ["RS-001"] and found(workspace, "maidenhair or frond")[:2] == [
        "RS-002",
        "RS-003",
    ]
    write(workspace, (ONE, "name", "Fougère d’été 🌿"))
    assert found(workspace, "fougere ete") == ["RS-001"] == found(workspace, "🌿") and found(workspace, "copper larch") == []
    undo(workspace, GAME, "one")
    assert found(workspace, "copper larch") == ["RS-001"] and found(workspace, "fougere") == []
    assert "RS-002" in found(workspace, "effect has draw") and "RS-001" not in found(workspace, "effect has draw")


def test_verdicts_exist_for_judged_cards_only_and_the_rest_is_counted(db):
    workspace = open_workspace(db)
    from dramok.services.cards.card_detail import DETAILS

    DETAILS._sheets.clear()
    game = workspace.game(GAME)
    assert (find(workspace, game, "outlier").waiting, find(workspace, game, "cost is 1").waiting) == (96, 0)
    for card in game.cards.values():
        detail_of(game, card)
    answer = find(workspace, game, "outlier", [SortBy("verdict", True)])
    verdicts = [float(detail_of(game, card).ledger.difference) for card in answer.cards]
    assert answer.waiting == 0 and verdicts == sorted(verdicts, reverse=True) and len(verdicts) == 8
    assert (
        find(workspace, game, "bed is Fren").problem.nearest == "Fern"
        and len(find(workspace, game, "bed is Fren").cards) == 96
    )
    assert query_offers(game, "bed is F", 8)[0].text == "Fern"
    workspace.close()


def test_a_wall_shows_gaps_and_a_moved_card_takes_the_values_of_its_place(workspace):
    wall, _ = wall_of(workspace, workspace.game(GAME), "cost", "bed", "type is Plant")
    assert ("0", "Moss") not in wall.cells and ONE in wall.cells["1", "Fern"]
    write(workspace, (ONE, "cost", "6"), (ONE, "bed", "Moss"))
    assert ONE in wall_of(workspace, workspace.game(GAME), "cost", "bed", "")[0].cells["6", "Moss"]
    with pytest.raises(Refused, match="can't be grouped by this"):
        wall_of(workspace, workspace.game(GAME), "name", "bed", "")


def test_views_are_saved_replaced_removed_and_undone(workspace):
    names = {view.name for view in workspace.game(GAME).of_kind("view")}
    save_view(workspace, GAME, "Mine", {"query": "cost is 1"}, "one")
    _, ident = save_view(workspace, GAME, " mine ", {"query": "cost is 2"}, "one")
    assert workspace.game(GAME).things[ident].doc["doc"] == {"query": "cost is 2"}
    remove_view(workspace, GAME, ident, "one")
    undo(workspace, GAME, "one")
    undo(workspace, GAME, "one")
    assert workspace.game(GAME).things[ident].doc["doc"] == {"query": "cost is 1"}
    undo(workspace, GAME, "one")
    assert {view.name for view in workspace.game(GAME).of_kind("view")} == names
    with pytest.raises(Refused, match="needs a name"):
        save_view(workspace, GAME, "  ", {}, "one")


def test_a_name_of_ten_thousand_characters_is_refused_and_kept_by_nobody_by_half(workspace):
    done = write(workspace, (ONE, "name", "x" * 10_000), (ONE, "printed", "long " * 390))
    (refused,) = done.refused
    assert (
        refused.problem.what == "10,000 characters are too many"
        and values(workspace, ONE)["name"] == "Copper Larch Fern"
    )
    assert not detail_of(workspace.game(GAME), workspace.game(GAME).cards[ONE]).fits


def test_hundreds_of_cells_are_one_step(workspace):
    cards = list(workspace.game(GAME).cards)
    edits = [
        (card, field, text)
        for card in cards[:60]
        for field, text in (("cost", "7"), ("copies", "9"), ("tags", "a, b"), ("name", "All alike"))
    ]
    done = write(workspace, *edits)
    assert len(done.commit.changes) > 230 and not done.refused
    assert len(undo(workspace, GAME, "one").changes) == len(done.commit.changes)


def test_the_back_of_a_card_is_its_own_its_sets_or_its_types(workspace):
    game = workspace.game("crowded-bed")
    backs = [
        back_of(game, next(iter(game.cards.values()))),
        back_of(workspace.game(GAME), workspace.game(GAME).cards[ONE]),
    ]
    said = [" ".join(re.sub(r"<[^>]*>", "", each).split()) for each in backs]
    assert said == ["Crowded Bed", "Ribbon Season"]


def test_columns_carried_over_an_edit_are_those_of_the_cards(workspace):
    fields = ("code", "type", "set", "cost", "bed", "tags", "press", "name")
    for game_id in (GAME, "crowded-bed"):
        for number in range(6):
            game = workspace.game(game_id)
            for field in fields:
                game.index.folded(field)
            cards = list(game.cards)[number : number + 3]
            edits = [
                CellEdit(card, field, str(number + 1))
                for card in cards
                for field in ("cost", "vigour", "spread", "name")
            ]
            write_cells(
                workspace,
                game_id,
                [*edits, CellEdit(cards[0], "code", f"ZZ-{number}")] if number % 2 else edits,
                game.seq,
                "one",
            )
        undo(workspace, game_id, "one")
        now = workspace.game(game_id)
        fresh = CardIndex(tuple(now.cards.values()), now.rulebook.cards)
        assert [card.id for card in now.index.cards] == [card.id for card in fresh.cards]
        for field in fields:
            assert list(now.index.column(field)) == list(fresh.column(field)), field
            assert list(now.index.folded(field)) == list(fresh.folded(field)), field


def test_what_a_replacement_would_change_is_exactly_what_holds_the_text(workspace):
    game = workspace.game(GAME)

    def places(wanted, instead, **more):
        found = replacements(
            game.cards.values(), game.rulebook.cards, game.vocabulary, wanted, instead, **more
        )
        return {(game.cards[each.card].code, each.field): (each.after, each.count) for each in found}

    assert places("FERN", "Moss", field="name")["RS-001", "name"] == ("Copper Larch Moss", 1)
    assert places("FERN", "Moss", same_case=True) == {} == places("", "x")
    assert ("RS-015", "name") in places("fern", "x", field="name") and ("RS-015", "name") not in places(
        "fern", "x", whole_words=True
    )
    assert places("draw 1", r"\\1 draw 2")["RS-002", "effect"][0] == r"upon enter this: \\1 draw 2"
    assert places("climber", "climber") == {}


def test_a_new_card_may_have_an_id_of_the_clients_own_and_is_edited_under_it(workspace):
    ident = "c0123456789abcde"
    done = write(workspace, new=[NewCard("plant", "first", {"name": "Fresh"}, ident), NewCard("plant", "first")])
    assert done.made[0] == ident and done.made[1] != ident
    write(workspace, (ident, "cost", "3"))
    assert (values(workspace, ident)["name"], values(workspace, ident)["cost"]) == ("Fresh", 3)
    # Used once, it is never given again: also not after its card was removed.
    retire_cards(workspace, GAME, [ident], "one")
    for wrong, said in [(ident, "already made"), ("c12", "can't be the id"), ("C0123456789ABCDE", "can't be the id"), ("c" + "0" * 30, "can't be the id"), ("../../etc", "can't be the id")]:  # fmt: skip
        with pytest.raises(Refused, match=said):
            write(workspace, new=[NewCard("plant", "first", {}, wrong)])
    with pytest.raises(Refused, match="already made"):
        write(workspace, new=[NewCard("plant", "first", {}, "c" + "1" * 15)] * 2)


def test_an_operation_that_is_sent_again_says_again_what_was_refused(workspace):
    key = Key("again")
    asked = {"new": [NewCard("plant", "first", {"name": "Fresh", "cost": "many"}, "c" + "2" * 15)], "key": key}
    first = write(workspace, (ONE, "cost", "5"), (TWO, "cost", "three"), **asked)
    again = write(workspace, (ONE, "cost", "5"), (TWO, "cost", "three"), **asked)
    found = [(each.card, each.field, each.typed) for each in first.refused]
    assert found == [(TWO, "cost", "three"), ("new/0", "cost", "many")]
    assert [(each.card, each.field, each.typed) for each in again.refused] == found
    assert again.made == first.made and len(workspace.game(GAME).cards) == 97


def test_the_last_good_version_of_an_effect_is_the_last_one_committed(workspace):
    """What was only typed on the way to a mistake neither prints nor plays."""
    write(workspace, (ONE, "effect", "upon enter this: draw 1"))
    before = detail_of(workspace.game(GAME), workspace.game(GAME).cards[ONE]).printed.lines
    looked = preview(workspace.game(GAME), workspace.game(GAME).cards[ONE], {"effect": "upon enter this: draw 3"})
    assert looked.printed.lines != before
    looked = preview(workspace.game(GAME), workspace.game(GAME).cards[ONE], {"effect": "upon enter this: draw 3 of them"})
    assert looked.printed.lines == before and looked.problems
    write(workspace, (ONE, "effect", "upon enter this: draw 3 of them"))
    assert detail_of(workspace.game(GAME), workspace.game(GAME).cards[ONE]).printed.lines == before
