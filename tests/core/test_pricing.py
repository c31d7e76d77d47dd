"""Price lists in use: curves, which row prices what, ties and their fix, effects without a price, the map."""

from __future__ import annotations

from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from dramok.core.balance import Budget, Curve, PriceList, PriceRow, pricing, set_map, verdict
from dramok.core.balance.declared.effect_aspects import aspects_of, best_rows
from dramok.core.effects import Script, parse_ability, read_script
from dramok.core.effects.model import Group, It, Number, Pick, Step, This, Triggered
from dramok.core.effects.pronouns import aimed
from dramok.core.effects.script import Line
from dramok.core.effects.verbs import VERBS
from tests.core.invented_world import RULEBOOK, VOCABULARY, card
from tests.core.test_balance import PRICES
from tests.core.test_effects import abilities

points = st.decimals(-50, 50, places=2)
worths = st.decimals(0, 20, places=2)
CARDS = [
    card("Drawer", "upon play this: draw 2", "weather", cost=1),
    card("Both", "upon play this: draw 1; gain 2 water", "weather", cost=2),
    card("Leaving", "upon leave this: draw 3", cost=1),
    card("Shown", "upon play this: reveal 2", "weather", cost=1),
    card("Plain", cost=1),
]


def deal(number: int, target) -> Step:
    return Step(verb="deal", amount=Number(value=number), target=target)


def priced(rows: list[dict], **more) -> PriceList:
    return PriceList.model_validate({"stats": {"height": "1"}, "rows": rows, **more})


def test_a_listed_worth_is_what_it_lists_then_so_much_for_each_further():
    curve = Curve(table=(Decimal("1"), Decimal("1.75"), Decimal("2.25")), further=Decimal("0.25"))
    found = [curve.at(Decimal(text)) for text in ("0", "1", "2", "3", "4", "7", "0.5", "1.5", "2.5")]
    assert found == [
        Decimal(text) for text in ("0", "1", "1.75", "2.25", "2.50", "3.25", "0.5", "1.375", "2.0")
    ]
    with pytest.raises(ValidationError, match="not both"):
        Curve(table=(Decimal(1),), each=Decimal(1))
    with pytest.raises(ValidationError, match="not both"):
        Curve(table=(Decimal(1),), until=3)


@given(st.lists(worths, min_size=1, max_size=6), worths, st.integers(0, 12))
def test_a_rising_list_rises_everywhere(table, further, amount):
    curve = Curve(table=tuple(sorted(table)), further=further)
    here, there = curve.at(Decimal(amount)), curve.at(Decimal(amount) + Decimal("0.5"))
    assert here <= there or amount == 0 and there == curve.table[0] / 2
    line = dict(curve.line())
    assert line[Decimal(0)] == 0 and all(line[each] == curve.at(each) for each in line)


@given(worths, st.one_of(st.none(), st.integers(0, 8)), worths, st.integers(0, 30))
def test_a_curve_is_drawn_where_it_is_worth(each, until, further, amount):
    curve = Curve(each=each, until=until, further=further)
    bent = (
        each * min(amount, until) + further * max(0, amount - until) if until is not None else each * amount
    )
    assert curve.at(Decimal(amount)) == bent
    drawn = dict(curve.line())
    assert len(drawn) >= 7 and max(drawn) >= (until or 0) + 3
    assert all(worth == curve.at(at) for at, worth in drawn.items())


def test_a_far_bend_is_drawn_by_its_corners():
    line = Curve(each=Decimal(1), until=900_000, further=Decimal(0)).line()
    assert [int(amount) for amount, _ in line] == [0, 1, 900_000, 900_003]


