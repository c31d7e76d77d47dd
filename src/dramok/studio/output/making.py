"""What every kind of output has in common: it goes forward by steps that somebody may watch and stop, and ends in one file."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, field
from typing import Any, TypeVar

from dramok.core.problem import plural

Tick = Callable[[int, int], None]
"""Told how much is done of how much. Raises Stopped where it is to go no further."""
Each = TypeVar("Each")


class Stopped(Exception):
    """Somebody called it off."""


@dataclass(frozen=True)
class Made:
    """A file that was written: its name, what is in it (`facts`, for people and programs), and what would not come out as one expects."""

    name: str
    facts: dict[str, Any]
    warnings: tuple[str, ...] = ()
    guide: tuple[str, ...] = field(default=())
    """What to do with it, in plain words, line by line."""


def unwatched(_done: int, _total: int) -> None:
    """Nobody looks on."""


def ticking(work: Iterable[Each], total: int, tick: Tick, before: int = 0) -> Iterator[Each]:
    """The same things one by one, told as they are done."""
    for done, each in enumerate(work, before):
        tick(done, total)
        yield each


def say_done(kind: str, made: Made) -> str:
    """What was made, in one line."""
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
