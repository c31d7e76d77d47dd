"""Worths implied by costs: recovered from sets whose truth is known, echoes reported, drawbacks with the wrong sign found, cards without evidence left alone."""

from __future__ import annotations

from decimal import Decimal
from random import Random

import pytest

np = pytest.importorskip("numpy")

from dramok.core.balance import PriceList, verdict  # noqa: E402
from dramok.core.balance.declared.prices import Budget, Curve, PriceRow  # noqa: E402
from dramok.core.balance.implied.implied_worths import SIGMAS, TAUS, _averaged, implied  # noqa: E402
from tests.conftest import SEED  # noqa: E402
from tests.core.invented_world import RULEBOOK, card  # noqa: E402

ONE = Decimal(1)
TRUE = {"stat:height": 1.3, "stat:root": 0.6, "drawing": 2.2, "giving up": 0.5}
LINES = {"drawing": "upon play this: draw {}", "giving up": "upon play this: discard {}"}


def prices(**worths: Decimal | None) -> PriceList:
    told: dict[str, Decimal | None] = {"height": ONE, "root": ONE, "drawing": ONE, "giving up": ONE, **worths}
    rows = tuple(
        PriceRow(id=name, verb=verb, curve=None if (worth := told[name]) is None else Curve(each=worth)) for name, verb in (("drawing", "draw"), ("giving up", "discard"))
    )
    stats = {name: each for name in ("height", "root") if (each := told[name]) is not None}
    return PriceList(stats=stats, rows=rows, budgets={"": Budget(by_cost=(ONE,), further=ONE)})


def priced(dice: Random, number: int, noise: float, truth=TRUE):
    """Cards whose costs follow from true worths, with noise: budget = 1 + cost."""
    found = []
    for place in range(number):
        amounts = {key: dice.randint(1, 3) for key in LINES if dice.random() < 0.5}
        height, root = dice.randint(1, 9), dice.randint(1, 9)
        worth = truth["stat:height"] * height + truth["stat:root"] * root
        worth += truth["drawing"] * amounts.get("drawing", 0) - truth["giving up"] * amounts.get("giving up", 0)
        text = "\n".join(LINES[key].format(amount) for key, amount in amounts.items())
        found.append(card(f"C{place}", text, cost=max(0, round(worth - 1 + dice.gauss(0, noise))), height=height, root=root))
    return found


def test_known_worths_are_recovered_from_noisy_costs():
    inside = told = 0
    for turn in range(20):
        dice = Random(f"{SEED} implied {turn}")
        found = implied(priced(dice, 150, 1.0), RULEBOOK, prices())
        assert found.left_out == 0 and not found.echo and 0.5 < found.spread < 2.5
        for row in found.rows:
            assert row.informed and not row.flips and abs(row.implied - TRUE[row.row]) < 0.6, (row, SEED)
            inside += row.low <= TRUE[row.row] <= row.high
            told += 1
    assert inside >= 0.75 * told, (inside, told, SEED)


def test_an_open_row_is_inferred_and_one_without_cards_is_not_reported():
    dice = Random(f"{SEED} open")
    found = {row.row: row for row in implied(priced(dice, 200, 0.5), RULEBOOK, prices(drawing=None)).rows}
    assert found["drawing"].declared is None and abs(found["drawing"].implied - 2.2) < 0.5, SEED
    plain = [card(f"P{number}", cost=number, height=number + 1) for number in range(8)]
    assert {row.row for row in implied(plain, RULEBOOK, prices()).rows} == {"stat:height", "stat:root"}


def test_a_drawback_that_is_none_is_flagged():
    dice = Random(f"{SEED} flip")
    found = {row.row: row for row in implied(priced(dice, 300, 0.5, {**TRUE, "giving up": -1.5}), RULEBOOK, prices()).rows}
    assert found["giving up"].flips and found["giving up"].implied < 0 and not found["drawing"].flips


def test_costs_set_from_the_declared_worths_can_only_echo():
    dice = Random(f"{SEED} echo")
    declared = {"stat:height": 1.0, "stat:root": 1.0, "drawing": 1.0, "giving up": 1.0}
    found = implied(priced(dice, 120, 0.0, declared), RULEBOOK, prices())
    assert found.echo and all(abs(row.implied - 1) < 0.25 for row in found.rows)


def test_residuals_are_those_of_a_card_left_out_of_the_fit():
    """For one tau and one sigma: fitted again without the card, by the formula."""
    chance = np.random.default_rng(SEED)
    x, truth = chance.integers(0, 4, (14, 3)).astype(float), np.array([1.0, -0.5, 2.0])
    y = x @ truth + chance.normal(0, 0.7, 14)
    prior, spread = np.ones(3), np.full(3, 0.8)
    import dramok.core.balance.implied.implied_worths as room

    before = room.TAUS, room.SIGMAS
    room.TAUS, room.SIGMAS = (TAUS[2],), (SIGMAS[2],)
    try:
        *_, residual, sigma = _averaged(x, y, prior, spread)
        assert sigma == SIGMAS[2]
        for out in range(14):
            kept = [each for each in range(14) if each != out]
            hold = np.diag(1 / (TAUS[2] * spread) ** 2)
            worths = prior + np.linalg.solve(x[kept].T @ x[kept] / SIGMAS[2] ** 2 + hold, x[kept].T @ (y[kept] - x[kept] @ prior) / SIGMAS[2] ** 2)
            # The card has more than its budget by what its worth exceeds it.
            assert residual[out] == pytest.approx(float(x[out] @ worths - y[out]), abs=1e-8)
    finally:
        room.TAUS, room.SIGMAS = before


def test_what_cannot_take_part_is_counted():
    unwritten = card("Said", printed="Nobody wrote it.", cost=1)
    unmatched = card("Other", "upon play this: gain 1 ribbon", cost=1)
    without = card("Free").with_value("cost", None)
    plain = [card(f"P{number}", cost=number, height=number) for number in range(5)]
    found = implied([unwritten, unmatched, without, *plain], RULEBOOK, prices())
    assert found.left_out == 3 and {each.card for each in found.cards} == {each.id for each in plain}
    for few in ([], plain[:2]):
        assert implied(few, RULEBOOK, prices()).rows == ()
    same = implied([card(f"S{number}", cost=2) for number in range(9)], RULEBOOK, prices())
    assert all(np.isfinite([row.implied, row.low, row.high]).all() for row in same.rows)
    assert implied(plain, RULEBOOK, PriceList()).left_out == 5


def test_a_curve_and_qualifiers_count_as_declared():
    """A row worth 2 flat up to two, then 1: three cards drawn are one and a half of its unit."""
    row = PriceRow(id="drawing", verb="draw", curve=Curve(flat=Decimal(2), until=2, further=ONE))
    list_ = PriceList(stats={"height": ONE, "root": ONE}, rows=(row,), budgets={"": Budget(by_cost=(ONE,), further=ONE)})
    cards = [card(f"D{number}", "upon play this: draw 3", cost=number, height=number, root=1) for number in range(1, 7)]
    assert verdict(cards[0], RULEBOOK, list_).worth == 1 + 1 + 3
    found = {each.row: each for each in implied(cards, RULEBOOK, list_).rows}
    # All that is not height and root must be 1 + cost - height - root: nothing, so that drawing three is worth about none by the costs.
    assert found["drawing"].implied < 2 and found["drawing"].cards == 6
