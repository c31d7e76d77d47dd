"""Codes from a set's pattern: `RS-{n:03}` gives RS-001, RS-002 ..."""

from __future__ import annotations

import re
from collections.abc import Collection, Iterator

from dramok.core.problem import Problem, fold

MOST_CODE = 40
_NUMBER = re.compile(r"\{n(?::0?(\d))?\}")


def pattern_problem(pattern: str) -> Problem | None:
    """Why a pattern can't be used, or None."""
    places = _NUMBER.findall(pattern)
    rest = _NUMBER.sub("", pattern)
    if len(places) != 1 or "{" in rest or "}" in rest:
        return Problem(
            where="pattern",
            what="a pattern has its number once, as {n} or {n:03}",
            mend="write one such as RS-{n:03}",
        )
    if (
        len(pattern) > MOST_CODE - 4
        or rest != rest.strip()
        or any(each.isspace() for each in rest if each != " ")
    ):
        return Problem(
            where="pattern",
            what="the pattern is too long, or has stray blanks",
            mend="write one such as RS-{n:03}",
        )
    return None


def code_at(pattern: str, number: int) -> str:
    """The code of a number, from 1."""
    return _NUMBER.sub(lambda found: f"{number:0{int(found.group(1) or 0)}d}", pattern)


def free_codes(pattern: str, used: Collection[str], first: int = 1) -> Iterator[str]:
    """Codes in order that are not in `used` (folded), starting at number `first`."""
    number = first
    place = _NUMBER.search(pattern)
    head, tail = (pattern[: place.start()], pattern[place.end() :]) if place else (pattern, "")
    width = int(place.group(1) or 0) if place else 0
    while True:
        code = f"{head}{number:0{width}d}{tail}" if place else pattern
        if fold(code) not in used:
            yield code
        number += 1
