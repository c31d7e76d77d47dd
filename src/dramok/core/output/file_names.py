"""File names from a pattern:

`{code} {name}` gives `RS-001 Copper Larch`. Names are valid on every common file system and unique.
"""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Callable, Collection, Iterable

from dramok.core.problem import Problem, fold, nearest_name

MOST_PATTERN = 200
MOST_NAME = 120
_GAP = re.compile(r"\{([^{}]*)\}")
_BARRED = re.compile(r'[\x00-\x1f\x7f<>:"/\\|?*]+')
_RESERVED = {"con", "prn", "aux", "nul", *(f"{port}{number}" for port in ("com", "lpt") for number in "123456789¹²³")}  # fmt: skip
"""Device names reserved by Windows (Microsoft, Naming Files, Paths, and Namespaces)."""


class NoPattern(ValueError):
    """The pattern is invalid. `problem` has the position and the fix."""

    def __init__(self, problem: Problem) -> None:
        super().__init__(problem.what)
        self.problem = problem


def read_pattern(pattern: str, known: Collection[str]) -> Callable[[Callable[[str], str]], str]:
    """Parse a pattern to a function from a reader of the known names (`known`, case-insensitive) to a file
    name. Raises NoPattern.
    """
    if not pattern.strip() or len(pattern) > MOST_PATTERN:
        what = (
            "there is no pattern"
            if not pattern.strip()
            else f"a pattern of {len(pattern)} characters is too long"
        )
        raise NoPattern(
            Problem(
                where="names",
                what=what,
                mend=f"write up to {MOST_PATTERN} characters, such as {{code}} {{name}}",
            )
        )
    by_name = {fold(each): each for each in known}
    parts: list[tuple[str, str]] = []
    at = 0
    for gap in _GAP.finditer(pattern):
        word = by_name.get(fold(gap.group(1).strip()))
        if word is None:
            near = nearest_name(gap.group(1), known)
            raise NoPattern(
                Problem(
                    where="names",
                    what=f"nothing is called {{{gap.group(1)[:40]}}}",
                    mend=f"did you mean {{{near}}}?"
                    if near
                    else f"write one of {', '.join(f'{{{each}}}' for each in list(known)[:8])}",
                )
            )
        parts += [("text", pattern[at : gap.start()]), ("word", word)]
        at = gap.end()
    parts.append(("text", pattern[at:]))
    if any("{" in text or "}" in text for kind, text in parts if kind == "text"):
        raise NoPattern(
            Problem(where="names", what="a bracket has no partner", mend="write each word as {code}")
        )
    return lambda read: "".join(read(text) if kind == "word" else text for kind, text in parts)


def file_name(text: str) -> str:
    """A text as a file name without extension, without forbidden characters; never empty."""
    plain = _BARRED.sub("-", unicodedata.normalize("NFC", text))
    plain = " ".join(plain.split()).strip(" .-")
    plain = _no_device(plain)
    while len(plain.encode()) > MOST_NAME:
        plain = plain[:-1].rstrip(" .-")
    return _no_device(plain) or "card"


def _no_device(name: str) -> str:
    """Avoid reserved device names, which Windows recognises by the part before the first dot."""
    stem, dot, rest = name.partition(".")
    return f"{stem}-{dot}{rest}" if fold(stem.strip()) in _RESERVED else name


def each_once(names: Iterable[str]) -> list[str]:
    """Unique names: duplicates, ignoring case, get a number."""
    used: set[str] = set()
    last: dict[str, int] = {}
    made = []
    for name in names:
        one, plain = name, fold(name)
        number = last.get(plain, 1)
        while fold(one) in used:
            number += 1
            one = f"{name} {number}"
        last[plain] = number
        used.add(fold(one))
        made.append(one)
    return made
