"""Worths of price rows from measured lifts, and the lenses side by side: recovered where the truth is known, empty where games give no evidence."""

from __future__ import annotations

import pytest

np = pytest.importorskip("numpy")

from dramok.core.balance.implied.worth_features import Features  # noqa: E402
from dramok.core.balance.measured.effect_worth import measured_worths, side_by_side  # noqa: E402
from tests.conftest import SEED  # noqa: E402

NAMES = ("stat:height", "drawing", "giving up")
TRUE = np.array([1.4, 2.5, 0.6])
SCALE = 1.6


def known(chance, cards: int) -> Features:
    x = np.column_stack([chance.integers(0, 6, cards), chance.integers(0, 3, cards), -chance.integers(0, 2, cards)]).astype(float)
    budgets = np.round(x @ TRUE + chance.normal(0, 1, cards), 0)
    prior = np.array([1.0, 1.5, 1.0])
    return Features(NAMES, (1.0, 1.5, 1.0), tuple(f"c{number}" for number in range(cards)), x, budgets, prior, np.maximum(prior, 0.5), 0)


def lifts(chance, of: Features, error: float, off: float = 0.3):
    real = SCALE * (of.x @ TRUE - of.budgets) + chance.normal(0, off, len(of.cards))
    return real - real.mean() + chance.normal(0, error, len(of.cards)), np.eye(len(of.cards)) * error**2


def test_true_worths_lie_in_their_intervals_and_far_from_the_declared():
    inside = 0
    for turn in range(8):
        chance = np.random.default_rng([SEED, turn])
        of = known(chance, 120)
        found = measured_worths(of, of.cards, *lifts(chance, of, 0.5))
        assert found.low <= SCALE * 1.3 and found.high >= SCALE * 0.7, SEED
        rows = {each.row: each for each in found.rows}
        assert set(rows) == set(NAMES) and rows["stat:height"].share > 0.8
        inside += sum(rows[name].low <= true <= rows[name].high for name, true in zip(NAMES, TRUE, strict=True))
    assert inside >= 19, (inside, SEED)


def test_games_that_say_nothing_give_no_worths():
    chance = np.random.default_rng(SEED)
    of = known(chance, 60)
    noise = chance.normal(0, 0.01, 60)
    found = measured_worths(of, of.cards, noise, np.eye(60) * 25)
    assert found.rows == () and found.low <= 0
    assert measured_worths(of, of.cards[:5], noise[:5], np.eye(5)).rows == ()
    assert measured_worths(of, ("x", "y"), [1, 2], np.eye(2)).rows == ()


def test_lenses_are_sorted_by_what_chance_does_not_explain():
    rows = side_by_side({"a": 1.0, "b": 0.0, "c": 0.5}, {"a": 1.0, "b": 2.0}, {"a": (4.0, 0.5), "b": (0.2, 5.0), "d": (1.0, 0.1)}, 2.0, 0.25)
    assert [each.card for each in rows][:2] == ["b", "a"]
    by_card = {each.card: each for each in rows}
    # b: declared 0, implied 2: 2 apart, of which 1.96 x 0.25 may be chance. a: declared 1, measured 2 +- 0.25: 1 apart.
    assert by_card["b"].surely == pytest.approx(2 - 1.96 * 0.25) and by_card["b"].which == "declared and implied"
    assert (by_card["a"].measured, by_card["a"].error) == (2.0, 0.25) and by_card["a"].which == "declared and measured"
    assert by_card["a"].surely == pytest.approx(1 - 1.96 * 0.25) and by_card["c"].which == "" and by_card["d"].measured == 0.5
    silent = side_by_side({"a": 1.0}, {}, {"a": (4.0, 0.5)}, 0.0, 0.25)
    assert silent[0].measured is None and silent[0].surely == 0
