"""Edits, undo, conflicts, ripples; what a killed process leaves behind."""

from __future__ import annotations

import dataclasses
import random
from pathlib import Path

import pytest
from bench.kills import trial_run

from dramok.core.cards.sheets.import_context import Wishes
from dramok.core.engine import Option
from dramok.services import Conflict, Missing, Refused, open_desk
from dramok.services.cards.card_detail import preview, sheet_of
from dramok.services.cards.card_edits import add_card, edit_field, retire_cards
from dramok.services.cards.ripples import ripple_of
from dramok.services.decks.edits import add_deck, set_count
from dramok.services.decks.reports import report
from dramok.services.files.sheet_import import Order, plan_import, take_import
from dramok.services.history.undo import next_steps, redo, undo
from dramok.services.play.matches import MATCHES
from dramok.services.play.playtests import begin, decide, playtest, take_back
from dramok.store import Key
from tests.conftest import GAME, SAMPLES

CARD = "c-ribbon-season-rs-016"


def edit(desk, field, typed, page="one", base=None, card=CARD, key=None):
    return edit_field(
        desk, GAME, card, field, typed, desk.game(GAME).seq if base is None else base, page, key
    )


def test_an_edit_is_one_op_with_its_ripples(desk):
    commit = edit(desk, "height", "9")
    ripple = ripple_of(commit)
    (card,) = ripple.cards
    assert (card.title, card.edits, card.face, card.fits) == (
        "The Unfolding",
        ("height 5 → 9",),
        "re-laid",
        True,
    )
    assert (
        card.before.judgement,
        str(card.before.difference),
        card.after.judgement,
        str(card.after.difference),
    ) == ("over", "1.00", "over", "5.00")
    assert desk.game(GAME).cards[CARD].revision == 2 and not ripple.decks


def test_undo_and_redo_survive_a_restart_and_belong_to_their_page(db):
    desk = open_desk(db)
    edit(desk, "height", "9", "one")
    edit(desk, "root", "1", "two")
    with pytest.raises(Refused):
        undo(desk, GAME, "three", live={"one", "two", "three"})
    desk.close()
    desk = open_desk(db)
    undo(desk, GAME, "one", live={"one", "two"})
    values = desk.game(GAME).cards[CARD].values
    assert (values["height"], values["root"]) == (5, 1)
    redo(desk, GAME, "one", live={"one", "two"})
    undo(desk, GAME, "one", live={"one", "two"})
    # After a restart every page is gone: a new one takes their edits over, the latest first.
    assert next_steps(desk, GAME, "new").undo.label == "The Unfolding: root"
    undo(desk, GAME, "new")
    assert desk.game(GAME).cards[CARD].values["root"] == 6
    with pytest.raises(Refused, match="nothing to undo"):
        undo(desk, GAME, "new")
    assert _same(desk, db)
    desk.close()


def _same(desk, db) -> bool:
    other = open_desk(db)
    fresh = other.game(GAME)
    other.close()
    now = desk.game(GAME)
    return {k: (v.values, v.code) for k, v in now.cards.items()} == {
        k: (v.values, v.code) for k, v in fresh.cards.items()
    }


def test_undo_is_refused_with_both_versions_when_another_page_changed_the_field(desk):
    edit(desk, "height", "9", "one")
    edit(desk, "height", "7", "two")
    with pytest.raises(Conflict) as refused:
        undo(desk, GAME, "one", live={"one", "two"})
    assert (refused.value.theirs, refused.value.yours) == ("7", "5")
    assert desk.game(GAME).cards[CARD].values["height"] == 7


