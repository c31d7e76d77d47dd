"""The tokens of formulas and queries, with positions."""

from __future__ import annotations

import re
from dataclasses import dataclass
from unicodedata import category

from dramok.core.problem import Problem, Span

_MARKS = "".join(chr(each) for each in range(0x300, 0x1E00) if category(chr(each)) in ("Mn", "Mc")) + "\u200c\u200d\u3099\u309a"
"""Characters that belong to the letter before them: combining accents, vowels of Hindi, Arabic or Thai, joiners."""
_TOKEN = re.compile(
    rf"""(?P<space>\s+)
      | (?P<number>\d+(?:\.\d+)?(?!\w))
      | "(?P<quoted>[^"]*)"
      | (?P<id>\#[a-z][a-z0-9-]*)
      | (?P<word>\w[\w'’\-{_MARKS}]*)
      | (?P<mark><=|>=|!=|[<>=+\-*/(),])
      | (?P<bad>.)""",
    re.VERBOSE | re.DOTALL,
)


@dataclass(frozen=True)
class Token:
    """`kind` is number, quoted, id, word, mark or bad; `text` is without quotes; `start` to `end` are its characters."""

    kind: str
    text: str
    start: int
    end: int


def tokens(text: str) -> list[Token]:
    """Every token of a text; a stray character is a `bad` one."""
    found = []
    for match in _TOKEN.finditer(text):
        kind = match.lastgroup or "bad"
        if kind != "space":
            found.append(Token(kind, match.group(kind), match.start(), match.end()))
    return found


class Unreadable(ValueError):
    """The typed text can't be parsed; `problem` has the position."""

    def __init__(
        self, where: str, what: str, mend: str, start: int, end: int, nearest: str | None = None
    ) -> None:
        super().__init__(what)
        span = Span(line=1, column=start + 1, length=max(1, end - start))
        self.problem = Problem(where=where, what=what, mend=mend, span=span, nearest=nearest)
