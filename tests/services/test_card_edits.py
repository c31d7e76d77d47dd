"""Edits, undo, conflicts, ripples; recovery after a killed process."""

from __future__ import annotations

import dataclasses
import random
from pathlib import Path

import pytest
from bench.kills import trial_run

from dramok.core.cards.sheets.import_context import ImportOptions
from dramok.core.engine import Option
from dramok.services import Conflict, Missing, Refused, open_workspace
from dramok.services.cards.card_detail import detail_of, preview
from dramok.services.cards.card_edits import add_card, edit_field, retire_cards
from dramok.services.cards.ripples import ripple_of
from dramok.services.decks.edits import add_deck, set_count
from dramok.services.decks.reports import report
from dramok.services.files.sheet_import import Order, plan_import, write_import
from dramok.services.history.undo import next_steps, redo, undo
from dramok.services.play.matches import MATCHES
from dramok.services.play.playtests import begin, decide, playtest, take_back
from dramok.store import Key
from tests.conftest import GAME, SAMPLES

CARD = "c-ribbon-season-rs-016"


def edit(workspace, field, typed, page="one", base=None, card=CARD, key=None):
    return edit_field(
        workspace, GAME, card, field, typed, workspace.game(GAME).seq if base is None else base, page, key
    )


def test_an_edit_is_one_op_with_its_ripples(workspace):
    commit = edit(workspace, "height", "9")
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
    assert workspace.game(GAME).cards[CARD].revision == 2 and not ripple.decks


def test_undo_and_redo_survive_a_restart_and_belong_to_their_page(db):
    workspace = open_workspace(db)
    edit(workspace, "height", "9", "one")
    edit(workspace, "root", "1", "two")
    with pytest.raises(Refused):
        undo(workspace, GAME, "three", live={"one", "two", "three"})
    workspace.close()
    workspace = open_workspace(db)
    undo(workspace, GAME, "one", live={"one", "two"})
    values = workspace.game(GAME).cards[CARD].values
    assert (values["height"], values["root"]) == (5, 1)
    redo(workspace, GAME, "one", live={"one", "two"})
    undo(workspace, GAME, "one", live={"one", "two"})
    # After a restart every page is gone: a new one takes their edits over, the latest first.
    assert next_steps(workspace, GAME, "new").undo.label == "The Unfolding: root"
    undo(workspace, GAME, "new")
    assert workspace.game(GAME).cards[CARD].values["root"] == 6
    with pytest.raises(Refused, match="nothing to undo"):
        undo(workspace, GAME, "new")
    assert _same(workspace, db)
    workspace.close()


def _same(workspace, db) -> bool:
    other = open_workspace(db)
    fresh = other.game(GAME)
    other.close()
    now = workspace.game(GAME)
    return {k: (v.values, v.code) for k, v in now.cards.items()} == {
        k: (v.values, v.code) for k, v in fresh.cards.items()
    }


def test_undo_is_refused_with_both_versions_when_another_page_changed_the_field(workspace):
    edit(workspace, "height", "9", "one")
    edit(workspace, "height", "7", "two")
    with pytest.raises(Conflict) as refused:
        undo(workspace, GAME, "one", live={"one", "two"})
    assert (refused.value.theirs, refused.value.yours) == ("7", "5")
    assert workspace.game(GAME).cards[CARD].values["height"] == 7


def test_two_pages_on_one_field_see_both_values_and_on_different_fields_both_are_kept(workspace):
    base = workspace.game(GAME).seq
    edit(workspace, "height", "9", "one", base)
    with pytest.raises(Conflict) as refused:
        edit(workspace, "height", "7", "two", base)
    assert (refused.value.theirs, refused.value.yours) == ("9", "7")
    edit(workspace, "root", "1", "two", base)
    edit(workspace, "height", "7", "two", refused.value.seq)
    assert (workspace.game(GAME).cards[CARD].values["height"], workspace.game(GAME).cards[CARD].values["root"]) == (
        7,
        1,
    )


def test_a_repeated_request_writes_once(workspace):
    first = edit(workspace, "height", "9", key=Key("k1"))
    again = edit(workspace, "height", "9", key=Key("k1"))
    assert again.repeated and again.op.seq == first.op.seq == workspace.game(GAME).seq
    _, made = add_card(workspace, GAME, "plant", "first", "one", Key("k2"))
    assert add_card(workspace, GAME, "plant", "first", "one", Key("k2"))[1] == made


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
def test_an_invalid_field_value_is_refused_with_a_fix_and_nothing_changes(workspace, field, typed, what):
    before = workspace.game(GAME)
    with pytest.raises(Refused) as refused:
        edit(workspace, field, typed)
    assert refused.value.problem.what == what and refused.value.problem.mend and workspace.game(GAME) is before
    with pytest.raises(Missing):
        edit(workspace, field, typed, card="nowhere")


def test_a_draft_effect_is_kept_and_the_last_good_version_prints_plays_and_is_priced(workspace):
    good = detail_of(workspace.game(GAME), workspace.game(GAME).cards[CARD])
    edit(workspace, "effect", "upon enter this: drw 2")
    sheet = detail_of(workspace.game(GAME), workspace.game(GAME).cards[CARD])
    assert (
        sheet.printed.lines == good.printed.lines
        and not sheet.printed.behaviour_written
        and sheet.ledger.judgement == "open"
    )
    assert [(p.what, p.nearest) for p in sheet.problems] == [("“drw” can't be here", "draw")]
    edit(workspace, "effect", "upon leave this: draw 3")
    commit = edit(workspace, "effect", "upon leave this: draw 3 of them")
    assert detail_of(commit.after, commit.after.cards[CARD]).printed.lines == (
        "When it is pulled up: take 3 cards from your pile.",
    )
    looked = preview(
        workspace.game(GAME), workspace.game(GAME).cards[CARD], {"effect": "upon enter this: draw 1", "height": "x"}
    )
    assert (
        looked.printed.lines == ("As it comes up: take 1 card from your pile.",)
        and looked.problems[0].where == "Height"
    )