def test_two_pages_on_one_field_see_both_values_and_on_different_fields_both_are_kept(desk):
    base = desk.game(GAME).seq
    edit(desk, "height", "9", "one", base)
    with pytest.raises(Conflict) as refused:
        edit(desk, "height", "7", "two", base)
    assert (refused.value.theirs, refused.value.yours) == ("9", "7")
    edit(desk, "root", "1", "two", base)
    edit(desk, "height", "7", "two", refused.value.seq)
    assert (desk.game(GAME).cards[CARD].values["height"], desk.game(GAME).cards[CARD].values["root"]) == (
        7,
        1,
    )


def test_a_repeated_request_writes_once(desk):
    first = edit(desk, "height", "9", key=Key("k1"))
    again = edit(desk, "height", "9", key=Key("k1"))
    assert again.repeated and again.op.seq == first.op.seq == desk.game(GAME).seq
    _, made = add_card(desk, GAME, "plant", "first", "one", Key("k2"))
    assert add_card(desk, GAME, "plant", "first", "one", Key("k2"))[1] == made


@pytest.mark.parametrize(
    ("field", "typed", "what"),
    [
        ("height", "three", "“three” is not a whole number"),
        ("height", "999", "999 is out of its bounds"),
        ("bed", "Frn", "“Frn” is not among its values"),
        ("code", "RS-001", "RS-001 is taken by Copper Larch Fern"),
        ("wings", "2", "Plant has no such field"),
        ("height", "5", "nothing would change"),
    ],
)
def test_what_a_field_cannot_hold_is_refused_with_a_mend_and_nothing_changes(desk, field, typed, what):
    before = desk.game(GAME)
    with pytest.raises(Refused) as refused:
        edit(desk, field, typed)
    assert refused.value.problem.what == what and refused.value.problem.mend and desk.game(GAME) is before
    with pytest.raises(Missing):
        edit(desk, field, typed, card="nowhere")


def test_a_draft_effect_is_kept_and_the_last_good_version_prints_plays_and_is_priced(desk):
    good = sheet_of(desk.game(GAME), desk.game(GAME).cards[CARD])
    edit(desk, "effect", "upon enter this: drw 2")
    sheet = sheet_of(desk.game(GAME), desk.game(GAME).cards[CARD])
    assert (
        sheet.printed.lines == good.printed.lines
        and not sheet.printed.behaviour_written
        and sheet.ledger.judgement == "open"
    )
    assert [(p.what, p.nearest) for p in sheet.problems] == [("“drw” can't be here", "draw")]
    edit(desk, "effect", "upon leave this: draw 3")
    commit = edit(desk, "effect", "upon leave this: draw 3 of them")
    assert sheet_of(commit.after, commit.after.cards[CARD]).printed.lines == (
        "When it is pulled up: take 3 cards from your pile.",
    )
    looked = preview(
        desk.game(GAME), desk.game(GAME).cards[CARD], {"effect": "upon enter this: draw 1", "height": "x"}
    )
    assert (
        looked.printed.lines == ("As it comes up: take 1 card from your pile.",)
        and looked.problems[0].where == "Height"
    )


def test_a_rarity_made_stricter_makes_a_deck_illegal_and_undo_mends_it(desk):
    commit = edit(desk, "rarity", "Heirloom", card="c-ribbon-season-rs-001")
    (deck,) = ripple_of(commit).decks
    assert (deck.name, deck.was_legal, deck.legal, deck.why) == (
        "Fern over Moss",
        True,
        False,
        "3 of Copper Larch Fern; maximum 2",
    )
    back = ripple_of(undo(desk, GAME, "one")).decks[0]
    assert (back.was_legal, back.legal) == (False, True)


def test_decks_count_and_a_card_taken_out_is_named(desk):
    _, deck = add_deck(desk, GAME, "  Mine ", "one")
    set_count(desk, GAME, deck, CARD, 3, desk.game(GAME).seq, "one")
    found = report(desk.game(GAME), desk.game(GAME).decks[deck])
    assert [p.what for p in found.problems] == [
        "3 cards; minimum 36",
        "3 of The Unfolding; maximum 2",
    ] and found.curve == {6: 3}
    retire_cards(desk, GAME, [CARD], "one")
    assert "gone from the game" in report(desk.game(GAME), desk.game(GAME).decks[deck]).problems[1].what
    undo(desk, GAME, "one")
    assert CARD in desk.game(GAME).cards


