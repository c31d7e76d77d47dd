"""Align and distribute placements."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Literal

from dramok.core.faces.plan.sizes import Box

How = Literal["left", "centre", "right", "top", "middle", "bottom", "across", "down"]
LEAST = {"across": 3, "down": 3}
"""The least number of placements: three to distribute, two to align."""


def arranged(boxes: Mapping[str, Box], how: How, within: Box | None = None) -> dict[str, tuple[float, float]]:
    """The new x and y of each box, in mm.

    left to bottom: aligned to that side of the common box (or of `within`, for a single one); across and down:
    the first and last stay, the gaps between become equal.
    """
    if how in ("across", "down"):
        return _distributed(boxes, 0 if how == "across" else 1)
    frame = within if within and len(boxes) == 1 else _around(boxes)
    x, y, wide, high = frame
    moved: dict[str, tuple[float, float]] = {}
    for ident, (left, top, w, h) in boxes.items():
        match how:
            case "left":
                left = x
            case "centre":
                left = x + (wide - w) / 2
            case "right":
                left = x + wide - w
            case "top":
                top = y
            case "middle":
                top = y + (high - h) / 2
            case "bottom":
                top = y + high - h
        moved[ident] = (round(left, 3), round(top, 3))
    return moved


def _around(boxes: Mapping[str, Box]) -> Box:
    left, top = min(box[0] for box in boxes.values()), min(box[1] for box in boxes.values())
    right = max(box[0] + box[2] for box in boxes.values())
    foot = max(box[1] + box[3] for box in boxes.values())
    return left, top, right - left, foot - top


def _distributed(boxes: Mapping[str, Box], axis: int) -> dict[str, tuple[float, float]]:
    order = sorted(boxes.items(), key=lambda item: (item[1][axis], item[0]))
    if len(order) < 3:
        return {ident: (box[0], box[1]) for ident, box in order}
    start = order[0][1][axis]
    end = order[-1][1][axis] + order[-1][1][axis + 2]
    gap = (end - start - sum(box[axis + 2] for _, box in order)) / (len(order) - 1)
    moved, at = {}, start
    for ident, box in order:
        place = [box[0], box[1]]
        place[axis] = round(at, 3)
        moved[ident] = (place[0], place[1])
        at += box[axis + 2] + gap
    return moved
