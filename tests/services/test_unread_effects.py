"""A line typed before what it names was there is read once it is: in the same step, taken back with it."""

from __future__ import annotations

from random import Random

from dramok.core.effects import script_text
from dramok.services.cards.card_detail import sheet_of
from dramok.services.cards.card_edits import add_card, edit_field, retire_cards
from dramok.services.cards.cells import CellEdit, NewCard, write_cells
from dramok.services.files.sheet_import import Order, plan_import, take_import
from dramok.services.games.games import begin_from_sheet
from dramok.services.history.undo import redo, undo
from dramok.services.rules.keywords import write_keywords
from dramok.services.workspace.unread_effects import with_drafts_read
from tests.conftest import GAME, SEED

FERN = f"c-{GAME}-rs-001"
EMBER = 'upon play this: create 1 "Ember"'
SHEET = "\n".join(
    [
        "Name\tType\tRules text",
        f"Torch\tPlant\t{EMBER}",
        'Ember\tPlant\tupon play this: create 1 "Torch"; create 2 "Ember"',
        'Lost\tPlant\tupon play this: create 1 "Nobody"',
    ]
)


def typed(desk, text: str, card: str = FERN):
    return edit_field(desk, GAME, card, "effect", text, desk.game(GAME).seq, "one")


def effect(desk, card: str = FERN):
    return desk.game(GAME).cards[card].script("effect")


def problems(desk, card: str = FERN) -> list[str]:
    game = desk.game(GAME)
    return [each.what for each in sheet_of(game, game.cards[card]).problems if each.where == "effect"]


def added(desk, name: str, **more: str) -> str:
    game = desk.game(GAME)
    return add_card(desk, GAME, "plant", game.sets[0].id, "one", typed={"name": name, **more})[1]


def test_a_line_that_names_a_card_is_read_when_the_card_comes_and_goes_back_with_it(desk):
    typed(desk, EMBER)
    assert effect(desk).has_draft and problems(desk) == ["this game has no card called “Ember”"]
    ember = added(desk, "Ember")
    game = desk.game(GAME)
    assert not effect(desk).has_draft and problems(desk) == []
    assert sheet_of(game, game.cards[FERN]).printed.lines == ("Create a copy of Ember.",)
    assert script_text(effect(desk), game.vocabulary) == "upon play this: create 1 Ember" and effect(desk).abilities[0].steps[0].card == ember
    undo(desk, GAME, "one")
    assert effect(desk).has_draft and ember not in desk.game(GAME).cards and len(problems(desk)) == 1
    redo(desk, GAME, "one")
    assert not effect(desk).has_draft and ember in desk.game(GAME).cards


def test_a_card_that_is_called_so_only_now_is_named_by_what_waited_for_it(desk):
    typed(desk, EMBER)
    other = f"c-{GAME}-rs-002"
    done = edit_field(desk, GAME, other, "name", "Ember", desk.game(GAME).seq, "one")
    assert [(each.id, each.field) for each in done.changes] == [(other, "name"), (FERN, "effect")]
    assert effect(desk).abilities[0].steps[0].card == other


def test_only_the_lines_that_can_be_read_now_are(desk):
    typed(desk, f"{EMBER}\nupon play this: create 1 \"Smoke\"\nupon play this: drew 1")
    added(desk, "Ember")
    assert [line.draft is None for line in effect(desk).lines] == [True, False, False]
    assert len(problems(desk)) == 2


def test_the_last_good_version_gives_way_to_the_line_that_waited(desk):
    typed(desk, "upon play this: draw 1")
    typed(desk, EMBER)
    game = desk.game(GAME)
    assert sheet_of(game, game.cards[FERN]).printed.lines == ("Take 1 card from your pile.",)
    added(desk, "Ember")
    game = desk.game(GAME)
    assert sheet_of(game, game.cards[FERN]).printed.lines == ("Create a copy of Ember.",)


def test_a_keyword_is_waited_for_as_cards_are(desk):
    game = desk.game(GAME)
    keywords = [each.model_dump(mode="json") for each in game.rulebook.keywords]
    typed(desk, "upon play this: grant Nightbound to this")
    assert effect(desk).has_draft
    done = write_keywords(desk, GAME, [*keywords, {"name": "Nightbound", "reminder": "It sleeps by day."}], game.seq, "one")
    assert not effect(desk).has_draft and FERN in {each.id for each in done.changes}


def test_what_nothing_waits_for_leaves_an_edit_as_it_is(desk):
    typed(desk, EMBER)
    before = desk.game(GAME)
    done = edit_field(desk, GAME, FERN, "name", "Fernling", before.seq, "one")
    assert with_drafts_read(before, done.after, done.changes) == done.changes and len(done.changes) == 1
    assert effect(desk).has_draft