def test_a_stricter_rarity_makes_a_deck_illegal_and_undo_makes_it_legal(workspace):
    commit = edit(workspace, "rarity", "Heirloom", card="c-ribbon-season-rs-001")
    (deck,) = ripple_of(commit).decks
    assert (deck.name, deck.was_legal, deck.legal, deck.why) == (
        "Fern over Moss",
        True,
        False,
        "3 of Copper Larch Fern; maximum 2",
    )
    back = ripple_of(undo(workspace, GAME, "one")).decks[0]
    assert (back.was_legal, back.legal) == (False, True)


def test_decks_count_and_a_removed_card_is_named(workspace):
    _, deck = add_deck(workspace, GAME, "  Mine ", "one")
    set_count(workspace, GAME, deck, CARD, 3, workspace.game(GAME).seq, "one")
    found = report(workspace.game(GAME), workspace.game(GAME).decks[deck])
    assert [p.what for p in found.problems] == [
        "3 cards; minimum 36",
        "3 of The Unfolding; maximum 2",
    ] and found.curve == {6: 3}
    retire_cards(workspace, GAME, [CARD], "one")
    assert "gone from the game" in report(workspace.game(GAME), workspace.game(GAME).decks[deck]).problems[1].what
    undo(workspace, GAME, "one")
    assert CARD in workspace.game(GAME).cards


def test_an_import_is_one_step_to_undo(workspace):
    data = (SAMPLES / "draft-sheet.csv").read_bytes()
    before = workspace.game(GAME)
    plan = plan_import(before, data, "draft-sheet.csv")
    assert workspace.game(GAME) is before and plan.set_code == "DS"
    commit, _ = write_import(
        workspace, GAME, data, "draft-sheet.csv", "one", Order(wishes=ImportOptions(accept_near=True))
    )
    assert len(commit.after.cards) == 96 + 48 and [s.name for s in commit.after.sets] == [
        "First Showing",
        "Draft sheet",
    ]
    assert len(undo(workspace, GAME, "one").after.cards) == 96
    redone = redo(workspace, GAME, "one").after
    assert len(redone.cards) == 144 and _same(workspace, Path(workspace.store._engine.url.database))


def test_the_command_line_and_the_page_see_each_others_edits(db):
    one, two = open_workspace(db), open_workspace(db)
    assert two.game(GAME).cards[CARD].values["height"] == 5
    edit(one, "height", "8")
    assert two.game(GAME).cards[CARD].values["height"] == 8
    edit(two, "height", "9", "two")
    assert one.game(GAME).cards[CARD].values["height"] == 9


def test_a_playtest_is_kept_as_seed_and_decisions_and_undone_by_replay(workspace):
    deck = next(d for d in workspace.game(GAME).decks.values() if d.name == "Fern over Moss")
    table = begin(workspace, GAME, deck.id, seed=7)
    chooser = random.Random(3)
    for _ in range(30):
        if table.options:
            table = decide(workspace, GAME, table.id, chooser.choice(table.options), table.taken)
    MATCHES._held.clear()  # as after a restart
    assert playtest(workspace, GAME, table.id).log == table.log
    spoken = next(line.card for line in table.log if line.card)
    edit(workspace, "cost", "9", card=spoken)
    again = playtest(workspace, GAME, table.id)
    assert again.log == table.log and again.outdated == (spoken,)
    back = take_back(workspace, GAME, table.id, table.taken)
    assert back.taken < table.taken and back.log == table.log[: len(back.log)]
    assert back.seat == back.view.deciding == 0, "undo goes back to what the person decided last"
    with pytest.raises(Conflict):
        decide(workspace, GAME, table.id, Option("draw"), 5_000)


def test_a_kept_playtest_that_no_longer_holds_is_shown_as_far_as_it_does(workspace):
    """As after a change of the engine: a decision in it is none any more."""
    deck = next(d for d in workspace.game(GAME).decks.values() if d.name == "Fern over Moss")
    table = begin(workspace, GAME, deck.id, seed=7)
    for _ in range(3):
        table = decide(workspace, GAME, table.id, table.options[-1], table.taken)
    record = workspace.store.playtest(table.id)
    forged = (*record.decisions[:2], ("fly", 3), *record.decisions[2:])
    workspace.store.save_playtest(dataclasses.replace(record, decisions=forged))
    MATCHES._held.clear()
    broken = playtest(workspace, GAME, table.id)
    assert broken.asked == "broken" and broken.options == () and "holds up to decision 2" in broken.broken
    with pytest.raises(Refused, match="holds up to"):
        decide(workspace, GAME, table.id, Option("done"), len(forged))
    mended = take_back(workspace, GAME, table.id, len(forged))
    assert mended.taken == 2 and not mended.broken and mended.options


def test_kill_dash_nine_at_random_moments_loses_nothing_that_was_acknowledged():
    """Ten of the two hundred trials of `python -m bench kills`, which raises where one was lost or the file is not sound."""
    acknowledged, written = trial_run(10, random.Random(2))
    assert 0 < acknowledged <= written
