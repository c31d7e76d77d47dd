"""Parse a selection of cards by positions and codes: `5-8, 17, 20-` or `RS-014 - RS-020, RS-031`."""

from __future__ import annotations

import re
from collections.abc import Sequence

from dramok.core.problem import Problem, fold, nearest_name

MOST_TEXT = 4_000
_NUMBER = re.compile(r"\d{1,6}")
_RANGE = re.compile(r"(\d{1,6})?\s*[-–]\s*(\d{1,6})?")


class NoSuchCards(ValueError):
    """The selection names no card. `problem` has the part and the fix."""

    def __init__(self, problem: Problem) -> None:
        super().__init__(problem.what)
        self.problem = problem


def choose(text: str, codes: Sequence[str]) -> list[int]:
    """The positions (from 0) of the selected cards among `codes`, in the given order, each once.

    Positions count from 1; a range may be open at one side; a code is its card, two with ` - ` between are a
    range. Empty text is every card. Raises NoSuchCards.
    """
    if len(text) > MOST_TEXT:
        raise NoSuchCards(
            Problem(
                where="cards", what=f"{len(text):,} characters are too many", mend=f"keep to {MOST_TEXT:,}"
            )
        )
    places = {fold(code): place for place, code in enumerate(codes)}
    found: dict[int, None] = {}
    for part in (each.strip() for each in text.split(",")):
        if part:
            found.update(dict.fromkeys(_part(part, codes, places)))
    return list(found) if text.strip(" ,") else list(range(len(codes)))


def _part(part: str, codes: Sequence[str], places: dict[str, int]) -> range:
    if fold(part) in places:
        place = places[fold(part)]
        return range(place, place + 1)
    if _NUMBER.fullmatch(part):
        return _between(part, int(part), int(part), len(codes))
    match = _RANGE.fullmatch(part)
    if match and (match.group(1) or match.group(2)):
        first = int(match.group(1) or 1)
        return _between(part, first, int(match.group(2) or max(first, len(codes))), len(codes))
    ends = re.split(r"\s+[-–]\s*|\s*[-–]\s+", part)
    if len(ends) == 2 and any(ends):
        first = _place(ends[0], codes, places) if ends[0] else 0
        last = _place(ends[1], codes, places) if ends[1] else len(codes) - 1
        return _between(part, first + 1, last + 1, len(codes))
    return _between(part, _place(part, codes, places) + 1, 0, 0)


def _between(part: str, first: int, last: int, count: int) -> range:
    if first > last:
        raise _none(part, f"{part} runs backwards", f"write {last}-{first}")
    if first < 1 or first > count:
        raise _none(
            part,
            f"there is no card {first}",
            f"the cards are 1 to {count}" if count else "there are no cards",
        )
    return range(first - 1, min(last, count))


def _place(code: str, codes: Sequence[str], places: dict[str, int]) -> int:
    place = places.get(fold(code))
    if place is None:
        near = nearest_name(code, codes)
        raise _none(
            code,
            f"there is no card {code[:40]}",
            f"did you mean {near}?" if near else "write a code, or places such as 5-8",
        )
    return place


def _none(part: str, what: str, mend: str) -> NoSuchCards:
    return NoSuchCards(Problem(where=part[:40], what=what, mend=mend))
