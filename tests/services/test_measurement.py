"""Cards measured by games: planted ones are found, results are the same for a seed, unsuitable games are refused."""

from __future__ import annotations

import json
from contextlib import closing
from dataclasses import replace

import pytest
from typer.testing import CliRunner

from dramok.cli import app
from dramok.core.rulebook import PlayRules
from dramok.services import Refused, open_workspace
from dramok.services.balance.batch_orders import Playing, dealing, pool, repeats
from dramok.services.balance.measurement import Measurements, measure
from dramok.services.balance.sweeps import SweepAsked, sweep
from dramok.services.games.games import begin
from dramok.services.play.simulation import MADE, SimulationAsked, ordered
from dramok.services.rules.rule_parts import write_rules
from dramok.workers.compiled_kernel import can_compile
from tests.conftest import SEED

pytestmark = pytest.mark.skipif(not can_compile(), reason="measuring needs llvmlite")
GAME = "ribbon-season"


def planted(game, *codes: str):
    """The game with these plants far too tall and sturdy."""
    cards = dict(game.cards)
    for card in game.cards.values():
        if card.code in codes:
            cards[card.id] = card.with_value("height", (card.number("height") or 0) + 6).with_value("root", (card.number("root") or 0) + 6)
    return replace(game, cards=cards)


def test_planted_cards_are_named_and_the_same_seed_gives_the_same(workspace):
    game = workspace.game(GAME)
    codes = ("RS-001", "RS-002", "RS-003")
    *_, plain = measure(game, Playing(3_000, SEED))
    assert plain.state == "done" and plain.games == 3_000 and not plain.provisional and len(plain.cards) == 96
    *earlier, found = measure(planted(game, *codes), Playing(6_000, SEED))
    assert [each.games for each in earlier] == [400, 800, 1_600, 3_200, 5_200] and all(each.provisional for each in earlier)
    lifts = {game.cards[each.card].code: each for each in found.cards}
    before = {game.cards[each.card].code: each for each in plain.cards}
    for code in codes:
        assert lifts[code].named and lifts[code].lift > before[code].lift, (code, SEED)
    *_, again = measure(game, Playing(3_000, SEED, threads=1))
    assert again.digest == plain.digest and again.cards == plain.cards


def test_a_measurement_is_read_stopped_continued_and_out_of_date(workspace):
    game, kept = workspace.game(GAME), Measurements()
    assert kept.look(game).state == "none"
    try:
        kept.start(game, Playing(400_000, 3))
        held = kept._held[GAME]["plain"]
        while not held.now.games and held.thread.is_alive():
            held.thread.join(0.05)
        stopped = kept.stop(game)
        assert stopped.state == "stopped" and stopped.provisional and 400 <= stopped.games < 400_000
        with pytest.raises(Refused):
            kept.go_on(game, stopped.games)
        kept.go_on(game, max(800, stopped.games + 1))
        held.thread.join()
        done = kept.look(game)
        assert done.state == "done" and done.games == done.wanted and not done.provisional and done.edited == () and not done.rules_edited
        edited = kept.look(planted(game, "RS-001"))
        assert [game.cards[each].code for each in edited.edited] == ["RS-001"] and not edited.rules_edited
        quieter = replace(game, rulebook=game.rulebook.model_copy(update={"name": "Other"}))
        assert not kept.look(quieter).rules_edited, "a name plays no part"
        slower = replace(game, rulebook=game.rulebook.model_copy(update={"table": game.rulebook.table.model_copy(update={"turn_draw": 3})}))
        assert kept.look(slower).rules_edited
        worded = kept.look(replace(game, seq=game.seq + 1, cards={**game.cards, held.cards[0]: game.cards[held.cards[0]].with_value("flavour", "Other words.")}))
        assert worded.edited == () and not worded.rules_edited
    finally:
        kept.close()
    assert kept.look(game).state == "none"


@pytest.mark.parametrize(
    ("asked", "says"),
    [(Playing(0), "0 games"), (Playing(10**9), "1,000,000,000 games"), (Playing(100, player="oracle"), "no automatic player oracle")],
)
def test_what_cannot_be_asked_for_is_refused(workspace, asked, says):
    with pytest.raises(Refused) as refused:
        next(measure(workspace.game(GAME), asked))
    assert says in refused.value.problem.what and refused.value.problem.mend


def test_games_alone_of_one_card_and_without_a_deck_are_refused(workspace):
    game = workspace.game(GAME)
    alone = game.rulebook.model_copy(update={"play": PlayRules.model_validate({"seats": 1, "free": True, "phases": [{"id": "turn", "name": "Turn", "does": [{"do": "play"}]}], "zones": [{"id": "forecast", "name": "Weather glass"}]})})
    one = next(iter(game.cards.values()))
    banned = game.formats[0].model_copy(update={"least_cards": 9_000, "most_cards": 9_000})
    for broken, says in (
        (replace(game, rulebook=alone), "compares two sides"), (replace(game, cards={one.id: one}), "fewer than two cards"), (replace(game, formats=(banned,)), "no legal deck"),
    ):  # fmt: skip
        with pytest.raises(Refused) as refused:
            next(measure(broken, Playing(100)))
        assert says in refused.value.problem.what, says


