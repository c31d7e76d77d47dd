"""Adjustments of one card to its plan: a picture moved and zoomed, a text of another size.

Stored on the card, under `look/` and the placement's id, as text: `across 2 up -1.5 zoom 1.2` or `size 2.6`.
"""

from __future__ import annotations

import re
from typing import NamedTuple

from dramok.core.cards import Card

PREFIX = "look/"
_PART = re.compile(r"(across|up|zoom|size) (-?\d+(?:\.\d+)?)")
LIMITS = {"across": (-400.0, 400.0), "up": (-400.0, 400.0), "zoom": (0.1, 10.0), "size": (0.4, 60.0)}


class Adjustment(NamedTuple):
    """`across` and `up` in mm and `zoom` are relative to the plan; `size` is an em in mm, None for the plan's."""

    across: float = 0.0
    up: float = 0.0
    zoom: float = 1.0
    size: float | None = None

    @property
    def plain(self) -> bool:
        """Whether it changes nothing."""
        return self == Adjustment()

    def said(self) -> str:
        """Its stored text; empty if it changes nothing."""
        parts = [
            f"{name} {_figure(value)}"
            for name, value, plain in (
                ("across", self.across, 0),
                ("up", self.up, 0),
                ("zoom", self.zoom, 1),
                ("size", self.size, -1),
            )
            if value is not None and _figure(value) != _figure(plain)
        ]
        return " ".join(parts)


def _figure(value: float) -> str:
    """Up to four decimal places, without trailing zeros."""
    said = f"{value:.4f}".rstrip("0").rstrip(".")
    return "0" if said in ("-0", "") else said


def read_adjustment(text: str) -> Adjustment:
    """Parse an adjustment; numbers are limited to their bounds, and invalid text is ignored."""
    found = {name: float(number) for name, number in _PART.findall(text[:200])}
    held = {name: min(max(value, LIMITS[name][0]), LIMITS[name][1]) for name, value in found.items()}
    return Adjustment(**held)


def adjustments_of(card: Card) -> dict[str, Adjustment]:
    """The adjustments of a card, by placement."""
    return {
        key.removeprefix(PREFIX): read_adjustment(value)
        for key, value in card.values.items()
        if key.startswith(PREFIX) and isinstance(value, str)
    }
