"""Analysis without play: dominance, twins, the shape of a set, amount of text; each compared with an independent definition."""

from __future__ import annotations

from collections import Counter
from itertools import permutations
from random import Random

import pytest

from dramok.core.balance import PriceList
from dramok.core.balance.comparable import comparables
from dramok.core.balance.dominance import MOST_TWINS, dominated, dominates, twins
from dramok.core.balance.set_shape import (
    curve,
    gaps,
    keyword_counts,
    lone_words,
    reading_load,
    wanted_counts,
    words_of,
)
from dramok.core.rulebook import Rulebook
from tests.conftest import SEED
from tests.core.invented_world import RULEBOOK, card

PRICES = PriceList()
NAMES = ("Height", "Root")


def compared(*cards):
    return comparables(cards, RULEBOOK, PRICES)


def better(one, other) -> bool:
    found = {each.card: each for each in compared(one, other)}
    return dominates(found[one.id], found[other.id])


@pytest.mark.parametrize(
    ("one", "other", "is_better"),
    [
        ({"cost": 2, "height": 3}, {"cost": 2, "height": 2}, True),
        ({"cost": 2, "height": 3}, {"cost": 3, "height": 3}, True),
        ({"cost": 3, "height": 4}, {"cost": 2, "height": 2}, False),
        ({"height": 3, "root": 1}, {"height": 2, "root": 2}, False),
        ({}, {}, False),
        ({"bed": "fern", "height": 2}, {"bed": "moss"}, False),
        ({"height": 2}, {"bed": "moss"}, True),
        ({"effect": "upon play this: draw 2"}, {"effect": "upon play this: draw 1"}, True),
        ({"effect": "upon play this: draw 1"}, {}, True),
        ({}, {"effect": "upon play this: discard 1"}, True),
        ({"effect": "upon play this: discard 1"}, {"effect": "upon play this: discard 2"}, True),
        ({"effect": "upon play this: discard 1", "height": 9}, {}, False),
        ({"effect": "upon enter this: draw 2"}, {"effect": "upon play this: draw 1"}, False),
        ({"effect": "upon play this: deal 2 to pick 1 rival plant"}, {"effect": "upon play this: deal 1 to pick 1 rival plant"}, True),
        ({"effect": "upon play this: deal 2 to pick 1 own plant"}, {"effect": "upon play this: deal 1 to pick 1 own plant"}, False),
        ({"effect": "has Grafted"}, {}, True),
        ({"effect": "has Grafted, \"Night Bloom\""}, {"effect": "has Grafted"}, True),
        ({"effect": "upon play this: draw 2\nupon play this: draw 1"}, {"effect": "upon play this: draw 1\nupon play this: draw 1"}, True),
        ({"effect": "upon play this: draw 3"}, {"effect": "upon play this: draw 1\nupon play this: draw 1"}, False),
        ({"effect": "upon play this: draw 2; discard 1"}, {"effect": "upon play this: draw 1; discard 1"}, True),
        ({"effect": "upon play this: draw 2; discard 2"}, {"effect": "upon play this: draw 1; discard 1"}, False),
        ({"kind": "weather", "effect": "upon play this: draw 1"}, {"effect": ""}, False),
    ],
)  # fmt: skip
def test_what_dominates_what(one, other, is_better):
    first, second = card("One", **one), card("Other", **other)
    assert better(first, second) is is_better
    if is_better:
        assert not better(second, first)


def test_the_reason_says_in_what_it_is_better():
    cards = [card("Strong", "upon play this: draw 2", cost=1, height=3), card("Weak", "upon play this: draw 1\nupon enter this: discard 1", cost=2, height=2)]
    (found,) = dominated(compared(*cards), NAMES)
    assert (found.card, found.better) == ("Weak", ("Strong",))
    assert found.reason == "costs 1 instead of 2, height 3 instead of 2, draw 2 instead of draw 1, without: discard 1"


