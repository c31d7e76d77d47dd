"""The balance session of a server: the latest request of a kind wins; edits, decks and lenses by games; the cache; the health of sets."""

from __future__ import annotations

import json
import threading
from dataclasses import replace

import pytest
from typer.testing import CliRunner

from dramok.cli import app
from dramok.core.balance.measured.deck_duels import duel_results, share_of
from dramok.core.cards import Card
from dramok.core.engine.loop_detection import CutOff
from dramok.services import Refused
from dramok.services.balance import kept_measurements
from dramok.services.balance.batch_orders import Playing
from dramok.services.balance.duels import DuelsAsked, duels
from dramok.services.balance.health import health
from dramok.services.balance.lenses import lenses
from dramok.services.balance.measurement import CardLift, Measurement, measure
from dramok.services.balance.price_references import reference
from dramok.services.balance.session import BalanceSession
from dramok.services.balance.sweeps import SweepAsked, measure_edit, what_if
from dramok.services.cards.card_edits import edit_field
from dramok.services.files.archive import archive, restore_game
from dramok.services.history.marks import add_mark
from dramok.services.workspace.workspace import Missing
from dramok.workers.compiled_kernel import can_compile
from tests.conftest import A_BUSY_MACHINES, SEED

needs_compiler = pytest.mark.skipif(not can_compile(), reason="measuring needs llvmlite")
GAME = "ribbon-season"


def called(game, code: str) -> Card:
    return next(each for each in game.cards.values() if each.code == code)


@needs_compiler
def test_an_edit_is_measured_against_the_card_before_it(workspace):
    game = workspace.game(GAME)
    card = called(game, "RS-006")
    strong = card.with_value("height", 9)
    found = what_if(game, strong, Playing(800, SEED))
    assert found.more > 0 and found.low <= found.more <= found.high and not found.same and found.games == 800
    back = measure_edit(replace(game, cards={**game.cards, card.id: strong}), game, card.id, Playing(800, SEED))
    assert back.more == pytest.approx(-found.more) and back.low == pytest.approx(-found.high)
    words = what_if(game, card.with_value("flavour", "Other words."), Playing(800, SEED))
    assert words.same and words.games == 0
    new = replace(card, id="new")
    with pytest.raises(Refused, match="was not there before"):
        measure_edit(game, replace(game, cards={**game.cards, "new": new}), "new", Playing(100))


@needs_compiler
def test_who_asks_next_ends_what_was_asked_before(workspace):
    game, held = workspace.game(GAME), BalanceSession()
    card = called(game, "RS-006")
    told: list[str] = []

    def long() -> None:
        try:
            held.sweep(game, SweepAsked(card.id, "height", 0, 9, Playing(40_000, 1)))
        except Refused as error:
            told.append(error.problem.what)

    try:
        first = threading.Thread(target=long)
        first.start()
        while not held._running.get((GAME, "sweep")):
            first.join(0.02)
        second = held.sweep(game, SweepAsked(card.id, "height", 3, 5, Playing(200, 1)))
        first.join(A_BUSY_MACHINES)
        assert not first.is_alive() and len(told) == 1 and "replaced by a newer request" in told[0]
        assert [each.value for each in second.points] == [3, 4, 5] and held.progress(game, "sweep") == (0, 0)
        third = threading.Thread(target=long)
        third.start()
        while not held._running.get((GAME, "sweep")):
            third.join(0.02)
        held.stop(game, "sweep")
        third.join(A_BUSY_MACHINES)
        assert len(told) == 2 and not held._running
    finally:
        held.close()


