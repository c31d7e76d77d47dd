"""Common parts of all output jobs: progress, cancellation, and the resulting file."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, field
from typing import Any, TypeVar

from dramok.core.problem import plural

Tick = Callable[[int, int], None]
"""Callback with (done, total). Raises Stopped to cancel."""
Each = TypeVar("Each")


class Stopped(Exception):
    """The job was cancelled."""


@dataclass(frozen=True)
class Made:
    """A written file: its name, its contents in `facts` (for people and programs), and warnings."""

    name: str
    facts: dict[str, Any]
    warnings: tuple[str, ...] = ()
    guide: tuple[str, ...] = field(default=())
    """Instructions for using the file, line by line."""


def unwatched(_done: int, _total: int) -> None:
    """A tick without progress or cancellation."""


def ticking(work: Iterable[Each], total: int, tick: Tick, before: int = 0) -> Iterator[Each]:
    """Iterate and report progress."""
    for done, each in enumerate(work, before):
        tick(done, total)
        yield each


def summary_line(kind: str, made: Made) -> str:
    """A one-line summary of the written file."""
    facts = made.facts
    if kind == "sheets":
        return f"{plural(facts['cells'], 'cell')} on {plural(facts['sheets'], 'sheet')}"
    if kind == "pictures":
        return f"{plural(facts['pictures'], 'picture')} of {plural(facts['cards'], 'card')}"
    blanks = (
        f" and {plural(facts['blanks'], 'blank card or label', 'blank cards and labels')}"
        if facts["blanks"]
        else ""
    )
    return f"{plural(facts['copies'], 'card')}{blanks} on {plural(facts['pages'], 'page')}"