def test_it_is_the_latest_pick_for_price_and_table_alike():
    own, rival = Group(side="own"), Group(side="rival")
    steps = (
        deal(1, target=Pick(group=rival)),
        deal(1, target=This()),
        deal(2, target=It()),
        deal(1, target=Pick(least=2, most=2, group=own)),
        deal(1, target=It()),
    )
    assert [target for _, target, _ in aimed(steps)] == [
        Pick(group=rival), This(), Pick(group=rival), Pick(least=2, most=2, group=own), Pick(least=2, most=2, group=own),
    ]  # fmt: skip
    found = [
        (each.affects, int(each.many), each.sign)
        for each in aspects_of(Triggered(cue="play", steps=steps))
    ]
    assert found == [
        ("rival", 1, 1),
        ("self", 1, -1),
        ("rival", 1, 1),
        ("self", 2, -1),
        ("self", 2, -1),
    ]
    assert next(iter(aimed((deal(1, target=It()),))))[1] == This(), (
        "no readable line has it"
    )


@pytest.mark.parametrize(
    ("line", "said"),
    [
        ("upon play this: may (draw 2)", [("draw", "self", "1", 1)]),
        ("upon play this: choose 1 of (draw 2 | gain 3 water)", [("draw", "self", "1", 1), ("gain", "self", "1", 1)]),
        ("upon play this: draw 1 for rival; discard 1 for rival; lose 1 ribbon for all", [("draw", "rival", "1", -1), ("discard", "rival", "1", 1), ("lose", "self", "1", -1), ("lose", "rival", "1", 1)]),
        ("upon play this: if held water above 3 (deal 2 to all rival plant) otherwise (draw 1)", [("deal", "rival", "1", 1), ("draw", "self", "1", 1)]),
        ("offer pay 2 water + tilt this: draw 1", [("lose", "self", "1", -1), ("tilt", "self", "1", -1), ("draw", "self", "1", 1)]),
        ("upon play this: offer discard 1 (draw 2)", [("discard", "self", "1", -1), ("draw", "self", "1", 1)]),
        ("always: raise height of all own plant by 1", [("raise", "self", "1", 1)]),
        ("always: lower height of all rival plant by 1", [("lower", "rival", "1", 1)]),
        ("has grafted", [("has", "self", "1", 1)]),
    ],
)  # fmt: skip
def test_what_blocks_prices_and_keywords_are_to_a_price_list(line, said):
    """A price is a drawback; what is inside a block is priced one by one."""
    ability, problems = parse_ability(line, VOCABULARY)
    assert ability is not None and not problems
    assert [(each.verb, each.affects, str(each.many), each.sign) for each in aspects_of(ability)] == said


def test_every_row_knows_what_it_prices_and_stats_too():
    prices = priced([
        {"id": "cards", "verb": "draw", "curve": {"each": "1"}}, {"id": "late cards", "verb": "draw", "cue": "leave", "curve": {"each": "0.5"}},
        {"id": "unused", "verb": "heal", "curve": {"each": "1"}}, {"id": "water", "verb": "gain", "resource": "water"},
    ])  # fmt: skip
    found = pricing(CARDS, RULEBOOK, prices)
    said = {
        ident: [(each.card, each.amount, each.points) for each in cards]
        for ident, cards in found.by_row.items()
    }
    assert said == {
        "cards": [("Drawer", 2, 2), ("Both", 1, 1)], "late cards": [("Leaving", 3, Decimal("1.5"))], "unused": [], "water": [("Both", 2, None)],
    }  # fmt: skip
    assert [(each.card, each.points) for each in found.by_stat["height"]] == [("Leaving", 1), ("Plain", 1)]
    assert [each.points for each in found.by_stat["root"]] == [None, None], "a stat without a worth is open"
    (missing,) = found.unpriced
    assert (missing.what, missing.cards, missing.row) == (
        "reveal 2",
        ("Shown",),
        PriceRow(id="reveal", verb="reveal"),
    )


