"""Names a game knows, by kind. The language asks; a rulebook answers."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Protocol

TYPE = "card type"
STAT = "stat"
RESOURCE = "resource"
CHOICE = "choice field"
TAG = "tag"
KEYWORD = "keyword"
ZONE = "zone"
PHASE = "phase"
CARD = "card"


COMMON = {TYPE, STAT, RESOURCE, CHOICE, TAG, KEYWORD, ZONE, PHASE}
"""Kinds whose names are common words: typed small. Values of choices and names of cards keep their capitals."""


def as_typed(kind: str, name: str) -> str:
    """A name as the canonical text spells it, before quotes."""
    return name.lower() if kind in COMMON else name


def value_of(field: str) -> str:
    """The kind of the values of one choice field."""
    return f"value of {field}"


class Vocabulary(Protocol):
    """Looks names up in both directions. Names compare folded (see `problem.fold`)."""

    def find(self, kind: str, name: str) -> str | None:
        """The id behind a name, or None."""
        ...

    def name(self, kind: str, ident: str) -> str:
        """The name behind an id; the id itself when it has none."""
        ...

    def names(self, kind: str) -> Iterable[str]:
        """Every name of a kind, for suggestions."""
        ...


class _NoNames:
    def find(self, kind: str, name: str) -> str | None:
        return None

    def name(self, kind: str, ident: str) -> str:
        return ident

    def names(self, kind: str) -> Iterable[str]:
        return ()


NO_NAMES: Vocabulary = _NoNames()
"""For what is read and shown without a name in it."""
