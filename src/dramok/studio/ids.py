"""Lasting ids of things that are made."""

from __future__ import annotations

import secrets

SAMPLES = "samples-"
"""What the id of the set of sample cards begins with: its name may be changed, and a set of one's own may be called so."""


def new_id(kind: str) -> str:
    """A lasting id: a letter for what it is, and 60 random bits."""
    return f"{kind}{secrets.token_hex(8)[:15]}"


def new_ids(kind: str, count: int) -> list[str]:
    """Many lasting ids at once, ascending, so that a store takes them in one after another."""
    stem = new_id(kind)
    return [f"{stem}{number:05x}" for number in range(count)]


def is_of_samples(set_id: str) -> bool:
    """Whether a set is that of the sample cards which a game began with."""
    return set_id.startswith(SAMPLES)
