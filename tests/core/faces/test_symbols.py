"""Symbols on faces: built-in ones take the ink colour; the game's own pictures appear whole in their square."""

from __future__ import annotations

import random

import pytest

from dramok.core.faces.elements import Art, Path
from dramok.core.faces.layout.symbols import Mark
from tests.conftest import SEED


def test_a_path_takes_the_ink_and_fills_its_square():
    assert Mark("M0 0Z").at(2, 3, 5.12, "#123456") == Path("M0 0Z", "#123456", 2, 3, 0.02)


def test_a_picture_is_shown_whole_and_centred():
    assert Mark("", "a" * 64, (200, 100)).at(10, 20, 4, "#123456") == Art(10, 20, 4, 4, "a" * 64, (10, 21, 4, 2))
    assert Mark("", "a" * 64, (50, 100)).at(10, 20, 4, "") == Art(10, 20, 4, 4, "a" * 64, (11, 20, 2, 4))
    assert Mark("", "a" * 64, None).at(1, 1, 4, "").inner is None, "without measures it covers the square"


@pytest.mark.parametrize("seed", [SEED, SEED + 1])
def test_whatever_its_shape_a_picture_stays_within_its_square(seed):
    dice = random.Random(seed)
    for _ in range(200):
        wide, high, side = dice.randint(1, 4000), dice.randint(1, 4000), dice.uniform(0.5, 30)
        x, y = dice.uniform(-5, 90), dice.uniform(-5, 90)
        left, top, w, h = Mark("", "b" * 64, (wide, high)).at(x, y, side, "").inner
        assert left >= x - 1e-3 and top >= y - 1e-3 and left + w <= x + side + 1e-3 and top + h <= y + side + 1e-3
        assert max(w, h) == pytest.approx(side, abs=1e-3) and w * high == pytest.approx(h * wide, rel=0.02, abs=2 * max(wide, high) * 1e-3)
