"""Outlines of cards and notches in an edge: literal paths, in mm."""

from __future__ import annotations

import re

import pytest

from dramok.core.faces.layout.choice_placements import DEEP, HALF, _notches
from dramok.core.faces.plan.plan import ChoiceMark
from dramok.core.faces.plan.sizes import Size, rounded

BOX = (10.0, 20.0, 30.0, 40.0)


def points(path: str) -> list[tuple[float, float]]:
    numbers = [float(each) for each in re.findall(r"-?\d+(?:\.\d+)?", path)]
    return list(zip(numbers[::2], numbers[1::2], strict=True))


def notches(edge: str, count: int) -> list[list[tuple[float, float]]]:
    place = ChoiceMark.model_validate({"id": "notch", "field": "bed", "shown": "notches", "edge": edge, "gap": 4.0})
    return [points(each.d) for each in _notches(place, BOX, count, "#23281f")]


@pytest.mark.parametrize(
    ("edge", "base", "tip"),
    [("left", 9.9, 10 + DEEP), ("right", 40.1, 40 - DEEP), ("top", 19.9, 20 + DEEP), ("bottom", 60.1, 60 - DEEP)],
)
def test_notches_are_cut_from_just_outside_an_edge_towards_the_middle(edge, base, tip):
    across = edge in ("left", "right")
    found = notches(edge, 3)
    assert len(found) == 3
    # The last is half a notch from the far end, the others a gap further each.
    end = 60.0 if across else 40.0
    for number, corners in enumerate(found):
        middle = end - HALF - 4.0 * (2 - number)
        wanted = [(base, middle - HALF), (tip, middle), (base, middle + HALF)]
        wanted = wanted if across else [(along, out) for out, along in wanted]
        assert corners == [pytest.approx(each, abs=0.006) for each in wanted]
    assert notches(edge, 0) == []


def test_a_rectangle_has_round_corners_up_to_half_its_shorter_side():
    assert rounded(0, 0, 10, 6, 0) == "M0 0h10v6h-10Z"
    assert rounded(1, 2, 10, 6, -1) == "M1 2h10v6h-10Z"
    round_ = rounded(0, 0, 10, 6, 2)
    assert round_.startswith("M2 0H8A2 2 0 0 1 10 2") and round_.endswith("Z")
    assert rounded(0, 0, 10, 6, 50) == rounded(0, 0, 10, 6, 3), "the corner is limited"


def test_the_outline_of_a_round_card_is_an_ellipse_that_grows_on_every_side():
    size = Size(width=40, height=60, outline="round", corner=0)
    assert size.path() == "M0 30a20 30 0 1 1 40 0a20 30 0 1 1 -40 0Z"
    assert size.path(3) == "M-3 30a23 33 0 1 1 46 0a23 33 0 1 1 -46 0Z"


def test_the_outline_of_a_rectangle_has_its_corner_at_the_cut_only():
    size = Size(width=40, height=60, corner=2)
    assert size.path().startswith("M2 0H38A2 2 0 0 1 40 2")
    assert size.path(3) == "M-3 -3h46v66h-46Z"


def test_the_corners_of_a_hexagon_lie_on_its_box():
    size = Size(width=40, height=60, outline="hexagon", corner=0, safe=0)
    corners = points(size.path())
    assert len(corners) == 6 and min(x for x, _ in corners) == 0 and max(x for x, _ in corners) == 40
    assert min(y for _, y in corners) == 0 and max(y for _, y in corners) == 60


@pytest.mark.parametrize(
    ("outline", "box", "beyond"),
    [
        ("rectangle", (2, 2, 36, 56), False), ("rectangle", (1.9, 2, 10, 10), True), ("rectangle", (10, 10, 28.2, 10), True),
        ("round", (13, 20, 14, 20), False), ("round", (2, 2, 10, 10), True), ("round", (2, 28, 2, 4), True),
        ("hexagon", (12, 20, 16, 20), False), ("hexagon", (2, 2, 4, 4), True), ("hexagon", (30, 3, 6, 4), True),
    ],
)  # fmt: skip
def test_a_box_is_beyond_the_safe_edge_if_one_corner_is(outline, box, beyond):
    assert Size(width=40, height=60, outline=outline, corner=0, safe=2).beyond_safe(box) is beyond
