"""What went wrong, where, and how to mend it: errors as values."""

from __future__ import annotations

from collections.abc import Collection, Iterable
from difflib import get_close_matches
from heapq import nlargest
from operator import add
from unicodedata import normalize

from pydantic import BaseModel, ConfigDict

MOST_COMPARED = 80
"""Characters of what was typed that are compared with names."""
FEW = 60
"""Names that are compared letter by letter."""


class Frozen(BaseModel):
    """Base of the core's documents: immutable, and unknown keys are refused."""

    model_config = ConfigDict(frozen=True, extra="forbid", defer_build=True)


class Span(Frozen):
    """A stretch of typed text. `line` and `column` count from 1; `length` is in characters."""

    line: int
    column: int
    length: int


class Problem(Frozen):
    """One mistake: the thing it is in, what is wrong, how to mend it.

    `span` places it inside typed text, `expected` lists what could stand there in plain words, and
    `nearest` is the known name closest to what was typed.
    """

    where: str
    what: str
    mend: str
    span: Span | None = None
    expected: tuple[str, ...] = ()
    nearest: str | None = None


def fold(text: str) -> str:
    """The form in which names are compared: NFC, casefolded, single spaces, no outer blanks."""
    if not text.isascii():
        text = normalize("NFC", text)
    return " ".join(text.casefold().split())


def nearest_name(typed: str, known: Iterable[str]) -> str | None:
    """The known name closest to `typed`, or None when nothing is close (ratio under 0.6)."""
    by_fold = {fold(name): name for name in known}
    close = close_names(fold(typed), by_fold, 1, 0.6)
    return by_fold[close[0]] if close else None


def close_names(typed: str, known: Collection[str], most: int, cutoff: float) -> list[str]:
    """Those of `known` that are as near to `typed` as `cutoff` (0 to 1, a `difflib` ratio) or nearer, the nearest first; all are folded already.

    Of thousands only those are compared letter by letter that have most pairs of neighbouring letters in common with it.
    """
    typed = typed[:MOST_COMPARED]
    if len(known) > FEW:
        pairs = set(map(add, typed, typed[1:]))
        known = nlargest(FEW, known, key=lambda name: len(pairs.intersection(map(add, name, name[1:]))) / (len(typed) + len(name)))
    return get_close_matches(typed, known, n=most, cutoff=cutoff)


def plural(count: int, noun: str, nouns: str | None = None) -> str:
    """`1 card`, `3 cards`: a count with its noun in agreement."""
    return f"{count} {noun if count == 1 else nouns or noun + 's'}"
