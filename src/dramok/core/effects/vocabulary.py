"""The names of a game by kind. The language looks names up; a rulebook implements this."""

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
"""Kinds whose names are common words and written in lower case. Choice values and card names keep their capitals."""


def as_typed(kind: str, name: str) -> str:
    """A name as the canonical text spells it, before quoting."""
    return name.lower() if kind in COMMON else name


def value_of(field: str) -> str:
    """The kind of the values of one choice field."""
    return f"value of {field}"


class Vocabulary(Protocol):
    """Lookup in both directions. Names are compared case-folded (see `problem.fold`)."""

    def find(self, kind: str, name: str) -> str | None:
        """The id behind a name, or None."""
        ...

    def name(self, kind: str, ident: str) -> str:
        """The name of an id; the id itself if it has none."""
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
"""An empty vocabulary."""