def test_rows_that_match_equally_well_are_reported_with_a_fix_for_each():
    rows = [
        {"id": "on play", "verb": "draw", "cue": "play", "curve": {"each": "1"}},
        {"id": "for me", "verb": "draw", "affects": "self", "curve": {"each": "2"}},
    ]
    found = pricing(CARDS, RULEBOOK, priced(rows))
    (equal,) = [each for each in found.equal if each.rows == ("on play", "for me")]
    assert equal.cards == ("Drawer", "Both") and equal.what == "draw 2"
    for winner in ("on play", "for me"):
        mended = [equal.mends[row["id"]].model_dump() if row["id"] == winner else row for row in rows]
        after = pricing(CARDS, RULEBOOK, priced(mended))
        assert not after.equal and {each.card for each in after.by_row[winner]} >= {"Drawer", "Both"}
    twins = pricing(CARDS, RULEBOOK, priced([{"id": "one", "verb": "draw"}, {"id": "two", "verb": "draw"}]))
    assert twins.equal[0].mends == {}, "they name the very same"


def test_of_many_rows_that_match_equally_well_the_first_are_named():
    rows = [{"id": f"row {number}", "verb": "draw"} for number in range(2_000)]
    ledger = verdict(CARDS[0], RULEBOOK, priced(rows))
    said = "row 0 and row 1 and row 2 and 1997 more match it equally well"
    assert ledger.lines[0].why == said and len(ledger.problems[0].what) < 120
    with pytest.raises(ValidationError):
        priced([*rows, {"id": "one more", "verb": "draw"}])


@given(abilities, st.lists(st.builds(
    PriceRow, id=st.text("abc", min_size=1, max_size=3), verb=st.sampled_from(list(VERBS)), affects=st.sampled_from([None, "self", "rival", "anyone"]),
    reach=st.sampled_from([None, "this", "one", "all"]), cue=st.sampled_from([None, "play", "enter", "leave", "always"]),
    curve=st.one_of(st.none(), st.builds(Curve, each=worths)),
), max_size=6))  # fmt: skip
def test_the_map_agrees_with_the_ledgers_and_every_fix_works(ability, rows):
    prices = PriceList(
        stats={"height": Decimal(1), "root": Decimal(1)},
        rows=tuple(rows),
        budgets={"": Budget(by_cost=(Decimal(2),))},
    )
    assert len({row.id.casefold() for row in prices.rows}) == len(rows), "every row has a name of its own"
    one = card("Any", cost=3).with_value("effect", Script(lines=(Line(ability=ability),)))
    ledger, found = verdict(one, RULEBOOK, prices), pricing([one], RULEBOOK, prices)
    (mark,) = found.map.cards
    assert (mark.worth, mark.budget, mark.judgement) == (ledger.worth, ledger.budget, ledger.judgement)
    assert mark == set_map([one], RULEBOOK, prices).cards[0].__class__(
        **{**vars(set_map([one], RULEBOOK, prices).cards[0]), "reason": ""}
    )
    counted = sum(len(cards) for cards in found.by_row.values())
    assert counted == sum(len(line.rows) == 1 for line in ledger.lines)
    for aspect in aspects_of(ability):
        best = best_rows(aspect, prices.rows)
        assert len({row.specificity for row in best}) <= 1
    for equal in found.equal:
        for winner, row in equal.mends.items():
            after = prices.model_copy(
                update={"rows": tuple(row if each.id == winner else each for each in prices.rows)}
            )
            named = [line.rows for line in verdict(one, RULEBOOK, after).lines if line.what == equal.what]
            assert (winner,) in named


def test_a_private_row_counts_and_goes_to_nobody():
    prices = priced(
        [
            {"id": "secret", "verb": "draw", "curve": {"each": "3"}, "private": True},
            {"id": "open", "verb": "gain", "curve": {"each": "1"}},
        ]
    )
    shared = prices.shared()
    assert [row.id for row in shared.rows] == ["open"] and len(prices.rows) == 2
    assert verdict(CARDS[0], RULEBOOK, prices).worth == 6
    told = verdict(CARDS[0], RULEBOOK, shared)
    assert told.judgement == "open" and told.worth == 0, "nothing of it can be worked out"


