"""The card detail is computed once and cached, and shows no hidden values."""

from __future__ import annotations

import json
from dataclasses import replace
from random import Random

import pytest

from dramok.services import Conflict, Refused
from dramok.services.cards.card_detail import DETAILS, detail_of, make_detail
from dramok.services.cards.card_edits import edit_field, retire_cards
from dramok.services.cards.cells import CellEdit, write_cells
from dramok.services.cards.ripples import ripple_of
from dramok.services.cards.search import find
from dramok.services.faces.face_plans import PlanEdit, edit_plan
from dramok.services.history.undo import undo
from dramok.services.rules.choices import write_set
from dramok.services.rules.rule_parts import write_rules
from tests.conftest import GAME, SEED

FERN = f"c-{GAME}-rs-001"


@pytest.fixture
def retyped(workspace):
    """The game with a plant that became weather: its height and root are held, and seen nowhere."""
    done = write_cells(workspace, GAME, [CellEdit(FERN, "type", "Weather")], workspace.game(GAME).seq, "one")
    assert not done.refused
    game = workspace.game(GAME)
    assert "height" in game.cards[FERN].values and not game.rulebook.cards.has_field("weather", "height")
    return game


def test_a_sheet_is_found_again_though_its_card_holds_what_is_not_seen(retyped):
    for card in retyped.cards.values():
        made = detail_of(retyped, card)
        assert detail_of(retyped, card) is made and DETAILS.known(retyped, card) is made and made.card is card
    standings = DETAILS.standings(retyped)
    assert None not in standings and DETAILS.standings(retyped) is standings


def test_every_card_is_asked_for_its_verdict_once_all_are_judged(workspace, retyped):
    for card in retyped.cards.values():
        detail_of(retyped, card)
    judged = [find(workspace, retyped, query) for query in ("over", "under", "fair", "open")]
    assert [each.waiting for each in judged] == [0] * 4
    assert sorted(card.id for each in judged for card in each.cards) == sorted(retyped.cards)


def test_a_sheet_says_the_same_as_that_of_a_card_that_never_had_what_is_hidden(retyped):
    card = retyped.cards[FERN]
    bare = replace(card, values={ident: value for ident, value in card.values.items() if ident not in ("height", "root")})
    held, never = make_detail(retyped, card), make_detail(retyped, bare)
    assert (held.face, held.back, held.label, held.printed, held.ledger, held.problems, held.standing) == (never.face, never.back, never.label, never.printed, never.ledger, never.problems, never.standing)  # fmt: skip


# What other things are called.

LADDER = f"c-{GAME}-rs-002"


@pytest.fixture
def naming(workspace):
    """A card whose effect creates another, by name, and a line on every face that says the set."""
    edit_field(workspace, GAME, FERN, "effect", 'upon play this: create 1 "Ladder Frond"', workspace.game(GAME).seq, "one")
    base = next(each.id for each in workspace.game(GAME).faces.plans.values() if not each.head.type and each.head.side == "front")
    line = {"kind": "text", "field": "set", "x": 5.0, "y": 5.0, "width": 40.0, "height": 5.0}
    edit_plan(workspace, GAME, base, PlanEdit({"set-line": line}), workspace.game(GAME).seq, "one")
    for card in workspace.game(GAME).cards.values():
        detail_of(workspace.game(GAME), card)
    return workspace


def said(workspace, ident: str = FERN) -> tuple[str, ...]:
    game = workspace.game(GAME)
    return detail_of(game, game.cards[ident]).printed.lines


def test_a_card_that_is_called_otherwise_is_called_so_on_the_cards_that_name_it(naming):
    assert said(naming) == ("Create a copy of Ladder Frond.",)
    assert FERN in {card.id for card in find(naming, naming.game(GAME), "ladder").cards}
    before = detail_of(naming.game(GAME), naming.game(GAME).cards[FERN]).digest
    done = edit_field(naming, GAME, LADDER, "name", "Winding Frond", naming.game(GAME).seq, "one")
    assert said(naming) == ("Create a copy of Winding Frond.",)
    assert detail_of(done.after, done.after.cards[FERN]).digest != before
    # It is found by it.
    assert [{card.id for card in find(naming, done.after, word).cards} & {FERN, LADDER} for word in ("winding", "ladder")] == [{FERN, LADDER}, set()]
    # The edit shows what it did, and what followed.
    assert [(each.card, each.face) for each in ripple_of(done).cards] == [(LADDER, "re-laid"), (FERN, "re-laid")]
    # The new name is understood at once, the old one is not a card's any more.
    assert not write_cells(naming, GAME, [CellEdit(FERN, "effect", 'upon play this: create 2 "Winding Frond"')], naming.game(GAME).seq, "one").refused
    edit_field(naming, GAME, FERN, "effect", 'upon play this: create 2 "Ladder Frond"', naming.game(GAME).seq, "one")
    assert naming.game(GAME).cards[FERN].values["effect"].has_draft
    undo(naming, GAME, "one")
    undo(naming, GAME, "one")
    undo(naming, GAME, "one")
    assert said(naming) == ("Create a copy of Ladder Frond.",)


