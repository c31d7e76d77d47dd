"""Idempotency keys of edits: a client that repeats an edit because no answer arrived sends the same key."""

from __future__ import annotations

from typing import NamedTuple
from uuid import uuid4


class Key(NamedTuple):
    """`text` is chosen by the client; `asked` is a digest of the request (empty: unknown)."""

    text: str
    asked: str = ""


class KeyReused(ValueError):
    """The key was used for another edit."""


def new_key() -> Key:
    """A new random key."""
    return Key(uuid4().hex)