def test_cards_that_come_at_once_may_name_each_other(desk):
    home = desk.game(GAME).sets[0].id
    texts = {"Torch": EMBER, "Ember": 'upon play this: create 1 "Torch"'}
    new = [NewCard("plant", home, {"name": name, "effect": text}) for name, text in texts.items()]
    done = write_cells(desk, GAME, [], desk.game(GAME).seq, "one", new)
    torch, ember = (desk.game(GAME).cards[ident] for ident in done.made)
    assert torch.script("effect").abilities[0].steps[0].card == ember.id
    assert ember.script("effect").abilities[0].steps[0].card == torch.id
    assert (torch.revision, ember.revision) == (1, 1) and len(done.commit.changes) == 2
    undo(desk, GAME, "one")
    redo(desk, GAME, "one")
    assert not any(desk.game(GAME).cards[ident].script("effect").has_draft for ident in done.made)


def test_a_line_whose_card_came_back_by_undo_says_how_it_is_read(desk):
    ember = added(desk, "Ember")
    retire_cards(desk, GAME, [ember], "two")
    typed(desk, EMBER)
    undo(desk, GAME, "two", live=("one",))
    assert ember in desk.game(GAME).cards
    assert effect(desk).has_draft
    assert problems(desk) == ["it was typed before what it names was there"]
    typed(desk, f"{EMBER} ")
    assert not effect(desk).has_draft and problems(desk) == []


def by_name(game) -> dict:
    return {game.title(card): card for card in game.cards.values()}


def test_a_sheet_whose_effects_name_its_own_cards_is_taken_with_them(desk):
    plan = plan_import(desk.game(GAME), SHEET.encode(), "torches.csv", Order())
    assert not plan.intake.refused
    notes = {row.name: row.notes for row in plan.intake.taken}
    assert notes["Torch"] == ("Effect: it names cards of this file, and plays once they are imported",)
    assert "behaviour not written: its text is printed as it is" in notes["Lost"]
    done, _ = take_import(desk, GAME, SHEET.encode(), "torches.csv", "one")
    cards = by_name(done.after)
    assert [step.card for step in cards["Ember"].script("effect").abilities[0].steps] == [cards["Torch"].id, cards["Ember"].id]
    assert cards["Torch"].script("effect").abilities[0].steps[0].card == cards["Ember"].id
    assert not cards["Lost"].script("effect").lines and cards["Lost"].text("printed") == 'upon play this: create 1 "Nobody"'
    undo(desk, GAME, "one")
    assert "Ember" not in by_name(desk.game(GAME))


def test_one_among_very_many_names_that_come_at_once_is_found_in_the_line_that_waits(desk):
    typed(desk, EMBER)
    rows = "\n".join(f"{name}\tPlant" for name in ("Ember", *(f"Barge {number}" for number in range(200))))
    done, _ = take_import(desk, GAME, f"Name\tType\n{rows}\n".encode(), "barges.csv", "one")
    assert effect(desk).abilities[0].steps[0].card == by_name(done.after)["Ember"].id and not effect(desk).has_draft


def test_a_row_left_out_leaves_the_lines_that_name_it_as_drafts(desk):
    left = Order(leave_out=frozenset({"gone", "added/3"}))
    done, _ = take_import(desk, GAME, SHEET.encode(), "torches.csv", "one", left)
    cards = by_name(done.after)
    assert "Ember" not in cards and cards["Torch"].script("effect").has_draft
    assert problems(desk, cards["Torch"].id) == ["this game has no card called “Ember”"]


def test_a_game_that_begins_from_a_sheet_knows_the_cards_of_the_sheet(desk):
    game, _ = begin_from_sheet(desk, SHEET.encode(), "torches.csv", "Torches")
    cards = by_name(game)
    effects = {name: cards[name].script(game.rulebook.roles.effect) for name in ("Torch", "Ember")}
    assert effects["Torch"].abilities[0].steps[0].card == cards["Ember"].id and not effects["Ember"].has_draft
    assert desk.game(game.id) == desk._read(game.id)


def test_in_whatever_order_cards_are_made_and_lines_typed_all_is_read_in_the_end(desk):
    dice = Random(SEED)
    names = [f"Wisp {letter}" for letter in "ABCDE"]
    made = {name: added(desk, "") for name in names}
    lines = {name: f'upon play this: create {dice.randint(1, 3)} "{dice.choice(names)}"' for name in names}
    edits = [(name, "name", name) for name in names] + [(name, "effect", text) for name, text in lines.items()]
    dice.shuffle(edits)
    for name, field, text in edits:
        done = write_cells(desk, GAME, [CellEdit(made[name], field, text)], desk.game(GAME).seq, "one")
        assert not done.refused, SEED
    game = desk.game(GAME)
    for name, ident in made.items():
        script = game.cards[ident].script("effect")
        assert not script.has_draft and script_text(script, game.vocabulary) == lines[name], SEED
    assert desk._read(GAME).cards == game.cards