def test_a_stat_of_which_more_is_worse_turns_round():
    high, low = card("High", height=4), card("Low", height=2)
    found = comparables([high, low], RULEBOOK, PriceList(stats={"height": -1}))  # type: ignore[dict-item]
    (only,) = dominated(found, NAMES)
    assert (only.card, only.better, only.reason) == ("High", ("Low",), "height 2 instead of 4")


LINES = {"draw": ("upon play this: draw {}", 1), "discard": ("upon play this: discard {}", -1), "hit": ("upon enter this: deal {} to pick 1 rival plant", 1)}


def sample_value(dice: Random, number: int):
    """Cards by their parameters: (cost, height, root, bed, {line: amount})."""
    found = []
    for place in range(number):
        lines = {key: dice.randint(1, 3) for key in LINES if dice.random() < 0.35}
        what = (dice.randint(0, 4), dice.randint(0, 4), dice.randint(0, 4), dice.choice(["fern", "moss"]), lines)
        text = "\n".join(LINES[key][0].format(amount) for key, amount in lines.items())
        found.append((card(f"C{place}", text, cost=what[0], height=what[1], root=what[2], bed=what[3]), what))
    return found


def plainly_better(one, other) -> bool:
    """By the parameters alone: signed numbers, of which none is less and one is more; what is absent is nothing at all."""
    if one[3] != other[3]:
        return False
    mine = [-one[0], one[1], one[2], *[sign * one[4].get(key, 0) for key, (_, sign) in LINES.items()]]
    theirs = [-other[0], other[1], other[2], *[sign * other[4].get(key, 0) for key, (_, sign) in LINES.items()]]
    return mine != theirs and all(a >= b for a, b in zip(mine, theirs, strict=True))


def test_dominated_cards_are_those_of_the_definition():
    dice = Random(f"{SEED} dominance")
    for number in (1, 2, 40, 160):
        made = sample_value(dice, number)
        wanted = {one.id: {other.id for other, theirs in made if plainly_better(theirs, what)} for one, what in made}
        found = {each.card: each for each in dominated(compared(*[each for each, _ in made]), NAMES)}
        assert set(found) == {ident for ident, those in wanted.items() if those}, SEED
        for ident, each in found.items():
            assert set(each.better) <= wanted[ident] and 1 <= len(each.better) <= 3 and each.reason


def matched_in_some_order(better: list[int], worse: list[int]) -> bool:
    """Whether each of the worse has one of its own among the better that is at least as good: by trying every order."""
    return any(all(one >= other for one, other in zip(order, worse, strict=False)) for order in permutations(better, len(worse)))


@pytest.mark.parametrize("harms", [False, True])
def test_lines_alike_are_matched_as_some_order_of_them_would_be(harms):
    dice = Random(f"{SEED} lines {harms}")
    line = "upon play this: discard {}" if harms else "upon play this: draw {}"
    for _ in range(150):
        one, other = ([dice.randint(1, 4) for _ in range(dice.randint(1, 5))] for _ in range(2))
        # Of what harms, fewer and lesser lines are better.
        wanted = matched_in_some_order(other, one) if harms else matched_in_some_order(one, other)
        cards = [card(name, "\n".join(line.format(each) for each in amounts)) for name, amounts in (("One", one), ("Other", other))]
        assert better(*cards) is (wanted and sorted(one) != sorted(other)), (SEED, one, other)


def test_twelve_lines_alike_are_held_against_twelve():
    """All orders of them would take an hour."""
    most = "\n".join(["upon play this: draw 9"] * 11 + ["upon play this: draw 1"])
    even = "\n".join(["upon play this: draw 5"] * 12)
    assert not better(card("Most", most, cost=1), card("Even", even, cost=2))
    assert better(card("Most", most, cost=1), card("Even", even.replace("5", "1", 1), cost=2))


