"""The key of an edit: whoever sends the same edit again, because no answer came, sends the same key."""

from __future__ import annotations

from typing import NamedTuple
from uuid import uuid4


class Key(NamedTuple):
    """`text` is whoever sends it's own; `asked` is a digest of what was asked with it (empty: it was not said)."""

    text: str
    asked: str = ""


class KeyReused(ValueError):
    """A key that was used for another edit."""


def new_key() -> Key:
    """A key that nobody has used."""
    return Key(uuid4().hex)
