"""A worth swept by games: costs follow it, the fair value is found, and unsuitable requests are refused."""

from __future__ import annotations

import json
from dataclasses import replace
from decimal import Decimal
from itertools import pairwise
from random import Random

import numpy as np
import pytest
from typer.testing import CliRunner

from dramok.cli import app
from dramok.core.cards import Card
from dramok.core.decks.sampling import DeckKind, dealt
from dramok.services import Refused
from dramok.services.balance.batch_orders import Playing, dealing, pool
from dramok.services.balance.sweeps import (
    MOST_HELD,
    SweepAsked,
    WorthAsked,
    _some,
    measure_edit,
    sweep,
    sweep_worth,
)
from dramok.services.games.games import begin
from dramok.services.rules.rule_parts import write_rules
from dramok.workers.batches import Stretch, decks_of
from dramok.workers.compiled_kernel import can_compile
from tests.conftest import SEED

needs_compiler = pytest.mark.skipif(not can_compile(), reason="measuring needs llvmlite")
GAME = "ribbon-season"


def test_several_cards_are_held_in_turn_and_each_by_who_goes_first_and_second():
    """Two games after one another have the same card on one side; over many games each card has been held as often."""
    dice = Random(f"{SEED} in turn")
    kind = DeckKind(tuple(place // 2 for place in range(80)), (-1,) * 80, 20, 0, 0)
    held = dice.sample(range(40), 3)
    found = [dealt(kind, SEED, batch, 60, held) for batch in range(3)]
    for game, (mine, other) in enumerate(pair for decks in found for pair in decks.reshape(30, 2, 20)):
        card = held[game // 2 % 3]
        assert card in mine and card not in other, (game, card)
    assert np.array_equal(dealt(kind, SEED, 1, 60, held[:1]), dealt(kind, SEED, 1, 60, held[:1])) and not np.array_equal(found[0], found[1])


def test_factions_are_mixed_so_that_the_held_card_is_in():
    kind = DeckKind(tuple(range(60)), tuple(place // 20 for place in range(60)), 15, 1, 3)
    decks = dealt(kind, SEED, 0, 48, [5, 25, 45])
    assert all([5, 25, 45][game // 2 % 3] in deck for game, deck in enumerate(decks[::2].tolist()))
    assert all(len({card // 20 for card in deck}) == 1 for deck in decks.tolist())


@needs_compiler
def test_the_dearer_an_effect_is_held_to_be_the_less_the_side_with_it_wins(workspace):
    game = workspace.game(GAME)
    found = sweep_worth(game, WorthAsked("stat:height", 0.25, 4, 4, Playing(2_000, SEED)))
    values = [each.value for each in found.points]
    now = game.prices.stats["height"]
    assert values == sorted(values) and values[0] == 0.25 and values[-1] == 4 and found.now == float(now) and found.now in values
    tall = {card.id for card in pool(game) if card.number("height")}
    assert found.asked and all(set(each) <= tall for each in found.asked)
    totals = [sum(each.values()) for each in found.asked]
    assert totals == sorted(totals) and totals[0] < totals[-1]
    # Nearly free at a quarter of a point, expensive at four: about six points of win rate apart. The declared worth is in between, so close to the first
    # that games may say either.
    assert found.points[0].more > 1 + found.points[-1].more and found.points[0].more_high > 0 > found.points[-1].more, SEED
    assert found.fair is None or 0.25 <= found.fair.value <= 4
    itself = found.points[values.index(found.now)]
    assert itself.more == itself.more_low == itself.more_high == 0
    again = sweep_worth(game, WorthAsked("stat:height", 0.25, 4, 4, Playing(2_000, SEED)))
    assert again == found


@needs_compiler
@pytest.mark.parametrize(
    ("asked", "what"),
    [
        (("no such row", 0, 2, 5), "there is no worth no such row"), (("stat:height", 2, 2, 5), "is not a range"), (("stat:height", 3, 2, 5), "is not a range"),
        (("stat:height", 1, 2, 1), "is not a range"), (("stat:height", 1, 2, 41), "is not a range"), (("stat:reach", 1, 2, 3), "no card that may be in a deck"),
        (("stat:height", -float("inf"), float("inf"), 3), "is not a range"), (("stat:height", 1, 1e30, 3), "is not a range"), (("stat:height", float("nan"), 2, 3), "is not a range"),
        (("stat:height", 1, 1.0001, 2), "makes a card cost anything else"),
    ],
)  # fmt: skip
def test_impossible_sweeps_are_reported(workspace, asked, what):
    with pytest.raises(Refused, match=what):
        sweep_worth(workspace.game(GAME), WorthAsked(*asked, Playing(200, SEED)))


def test_of_very_many_cards_some_take_turns_evenly_through_the_set():
    cards = [Card(f"c{number}", f"C-{number}", "s", "plant") for number in range(2_000)]
    taken = _some(cards)
    assert len(taken) == MOST_HELD and taken[0] == cards[0] and {int(b.id[1:]) - int(a.id[1:]) for a, b in pairwise(taken)} == {20}
    assert _some(cards[:60]) == cards[:60]


def with_worths(game, **worths):
    """The game with other worths of stats."""
    stats = {**game.prices.stats, **{name: Decimal(str(each)) for name, each in worths.items()}}
    return replace(game, prices=game.prices.model_copy(update={"stats": stats}))


@needs_compiler
def test_an_edit_of_a_worth_is_measured_by_the_cards_that_it_prices(workspace):
    """Dearer by the new worth, they win less: as much less as they win more when it is taken back."""
    game = workspace.game(GAME)
    card = next(iter(game.cards))
    dear = with_worths(game, height=3)
    found = measure_edit(game, dear, card, Playing(1_600, SEED))
    assert found.worths == ("stat:height",) and not found.same and found.games == 1_600 and found.low < found.more < found.high and found.more < 0
    back = measure_edit(dear, game, card, Playing(1_600, SEED))
    assert back.more == pytest.approx(-found.more) and back.worths == found.worths
    little = measure_edit(game, with_worths(game, height=1.0001), card, Playing(400, SEED))
    assert little.same and little.games == 0 and little.worths == ("stat:height",)
    # Also where the card that is shown first may be in no deck.
    banned = game.formats[0].model_copy(update={"banned": (card,)})
    assert measure_edit(replace(game, formats=(banned,)), replace(dear, formats=(banned,)), card, Playing(400, SEED)).worths == ("stat:height",)
    wider = replace(game, prices=game.prices.model_copy(update={"tolerance": Decimal(3)}))
    assert measure_edit(game, wider, card, Playing(400, SEED)).worths == ()


def small_game(workspace):
    """A game begun from a shape: of its four sides not every two have enough cards for a deck, so that decks are made one by one."""
    game = begin(workspace, "Tin Court", "duel")
    narrow = {"id": "duel", "name": "Duel deck", "least_cards": 16, "most_cards": 40, "copies": 3, "copies_by_rarity": {"rare": 1}, "most_factions": 2}
    return write_rules(workspace, game.id, "formats", [narrow], None, "one").after


def test_decks_made_one_by_one_hold_the_card_whose_turn_it_is_or_do_not(workspace):
    game = small_game(workspace)
    cards = pool(game)
    ids = [card.id for card in cards]
    held = Random(SEED).sample(range(len(cards)), 3)
    order = {"holding": held, **dealing(game, cards, SEED, [ids[place] for place in held])}
    assert "kind" not in order
    order["kind"] = None
    rows = decks_of(order, Stretch(0, 120)).reshape(120, 2, -1)
    for number, (mine, other) in enumerate(rows):
        card = held[number // 2 % 3]
        assert card in mine and card not in other, number
    assert (decks_of(order, Stretch(40, 30)).reshape(30, 2, -1) == rows[40:70]).all()
    met = {(tuple(mine), tuple(other)) for mine, other in rows}
    assert len(met) > 6, "decks meet others each time"


@needs_compiler
def test_a_small_user_game_is_swept(workspace):
    game = small_game(workspace)
    card = next(each for each in pool(game) if each.number("strength"))
    found = sweep(game, SweepAsked(card.id, "strength", 0, 9, Playing(600, SEED)))
    assert found.points[-1].more > found.points[0].more and found.points[-1].more_low > 0
    worth = sweep_worth(game, WorthAsked("stat:strength", 0, 4, 3, Playing(600, SEED)))
    assert worth.points[0].more > worth.points[-1].more and worth.now == 1
    # Where every legal deck has the card, both sides have it.
    whole = game.formats[0].model_copy(update={"least_cards": 28, "most_cards": 28, "most_factions": None})
    full = replace(game, formats=(whole,))
    assert sweep(full, SweepAsked(card.id, "strength", 1, 2, Playing(200, SEED))).points


@needs_compiler
def test_a_worth_at_the_terminal(db):
    run = lambda *more: CliRunner().invoke(app, ["sweep", "--game", GAME, "--db", str(db), "--games", "400", *more])  # noqa: E731
    told = run("--worth", "Height", "--from", "0.5", "--to", "2.5", "--values", "3", "--json")
    found = json.loads(told.stdout)
    assert told.exit_code == 0 and found["worth"] == "stat:height" and {0.5, 1.5, 2.5} <= {each["value"] for each in found["values"]} and len(found["asked"]) == len(found["values"])
    said = run("--worth", "height", "--from", "0.5", "--to", "2.5", "--values", "3")
    assert said.exit_code == 0 and "cards with height: 400 games a value" in said.output and "as it is" in said.output
    for wrong, what in (((), "what is swept?"), (("--card", "RS-001"), "what is swept?"), (("--card", "RS-001", "--field", "cost", "--worth", "x"), "what is swept?")):
        told = run(*wrong, "--from", "1", "--to", "2")
        assert told.exit_code and what in told.output
    told = run("--card", "RS-001", "--field", "cost", "--from", "0.5", "--to", "2")
    assert told.exit_code and "whole" in told.output
