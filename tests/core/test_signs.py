"""The table of signs: every verb, action, destination, side and cue, and every module that reads it."""

from __future__ import annotations

from decimal import Decimal
from itertools import product

import pytest

from dramok.core.balance import verdict
from dramok.core.balance.comparable import comparables
from dramok.core.balance.declared.effect_aspects import aspects_of
from dramok.core.balance.declared.prices import Curve, PriceList, PriceRow
from dramok.core.balance.dominance import dominated
from dramok.core.effects import parse_ability
from dramok.core.effects.model import Number, Step, Zone
from dramok.core.effects.pronouns import expected, folded
from dramok.core.effects.signs import (
    WORTH_OF_ZONE,
    Recipient,
    done_for_seat,
    done_to,
    done_to_card,
    referents_of,
)
from dramok.core.effects.verbs import ALLOWED, ALLOWED_HELPS, CUES, FORBIDDEN, FORBIDDEN_HELPS, VERBS
from tests.core.invented_world import RULEBOOK, VOCABULARY, card

DONE_TO_OWN = {
    "deal": -1, "heal": 1, "raise": 1, "lower": -1, "destroy": -1, "tilt": -1, "straighten": 1, "grant": 1, "strip": -1, "shield": 1, "search": 1,
}  # fmt: skip
"""The sign for the player's own card in play; for a rival's card it is the opposite, but for a search."""
DONE_FOR_OWN = {"draw": 1, "discard": -1, "gain": 1, "lose": -1, "reveal": 1, "create": 1, "look": 1, "shuffle": 1}
MOVES = ("put", "return", "remove")
BLOCKS = {"may", "offer", "choose", "each", "if", "later"}


def read(line: str):
    ability, problems = parse_ability(line, VOCABULARY)
    assert ability is not None and not problems, problems
    return ability


def bare(verb: str, **parts: object) -> Step:
    return Step.model_construct(verb=verb, **parts)


def test_every_verb_and_act_is_in_one_part_of_the_table():
    assert {*DONE_TO_OWN, *DONE_FOR_OWN, *MOVES, "forbid", "allow", *BLOCKS} == set(VERBS)
    assert set(FORBIDDEN_HELPS) == set(FORBIDDEN) and set(ALLOWED_HELPS) == set(ALLOWED)


@pytest.mark.parametrize("verb", DONE_TO_OWN)
def test_done_to_a_card(verb):
    own = DONE_TO_OWN[verb]
    assert done_to_card(bare(verb), "own") == own
    assert done_to_card(bare(verb), "rival") == (1 if verb == "search" else -own)
    # Both sides alike is neutral; a pick takes the side that helps; an optional one harms nobody.
    assert done_to(bare(verb), Recipient("any")) == (1 if verb == "search" else 0)
    assert done_to(bare(verb), Recipient("any", chosen=True)) == 1
    assert done_to(bare(verb), Recipient("own", optional=True)) == max(0, own)


@pytest.mark.parametrize("verb", DONE_FOR_OWN)
def test_done_for_a_seat(verb):
    assert [done_for_seat(bare(verb), whose) for whose in ("self", "rival", "anyone")] == [DONE_FOR_OWN[verb], -DONE_FOR_OWN[verb], 0]


@pytest.mark.parametrize(("act", "helps"), [
    ("destroying", 1), ("hurting", 1), ("choosing", 1), ("affecting", 1), ("clashing", -1), ("answering", -1), ("tilting", 1), ("straightening", -1),
])  # fmt: skip
def test_what_is_forbidden(act, helps):
    step = bare("forbid", act=act)
    assert done_to_card(step, "own") == helps and done_to_card(step, "rival") == -helps


@pytest.mark.parametrize("act", ALLOWED)
def test_what_is_allowed(act):
    assert done_to_card(bare("allow", act=act), "own") == 1 and done_to_card(bare("allow", act=act), "rival") == -1


ORDER = ["removed", "discard", "draw", "hand", "play"]