def test_measure_on_the_command_line(db):
    told = CliRunner().invoke(app, ["measure", "--game", GAME, "--games", "900", "--seed", "5", "--db", str(db), "--json"])
    assert told.exit_code == 0, told.output
    found = json.loads(told.stdout)
    assert found["games"] == 900 and len(found["cards"]) == 96 and len(found["digest"]) == 12
    assert set(found["cards"][0]) == {"id", "code", "name", "lift", "low", "high", "named", "decks"}
    assert all(each["low"] <= each["lift"] <= each["high"] for each in found["cards"] if each["lift"] is not None)
    words = CliRunner().invoke(app, ["measure", "--game", GAME, "--games", "900", "--seed", "5", "--db", str(db)])
    assert "900 games in" in words.stdout and "going first" in words.stdout and f"digest {found['digest']}" in words.stdout
    wrong = CliRunner().invoke(app, ["measure", "--game", GAME, "--player", "oracle", "--db", str(db), "--json"])
    assert wrong.exit_code and "no automatic player" in wrong.output


def test_a_number_is_swept_on_the_same_shuffles(workspace):
    game = workspace.game(GAME)
    card = next(each for each in game.cards.values() if each.code == "RS-006")
    asked = SweepAsked(card.id, "height", 0, 9, Playing(600, SEED))
    found = sweep(game, asked)
    points = found.points
    assert [each.value for each in points] == list(range(10))
    stands = points[card.number("height")]
    assert (stands.more, stands.more_low, stands.more_high) == (0, 0, 0)
    assert points[9].more > 0 > points[0].more and points[9].rate > points[0].rate, SEED
    # Most of the randomness cancels out: the difference is more certain than two separate rates.
    assert points[9].more_high - points[9].more_low < points[9].high - points[9].low
    assert found.now == card.number("height") and found.fair is not None and found.fair.value < 9
    assert sweep(game, replace(asked, playing=Playing(600, SEED, threads=1))) == found


@pytest.mark.parametrize(
    ("how", "says"),
    [({"field": "name"}, "has no number"), ({"field": "luck"}, "has no number"), ({"start": 9, "end": 1}, "not a range"), ({"end": 500}, "not a range"), ({"field": "copies"}, "never reads"), ({"playing": Playing(0)}, "0 games"), ({"card": "nobody"}, "in no deck"), ({"end": 10**9}, "not a range")],
)
def test_what_cannot_be_swept_is_refused(workspace, how, says):
    game = workspace.game(GAME)
    card = next(each for each in game.cards.values() if each.code == "RS-006")
    with pytest.raises(Refused) as refused:
        sweep(game, replace(SweepAsked(card.id, "height", 0, 3, Playing(100)), **how))
    assert says in refused.value.problem.what and refused.value.problem.mend


def test_sweep_on_the_command_line(db):
    words = ["sweep", "--game", GAME, "--card", "RS-006", "--field", "Height", "--from", "3", "--to", "5", "--games", "300", "--db", str(db)]
    found = json.loads(CliRunner().invoke(app, [*words, "--json"]).stdout)
    assert found["now"] == 4 and [each["value"] for each in found["values"]] == [3, 4, 5] and found["field"] == "height"
    assert "as it is" in CliRunner().invoke(app, words).stdout
    assert CliRunner().invoke(app, [*words[:4], "nobody", *words[5:]]).exit_code


TWO_SIDES = {"id": "duel", "name": "Duel deck", "least_cards": 16, "most_cards": 40, "copies": 3, "copies_by_rarity": {"rare": 1}, "most_factions": 2}


def test_measuring_and_simulating_play_with_the_same_decks(tmp_path):
    """A duel by its shape: East and West alone have too few cards for a deck, so that its decks are made one by one, 600 at most."""
    with closing(open_workspace(tmp_path / "own.db", demo=False)) as own:
        game = begin(own, "Kiln Duel", "duel")
        game = write_rules(own, game.id, "formats", [TWO_SIDES], None, "one").after
    cards = pool(game)
    assert not repeats(game, 300) and repeats(game, 301)
    made = [sorted(cards[place].id for place in deck) for deck in dealing(game, cards, SEED)["made"]]
    order, program = ordered(game, SimulationAsked(5_000, SEED))
    simulated = [sorted(program.cards[each].id for each in deck) for deck in order["decks"]]
    # Measuring takes those of one size: the same ones in the same order.
    assert len(simulated) == MADE and 0 < len(made) <= MADE
    assert made == [deck for deck in simulated if len(deck) == len(made[0])]