@needs_compiler
def test_decks_against_each_other_add_up(workspace):
    game = workspace.game(GAME)
    found = duels(game, DuelsAsked((), Playing(600, SEED)))
    count = len(found.decks)
    assert found.games == 600 and count >= 2 and found.done
    for one in range(count):
        assert found.matrix[one][one] is None
        for other in range(count):
            cell = found.matrix[one][other]
            if cell is not None:
                assert cell.rate == pytest.approx(100 - found.matrix[other][one].rate) and cell.low <= cell.rate <= cell.high
    assert sum(games for _, games in found.lengths) == 600 and found.quantiles[0] <= found.quantiles[50] <= found.quantiles[100]
    assert found.draws + found.first.games == 600
    assert {each.card for each in found.cards} == {card for ident in found.decks for card in game.decks[ident].cards}
    assert all(0 <= each.played <= each.drawn * 3 and 0 <= each.held <= 100 for each in found.cards)
    again = duels(game, DuelsAsked(found.decks, Playing(600, SEED, threads=1)))
    assert again.digest == found.digest and again.matrix == found.matrix
    for decks, says in ((("none",), "no deck none"), (found.decks[:1], "^1 deck can't")):
        with pytest.raises(Refused, match=says):
            duels(game, DuelsAsked(decks, Playing(10)))


@needs_compiler
def test_duels_that_are_stopped_tell_what_is_known_by_then(workspace):
    game, held, told = workspace.game(GAME), BalanceSession(), []
    try:
        playing = threading.Thread(target=lambda: told.append(held.duels(game, DuelsAsked((), Playing(400_000, SEED)))))
        playing.start()
        while not held.progress(game, "duels")[0] and playing.is_alive():
            playing.join(0.02)
        held.stop(game, "duels")
        playing.join(A_BUSY_MACHINES)
        (found,) = told
        assert 400 <= found.games < 400_000 and not found.done and sum(games for _, games in found.lengths) == found.games
        with pytest.raises(Refused, match="stopped, or replaced"), held._latest(game, "duels") as running:
            held.stop(game, "duels")
            # A player that starts only after the end was asked for is ended, too.
            duels(game, DuelsAsked((), Playing(400_000, SEED)), running=running)
    finally:
        held.close()


@needs_compiler
def test_what_duels_and_simulations_went_round_in_is_named(workspace, db):
    """Two cards that set each other off, three each in one deck of three: the loop has both, and no card of the other decks."""
    loop = {"RS-001": "upon gaining water: lose 1 water", "RS-002": "upon losing water: gain 1 water"}
    for code, text in loop.items():
        edit_field(workspace, GAME, called(workspace.game(GAME), code).id, "effect", text, workspace.game(GAME).seq, "loop")
    game = workspace.game(GAME)
    cards = {called(game, code).id for code in loop}
    decks = [each.id for each in game.decks.values() if each.name in ("Fern over Moss", "Hooks and Ribbons")]
    found = duels(game, DuelsAsked(tuple(decks), Playing(400, SEED)))
    (cut,) = [each for each in found.cut if each.why == "loop"]
    assert set(cut.cards) == cards and 0 < cut.games <= found.draws
    told = CliRunner().invoke(app, ["simulate", "--game", GAME, "--db", str(db), "--games", "200", "--deck", "Fern over Moss", "--deck", "Hooks and Ribbons", "--json"])
    one = json.loads(told.stdout)
    assert one["runaways"] == sum(each["games"] for each in one["cut"]) > 0
    assert {tuple(sorted(each["cards"])) for each in one["cut"]} == {tuple(sorted(cards))}
    said = CliRunner().invoke(app, ["duels", "--game", GAME, "--db", str(db), "--games", "200", "--deck", "Fern over Moss", "--deck", "Hooks and Ribbons"])
    titles = {game.title(game.cards[each]) for each in cards}
    assert any(f"without an end: {one} and {other} set each other off" in said.output for one in titles for other in titles - {one}), said.output


