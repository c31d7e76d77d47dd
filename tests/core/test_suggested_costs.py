"""Suggested costs by worth: price lists with one worth changed, the cards that depend on it, and the cost it suggests."""

from __future__ import annotations

from decimal import Decimal
from random import Random

import pytest

from dramok.core.balance.declared.prices import Budget, Curve, PriceList, PriceRow
from dramok.core.balance.declared.verdict import verdict
from dramok.core.balance.suggested_costs import (
    cards_with,
    cost_asked,
    cost_of,
    dearest,
    with_worth,
    worth_of,
    worths_changed,
)
from tests.conftest import SEED
from tests.core.invented_world import RULEBOOK as INVENTED
from tests.core.invented_world import card

RULEBOOK = INVENTED.model_copy(update={"roles": INVENTED.roles.model_copy(update={"cost": "cost"})})
ROWS = (
    PriceRow(id="draws", verb="draw", curve=Curve(each=Decimal("1.5"))),
    PriceRow(id="harm", verb="deal", curve=Curve(flat=Decimal(2), until=3, further=Decimal(1))),
    PriceRow(id="rain", verb="gain", resource="water", curve=Curve(table=(Decimal("0.5"), Decimal("1.2")), further=Decimal("0.4"))),
    PriceRow(id="ribbons", verb="gain", resource="ribbon"),
)
PRICES = PriceList(stats={"height": Decimal(1), "root": Decimal("0.5")}, rows=ROWS, budgets={"": Budget(by_cost=tuple(map(Decimal, (1, 3, 5, 7))), further=Decimal(2))})
DRAWER = card("Drawer", "upon play this: draw 2", "weather", cost=1)
TALL = card("Tall", height=4, root=2, cost=1)


@pytest.mark.parametrize(
    ("name", "unit", "asked", "curve"),
    [
        ("draws", "1.5", "3", {"each": Decimal(3)}), ("harm", "2", "1", {"flat": Decimal(1), "until": 3, "further": Decimal("0.5")}),
        ("rain", "0.5", "1", {"table": (Decimal(1), Decimal("2.4")), "further": Decimal("0.8")}), ("ribbons", None, "1.25", {"each": Decimal("1.25")}),
    ],
)  # fmt: skip
def test_a_worth_is_changed_and_its_curve_keeps_its_shape(name, unit, asked, curve):
    assert worth_of(PRICES, name) == (None if unit is None else Decimal(unit))
    changed = with_worth(PRICES, name, Decimal(asked))
    row = next(each for each in changed.rows if each.id == name)
    assert {key: getattr(row.curve, key) for key in curve} == curve and worth_of(changed, name) == Decimal(asked)
    assert [each for each in changed.rows if each.id != name] == [each for each in ROWS if each.id != name]


def test_a_stat_is_a_worth_too_and_an_unknown_row_is_none():
    assert worth_of(PRICES, "stat:height") == 1 and worth_of(with_worth(PRICES, "stat:height", Decimal("0.7")), "stat:height") == Decimal("0.7")
    assert worth_of(PRICES, "stat:reach") is None
    for asked in (lambda: worth_of(PRICES, "rows"), lambda: with_worth(PRICES, "rows", Decimal(1))):
        with pytest.raises(KeyError):
            asked()


@pytest.mark.parametrize(("points", "cost"), [("0.5", 0), ("1.5", 1), ("2", 1), ("2.6", 2), ("4.5", 4), ("40", 4)])
def test_a_card_costs_what_its_worth_asks_for(points, cost):
    """Two cards drawn: a cost of 1 buys 3 points, each further one 2 more. At 4 points (2 each) costs 1 and 2 are as near: it stays at 1."""
    assert cost_asked(DRAWER, RULEBOOK, with_worth(PRICES, "draws", Decimal(points)), 4) == cost


def test_the_cost_asked_for_is_the_nearest_whatever_the_list():
    """Against the verdict itself, cost by cost."""
    dice = Random(f"costs {SEED}")
    for _ in range(60):
        budget = Budget(by_cost=tuple(Decimal(dice.randint(-2, 12)) / 2 for _ in range(dice.randint(1, 6))), further=Decimal(dice.randint(0, 4)) / 2)
        prices = PRICES.model_copy(update={"budgets": {"": budget}})
        one = card("One", dice.choice(["", "upon play this: draw 1", "upon enter this: deal 2 to all rival plant; gain 3 water"]), height=dice.randint(0, 9), root=dice.randint(0, 9), cost=dice.randint(0, 7))
        found = cost_asked(one, RULEBOOK, prices, 8)
        off = {cost: abs(verdict(one.with_value("cost", cost), RULEBOOK, prices).difference) for cost in range(9)}
        assert off[found] == min(off.values()), (one.values, budget)
        assert all(abs(found - cost_of(one, RULEBOOK)) <= abs(cost - cost_of(one, RULEBOOK)) for cost in off if off[cost] == off[found])


def test_cards_hang_on_a_worth_that_have_the_effect_and_nothing_else_open():
    both = card("Both", "upon play this: draw 1; gain 1 ribbon", "weather", cost=1)
    free = card("Free", "upon play this: draw 1", "weather", cost=None)
    vast = card("Vast", "upon play this: draw 1", "weather", cost=2**40)
    flat = card("Flat", height=0, root=1, cost=1)
    pool = [DRAWER, TALL, both, free, vast, flat]
    assert [each.id for each in cards_with("draws", pool, RULEBOOK, PRICES)] == ["Drawer"]
    # What is open itself may be swept: the card that has it is open for nothing else.
    assert [each.id for each in cards_with("ribbons", pool, RULEBOOK, PRICES)] == ["Both"]
    assert [each.id for each in cards_with("stat:height", pool, RULEBOOK, PRICES)] == ["Tall"]
    assert cards_with("harm", pool, RULEBOOK, PRICES) == []
    assert cost_asked(both, RULEBOOK, PRICES, 4) is None and cost_asked(free, RULEBOOK, PRICES, 4) is None


def test_a_game_without_costs_asks_for_none():
    assert cards_with("draws", [DRAWER], INVENTED.model_copy(update={"roles": INVENTED.roles.model_copy(update={"cost": None})}), PRICES) == []


def test_costs_reach_to_the_most_expensive_card_or_the_last_budget():
    assert dearest([DRAWER, card("Dear", cost=9)], RULEBOOK, PRICES) == 9 and dearest([DRAWER], RULEBOOK, PRICES) == 3 and dearest([card("Far", cost=2**62)], RULEBOOK, PRICES) == 40
    assert dearest([], RULEBOOK, PriceList()) == 0


def test_worths_that_changed_are_named_and_new_or_open_fields_are_not():
    other = with_worth(with_worth(PRICES, "draws", Decimal(2)), "stat:root", Decimal(1))
    assert worths_changed(PRICES, PRICES) == () and worths_changed(PRICES, other) == worths_changed(other, PRICES) == ("stat:root", "draws")
    opened = PRICES.model_copy(update={"rows": (*ROWS, PriceRow(id="new", verb="heal", curve=Curve(each=Decimal(1)))), "stats": {**PRICES.stats, "reach": Decimal(1)}})
    assert worths_changed(PRICES, opened) == ()
