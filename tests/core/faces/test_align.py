"""Alignment of placements, with worked examples and random boxes; the position of a new placement."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dramok.core.faces.plan.align import LEAST, arranged
from dramok.core.faces.plan.new_placement import PLAIN, new_place
from dramok.core.faces.plan.plan import check_place
from dramok.core.faces.plan.sizes import Size
from tests.core.invented_world import RULEBOOK

BOXES = {"a": (2.0, 4.0, 10.0, 6.0), "b": (20.0, 1.0, 4.0, 2.0), "c": (8.0, 12.0, 6.0, 3.0)}


@pytest.mark.parametrize(
    ("how", "wanted"),
    [
        ("left", {"a": (2, 4), "b": (2, 1), "c": (2, 12)}),
        ("centre", {"a": (8, 4), "b": (11, 1), "c": (10, 12)}),
        ("right", {"a": (14, 4), "b": (20, 1), "c": (18, 12)}),
        ("top", {"a": (2, 1), "b": (20, 1), "c": (8, 1)}),
        ("middle", {"a": (2, 5), "b": (20, 7), "c": (8, 6.5)}),
        ("bottom", {"a": (2, 9), "b": (20, 13), "c": (8, 12)}),
        # From 2 to 24 the three are 20 wide, so there is 1 between neighbours.
        ("across", {"a": (2, 4), "c": (13, 12), "b": (20, 1)}),
        # From 1 to 15 they are 11 high: one and a half between.
        ("down", {"b": (20, 1), "a": (2, 4.5), "c": (8, 12)}),
    ],
)
def test_three_boxes_by_hand(how, wanted):
    assert arranged(BOXES, how) == wanted


def test_one_box_is_aligned_within_the_card_and_two_have_no_gaps_to_make_even():
    card = (0.0, 0.0, 60.0, 90.0)
    only = {"a": BOXES["a"]}
    assert arranged(only, "right", card) == {"a": (50, 4)} and arranged(only, "middle", card) == {"a": (2, 42)}
    assert arranged(only, "right") == {"a": (2, 4)}, "without a card it is as wide as itself"
    two = {name: BOXES[name] for name in "ab"}
    for how in LEAST:
        assert arranged(two, how) == {"a": (2, 4), "b": (20, 1)}


numbers = st.integers(-400, 4_000).map(lambda each: each / 8)
sizes = st.integers(1, 800).map(lambda each: each / 8)
boxes = st.dictionaries(st.sampled_from("abcdefgh"), st.tuples(numbers, numbers, sizes, sizes), min_size=3)


@given(boxes)
def test_what_is_in_line_shares_a_side_and_moves_along_one_axis_alone(held):
    sides = {"left": lambda x, y, w, h: x, "right": lambda x, y, w, h: x + w, "top": lambda x, y, w, h: y, "bottom": lambda x, y, w, h: y + h}
    for how, side in sides.items():
        moved = arranged(held, how)
        assert len({round(side(*moved[each], *held[each][2:]), 2) for each in held}) == 1
        axis = 1 if how in ("left", "right") else 0
        assert all(moved[each][axis] == held[each][axis] for each in held)


@given(boxes)
def test_gaps_become_even_between_the_first_and_the_last(held):
    moved = arranged(held, "across")
    order = sorted(held, key=lambda each: (held[each][0], each))
    assert moved[order[0]][0] == held[order[0]][0]
    gaps = [moved[after][0] - moved[before][0] - held[before][2] for before, after in zip(order, order[1:], strict=False)]
    assert max(gaps) - min(gaps) < 0.01
    assert abs(moved[order[-1]][0] - held[order[-1]][0]) < 0.01


@pytest.mark.parametrize("what", [*PLAIN, "name", "cost", "bed", "tags", "effect", "printed", "code", "type", "set", "game", "back"])
def test_any_new_placement_is_near_the_middle_within_the_card(what):
    size = Size(width=20, height=30)
    used = {"name", "cost"}
    ident, document = new_place(what, RULEBOOK.cards, size, used, 7.0)
    assert ident not in used and check_place(ident, document) is None and document["z"] == 7
    assert document["x"] >= 0 and document["x"] + document["width"] <= 20
    assert document["y"] >= 0 and document["y"] + document["height"] <= 30
    assert abs(document["x"] + document["width"] / 2 - 10) <= 0.25 and abs(document["y"] + document["height"] / 2 - 15) <= 0.25


def test_what_no_card_has_is_not_placed():
    with pytest.raises(KeyError):
        new_place("nonsense", RULEBOOK.cards, Size(), (), 1.0)


def test_a_place_in_between_is_rounded_to_a_thousandth():
    """Four boxes 1 mm wide over 11 mm: gaps of 7/3 mm."""
    boxes = {"a": (0.0, 0.0, 1.0, 1.0), "b": (1.0, 0.0, 1.0, 1.0), "c": (2.0, 0.0, 1.0, 1.0), "d": (10.0, 0.0, 1.0, 1.0)}
    assert arranged(boxes, "across") == {"a": (0.0, 0.0), "b": (3.333, 0.0), "c": (6.667, 0.0), "d": (10.0, 0.0)}
