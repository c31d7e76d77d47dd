"""Lasting ids of things that are made."""

from __future__ import annotations

import secrets


def new_id(kind: str) -> str:
    """A lasting id: a letter for what it is, and 60 random bits."""
    return f"{kind}{secrets.token_hex(8)[:15]}"


def new_ids(kind: str, count: int) -> list[str]:
    """Many lasting ids at once, ascending, so that a store takes them in one after another."""
    stem = new_id(kind)
    return [f"{stem}{number:05x}" for number in range(count)]
