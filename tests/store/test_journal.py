"""The journal in the file: reads by kind, word, entity and range agree with the writes."""

from __future__ import annotations

import json
from random import Random

import pytest

from dramok.services.workspace.workspace import Refused
from dramok.store import Change, Key, KeyReused
from tests.conftest import GAME, SEED

CARDS = [f"c-{GAME}-rs-{number:03}" for number in range(1, 9)]


@pytest.fixture
def written(workspace):
    """Twenty edits of one to three cards each, by two pages, with what they changed."""
    dice = Random(SEED)
    done = []
    for number in range(20):
        ids = dice.sample(CARDS, dice.randrange(1, 4))
        now = workspace.game(GAME)
        changes = [
            Change(
                "card",
                ident,
                "name",
                json.dumps(now.cards[ident].text("name")),
                json.dumps(f"{number} {ident[-3:]}"),
            )
            for ident in ids
        ]
        page = dice.choice(["one", "two"])
        commit = workspace.commit(
            GAME,
            f"edit {number} of {len(ids)}",
            page,
            lambda _, changes=changes: changes,
            key=Key(f"k{number}", f"asked {number}"),
        )
        done.append((commit.op, changes))
    return done


def test_the_journal_counts_each_edits_things_and_finds_them_by_word_kind_and_thing(workspace, written):
    found = workspace.store.journal(GAME, most=100)
    assert [op.seq for op, _ in found][:20] == [op.seq for op, _ in reversed(written)]
    assert [counts for _, counts in found][:20] == [
        {"card": len(changes)} for _, changes in reversed(written)
    ]
    (seven,) = workspace.store.journal(GAME, text="EDIT 7 OF")
    assert seven[0].label.startswith("edit 7 of")
    assert workspace.store.journal(GAME, kind="deck") == [] or all(
        "deck" in counts for _, counts in workspace.store.journal(GAME, kind="deck")
    )
    thing = written[3][1][0].id
    about = [op.seq for op, _ in workspace.store.journal(GAME, thing=thing, most=100)]
    assert about[: sum(any(change.id == thing for change in changes) for _, changes in written)] == [
        op.seq for op, changes in reversed(written) if any(change.id == thing for change in changes)
    ]
    middle = written[10][0].seq
    assert [op.seq for op, _ in workspace.store.journal(GAME, before=middle, most=3)] == [
        op.seq for op, _ in reversed(written[7:10])
    ]


@pytest.mark.parametrize(("said", "asked"), [("Éclair removed", "éCLAIR"), ("Éclair removed", "eclair"), ("ДУБ: cost", "дуб"), ("Straße", "STRASSE"), ("İnce", "i\u0307nce"), ("100 % of _", "% OF _")])
def test_words_are_found_in_the_letters_of_any_language(workspace, said, asked):
    change = Change("card", f"c-{GAME}-rs-001", "cost", "3", "4")
    workspace.commit(GAME, said, "one", lambda _: [change])
    assert [op.label for op, _ in workspace.store.journal(GAME, text=asked)] == [said]
    assert workspace.store.journal(GAME, text=f"{asked}!") == []


def test_changes_of_a_thing_and_of_a_stretch_are_in_the_order_they_were_made(workspace, written):
    thing = written[0][1][0].id
    mine = [(op.seq, change) for op, changes in written for change in changes if change.id == thing]
    held = [(op.seq, change) for op, change in workspace.store.changes_of(thing) if op.seq >= written[0][0].seq]
    assert held == mine
    assert [each[1] for each in mine[-2:]] == [change for _, change in workspace.store.changes_of(thing, most=2)]
    first, last = written[4][0].seq, written[9][0].seq
    assert workspace.store.changes_between(GAME, first, last) == [
        change for _, changes in written[5:10] for change in changes
    ]
    assert workspace.store.changes_between(GAME, last, last) == []
    assert workspace.store.latest_change(thing, "name") == mine[-1][0]
    pages = {op.seq: op.page for op, _ in written}
    others = [seq for seq, _ in mine if pages[seq] != "one"]
    assert workspace.store.latest_change(thing, "name", besides="one") == (
        others[-1] if others else workspace.store.latest_change(thing, "name", besides="one")
    )
    assert workspace.store.touched(last, GAME) == {
        ("card", change.id) for _, changes in written[10:] for change in changes
    }


def test_a_key_is_one_edit_and_never_another(workspace, written):
    op, _ = written[5]
    assert workspace.store.op_with_key(Key("k5", "asked 5"), GAME) == op
    assert workspace.store.op_with_key(Key("none", "x"), GAME) is None
    for key, game in ((Key("k5", "something else"), GAME), (Key("k5", "asked 5"), "another-game")):
        with pytest.raises(KeyReused):
            workspace.store.op_with_key(key, game)
    before = workspace.game(GAME).seq
    again = workspace.commit(GAME, "again", "one", lambda _: [], key=Key("k5", "asked 5"))
    assert again.repeated and again.op == op and workspace.game(GAME).seq == before


def test_an_edit_that_fails_leaves_no_trace(workspace, written):
    """Whatever is thrown while the changes are thought out, or refused after: the file is as it was."""
    before = (workspace.store.seqs(), workspace.store.game_with_contents(GAME))
    with pytest.raises(ZeroDivisionError):
        workspace.commit(GAME, "falls over", "one", lambda _: [Change("card", CARDS[0], "cost", None, str(1 / 0))])
    with pytest.raises(Refused):
        workspace.commit(GAME, "no such card", "one", lambda _: [Change("card", "c-none", "cost", None, "1")])
    with pytest.raises(Refused):
        workspace.commit(GAME, "nothing", "one", lambda _: [])
    assert (workspace.store.seqs(), workspace.store.game_with_contents(GAME)) == before
    assert next(workspace.store.history(GAME)[-1:].__iter__())[0].seq == before[0][GAME]
