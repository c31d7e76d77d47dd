"""An effect line typed before the thing it names exists is parsed once it exists: in the same step, and undone with it."""

from __future__ import annotations

from random import Random

from dramok.core.effects import script_text
from dramok.services.cards.card_detail import detail_of
from dramok.services.cards.card_edits import add_card, edit_field, retire_cards
from dramok.services.cards.cells import CellEdit, NewCard, write_cells
from dramok.services.files.sheet_import import Order, plan_import, write_import
from dramok.services.games.games import create_game_from_sheet
from dramok.services.history.undo import redo, undo
from dramok.services.rules.keywords import write_keywords
from dramok.services.workspace.unread_effects import with_unread_effects_parsed
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


def typed(workspace, text: str, card: str = FERN):
    return edit_field(workspace, GAME, card, "effect", text, workspace.game(GAME).seq, "one")


def effect(workspace, card: str = FERN):
    return workspace.game(GAME).cards[card].script("effect")


def problems(workspace, card: str = FERN) -> list[str]:
    game = workspace.game(GAME)
    return [each.what for each in detail_of(game, game.cards[card]).problems if each.where == "effect"]


def added(workspace, name: str, **more: str) -> str:
    game = workspace.game(GAME)
    return add_card(workspace, GAME, "plant", game.sets[0].id, "one", typed={"name": name, **more})[1]


def test_a_line_that_names_a_card_is_read_when_the_card_comes_and_goes_back_with_it(workspace):
    typed(workspace, EMBER)
    assert effect(workspace).has_draft and problems(workspace) == ["this game has no card called “Ember”"]
    ember = added(workspace, "Ember")
    game = workspace.game(GAME)
    assert not effect(workspace).has_draft and problems(workspace) == []
    assert detail_of(game, game.cards[FERN]).printed.lines == ("Create a copy of Ember.",)
    assert script_text(effect(workspace), game.vocabulary) == "upon play this: create 1 Ember" and effect(workspace).abilities[0].steps[0].card == ember
    undo(workspace, GAME, "one")
    assert effect(workspace).has_draft and ember not in workspace.game(GAME).cards and len(problems(workspace)) == 1
    redo(workspace, GAME, "one")
    assert not effect(workspace).has_draft and ember in workspace.game(GAME).cards


def test_a_card_that_is_called_so_only_now_is_named_by_what_waited_for_it(workspace):
    typed(workspace, EMBER)
    other = f"c-{GAME}-rs-002"
    done = edit_field(workspace, GAME, other, "name", "Ember", workspace.game(GAME).seq, "one")
    assert [(each.id, each.field) for each in done.changes] == [(other, "name"), (FERN, "effect")]
    assert effect(workspace).abilities[0].steps[0].card == other


def test_only_the_lines_that_can_be_read_now_are(workspace):
    typed(workspace, f"{EMBER}\nupon play this: create 1 \"Smoke\"\nupon play this: drew 1")
    added(workspace, "Ember")
    assert [line.draft is None for line in effect(workspace).lines] == [True, False, False]
    assert len(problems(workspace)) == 2


def test_the_last_good_version_gives_way_to_the_line_that_waited(workspace):
    typed(workspace, "upon play this: draw 1")
    typed(workspace, EMBER)
    game = workspace.game(GAME)
    assert detail_of(game, game.cards[FERN]).printed.lines == ("Take 1 card from your pile.",)
    added(workspace, "Ember")
    game = workspace.game(GAME)
    assert detail_of(game, game.cards[FERN]).printed.lines == ("Create a copy of Ember.",)


def test_a_keyword_is_waited_for_as_cards_are(workspace):
    game = workspace.game(GAME)
    keywords = [each.model_dump(mode="json") for each in game.rulebook.keywords]
    typed(workspace, "upon play this: grant Nightbound to this")
    assert effect(workspace).has_draft
    done = write_keywords(workspace, GAME, [*keywords, {"name": "Nightbound", "reminder": "It sleeps by day."}], game.seq, "one")
    assert not effect(workspace).has_draft and FERN in {each.id for each in done.changes}


def test_what_nothing_waits_for_leaves_an_edit_as_it_is(workspace):
    typed(workspace, EMBER)
    before = workspace.game(GAME)
    done = edit_field(workspace, GAME, FERN, "name", "Fernling", before.seq, "one")
    assert with_unread_effects_parsed(before, done.after, done.changes) == done.changes and len(done.changes) == 1
    assert effect(workspace).has_draft


