"""Where things stand on a face, in mm: one plan for each shape of card."""

from __future__ import annotations

from dataclasses import dataclass

PAPER, INK, FAINT = "#f7f1e3", "#23281f", "#d9ceb4"
SOFT = "#5d5a4a"
Box = tuple[float, float, float, float]


@dataclass(frozen=True)
class Plan:
    """Boxes are x, y, width, height; sizes are the largest and the least em. `spine` is the width of the left edge."""

    width: float
    height: float
    name: Box
    picture: Box
    kind: Box
    label: Box
    foot: Box
    corner: float = 3.2
    spine: float = 11.6
    name_sizes: tuple[float, float] = (5.0, 2.7)
    text_sizes: tuple[float, float] = (3.45, 2.25)
    plate: float = 8.6
    first_plate: float = 3.4
    plate_step: float = 15.2

    @property
    def plate_left(self) -> float:
        return (self.spine - self.plate) / 2

    def step(self, plates: int) -> float:
        """From one plate to the next, so that as many as these stand above the notches."""
        return min(self.plate_step, (self.height - 26 - self.first_plate) / max(1, plates - 1))


SPINE = 11.6
PLANS = {
    "portrait": Plan(
        63.5, 88.9, name=(13.6, 2.6, 47.6, 7.0), picture=(SPINE, 10.6, 63.5 - SPINE, 39.0), kind=(13.8, 50.6, 47.2, 4.6),
        label=(14.2, 57.0, 46.6, 25.8), foot=(14.2, 86.2, 46.6, 2.6),
    ),
    "landscape": Plan(
        88.9, 63.5, name=(13.6, 2.4, 73.0, 7.0), picture=(SPINE, 10.4, 31.4, 63.5 - 10.4), kind=(45.2, 11.2, 41.2, 4.6),
        label=(45.6, 17.8, 40.6, 40.2), foot=(45.6, 61.2, 40.6, 2.6),
    ),
    "square": Plan(
        60.0, 60.0, name=(13.4, 2.2, 44.4, 6.4), picture=(SPINE, 9.4, 60 - SPINE, 29.0), kind=(13.6, 39.2, 44.0, 4.6),
        label=(14.0, 45.4, 43.6, 11.4), foot=(14.0, 59.0, 43.6, 1.8), name_sizes=(4.6, 2.5),
    ),
}  # fmt: skip