def test_duel_numbers_by_hand():
    told = {
        "wins": [[0, 3], [1, 0]], "played": [[0, 4], [4, 0]], "first": [2, 1, 1], "lengths": [(5, 1), (9, 3)], "emptied": [1, 0], 
        "tally": [[8, 6, 3, 0, 0, 0, 2], [4, 4, 0, 0, 0, 0, 4]], "games": 4, "digest": "x", "seconds": 0.5, "done": True,
    }  # fmt: skip
    found = duel_results(["a", "b"], ["fern", "moss"], [CutOff(("moss",), 1, "loop")], told)
    assert (found.matrix[0][1].rate, found.matrix[1][0].rate, found.first.rate, found.draws) == (75, 25, pytest.approx(200 / 3), 1)
    assert found.quantiles[0] == 5 and found.quantiles[50] == 9 and found.never_played == ("moss",) and found.cut == (CutOff(("moss",), 1, "loop"),)
    assert (found.cards[0].drawn, found.cards[0].played, found.cards[0].held) == (75, 37.5, pytest.approx(100 / 3)) and found.cards[1].held == 100
    assert (found.emptied[0].rate, found.emptied[1].rate) == (25, 0) and share_of(0, 0).low == 0
    # Wilson's interval for 3 of 4, from his formula by hand.
    assert (round(found.matrix[0][1].low, 1), round(found.matrix[0][1].high, 1)) == (30.1, 95.4)


@needs_compiler
def test_lenses_side_by_side_tell_rows_and_cards(workspace):
    game = workspace.game(GAME)
    before = lenses(game, Measurement("none"))
    assert before.scale is None and all(each.measured is None for each in (*before.cards, *before.rows)) and before.left_out == 0
    *_, found = measure(game, Playing(6_000, SEED))
    now = lenses(game, found)
    assert len(now.cards) == 96 and now.scale is not None and now.scale[1] > 0
    by_row = {each.name: each for each in now.rows}
    height = by_row["Height"]
    assert height.declared == 1 and height.measured[1] <= height.measured[0] <= height.measured[2] and height.measured_share > 0.5
    assert 0.4 < height.measured[0] < 2.5, SEED
    surest = now.cards[0]
    assert surest.surely == max(each.surely for each in now.cards) and surest.which
    *_, few = measure(game, Playing(400, SEED))
    assert lenses(game, few).cards


def measured_by_hand(game, count: int = 3) -> Measurement:
    cards = tuple(CardLift(card, 1.5 - number, 0.5 - number, 2.5 - number, number == 0, 40) for number, card in enumerate(list(game.cards)[:count]))
    return Measurement("done", 900, 900, 7, "ahead", game.seq, (*cards, CardLift("gone", None, None, None, False, 0)), (2.0, 1.0, 3.0), 0.5, digest="abc", turns=12.5)


def test_a_measurement_is_kept_outdated_renamed_undone_and_archived(workspace):
    game = workspace.game(GAME)
    with pytest.raises(Refused, match="nothing is measured"):
        kept_measurements.keep(workspace, game, Measurement("none"), "", "page")
    _, ident = kept_measurements.keep(workspace, game, measured_by_hand(game), "", "page")
    (kept,) = kept_measurements.kept(workspace, workspace.game(GAME))
    assert (kept.name, kept.games, kept.player, kept.digest, kept.edited) == ("900 games under ahead", 900, "ahead", "abc", ()) and len(kept.cards) == 3
    with pytest.raises(Refused, match="already"):
        kept_measurements.keep(workspace, workspace.game(GAME), measured_by_hand(game), "900 GAMES under ahead", "page")
    card = kept.cards[1].card
    edit_field(workspace, GAME, card, "height", "7", workspace.game(GAME).seq, "page")
    assert kept_measurements.kept(workspace, workspace.game(GAME))[0].edited == (card,)
    kept_measurements.rename(workspace, workspace.game(GAME), ident, "before the show", "page")
    kept_measurements.keep(workspace, workspace.game(GAME), measured_by_hand(game), "second", "page")
    with pytest.raises(Refused, match="already"):
        kept_measurements.rename(workspace, workspace.game(GAME), ident, "second", "page")
    kept_measurements.remove(workspace, workspace.game(GAME), ident, "page")
    assert [each.name for each in kept_measurements.kept(workspace, workspace.game(GAME))] == ["second"]


