"""A budget fitted to cards: medians where they rise, pooled where they fall, interpolated where there are none."""

from __future__ import annotations

import random
from decimal import Decimal

import pytest

from dramok.core.balance.declared.budget_fit import fitted_budget
from tests.conftest import SEED

D = Decimal


def fitted(cards):
    found = fitted_budget((cost, D(str(worth))) for cost, worth in cards)
    return [str(each.normalize()) for each in found.by_cost], str(found.further.normalize())


def test_a_cost_buys_the_median_worth_of_its_cards():
    assert fitted([(0, 1), (1, 2), (1, 2.5), (1, 9), (2, 4)]) == (["1", "2.5", "4"], "1.5")


def test_where_a_higher_cost_is_worth_less_the_costs_are_pooled_by_their_cards():
    # Three cards of 4 at cost 1 and one of 2 at cost 2: (3 x 4 + 2) / 4 = 3.5.
    assert fitted([(0, 1), (1, 4), (1, 4), (1, 4), (2, 2), (3, 5)]) == (["1", "3.5", "3.5", "5"], "1.25")


def test_costs_without_a_card_are_on_the_line():
    assert fitted([(1, 3), (4, 9)]) == (["1", "3", "5", "7", "9"], "2")
    assert fitted([(2, 1), (3, 4)]) == (["0", "0", "1", "4"], "3"), "not below 0 at its beginning"
    assert fitted([(0, 2)]) == (["2"], "0")


def test_no_card_of_such_a_cost_is_no_budget():
    assert fitted_budget([]) is None
    assert fitted_budget([(-1, D(3)), (40, D(3))]) is None


@pytest.mark.parametrize("seed", [SEED, SEED + 1])
def test_it_never_falls_is_whole_quarters_and_is_near_cards_that_lie_on_a_line(seed):
    dice = random.Random(seed)
    for _ in range(200):
        cards = [(dice.randrange(12), D(dice.randrange(-40, 80)) / 8) for _ in range(dice.randint(1, 60))]
        found = fitted_budget(cards)
        table = found.by_cost
        assert list(table) == sorted(table) and found.further >= 0 and not found.falls()
        assert all(each % D("0.25") == 0 for each in (*table, found.further))
        assert len(table) == max(cost for cost, _ in cards) + 1
    slope = D(dice.randrange(1, 12)) / 4
    on_a_line = [(cost, 1 + slope * cost) for cost in range(9)]
    assert fitted_budget(on_a_line).by_cost == tuple(worth for _, worth in on_a_line)


def test_worths_beyond_what_a_budget_can_hold_are_cut_to_it():
    found = fitted_budget([(0, D(10) ** 30), (1, D(10) ** 31), (2, D(10) ** 32)])
    assert found.by_cost == (D(1_000_000),) * 3 and found.further == D(1_000_000)
    assert fitted_budget([(0, -D(10) ** 12)]).by_cost == (D(-1_000_000),)