def test_values_that_a_type_has_not_are_not_held_against_another():
    """A weather has no height, and one day no effect: what its card still holds of them does not make it better."""
    plain, was_a_plant = card("Plain", kind="weather"), card("Was", kind="weather").with_value("height", 9)
    assert not better(was_a_plant, plain)
    document = RULEBOOK.model_dump(mode="json")
    base, plant, _ = document["cards"]["types"]
    plant["fields"].append(base["fields"].pop(next(at for at, each in enumerate(base["fields"]) if each["id"] == "effect")))
    bare = Rulebook.model_validate(document)
    held = comparables([card("Draws", "upon play this: draw 1", kind="weather"), card("Still", kind="weather")], bare, PRICES)
    assert [each.effects for each in held] == [(), ()] and dominated(held, NAMES) == []


def test_only_the_first_pairs_of_very_many_equal_cards_are_listed():
    same = compared(*[card(f"S{number}") for number in range(700)])
    assert len(twins(same, NAMES)) == MOST_TWINS


MANY = [
    "upon play this: draw {}", "upon play this: discard {}", "upon enter this: deal {} to pick 1 rival plant", "upon play this: draw {}; discard {}",
    "offer pay {} water: draw {}", "upon leave this: gain {} water; gain {} ribbon", "upon enter this: deal {} to all plant", "has Grafted",
]  # fmt: skip


def test_dominated_are_those_that_another_dominates_each_held_against_each():
    """Several lines of one shape, of several amounts, that help, harm, and do both; free factions; stats that are not there."""
    dice = Random(f"{SEED} each against each")
    names: dict[str, int] = Counter()
    for _ in range(8):
        made = []
        for place in range(40):
            lines = [line.format(dice.randint(1, 2), dice.randint(1, 2)) for line in dice.choices(dice.sample(MANY, 3), k=dice.choice([0, 1, 2, 4]))]
            kind = dice.choice(["plant", "plant", "weather"])
            stats = {"height": dice.randint(0, 1), "root": dice.randint(0, 1)} if kind == "plant" else {}
            made.append(card(f"C{place}", "\n".join(dict.fromkeys(lines) if "has" in str(lines) else lines), cost=dice.randint(0, 2), kind=kind, bed=dice.choice(["fern", "moss", ""]), **stats))
        found = {each.card: each.better for each in dominated(compared(*made), NAMES, ("", "moss"))}
        held = compared(*made)
        for one in held:
            wanted = {other.card for other in held if dominates(other, one, ("", "moss"))}
            assert (one.card in found) == bool(wanted) and set(found.get(one.card, ())) <= wanted, (SEED, one)
            assert len(found.get(one.card, ())) == min(3, len(wanted)), (SEED, one)
            names["dominated" if wanted else "not"] += 1
    assert names["dominated"] > 20 and names["not"] > 20


def test_one_line_of_two_amounts_is_not_covered_by_the_best_of_two_lines():
    """Found by seed 299998 of the test above."""
    both = card("Both", "upon play this: gain 2 water; gain 2 ribbon", cost=1)
    either = card("Either", "upon play this: gain 2 water; gain 1 ribbon\nupon play this: gain 1 water; gain 2 ribbon", cost=1)
    more = card("More", "upon play this: gain 2 water; gain 2 ribbon\nupon play this: gain 1 water; gain 1 ribbon", cost=1)
    assert dominated(compared(both, either), NAMES) == []
    assert [(each.card, each.better) for each in dominated(compared(both, either, more), NAMES)] == [("Both", ("More",))]


def test_twins_are_one_step_apart_in_one_number():
    cards = [card("A", "upon play this: draw 1"), card("B", "upon play this: draw 2"), card("C", "upon play this: draw 3"), card("D", cost=1), card("E", cost=2), card("F", cost=1, height=2), card("G", cost=1)]
    found = {frozenset((each.one, each.other)): each.differs for each in twins(compared(*cards), NAMES)}
    assert found == {
        frozenset("AB"): "draw 1 and draw 2", frozenset("BC"): "draw 2 and draw 3", frozenset("DE"): "cost 1 and 2", frozenset("EG"): "cost 1 and 2",
        frozenset("DF"): "height 1 and 2", frozenset("GF"): "height 1 and 2", frozenset("DG"): "",
    }  # fmt: skip