def test_kept_measurements_come_back_from_a_backup_with_their_moment(workspace):
    game = workspace.game(GAME)
    add_mark(workspace, GAME, "begun", "page")
    kept_measurements.keep(workspace, workspace.game(GAME), measured_by_hand(game), "kept", "page")
    beside = restore_game(workspace, archive(workspace, workspace.game(GAME)))
    (found,) = kept_measurements.kept(workspace, beside)
    assert found.name == "kept" and found.edited == () and {each.card for each in found.cards} <= set(beside.cards) and not {each.card for each in found.cards} & set(game.cards)


def test_the_health_of_every_demo_game_and_of_the_empty_one(workspace):
    for game in workspace.games():
        found = health(game)
        assert found.cards == len(game.cards) and sum(found.verdicts.values()) <= found.cards
        assert sum(each.cards for each in found.curve) <= found.cards and sum(count for _, count in found.type_sizes) == found.cards
        assert {each.card for each in found.dominated} <= set(game.cards)
        empty = health(replace(game, cards={}))
        assert empty.cards == 0 and empty.curve == () and empty.dominated == () and empty.load.cards == 0
        one = next(iter(game.cards.values()))
        assert health(replace(game, cards={one.id: one})).cards == 1
    with pytest.raises(Missing):
        health(workspace.game(GAME), "none")


def test_health_tells_what_changed_since_and_of_one_set(workspace):
    game = workspace.game(GAME)
    card = called(game, "RS-006")
    edit_field(workspace, GAME, card.id, "height", "9", game.seq, "page")
    found = health(workspace.game(GAME), None, workspace, game.seq)
    assert found.changed == (card.id,) and health(workspace.game(GAME)).changed is None
    assert health(workspace.game(GAME), card.set, workspace, game.seq).changed == (card.id,)


def test_worths_are_implied_by_a_set_a_mark_and_another_game(workspace):
    game = workspace.game(GAME)
    _, mark = add_mark(workspace, GAME, "before", "page")
    card = called(game, "RS-006")
    edit_field(workspace, GAME, card.id, "height", "9", game.seq, "page")
    now = workspace.game(GAME)
    name, cards, then = reference(workspace, now, f"mark:{mark}")
    assert name == "before" and then.cards[card.id].number("height") == 4 and len(cards) == 96
    found = lenses(now, Measurement("none"), (name, cards, then))
    assert found.source == "before" and found.rows != lenses(now, Measurement("none")).rows
    assert reference(workspace, now, f"set:{card.set}")[0] and reference(workspace, now, "game:crowded-bed")[2].id == "crowded-bed"
    assert lenses(now, Measurement("none"), reference(workspace, now, "game:crowded-bed")).source
    for wrong in ("set:none", "mark:none", "game:none", "moon:1", ""):
        with pytest.raises(Missing):
            reference(workspace, now, wrong)


def test_health_on_the_command_line(db):
    told = json.loads(CliRunner().invoke(app, ["health", "--game", "crowded-bed", "--db", str(db), "--json"]).stdout)
    assert told["cards"] == 48 and len(told["dominated"]) == 25 and told["dominated"][0]["reason"]
    words = CliRunner().invoke(app, ["health", "--game", "crowded-bed", "--db", str(db)]).stdout
    assert "48 cards: " in words and "dominated: 25" in words and "keywords: none" in words
    assert CliRunner().invoke(app, ["health", "--game", GAME, "--set", "nowhere", "--db", str(db)]).exit_code


@needs_compiler
def test_duels_on_the_command_line(db):
    words = ["duels", "--game", GAME, "--games", "200", "--db", str(db)]
    told = json.loads(CliRunner().invoke(app, [*words, "--json"]).stdout)
    assert told["games"] == 200 and len(told["decks"]) >= 2 and told["decks"][0]["against"][0] is None
    assert "going first wins" in CliRunner().invoke(app, words).stdout
    assert CliRunner().invoke(app, [*words, "--deck", "none"]).exit_code
