"""Many cells as one step, new cards, copies, generated ones; two pages at once; found and saved."""

from __future__ import annotations

import re

import pytest

from dramok.core.cards.making.find_replace import replacements
from dramok.core.cards.making.generate import Range, Recipe
from dramok.core.cards.query.column_index import CardIndex
from dramok.core.cards.query.ordering import SortBy
from dramok.services import Refused, open_desk
from dramok.services.cards.card_detail import back_of, preview, sheet_of
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


def write(desk, *edits, base=None, page="one", new=(), key=None):
    cells = [CellEdit(*each) for each in edits]
    return write_cells(desk, GAME, cells, desk.game(GAME).seq if base is None else base, page, new, key=key)


def values(desk, card):
    found = desk.game(GAME).cards[card]
    return {**found.values, "code": found.code, "type": found.type, "set": found.set}


def test_a_paste_is_one_step_and_what_does_not_fit_comes_back_with_the_reason(desk):
    before = desk.game(GAME)
    done = write(
        desk, (ONE, "cost", "4"), (ONE, "bed", "moss"), (TWO, "cost", "three"), (TWO, "name", "Ladder 🌿 سلم"), (THREE, "code", "rs-004"),
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
    now = values(desk, ONE)
    assert (now["cost"], now["bed"]) == (4, "moss") and values(desk, TWO)["name"] == "Ladder 🌿 سلم"
    assert (values(desk, THREE)["type"], values(desk, THREE)["code"]) == ("tool", "RS-300")
    after = undo(desk, GAME, "one").after
    assert {card.id: dict(card.values) for card in after.cards.values()} == {
        card.id: dict(card.values) for card in before.cards.values()
    }
    assert (
        values(desk, THREE)["code"] == "RS-003"
        and redo(desk, GAME, "one").after.cards[ONE].number("cost") == 4
    )


def test_two_pages_pasting_over_each_other_both_keep_what_they_have(desk):
    seen = desk.game(GAME).seq
    write(desk, (ONE, "cost", "5"), (TWO, "height", "7"), page="other")
    done = write(desk, (ONE, "cost", "6"), (ONE, "height", "3"), (TWO, "height", "7"), base=seen)
    (refused,) = done.refused
    assert (refused.card, refused.field, refused.typed, refused.theirs) == (ONE, "cost", "6", "5")
    assert values(desk, ONE)["cost"] == 5 and values(desk, ONE)["height"] == 3
    again = write(desk, (ONE, "cost", "6"))
    assert not again.refused and values(desk, ONE)["cost"] == 6


def test_nothing_is_written_twice_and_too_much_is_refused_whole(desk):
    first = write(desk, (ONE, "cost", "5"), new=[NewCard("plant", "first", {"name": "Twice"})], key=Key("k1"))
    second = write(
        desk, (ONE, "cost", "5"), new=[NewCard("plant", "first", {"name": "Twice"})], key=Key("k1")
    )
    assert second.commit.repeated and second.made == first.made and len(desk.game(GAME).cards) == 97
    assert write(desk, (ONE, "cost", "5")).commit is None
    with pytest.raises(Refused, match="too many at once"):
        write(desk, *[(ONE, "cost", "1")] * 50_001)


def test_new_cards_take_defaults_codes_and_what_is_typed(desk):
    done = write(
        desk, new=[NewCard("plant", "first", {"name": "Fresh", "cost": "2", "bed": "Fern"}), NewCard("weather", "first", {"cost": "many", "code": "RS-500"}), NewCard("plant", "first", {"code": "RS-097"})],
    )  # fmt: skip
    codes = [values(desk, ident)["code"] for ident in done.made]
    assert codes == ["RS-097", "RS-500", "RS-098"]
    fresh = values(desk, done.made[0])
    assert (fresh["copies"], fresh["cost"], fresh["bed"]) == (2, 2, "fern")
    assert [(each.card, each.field) for each in done.refused] == [("new/1", "cost"), ("new/2", "code")]
    assert sheet_of(desk.game(GAME), desk.game(GAME).cards[done.made[0]]).unfinished
    with pytest.raises(Refused, match="no such card type"):
        add_card(desk, GAME, "card", "first", "one")


def test_copies_variants_and_generated_cards_are_steps_of_their_own(desk):
    commit, made = duplicate_cards(desk, GAME, [ONE, TWO], "one")
    assert [values(desk, ident)["name"] for ident in made] == ["Copper Larch Fern", "Ladder Frond"]
    assert [values(desk, ident)["code"] for ident in made] == [
        "RS-097",
        "RS-098",
    ] and commit.op.label == "2 cards duplicated"
    _, variants = make_variants(desk, GAME, ONE, "height", 3, 2, "one")
    assert [values(desk, ident)["height"] for ident in variants] == [3, 5, 7]
    recipe = Recipe(5, 42, (Range("height", 1, 4), Range("root", 1, 4)), (), 5, 6)
    made_by_seed = generate_cards(desk, GAME, "plant", "first", recipe, {"bed": "Moss"}, "one").made
    drawn = [
        (values(desk, ident)["height"], values(desk, ident)["root"], values(desk, ident)["bed"])
        for ident in made_by_seed
    ]
    assert len(set(drawn)) == 5 and all(
        5 <= height + root <= 6 and bed == "moss" for height, root, bed in drawn
    )
    with pytest.raises(Refused, match="out of its bounds"):
        generate_cards(desk, GAME, "plant", "first", Recipe(1, 1, (Range("height", 90, 95),)), {}, "one")
    with pytest.raises(Refused, match="Weather has no height"):
        generate_cards(desk, GAME, "weather", "first", recipe, {}, "one")
    with pytest.raises(Refused, match="the numbers would run from"):
        make_variants(desk, GAME, ONE, "height", 30, 1, "one")
    retire_cards(desk, GAME, [*made, *variants], "one")
    assert len(undo(desk, GAME, "one").after.cards) == 96 + 2 + 3 + 5


def test_a_card_does_not_come_back_onto_a_code_that_is_taken(desk):
    _, (ident,) = duplicate_cards(desk, GAME, [ONE], "one")
    undo(desk, GAME, "one")
    add_card(desk, GAME, "plant", "first", "two")
    with pytest.raises(Exception, match="code RS-097 is taken by RS-097 by now"):
        redo(desk, GAME, "one", {"two"})


def found(desk, query, *sort):
    return [card.code for card in find(desk, desk.game(GAME), query, sort).cards]


def test_words_are_found_in_every_text_whatever_their_case_and_accents_and_right_after_an_edit(desk):
    assert found(desk, "COPPER lar") == ["RS-001"] and found(desk, "maidenhair or frond")[:2] == [
        "RS-002",
        "RS-003",
    ]
    write(desk, (ONE, "name", "Fougère d’été 🌿"))
    assert found(desk, "fougere ete") == ["RS-001"] == found(desk, "🌿") and found(desk, "copper larch") == []
    undo(desk, GAME, "one")
    assert found(desk, "copper larch") == ["RS-001"] and found(desk, "fougere") == []
    assert "RS-002" in found(desk, "effect has draw") and "RS-001" not in found(desk, "effect has draw")


def test_verdicts_are_asked_of_judged_cards_only_and_the_rest_is_counted(db):
    desk = open_desk(db)
    from dramok.services.cards.card_detail import SHEETS

    SHEETS._sheets.clear()
    game = desk.game(GAME)
    assert (find(desk, game, "outlier").waiting, find(desk, game, "cost is 1").waiting) == (96, 0)
    for card in game.cards.values():
        sheet_of(game, card)
    answer = find(desk, game, "outlier", [SortBy("verdict", True)])
    verdicts = [float(sheet_of(game, card).ledger.difference) for card in answer.cards]
    assert answer.waiting == 0 and verdicts == sorted(verdicts, reverse=True) and len(verdicts) == 8
    assert (
        find(desk, game, "bed is Fren").problem.nearest == "Fern"
        and len(find(desk, game, "bed is Fren").cards) == 96
    )
    assert query_offers(game, "bed is F", 8)[0].text == "Fern"
    desk.close()


def test_a_wall_shows_gaps_and_a_card_put_elsewhere_takes_its_values(desk):
    wall, _ = wall_of(desk, desk.game(GAME), "cost", "bed", "type is Plant")
    assert ("0", "Moss") not in wall.cells and ONE in wall.cells["1", "Fern"]
    write(desk, (ONE, "cost", "6"), (ONE, "bed", "Moss"))
    assert ONE in wall_of(desk, desk.game(GAME), "cost", "bed", "")[0].cells["6", "Moss"]
    with pytest.raises(Refused, match="can't be grouped by this"):
        wall_of(desk, desk.game(GAME), "name", "bed", "")


def test_views_are_saved_replaced_taken_out_and_undone(desk):
    names = {view.name for view in desk.game(GAME).of_kind("view")}
    save_view(desk, GAME, "Mine", {"query": "cost is 1"}, "one")
    _, ident = save_view(desk, GAME, " mine ", {"query": "cost is 2"}, "one")
    assert desk.game(GAME).things[ident].doc["doc"] == {"query": "cost is 2"}
    remove_view(desk, GAME, ident, "one")
    undo(desk, GAME, "one")
    undo(desk, GAME, "one")
    assert desk.game(GAME).things[ident].doc["doc"] == {"query": "cost is 1"}
    undo(desk, GAME, "one")
    assert {view.name for view in desk.game(GAME).of_kind("view")} == names
    with pytest.raises(Refused, match="needs a name"):
        save_view(desk, GAME, "  ", {}, "one")


def test_a_name_of_ten_thousand_characters_is_refused_and_kept_by_nobody_by_half(desk):
    done = write(desk, (ONE, "name", "x" * 10_000), (ONE, "printed", "long " * 390))
    (refused,) = done.refused
    assert (
        refused.problem.what == "10,000 characters are too many"
        and values(desk, ONE)["name"] == "Copper Larch Fern"
    )
    assert not sheet_of(desk.game(GAME), desk.game(GAME).cards[ONE]).fits


def test_hundreds_of_cells_are_one_step(desk):
    cards = list(desk.game(GAME).cards)
    edits = [
        (card, field, text)
        for card in cards[:60]
        for field, text in (("cost", "7"), ("copies", "9"), ("tags", "a, b"), ("name", "All alike"))
    ]
    done = write(desk, *edits)
    assert len(done.commit.changes) > 230 and not done.refused
    assert len(undo(desk, GAME, "one").changes) == len(done.commit.changes)


def test_the_back_of_a_card_is_its_own_its_sets_or_its_types(desk):
    game = desk.game("crowded-bed")
    backs = [
        back_of(game, next(iter(game.cards.values()))),
        back_of(desk.game(GAME), desk.game(GAME).cards[ONE]),
    ]
    said = [" ".join(re.sub(r"<[^>]*>", "", each).split()) for each in backs]
    assert said == ["Crowded Bed", "Ribbon Season"]


def test_columns_carried_over_an_edit_are_those_of_the_cards(desk):
    fields = ("code", "type", "set", "cost", "bed", "tags", "press", "name")
    for game_id in (GAME, "crowded-bed"):
        for number in range(6):
            game = desk.game(game_id)
            for field in fields:
                game.index.folded(field)
            cards = list(game.cards)[number : number + 3]
            edits = [
                CellEdit(card, field, str(number + 1))
                for card in cards
                for field in ("cost", "vigour", "spread", "name")
            ]
            write_cells(
                desk,
                game_id,
                [*edits, CellEdit(cards[0], "code", f"ZZ-{number}")] if number % 2 else edits,
                game.seq,
                "one",
            )
        undo(desk, game_id, "one")
        now = desk.game(game_id)
        fresh = CardIndex(tuple(now.cards.values()), now.rulebook.cards)
        assert [card.id for card in now.index.cards] == [card.id for card in fresh.cards]
        for field in fields:
            assert list(now.index.column(field)) == list(fresh.column(field)), field
            assert list(now.index.folded(field)) == list(fresh.folded(field)), field


def test_what_a_replacement_would_change_is_exactly_what_holds_the_text(desk):
    game = desk.game(GAME)

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


def test_a_new_card_may_have_an_id_of_the_clients_own_and_is_edited_under_it(desk):
    ident = "c0123456789abcde"
    done = write(desk, new=[NewCard("plant", "first", {"name": "Fresh"}, ident), NewCard("plant", "first")])
    assert done.made[0] == ident and done.made[1] != ident
    write(desk, (ident, "cost", "3"))
    assert (values(desk, ident)["name"], values(desk, ident)["cost"]) == ("Fresh", 3)
    # Used once, it is never given again: also not after its card was removed.
    retire_cards(desk, GAME, [ident], "one")
    for wrong, said in [(ident, "already made"), ("c12", "can't be the id"), ("C0123456789ABCDE", "can't be the id"), ("c" + "0" * 30, "can't be the id"), ("../../etc", "can't be the id")]:  # fmt: skip
        with pytest.raises(Refused, match=said):
            write(desk, new=[NewCard("plant", "first", {}, wrong)])
    with pytest.raises(Refused, match="already made"):
        write(desk, new=[NewCard("plant", "first", {}, "c" + "1" * 15)] * 2)


def test_an_operation_that_is_sent_again_says_again_what_was_refused(desk):
    key = Key("again")
    asked = {"new": [NewCard("plant", "first", {"name": "Fresh", "cost": "many"}, "c" + "2" * 15)], "key": key}
    first = write(desk, (ONE, "cost", "5"), (TWO, "cost", "three"), **asked)
    again = write(desk, (ONE, "cost", "5"), (TWO, "cost", "three"), **asked)
    found = [(each.card, each.field, each.typed) for each in first.refused]
    assert found == [(TWO, "cost", "three"), ("new/0", "cost", "many")]
    assert [(each.card, each.field, each.typed) for each in again.refused] == found
    assert again.made == first.made and len(desk.game(GAME).cards) == 97


def test_the_last_good_version_of_an_effect_is_the_last_one_committed(desk):
    """What was only typed on the way to a mistake neither prints nor plays."""
    write(desk, (ONE, "effect", "upon enter this: draw 1"))
    before = sheet_of(desk.game(GAME), desk.game(GAME).cards[ONE]).printed.lines
    looked = preview(desk.game(GAME), desk.game(GAME).cards[ONE], {"effect": "upon enter this: draw 3"})
    assert looked.printed.lines != before
    looked = preview(desk.game(GAME), desk.game(GAME).cards[ONE], {"effect": "upon enter this: draw 3 of them"})
    assert looked.printed.lines == before and looked.problems
    write(desk, (ONE, "effect", "upon enter this: draw 3 of them"))
    assert sheet_of(desk.game(GAME), desk.game(GAME).cards[ONE]).printed.lines == before
