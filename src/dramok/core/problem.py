"""What went wrong, where, and how to mend it: errors as values."""

from __future__ import annotations

from collections.abc import Iterable
from difflib import get_close_matches
from unicodedata import normalize

from pydantic import BaseModel, ConfigDict


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
    close = get_close_matches(fold(typed)[:80], list(by_fold), n=1, cutoff=0.6)
    return by_fold[close[0]] if close else None


def plural(count: int, noun: str, nouns: str | None = None) -> str:
    """`1 card`, `3 cards`: a count with its noun in agreement."""
    return f"{count} {noun if count == 1 else nouns or noun + 's'}"
