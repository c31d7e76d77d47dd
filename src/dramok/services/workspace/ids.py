"""Permanent ids of entities."""

from __future__ import annotations

import secrets

SAMPLES = "samples-"
"""Prefix of the id of the set of sample cards. Its name can change, and a user's set can have the same name."""


def new_id(kind: str) -> str:
    """A new permanent id: a letter for the kind, and 60 random bits."""
    return f"{kind}{secrets.token_hex(8)[:15]}"


def new_ids(kind: str, count: int) -> list[str]:
    """Many new permanent ids in ascending order, so that the store appends them."""
    stem = new_id(kind)
    return [f"{stem}{number:05x}" for number in range(count)]


def is_of_samples(set_id: str) -> bool:
    """Whether a set is the set of sample cards that a template came with."""
    return set_id.startswith(SAMPLES)
