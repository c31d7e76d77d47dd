"""Errors as values: what is wrong, where, and the fix."""

from __future__ import annotations

from collections.abc import Collection, Iterable
from difflib import get_close_matches
from heapq import nlargest
from operator import add
from unicodedata import normalize

from pydantic import BaseModel, ConfigDict

MOST_COMPARED = 80
"""The number of typed characters compared with names."""
FEW = 60
"""The number of names compared letter by letter."""


class Frozen(BaseModel):
    """Base class of documents: immutable, unknown keys are refused."""

    model_config = ConfigDict(frozen=True, extra="forbid", defer_build=True)


class Span(Frozen):
    """A range of typed text. `line` and `column` count from 1; `length` is in characters."""

    line: int
    column: int
    length: int


class Problem(Frozen):
    """One mistake: where it is, what is wrong, and the fix (`mend`).

    `span` locates it in typed text, `expected` lists what is allowed there in plain words, and `nearest` is the
    known name most similar to the typed one.
    """

    where: str
    what: str
    mend: str
    span: Span | None = None
    expected: tuple[str, ...] = ()
    nearest: str | None = None


def fold(text: str) -> str:
    """The form for comparing names: NFC, case-folded, single spaces, trimmed."""
    if not text.isascii():
        text = normalize("NFC", text)
    return " ".join(text.casefold().split())


def nearest_name(typed: str, known: Iterable[str]) -> str | None:
    """The known name most similar to `typed`, or None if the similarity is below 0.6."""
    by_fold = {fold(name): name for name in known}
    close = close_names(fold(typed), by_fold, 1, 0.6)
    return by_fold[close[0]] if close else None


def close_names(typed: str, known: Collection[str], most: int, cutoff: float) -> list[str]:
    """The names in `known` whose similarity to `typed` is at least `cutoff` (0 to 1, a `difflib` ratio), best
    first; all are folded.

    Among thousands, only those with the most letter pairs in common are compared letter by letter.
    """
    typed = typed[:MOST_COMPARED]
    if len(known) > FEW:
        pairs = set(map(add, typed, typed[1:]))
        known = nlargest(FEW, known, key=lambda name: len(pairs.intersection(map(add, name, name[1:]))) / (len(typed) + len(name)))
    return get_close_matches(typed, known, n=most, cutoff=cutoff)


def plural(count: int, noun: str, nouns: str | None = None) -> str:
    """`1 card`, `3 cards`: a count with its noun."""
    return f"{count} {noun if count == 1 else nouns or noun + 's'}"