@pytest.mark.parametrize(("before", "after"), [*product(ORDER, ORDER)])
def test_moved_between_the_zones_of_its_owner(before, after):
    """Up the order helps its player, down harms, and within a zone there is nothing to say."""
    assert sorted(WORTH_OF_ZONE, key=WORTH_OF_ZONE.__getitem__) == ORDER
    step = bare("put", zone=Zone(zone=after))
    up = (ORDER.index(after) > ORDER.index(before)) - (ORDER.index(after) < ORDER.index(before))
    assert done_to_card(step, "own", before) == up and done_to_card(step, "rival", before) == -up
    for verb, to in (("return", "hand"), ("remove", "removed")):
        if to == after:
            assert done_to_card(bare(verb), "own", before) == up


@pytest.mark.parametrize(
    ("line", "signs"),
    [
        # Given away harms, taken helps, whatever the zones.
        ('upon play this: put pick own plant to rival "in play"', [-1]), ('upon play this: put pick rival plant to own "in play"', [1]),
        ("upon play this: put pick rival card in hand to own hand", [1]), ("upon play this: put pick own card in hand to rival hand", [-1]),
        ('upon play this: put pick own card in "discard pile" to own hand', [1]), ("upon play this: return pick own plant", [-1]), ("upon play this: return pick rival plant", [1]),
        ("upon play this: return pick plant", [1]), ("upon play this: remove all plant", [0]),
        # Cards of a look are in the draw pile of either side.
        ("upon play this: look 2; put pick 1 of it to own hand", [1, 1]), ('upon play this: look 2 of rival "draw pile"; put it to rival "discard pile"', [1, 1]),
        ('upon play this: look 1; may (put it to "discard pile")', [1, 0]),
        # The card of a loop, and picks used again, within blocks as well.
        ("upon play this: each own plant (deal 1 to it)", [-1]), ("upon play this: each rival plant (deal 1 to it; draw 1)", [1, 1]),
        ("upon play this: deal 1 to pick rival plant; may (tilt it)", [1, 1]), ("upon play this: heal 1 to pick own plant; if held water above 1 (raise height of it by 1)", [1, 1]),
        # The designer's examples.
        ("always: forbid hurting this", [1]), ("always: forbid choosing host", [1]), ("upon play this: deal 2 to all plant", [0]), ("upon play this: deal 2 to random plant", [0]),
        ("upon play this: draw 1 for all", [1, -1]), ("offer pay 1 water + destroy this: draw 2", [-1, -1, 1]),
        ("upon play this: discard 1; deal 1 to pick 0..2 own plant", [-1, 0]),
    ],
)  # fmt: skip
def test_lines(line, signs):
    found = [each.sign for each in aspects_of(read(line))]
    # What is optional is at worst nothing; `may` around a drawback is the player's choice.
    assert [max(0, sign) if "may" in line and place else sign for place, sign in enumerate(found)] == signs


THAT = {
    "answered this": "rival", "hurt this": "rival", "hurting this": "rival", "hurt this from own plant": "own", "enter own plant": "own", "leave rival plant": "rival",
    "destroyed plant": "any", "hurt own plant from rival plant": "own",
}  # fmt: skip


@pytest.mark.parametrize("cue", THAT)
def test_that_is_whose_the_cue_says(cue):
    """`that` is not the player's own card: it is hurt, chosen in response, or the subject of the cue."""
    ability = read(f"upon {cue}: deal 1 to that")
    assert referents_of(ability).that.side == THAT[cue]
    expect = {"own": -1, "rival": 1, "any": 0}[THAT[cue]]
    assert [each.sign for each in aspects_of(ability)] == [expect]


@pytest.mark.parametrize("cue", [word for word, cue in CUES.items() if cue.about == "card"])
def test_this_is_where_its_cue_leaves_it(cue):
    """Returned from the discard pile it helps, from play it harms."""
    ability = read(f"upon {cue} this: return this")
    where = {"drawn": "hand", "discarded": "discard", "destroyed": "discard", "leave": "discard"}.get(cue, "play")
    assert referents_of(ability).this == Recipient("own", zone=where)
    assert [each.sign for each in aspects_of(ability)] == [{"hand": 0, "discard": 1, "play": -1}[where]]


