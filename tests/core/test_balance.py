"""Worth, budget, verdict: ledgers with exact sums, signs by affected side, the most specific row."""

from __future__ import annotations

from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dramok.core.balance import Curve, PriceList, set_map, verdict
from dramok.core.effects import Script
from dramok.core.effects.script import Line
from tests.core.invented_world import RULEBOOK, card
from tests.core.test_effects import abilities

PRICES = PriceList.model_validate(
    {
        "stats": {"height": "1", "root": "0.7"},
        "rows": [
            {"id": "cards", "verb": "draw", "curve": {"each": "1.1"}},
            {"id": "cards given", "verb": "discard", "curve": {"each": "0.9"}},
            {"id": "harm", "verb": "deal", "curve": {"each": "1.3", "until": 2, "further": "0.5"}},
            {"id": "harm to your own", "verb": "deal", "affects": "self", "curve": {"each": "0.6"}},
            {"id": "mending", "verb": "heal", "curve": {"each": "0.4"}},
            {"id": "water", "verb": "gain", "resource": "water", "curve": {"each": "0.35"}},
            {"id": "ribbons", "verb": "gain", "resource": "ribbon"},
            {"id": "losing", "verb": "lose", "curve": {"each": "0.3"}},
            {"id": "growth", "verb": "raise", "curve": {"each": "0.8"}},
        ],
        "cues": {"leave": "0.5"},
        "budgets": {"": {"by_cost": ["1", "3"], "further": "2", "rarity": {"rare": "0.5"}}},
        "tolerance": "0.5",
    }
)


@given(abilities, st.integers(0, 30), st.integers(0, 99), st.sampled_from(["common", "rare", ""]))
def test_the_lines_sum_to_the_verdict_exactly(ability, cost, height, rarity):
    ledger = verdict(
        card("Any", cost=cost, height=height, rarity=rarity, effect="").with_value(
            "effect", Script(lines=(Line(ability=ability),))
        ),
        RULEBOOK,
        PRICES,
    )
    known = [line.points for line in ledger.lines if line.points is not None]
    assert sum(known) == ledger.difference == ledger.worth - ledger.budget
    assert (ledger.judgement == "open") == any(line.points is None for line in ledger.lines)


def test_a_curve_is_flat_then_less_for_each_further():
    flat = Curve(flat=Decimal("1.5"), until=2, further=Decimal("0.5"))
    assert [flat.at(Decimal(n)) for n in (0, 1, 2, 3, 6)] == [
        Decimal(text) for text in ("0", "1.5", "1.5", "2.0", "3.5")
    ]
    with pytest.raises(ValueError, match="amount up to which"):
        Curve(flat=Decimal(1))


@pytest.mark.parametrize(
    ("effect", "points", "why"),
    [
        ("upon play this: deal 3 to pick rival plant", "3.1", "harm: 3.1"),
        ("upon play this: deal 3 to pick own plant", "-1.8", "harm to your own: 1.8, a drawback"),
        ("upon play this: heal 2 to pick rival plant", "-0.8", "mending: 0.8, a drawback"),
        ("upon leave this: draw 2", "1.10", "cards: 2.2 × 0.5 on leave"),
        ("upon play this: deal 1 to all rival plant", "2.6", "harm: 1.3 × 2 for all"),
        ("upon play this: deal 1 to pick 2 rival plant", "2.6", "harm: 1.3 × 2"),
        ("upon play this: discard 1", "-0.9", "cards given: 0.9, a drawback"),
        ("always: raise height of this by count (own plant)", "1.6", "growth: 1.6"),
        ("upon play this: gain 1 ribbon", None, "ribbons is undecided"),
    ],
)
def test_an_effect_is_priced_by_who_is_affected(effect, points, why):
    line = verdict(card("One", effect, "weather", cost=1), RULEBOOK, PRICES).lines[0]
    assert (line.points, line.why) == (None if points is None else Decimal(points), why)


