"""What one card has otherwise than its plan says: a picture moved and zoomed, a text of another size.

It is kept on the card, under `look/` and the placement's id, as words: `across 2 up -1.5 zoom 1.2` or `size 2.6`.
"""

from __future__ import annotations

import re
from typing import NamedTuple

from dramok.core.cards import Card

PREFIX = "look/"
_PART = re.compile(r"(across|up|zoom|size) (-?\d+(?:\.\d+)?)")
LIMITS = {"across": (-400.0, 400.0), "up": (-400.0, 400.0), "zoom": (0.1, 10.0), "size": (0.4, 60.0)}


class Look(NamedTuple):
    """`across` and `up` in mm and `zoom` are beside what the plan says; `size` is an em in mm, None as the plan says."""

    across: float = 0.0
    up: float = 0.0
    zoom: float = 1.0
    size: float | None = None

    @property
    def plain(self) -> bool:
        """Whether all is as the plan says."""
        return self == Look()

    def said(self) -> str:
        """In words, as it is kept; empty when all is as the plan says."""
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
    """Up to four places, without zeros at the end."""
    said = f"{value:.4f}".rstrip("0").rstrip(".")
    return "0" if said in ("-0", "") else said


def read_look(text: str) -> Look:
    """A look from its words; numbers out of bounds come to the nearest bound, and what is no look says nothing."""
    found = {name: float(number) for name, number in _PART.findall(text[:200])}
    held = {name: min(max(value, LIMITS[name][0]), LIMITS[name][1]) for name, value in found.items()}
    return Look(**held)


def looks_of(card: Card) -> dict[str, Look]:
    """What the card has otherwise, by placement."""
    return {
        key.removeprefix(PREFIX): read_look(value)
        for key, value in card.values.items()
        if key.startswith(PREFIX) and isinstance(value, str)
    }