@pytest.mark.parametrize(("host", "sign"), [("own", 1), ("rival", -1), ("any", 1)])
def test_a_host_is_on_the_side_that_it_can_be_attached_to(host, sign):
    """Where it may be either, the player takes the side that helps."""
    assert [each.sign for each in aspects_of(read("always: raise height of host by 1"), host=host)] == [sign]
    assert [each.sign for each in aspects_of(read("always: lower height of host by 1"), host=host)] == [1 if host == "any" else -sign]


PRICES = PriceList(
    rows=tuple(PriceRow(id=verb, verb=verb, curve=Curve(each=Decimal("1.5"))) for verb in VERBS if verb not in BLOCKS), expected_count=Decimal(2),
)  # fmt: skip


def worth(line: str, prices: PriceList = PRICES) -> str:
    return f"{verdict(card('Any', line), RULEBOOK, prices).worth.normalize():f}"


@pytest.mark.parametrize(
    ("line", "points"),
    [
        ("upon play this: each own plant (draw 1)", "3"), ("upon play this: draw count (own plant)", "3"), ("upon play this: each own plant (each own plant (draw 1))", "6"),
        ("upon play this: gain (10 x 10) ribbon", "150"), ("upon play this: gain (half up (9)) ribbon", "7.5"), ("upon play this: gain (3 - 5) ribbon", "0"),
        ("upon play this: gain (1 + count (own plant)) ribbon", "4.5"), ("upon play this: gain most (4, count (own plant)) ribbon", "6"),
        ("upon play this: gain height of this ribbon", "1.5"), ("upon play this: gain (height of this + root of this) ribbon", "4.5"),
        ("upon play this: deal 2 to all plant", "0"), ("always: forbid hurting this", "1.5"), ("always: forbid clashing this", "-1.5"),
    ],
)  # fmt: skip
def test_worked_worths(line, points):
    """At 1.5 points of one, two counted in play; height 1 and root 2 on the card."""
    assert worth(line) == points


def test_a_worth_for_both_sides_is_what_the_designer_says_it_is():
    line = "upon play this: deal 2 to all plant"
    (priced,) = [each for each in verdict(card("Any", line), RULEBOOK, PRICES).lines if each.aspect is not None]
    assert priced.points == 0 and "same for both sides" in priced.why and "applies to anyone" in priced.why
    for each, points in (("-0.5", "-2"), ("0.5", "2")):
        rows = (*PRICES.rows, PriceRow(id="a storm", verb="deal", affects="anyone", curve=Curve(each=Decimal(each))))
        assert worth(line, PRICES.model_copy(update={"rows": rows})) == points


def test_protection_is_never_dominated_by_nothing():
    """A card with a gain is dominated by none without it; a card with a drawback is dominated by the blank one."""
    for line, harms in (("always: forbid hurting this", False), ("always: forbid choosing this", False), ("always: forbid answering this", True), ("upon enter this: deal 1 to all plant", None)):
        pair = [card("Blank"), card("Any", line)]
        found = [each.card for each in dominated(comparables(pair, RULEBOOK, PRICES), ["Height", "Root"])]
        assert found == ([] if harms is None else ["Any"] if harms else ["Blank"]), line


def test_amounts_are_reckoned_out_as_far_as_they_are_known():
    amount = read("upon play this: gain (2 x count (own plant) + height of this) ribbon").steps[0].amount
    assert expected(amount, Decimal(3), {"height": 4}) == 10 and expected(amount, Decimal("0.5"), {}) == Decimal("1.5")
    assert folded(amount, {}) == amount
    assert folded(read("upon play this: gain (7 x 6) ribbon").steps[0].amount, {}) == Number(value=42)
    assert folded(read("upon play this: gain root of this ribbon").steps[0].amount, {"root": -3}) == Number(value=0)
    assert folded(read("upon play this: gain (999 x 999) ribbon").steps[0].amount, {}).value == 998_001  # type: ignore[union-attr]