def test_two_equally_specific_rows_are_an_error_that_names_both():
    rows = [
        {"id": "by side", "verb": "deal", "affects": "rival", "curve": {"each": 1}},
        {"id": "by cue", "verb": "deal", "cue": "play", "curve": {"each": 2}},
    ]
    prices = PriceList.model_validate({"stats": {}, "rows": rows, "budgets": {"": {"by_cost": [1]}}})
    ledger = verdict(card("Hit", "upon play this: deal 1 to pick rival plant", "weather"), RULEBOOK, prices)
    assert (
        ledger.judgement == "open"
        and ledger.problems[0].what == "by side and by cue match “deal” equally well"
    )


def test_the_map_names_those_that_stick_out_furthest_first():
    cards = [
        card("Fair", height=1, root=0, cost=0),
        card("Over", height=9, cost=1),
        card("Under", height=1, root=0, cost=3),
        card("Free", kind="weather", cost=None),
    ]
    found = set_map(cards, RULEBOOK, PRICES)
    assert found.outliers == ("Over", "Under") and found.unpriced == ("Free",)
    assert found.lines["plant"] == ((0, Decimal(1)), (1, Decimal(3)), (2, Decimal(5)), (3, Decimal(7)))
    assert found.cards[1].reason == "Height 9 +9, Root 2 +1.4, budget at cost 1 -3"


@pytest.mark.parametrize(
    ("budget", "wanted"),
    [
        # The table goes on below 0 as it begins, and a table of one number as it goes on.
        ({"by_cost": ["1", "3", "9"], "further": "2"}, ["-7", "-1", "1", "3", "9", "11"]),
        ({"by_cost": ["1"], "further": "0.5"}, ["-1.0", "0.5", "1", "1.5", "2.0", "2.5"]),
    ],
)
def test_what_a_cost_buys_below_nothing_and_beyond_the_table(budget, wanted):
    prices = PriceList.model_validate({"budgets": {"": budget}})
    assert [prices.budgets[""].at(cost) for cost in (-4, -1, 0, 1, 2, 3)] == [Decimal(each) for each in wanted]
    gives = card("Gives", cost=-4, kind="weather")
    assert verdict(gives, RULEBOOK, prices).budget == Decimal(wanted[0])
    seen = set_map([gives, card("Dear", cost=3, kind="weather")], RULEBOOK, prices)
    assert [each.cost for each in seen.cards] == [-4, 3]
    assert [cost for cost, _ in seen.lines["weather"]] == [-4, 0, 1, 2, 3] and seen.lines["weather"][0][1] == Decimal(wanted[0])


def test_a_cost_beyond_all_measure_draws_no_line_without_end():
    found = set_map([card("Far", cost=2**62), card("Near", cost=2)], RULEBOOK, PRICES)
    line = found.lines["plant"]
    assert len(line) < 300 and line[:3] == ((0, Decimal(1)), (1, Decimal(3)), (2, Decimal(5)))
    assert line[-1][0] == 2**62, "it goes on to the last card"


@pytest.mark.parametrize(
    ("effect", "points"),
    [
        # `it` means the latest pick, as at the table: healing a rival's plant is a drawback.
        (
            "upon play this: deal 1 to pick rival plant; deal 1 to this; heal 1 to it",
            ["1.3", "-0.6", "-0.4"],
        ),
        ("upon play this: deal 1 to pick own plant; heal 1 to it", ["-0.6", "0.4"]),
        ("upon play this: deal 1 to all rival plant; heal 1 to it", None),
    ],
)
def test_it_is_the_latest_pick_in_the_price_as_at_the_table(effect, points):
    from dramok.core.effects import read_script
    from tests.core.invented_world import VOCABULARY

    script, problems = read_script(effect, VOCABULARY)
    if points is None:
        assert problems, "it points to nothing"
        return
    assert not problems
    found = verdict(card("C", effect), RULEBOOK, PRICES).lines
    assert [line.points for line in found if line.field == "effect"] == [Decimal(each) for each in points]


def test_the_maps_reasons_sum_to_the_verdict():
    cards = [
        card(
            "Many",
            "upon play this: draw 2; discard 1; gain 1 water; lose 1 water; deal 1 to pick rival plant",
            cost=3,
        ),
        card("Few", "", cost=1, rarity="rare"),
    ]
    for mark in set_map(cards, RULEBOOK, PRICES).cards:
        numbers = [Decimal(part.rsplit(" ", 1)[1].replace("−", "-")) for part in mark.reason.split(", ")]
        assert sum(numbers) == mark.difference, mark.reason