def test_cards_that_come_at_once_may_name_each_other(workspace):
    home = workspace.game(GAME).sets[0].id
    texts = {"Torch": EMBER, "Ember": 'upon play this: create 1 "Torch"'}
    new = [NewCard("plant", home, {"name": name, "effect": text}) for name, text in texts.items()]
    done = write_cells(workspace, GAME, [], workspace.game(GAME).seq, "one", new)
    torch, ember = (workspace.game(GAME).cards[ident] for ident in done.made)
    assert torch.script("effect").abilities[0].steps[0].card == ember.id
    assert ember.script("effect").abilities[0].steps[0].card == torch.id
    assert (torch.revision, ember.revision) == (1, 1) and len(done.commit.changes) == 2
    undo(workspace, GAME, "one")
    redo(workspace, GAME, "one")
    assert not any(workspace.game(GAME).cards[ident].script("effect").has_draft for ident in done.made)


def test_a_line_whose_card_came_back_by_undo_says_how_it_is_read(workspace):
    ember = added(workspace, "Ember")
    retire_cards(workspace, GAME, [ember], "two")
    typed(workspace, EMBER)
    undo(workspace, GAME, "two", live=("one",))
    assert ember in workspace.game(GAME).cards
    assert effect(workspace).has_draft
    assert problems(workspace) == ["it was typed before what it names was there"]
    typed(workspace, f"{EMBER} ")
    assert not effect(workspace).has_draft and problems(workspace) == []


def by_name(game) -> dict:
    return {game.title(card): card for card in game.cards.values()}


def test_a_sheet_whose_effects_name_its_own_cards_is_taken_with_them(workspace):
    plan = plan_import(workspace.game(GAME), SHEET.encode(), "torches.csv", Order())
    assert not plan.intake.refused
    notes = {row.name: row.notes for row in plan.intake.taken}
    assert notes["Torch"] == ("Effect: it names cards of this file, and plays once they are imported",)
    assert "behaviour not written: its text is printed as it is" in notes["Lost"]
    done, _ = write_import(workspace, GAME, SHEET.encode(), "torches.csv", "one")
    cards = by_name(done.after)
    assert [step.card for step in cards["Ember"].script("effect").abilities[0].steps] == [cards["Torch"].id, cards["Ember"].id]
    assert cards["Torch"].script("effect").abilities[0].steps[0].card == cards["Ember"].id
    assert not cards["Lost"].script("effect").lines and cards["Lost"].text("printed") == 'upon play this: create 1 "Nobody"'
    undo(workspace, GAME, "one")
    assert "Ember" not in by_name(workspace.game(GAME))


def test_one_among_very_many_names_that_come_at_once_is_found_in_the_line_that_waits(workspace):
    typed(workspace, EMBER)
    rows = "\n".join(f"{name}\tPlant" for name in ("Ember", *(f"Barge {number}" for number in range(200))))
    done, _ = write_import(workspace, GAME, f"Name\tType\n{rows}\n".encode(), "barges.csv", "one")
    assert effect(workspace).abilities[0].steps[0].card == by_name(done.after)["Ember"].id and not effect(workspace).has_draft


def test_a_row_left_out_leaves_the_lines_that_name_it_as_drafts(workspace):
    left = Order(leave_out=frozenset({"gone", "added/3"}))
    done, _ = write_import(workspace, GAME, SHEET.encode(), "torches.csv", "one", left)
    cards = by_name(done.after)
    assert "Ember" not in cards and cards["Torch"].script("effect").has_draft
    assert problems(workspace, cards["Torch"].id) == ["this game has no card called “Ember”"]


def test_a_game_that_begins_from_a_sheet_knows_the_cards_of_the_sheet(workspace):
    game, _ = create_game_from_sheet(workspace, SHEET.encode(), "torches.csv", "Torches")
    cards = by_name(game)
    effects = {name: cards[name].script(game.rulebook.roles.effect) for name in ("Torch", "Ember")}
    assert effects["Torch"].abilities[0].steps[0].card == cards["Ember"].id and not effects["Ember"].has_draft
    assert workspace.game(game.id) == workspace._read(game.id)


def test_in_whatever_order_cards_are_made_and_lines_typed_all_is_read_in_the_end(workspace):
    dice = Random(SEED)
    names = [f"Wisp {letter}" for letter in "ABCDE"]
    made = {name: added(workspace, "") for name in names}
    lines = {name: f'upon play this: create {dice.randint(1, 3)} "{dice.choice(names)}"' for name in names}
    edits = [(name, "name", name) for name in names] + [(name, "effect", text) for name, text in lines.items()]
    dice.shuffle(edits)
    for name, field, text in edits:
        done = write_cells(workspace, GAME, [CellEdit(made[name], field, text)], workspace.game(GAME).seq, "one")
        assert not done.refused, SEED
    game = workspace.game(GAME)
    for name, ident in made.items():
        script = game.cards[ident].script("effect")
        assert not script.has_draft and script_text(script, game.vocabulary) == lines[name], SEED
    assert workspace._read(GAME).cards == game.cards