def test_a_removed_card_is_reported_on_the_cards_that_create_it(naming):
    done = retire_cards(naming, GAME, [LADDER], "one")
    sheet = detail_of(done.after, done.after.cards[FERN])
    (told,) = [each for each in sheet.problems if each.where == "effect"]
    assert (told.what, told.mend) == ("it creates a card that was removed", "name another, or bring it back from History")
    assert sheet.printed.lines == ("Create a copy of a removed card.",) and LADDER not in sheet.label
    assert sheet.unfinished and FERN in {card.id for card in find(naming, done.after, "unfinished").cards}
    assert {each.card: each.face for each in ripple_of(done).cards} == {LADDER: "gone", FERN: "re-laid"}
    back = undo(naming, GAME, "one")
    assert said(naming) == ("Create a copy of Ladder Frond.",) and not detail_of(back.after, back.after.cards[FERN]).unfinished
    assert {each.card: each.face for each in ripple_of(back).cards} == {LADDER: "new", FERN: "re-laid"}


def test_a_card_with_words_of_its_own_is_found_by_what_it_creates_is_called_now(naming):
    edit_field(naming, GAME, FERN, "printed", "It climbs.", naming.game(GAME).seq, "one")
    assert said(naming) == ("It climbs.",) and FERN in {card.id for card in find(naming, naming.game(GAME), "ladder").cards}
    done = edit_field(naming, GAME, LADDER, "name", "Winding Frond", naming.game(GAME).seq, "one")
    assert {card.id for card in find(naming, done.after, "winding").cards} == {FERN, LADDER} and said(naming) == ("It climbs.",)


def test_a_set_that_is_called_otherwise_is_called_so_on_every_face(naming):
    game = naming.game(GAME)
    home = game.set_of(game.cards[FERN].set)
    faces = {card.id: detail_of(game, card).digest for card in game.cards.values() if card.set == home.id}
    done, _ = write_set(naming, GAME, {"id": home.id, "name": "First Light", "code": home.code}, "one")
    after = done.after
    assert all(detail_of(after, after.cards[ident]).digest != digest for ident, digest in faces.items())
    assert ripple_of(done).card_count == len(faces)
    undo(naming, GAME, "one")
    back = naming.game(GAME)
    assert {ident: detail_of(back, back.cards[ident]).digest for ident in faces} == faces


def test_whatever_was_edited_what_is_kept_of_a_card_is_what_it_would_be_made_now(naming):
    """A walk of edits that differs from run to run: rules, sets, plans, names and values, with undo."""
    random = Random(SEED)
    workspace = naming
    base = next(each.id for each in workspace.game(GAME).faces.plans.values() if not each.head.type and each.head.side == "front")

    def cell(card: str, field: str, text: str):
        write_cells(workspace, GAME, [CellEdit(card, field, text)], workspace.game(GAME).seq, "one")

    def rename_set():
        home = random.choice(workspace.game(GAME).sets)
        write_set(workspace, GAME, {"id": home.id, "name": f"Set {random.randrange(99)}", "code": home.code}, "one")

    def rename_resource():
        resources = json.loads(json.dumps(workspace.game(GAME).rules["resources"]))
        each = random.choice(resources)
        each["name"] = each["names"] = f"Thing {random.randrange(99)}"
        write_rules(workspace, GAME, "resources", resources, None, "one")

    def price():
        prices = json.loads(json.dumps(workspace.game(GAME).rules["prices"]))
        prices["tolerance"] = random.randint(1, 4)
        write_rules(workspace, GAME, "prices", prices, None, "one")

    acts = [
        rename_set, rename_resource, price, lambda: undo(workspace, GAME, "one"),
        lambda: cell(LADDER, "name", random.choice(["Winding Frond", "Reed", ""])), lambda: cell(LADDER, "code", random.choice(["RS-002", "RS-702"])),
        lambda: cell(random.choice([FERN, LADDER]), "type", random.choice(["Plant", "Weather"])), lambda: cell(FERN, "cost", str(random.randint(0, 9))),
        lambda: edit_plan(workspace, GAME, base, PlanEdit({"set-line": {"ink": random.choice(["#112233", "@bed"])}}), workspace.game(GAME).seq, "one"),
        lambda: retire_cards(workspace, GAME, [LADDER], "one"),
    ]  # fmt: skip
    looked = [FERN, LADDER, *random.sample(sorted(workspace.game(GAME).cards), 4)]
    for number in range(16):
        act = random.choice(acts)
        try:
            act()
        except (Refused, Conflict, LookupError):
            continue
        game = workspace.game(GAME)
        for ident in looked:
            card = game.cards.get(ident)
            if card is not None:
                kept, made = detail_of(game, card), make_detail(game, card)
                assert (kept.digest, kept.back.digest, kept.words) == (made.digest, made.back.digest, made.words), (number, ident, SEED)