def test_what_cannot_be_compared_is_left_out():
    said = card("Said", printed="Something nobody wrote as a line.")
    free = card("Free")
    bare = free.with_value("cost", None)
    assert [each.card for each in compared(said, free, bare)] == ["Free"]
    assert dominated([], NAMES) == [] and twins([], NAMES) == []
    same = [card(f"S{number}") for number in range(30)]
    assert dominated(compared(*same), NAMES) == [] and len(twins(compared(*same), NAMES)) == 30 * 29 // 2


def test_the_curve_compared_with_a_target_by_hand():
    cards = [card("A", cost=1, height=2, root=3), card("B", cost=1, height=4, root=5), card("C", cost=3, kind="weather"), card("D", cost=99)]
    shape = curve(cards, RULEBOOK, PriceList(wanted=(1, 2, 1)))
    assert [(each.cost, each.cards, each.wanted) for each in shape[:4]] == [(0, 0, 1.0), (1, 2, 2.0), (2, 0, 1.0), (3, 1, 0.0)]
    assert shape[1].stats == 7 and shape[3].stats is None and (shape[-1].cost, shape[-1].cards) == (40, 1)
    assert [each.wanted for each in curve(cards, RULEBOOK, PriceList())] == [None] * 41
    assert wanted_counts((0, 0), 9) == [] and curve([], RULEBOOK, PriceList()) == ()


def test_gaps_lie_between_what_is_there():
    cards = [card("A", cost=1, bed="fern", rarity="common"), card("B", cost=3, bed="fern", rarity="rare"), card("C", cost=9, bed="moss", rarity="rare")]
    found = {(each.cost, each.faction, each.rarity) for each in gaps(cards, RULEBOOK)}
    assert found == {(1, "fern", "rare"), (2, "fern", "common"), (2, "fern", "rare"), (3, "fern", "common"), (9, "moss", "common")}


def test_keywords_words_and_lone_words():
    cards = [card("A", "has Grafted"), card("B", "has Grafted\nupon play this: draw 1"), card("C")]
    assert [(each.keyword, each.cards) for each in keyword_counts(cards, RULEBOOK, {})] == [("Grafted", 2), ("Night Bloom", 0)]
    said = {"A": ["A night bloom opens."], "C": ["Grafting, nightly blooms."]}
    assert [(each.keyword, each.cards) for each in keyword_counts(cards, RULEBOOK, said)] == [("Grafted", 2), ("Night Bloom", 1)]
    texts = {"A": ["Draw 2 cards. {water}"], "B": ["Draw a frost-lantern’s card.", "It glows."], "C": []}
    assert words_of(texts["B"]) == ["Draw", "a", "frost-lantern’s", "card", "It", "glows"]
    load = reading_load(texts)
    assert (load.cards, load.mean, load.median, load.most, load.longest) == (2, 4.0, 4.0, 6, (("B", 6), ("A", 2)))
    assert dict(lone_words(texts)) == {"cards": "A", "frost-lantern’s": "B", "card": "B", "glows": "B"}
    assert reading_load({}).cards == 0 and lone_words({}) == ()


def test_lone_words_by_counting():
    dice = Random(f"{SEED} words")
    known = ["root", "bed", "draw", "shade", "moss", "lantern"]
    texts = {f"C{number}": [" ".join(dice.choices(known, k=dice.randint(0, 5)))] for number in range(dice.randint(1, 6))}
    counts = Counter(word for lines in texts.values() for word in set(lines[0].split()))
    assert {word for word, _ in lone_words(texts)} == {word for word, count in counts.items() if count == 1}
