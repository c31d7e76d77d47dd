"""Token reader for queries: consumes words, names of several words and numbers, and records names with their
position.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping

from dramok.core.cards.query.query_names import Meant, MeantKind, Named
from dramok.core.cards.schema.lexer import Token, Unreadable, tokens
from dramok.core.problem import fold, nearest_name

LONGEST_NAME = 6


class TokenReader:
    """`at` is the next token; `named` are the recorded names."""

    def __init__(self, text: str) -> None:
        self.text, self.found, self.at = text, tokens(text), 0
        self.named: list[Named] = []

    def look(self, ahead: int = 0) -> Token | None:
        return self.found[self.at + ahead] if self.at + ahead < len(self.found) else None

    def word(self, *wanted: str) -> str | None:
        """Consume one of these words or marks if it comes next."""
        token = self.look()
        if token and token.kind in ("word", "mark") and fold(token.text) in wanted:
            self.at += 1
            return fold(token.text)
        return None

    def phrase(self, known: Collection[str]) -> str | None:
        """Consume the longest sequence of words that is one of these (folded) names. A quoted name is a single one."""
        token = self.look()
        if token is None:
            return None
        if token.kind == "quoted":
            if fold(token.text) in known:
                self.at += 1
                return fold(token.text)
            return None
        for count in range(min(LONGEST_NAME, len(self.found) - self.at), 0, -1):
            run = self.found[self.at : self.at + count]
            said = fold(self.text[run[0].start : run[-1].end])
            if said in known:
                self.at += count
                return said
        return None

    def note(self, start: int, end: int, kind: MeantKind, ident: str, of: str = "") -> None:
        """Record the name in the tokens from `start` to before `end`."""
        self.named.append(Named(self.found[start].start, self.found[end - 1].end, Meant(kind, ident, of)))

    def wrong(self, what: str, mend: str, near: str | None = None) -> Unreadable:
        token = self.look()
        start, end = (token.start, token.end) if token else (len(self.text), len(self.text) + 1)
        return Unreadable("query", what, mend, start, end, near)

    def known(self, known: Mapping[str, str], kind: str) -> str:
        """Consume a known name; returns its id."""
        by_name = {fold(name): ident for ident, name in known.items()}
        name = self.phrase(by_name)
        if name is not None:
            return by_name[name]
        token = self.look()
        near = nearest_name(token.text, known.values()) if token else None
        some = ", ".join(list(known.values())[:8]) or "none: there is none yet"
        raise self.wrong(
            f"there is no {kind} {token.text[:40]}" if token else f"which {kind}?",
            f"did you mean {near}?" if near else f"write one of {some}",
            near,
        )

    def number(self) -> float:
        negative = bool(self.word("-"))
        token = self.look()
        if token is None or token.kind != "number":
            raise self.wrong(
                f"“{token.text[:30]}” is not a number" if token else "which number?", "write a number, such as 3"
            )
        self.at += 1
        return -float(token.text) if negative else float(token.text)