def test_names_of_rows_are_unique_and_none_is_empty():
    prices = priced(
        [{"id": each, "verb": "draw"} for each in ("Cards", "cards", " cards ", "", "   ", "x" * 500)]
    )
    assert [row.id for row in prices.rows] == ["Cards", "cards 2", "cards 3", "draw", "draw 2", "x" * 120]


@pytest.mark.parametrize(
    ("table", "further", "falls"),
    [
        ("1 2 3", "1", ()),
        ("3 2 4 1", "0", (1, 3)),
        ("1 2", "-1", (2,)),
        ("5 5 5", "0", ()),
        ("0", "-0.5", (1,)),
    ],
)
def test_a_falling_budget_is_reported_with_its_place(table, further, falls):
    budget = Budget(by_cost=tuple(Decimal(each) for each in table.split()), further=Decimal(further))
    assert budget.falls() == falls


@pytest.mark.parametrize("worth", ["NaN", "Infinity", "-Infinity", "1e18", "-1e18", "0.0000001", "", "x"])
def test_invalid_worths_are_refused_everywhere(worth):
    for document in (
        {"stats": {"height": worth}}, {"rows": [{"id": "a", "verb": "draw", "curve": {"each": worth}}]}, {"rows": [{"id": "a", "verb": "draw", "curve": {"table": ["1", worth]}}]},
        {"budgets": {"": {"by_cost": [worth]}}}, {"cues": {"play": worth}}, {"tolerance": worth},
    ):  # fmt: skip
        with pytest.raises(ValidationError):
            PriceList.model_validate(document)
    assert PriceList.model_validate({"stats": {"height": "-0"}}).stats["height"] == 0


def test_each_type_has_the_line_of_its_own_budget_or_of_every_type():
    prices = priced(
        [], budgets={"": {"by_cost": ["1", "2"], "further": "1"}, "weather": {"by_cost": ["0", "5"]}}
    )
    lines = set_map(CARDS, RULEBOOK, prices).lines
    assert lines == {"plant": ((0, 1), (1, 2), (2, 3)), "weather": ((0, 0), (1, 5), (2, 5))}
    assert prices.budget_of("plant") == prices.budgets[""] and priced([]).budget_of("plant") is None


def test_prices_of_the_other_tests_price_every_verb_they_know():
    assert {row.verb for row in PRICES.rows} <= set(VERBS)


ROWS = [
    {"id": "draw", "verb": "draw", "curve": {"each": "2"}}, {"id": "gain", "verb": "gain", "curve": {"each": "1"}}, {"id": "deal", "verb": "deal", "curve": {"each": "1"}},
    {"id": "lose", "verb": "lose", "curve": {"each": "1"}}, {"id": "discard", "verb": "discard", "curve": {"each": "1"}}, {"id": "raise", "verb": "raise", "curve": {"each": "1"}},
]  # fmt: skip
BODIED = RULEBOOK.model_copy(
    update={"keywords": (RULEBOOK.keywords[0].model_copy(update={"effect": read_script("upon leave this: draw 1", VOCABULARY)[0]}), *RULEBOOK.keywords[1:])}
)