def test_an_import_is_one_step_to_undo(desk):
    data = (SAMPLES / "draft-sheet.csv").read_bytes()
    before = desk.game(GAME)
    plan = plan_import(before, data, "draft-sheet.csv")
    assert desk.game(GAME) is before and plan.set_code == "DS"
    commit, _ = take_import(
        desk, GAME, data, "draft-sheet.csv", "one", Order(wishes=Wishes(accept_near=True))
    )
    assert len(commit.after.cards) == 96 + 48 and [s.name for s in commit.after.sets] == [
        "First Showing",
        "Draft sheet",
    ]
    assert len(undo(desk, GAME, "one").after.cards) == 96
    redone = redo(desk, GAME, "one").after
    assert len(redone.cards) == 144 and _same(desk, Path(desk.store._engine.url.database))


def test_the_command_line_and_the_page_see_each_others_edits(db):
    one, two = open_desk(db), open_desk(db)
    assert two.game(GAME).cards[CARD].values["height"] == 5
    edit(one, "height", "8")
    assert two.game(GAME).cards[CARD].values["height"] == 8
    edit(two, "height", "9", "two")
    assert one.game(GAME).cards[CARD].values["height"] == 9


def test_a_playtest_is_kept_as_seed_and_decisions_and_undone_by_replay(desk):
    deck = next(d for d in desk.game(GAME).decks.values() if d.name == "Fern over Moss")
    table = begin(desk, GAME, deck.id, seed=7)
    chooser = random.Random(3)
    for _ in range(30):
        if table.options:
            table = decide(desk, GAME, table.id, chooser.choice(table.options), table.taken)
    MATCHES._held.clear()  # as after a restart
    assert playtest(desk, GAME, table.id).log == table.log
    spoken = next(line.card for line in table.log if line.card)
    edit(desk, "cost", "9", card=spoken)
    again = playtest(desk, GAME, table.id)
    assert again.log == table.log and again.outdated == (spoken,)
    back = take_back(desk, GAME, table.id, table.taken)
    assert back.taken < table.taken and back.log == table.log[: len(back.log)]
    assert back.seat == back.view.deciding == 0, "undo goes back to what the person decided last"
    with pytest.raises(Conflict):
        decide(desk, GAME, table.id, Option("draw"), 5_000)


def test_a_kept_playtest_that_no_longer_holds_is_shown_as_far_as_it_does(desk):
    """As after a change of the engine: a decision in it is none any more."""
    deck = next(d for d in desk.game(GAME).decks.values() if d.name == "Fern over Moss")
    table = begin(desk, GAME, deck.id, seed=7)
    for _ in range(3):
        table = decide(desk, GAME, table.id, table.options[-1], table.taken)
    record = desk.store.playtest(table.id)
    forged = (*record.decisions[:2], ("fly", 3), *record.decisions[2:])
    desk.store.save_playtest(dataclasses.replace(record, decisions=forged))
    MATCHES._held.clear()
    broken = playtest(desk, GAME, table.id)
    assert broken.asked == "broken" and broken.options == () and "holds up to decision 2" in broken.broken
    with pytest.raises(Refused, match="holds up to"):
        decide(desk, GAME, table.id, Option("done"), len(forged))
    mended = take_back(desk, GAME, table.id, len(forged))
    assert mended.taken == 2 and not mended.broken and mended.options


def test_kill_dash_nine_at_random_moments_loses_nothing_that_was_acknowledged():
    """Ten of the two hundred trials of `python -m bench kills`, which raises where one was lost or the file is not sound."""
    acknowledged, written = trial_run(10, random.Random(2))
    assert 0 < acknowledged <= written
