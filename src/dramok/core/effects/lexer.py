"""Text to tokens. A name is an unreserved word, or quoted words; the vocabulary is not used."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Any
from unicodedata import normalize

from lark import Token
from lark.lexer import Lexer

from dramok.core.effects.verbs import CUES, FORBIDDEN, FORMERLY, VERBS, verb_as_now

WORDS = {
    "cues": ["upon", "always", "has"],
    "moments": [*CUES, "turn", "game"],
    "verbs": list(VERBS),
    "others": [
        "of", "by", "to", "from", "for", "in", "this", "that", "it", "host", "pick", "all", "random", "own", "rival", "card",
        "count", "sum", "everywhere", "held", "half", "up", "least", "most", "x", "other", "tag", "tilted", "wounded", "created", "not", "and", "or",
        "is", "above", "under", "limit", "a", "until", "otherwise", "pay", "free", "top", "bottom",
        *FORBIDDEN,
    ],
}  # fmt: skip
"""The reserved words by category."""

_OPENED = {"card": "upon {cue} this: ", "whose": "upon {cue} own turn: ", "match": "upon {cue}: ", "total": "upon {cue} "}
OPENINGS = (*(_OPENED[cue.about].format(cue=cue.word) for cue in CUES.values()), "always: ", "offer pay ", "has ")
"""The beginnings of lines, for completion."""

RESERVED = frozenset(word for words in WORDS.values() for word in words) | FORMERLY.keys()

MARKS = {
    ":": "COLON",
    ";": "SEMICOLON",
    ",": "COMMA",
    "[": "OPEN_FILTER",
    "]": "CLOSE_FILTER",
    "(": "OPEN",
    ")": "CLOSE",
    "|": "BAR",
    "+": "PLUS",
    "-": "MINUS",
}

TERMINALS = {"x": "TIMES"}
"""The terminal of a reserved word, if it differs from the word."""

_TOKEN = re.compile(
    r"""(?P<space>\s+)
      | (?P<span>\.\.)
      | (?P<number>\d+(?!\w))
      | "(?P<quoted>[^"]*)"
      | (?P<word>[^\W\d_][\w'’\-]*)
      | (?P<mark>[:;,\[\]()|+\-])
      | (?P<bad>"[^"]*$|\S)""",
    re.VERBOSE,
)
BARE_WORD = re.compile(r"[^\W\d_][\w'’\-]*")


def is_bare(name: str) -> bool:
    """Whether a name can be written without quotes."""
    return BARE_WORD.fullmatch(name) is not None and name.casefold() not in RESERVED


def tokens(text: str) -> Iterator[Token]:
    """The tokens of one line without blanks; an unreadable character becomes a BAD token."""
    for match in _TOKEN.finditer(text):
        kind = match.lastgroup or "bad"
        if kind == "space":
            continue
        value: Any = match.group(kind)
        if kind == "word":
            name = normalize("NFC", value)
            reserved = name.casefold() in RESERVED
            word = verb_as_now(name.casefold())
            kind, value = (TERMINALS.get(word, word.upper()), name) if reserved else ("NAME", name)
        elif kind == "quoted":
            kind, value = "NAME", normalize("NFC", value)
        elif kind == "mark":
            kind = MARKS[value]
        elif kind == "span":
            kind = "DOTS"
        else:
            kind = kind.upper()
        yield Token(
            kind,
            value,
            start_pos=match.start(),
            line=1,
            column=match.start() + 1,
            end_pos=match.end(),
            end_line=1,
            end_column=match.end() + 1,
        )


class EffectLexer(Lexer):
    """Adapts our tokens to the parser; the input is the list returned by `tokens`."""

    def __init__(self, lexer_conf: Any) -> None:
        pass

    def lex(self, data: Any) -> Iterator[Token]:  # type: ignore[override]
        yield from data