@pytest.mark.parametrize(
    ("line", "more", "wanted"),
    [
        # The best for who chooses: two cards are worth 4, three water 3.
        ("upon play this: choose 1 of (draw 2 | gain 3 water)", {}, ["4", "0"]),
        ("upon play this: choose 1 of (draw 1 | gain 3 water)", {}, ["0", "3"]),
        ("upon play this: choose 2 of (draw 1 | gain 3 water | discard 1)", {}, ["2", "3", "0"]),
        ("upon play this: choose 1 of (draw 1; discard 3 | gain 1 water)", {}, ["0", "0", "1"]),
        # A block within: its best is what its option is worth.
        ("upon play this: choose 1 of (choose 1 of (draw 1 | draw 3) | gain 5 water)", {}, ["0", "6", "0"]),
        # An option that nobody priced leaves the whole block open.
        ("upon play this: choose 1 of (draw 1 | heal 1 to this)", {}, ["2", None]),
        # What holds of the moment: half under a condition, and what the list says of the rest.
        ("upon play this, if held water above 3: draw 1", {}, ["1.0"]),
        ("upon play this: if held water above 3 (draw 1) otherwise (gain 2 water)", {}, ["1.0", "1.0"]),
        ("upon play this: may (draw 1)", {"qualifiers": {"may": "1.5"}}, ["3.0"]),
        ("offer pay 1 water: draw 1", {"qualifiers": {"offer": "0.5"}}, ["-0.5", "1.0"]),
        ("upon play this: raise height of this by 2 until end turn", {"qualifiers": {"until": "0.25"}}, ["0.50"]),
        # A row that names it is the more specific one, and is not multiplied.
        ("upon play this: raise height of this by 2 until end turn", {"rows": [*ROWS, {"id": "for a while", "verb": "raise", "qualifier": "until", "curve": {"each": "0.1"}}], "qualifiers": {"until": "9"}}, ["0.2"]),
        # A keyword without a row of its own is worth what it does; with one, what its row says.
        ("has grafted", {}, ["2"]),
        ("has grafted", {"rows": [*ROWS, {"id": "grafted", "verb": "has", "stat": "grafted", "curve": {"each": "5"}}]}, ["5"]),
        ('has "night bloom"', {}, [None]),
    ],
)  # fmt: skip
def test_choices_qualifiers_and_keyword_bodies_by_hand(line, more, wanted):
    prices = PriceList.model_validate({"rows": ROWS, "budgets": {"": {"by_cost": ["0"]}}, **more})
    ledger = verdict(card("Any", line, kind="weather"), BODIED, prices)
    found = [each.points for each in ledger.lines if each.part == "worth"]
    assert [None if each is None else Decimal(each) for each in wanted] == found
    assert all(each.what and each.why for each in ledger.lines)
    assert sum(each for each in found if each is not None) == ledger.worth


def test_a_choice_that_a_keyword_brings_is_none_of_the_cards_own():
    """Each block has its own best: two cards by the line, three water by the keyword; and by each of its two lines."""
    body, _ = read_script("upon leave this: choose 1 of (draw 1 | gain 3 water)\nupon enter this: choose 1 of (gain 1 water | draw 3)", VOCABULARY)
    keywords = (RULEBOOK.keywords[0].model_copy(update={"effect": body}), *RULEBOOK.keywords[1:])
    rules = RULEBOOK.model_copy(update={"keywords": keywords})
    prices = PriceList.model_validate({"rows": ROWS, "budgets": {"": {"by_cost": ["0"]}}})
    ledger = verdict(card("Any", "has grafted\nupon play this: choose 1 of (draw 2 | gain 3 water)", kind="weather"), rules, prices)
    assert [int(each.points) for each in ledger.lines if each.part == "worth"] == [0, 3, 0, 6, 4, 0] and ledger.worth == 13


def test_rows_that_name_qualifiers_are_distinguished_and_corrected():
    rows = [{"id": "one", "verb": "draw", "qualifier": "may", "curve": {"each": "1"}}, {"id": "two", "verb": "draw", "cue": "play", "curve": {"each": "2"}}]
    prices = PriceList.model_validate({"rows": rows, "budgets": {"": {"by_cost": ["0"]}}})
    found = pricing([card("Any", "upon play this: may (draw 1)")], RULEBOOK, prices)
    (equal,) = found.equal
    assert equal.rows == ("one", "two") and equal.mends["one"].cue == "play" and equal.mends["two"].qualifier == "may"
