"""Derived fields: a small expression over a card's other fields, read by our own parser and never run as code.

    #height + #root          fields by id; a person types and sees their names: Height + Root, "Wet root" * 2
    round(#cost / 2)        min max sum round floor ceiling abs count
    if #bed is Fern then 2 else 0      comparisons: is, is not, < <= > >= ; joined by and, or, not

Numbers are exact fractions. An empty number counts as 0; a formula whose fields are all empty gives nothing.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache

from dramok.core.cards.schema.lexer import Token, Unreadable, tokens
from dramok.core.problem import fold

DEEPEST = 40
FUNCTIONS: dict[str, tuple[int, int]] = {
    "min": (1, 20), "max": (1, 20), "sum": (1, 20), "round": (1, 1), "floor": (1, 1), "ceiling": (1, 1), "abs": (1, 1), "count": (1, 20),
}  # fmt: skip
YES_OR_NO = {"yes": True, "true": True, "no": False, "false": False}
WORDS = {"if", "then", "else", "and", "or", "not", "is"}
_COMPARES = ("=", "!=", "<", "<=", ">", ">=")
_SIGNS = {"×": "*", "·": "*", "÷": "/", "−": "-", "–": "-", "≤": "<=", "≥": ">=", "≠": "!="}
"""Typographic signs and their plain forms."""

@dataclass(frozen=True)
class Node:
    """A node of the expression.

    `kind` is number, text, empty, field, call, compare, and, or, not, if, or an arithmetic operator.
    """

    kind: str
    parts: tuple[Node, ...] = ()
    name: str = ""
    number: Fraction = Fraction(0)


@lru_cache(maxsize=2_000)
def parse_formula(text: str) -> Node:
    """Parse a stored formula with fields as `#id`. Raises Unreadable."""
    return _Parser(text).whole()


def fields_in(node: Node) -> Iterator[str]:
    """The ids of the fields that a formula reads."""
    if node.kind == "field":
        yield node.name
    for part in node.parts:
        yield from fields_in(part)


def with_names(stored: str, name_of: Callable[[str], str | None]) -> str:
    """A stored formula with field names in place of ids. An unknown id, or one whose name contains quotes, stays an id."""
    put, at = [], 0
    for token in tokens(stored):
        if token.kind != "id":
            continue
        name = name_of(token.text[1:])
        put += [stored[at : token.start], token.text if name is None or '"' in name else quoted_name(name)]
        at = token.end
    return "".join([*put, stored[at:]])


def formula_tokens(text: str) -> list[Token]:
    """The tokens of a text, with typographic signs replaced by plain ones."""
    return [
        Token("mark", _SIGNS[each.text], each.start, each.end) if each.text in _SIGNS else each for each in tokens(text)
    ]


def quoted_name(name: str) -> str:
    """A name as a formula contains it: quoted, unless it is a single word without another meaning."""
    read = tokens(name)
    bare = len(read) == 1 and read[0].kind == "word" and fold(name) not in {*WORDS, *FUNCTIONS, "empty"}
    return name if bare else f'"{name}"'


def is_empty(token: Token) -> bool:
    return token.kind == "word" and fold(token.text) == "empty"


def is_number(text: str) -> bool:
    try:
        Fraction(text)
    except (ValueError, ZeroDivisionError):
        return False
    return True


class _Parser:
    def __init__(self, text: str) -> None:
        self.found = formula_tokens(text)
        self.end = len(text)
        self.at = 0
        self.depth = 0

    def whole(self) -> Node:
        node = self.expression()
        if self.at < len(self.found):
            raise self.wrong("the end, or a sign such as + or ×")
        return node

    def look(self) -> str:
        return (
            fold(self.found[self.at].text)
            if self.at < len(self.found) and self.found[self.at].kind in ("word", "mark")
            else ""
        )

    def take(self, *wanted: str) -> str | None:
        if self.look() in wanted and self.look():
            self.at += 1
            return fold(self.found[self.at - 1].text)
        return None

    def need(self, wanted: str) -> None:
        if self.take(wanted) is None:
            raise self.wrong(f"“{wanted}”")

    def wrong(self, wanted: str) -> Unreadable:
        if self.at >= len(self.found):
            return Unreadable(
                "formula", "the formula is not complete", f"go on with {wanted}", self.end, self.end + 1
            )
        token = self.found[self.at]
        return Unreadable(
            "formula", f"“{token.text[:40]}” can't be here", f"write {wanted}", token.start, token.end
        )

    def expression(self) -> Node:
        self.depth += 1
        if self.depth > DEEPEST:
            raise Unreadable(
                "formula", "the formula is nested too deeply", "split it into two derived fields", 0, 1
            )
        try:
            if self.take("if"):
                condition = self.expression()
                self.need("then")
                then = self.expression()
                self.need("else")
                return Node("if", (condition, then, self.expression()))
            return self.joined("or", lambda: self.joined("and", self.negated))
        finally:
            self.depth -= 1

    def joined(self, word: str, inner: Callable[[], Node]) -> Node:
        parts = [inner()]
        while self.take(word):
            parts.append(inner())
        return Node(word, tuple(parts)) if len(parts) > 1 else parts[0]

    def negated(self) -> Node:
        negations = 0
        while self.take("not"):
            negations += 1
        inner = self.compared()
        return Node("not", (inner,)) if negations % 2 else inner

    def compared(self) -> Node:
        left = self.chain(("+", "-"), lambda: self.chain(("*", "/"), self.signed))
        sign = self.take(*_COMPARES)
        if sign is None and self.take("is"):
            sign = "!=" if self.take("not") else "="
        if sign is None:
            return left
        token = self.found[self.at] if self.at < len(self.found) else None
        if left.kind == "field" and sign in ("=", "!=") and token and token.kind in ("word", "quoted"):
            self.at += 1
            right = Node("empty" if is_empty(token) else "text", name=token.text)
        else:
            right = self.chain(("+", "-"), lambda: self.chain(("*", "/"), self.signed))
        return Node("compare", (left, right), sign)

    def chain(self, signs: tuple[str, ...], inner: Callable[[], Node]) -> Node:
        node = inner()
        while sign := self.take(*signs):
            node = Node(sign, (node, inner()))
        return node

    def signed(self) -> Node:
        negative = False
        while self.take("-"):
            negative = not negative
        node = self.atom()
        return Node("-", (Node("number"), node)) if negative else node

    def atom(self) -> Node:
        token = self.found[self.at] if self.at < len(self.found) else None
        if token is None:
            raise self.wrong("a number or a field")
        if token.kind == "number":
            self.at += 1
            return Node("number", number=Fraction(token.text))
        if token.kind == "id":
            self.at += 1
            return Node("field", name=token.text[1:])
        if self.take("("):
            node = self.expression()
            self.need(")")
            return node
        name = fold(token.text)
        if token.kind == "word" and name in FUNCTIONS:
            self.at += 1
            return self.call(name, token)
        raise self.wrong("a number or a field")

    def call(self, name: str, token: Token) -> Node:
        self.need("(")
        parts = [self.expression()]
        while self.take(","):
            parts.append(self.expression())
        self.need(")")
        least, most = FUNCTIONS[name]
        if not least <= len(parts) <= most:
            raise Unreadable(
                "formula",
                f"{name} takes {least if least == most else f'{least} to {most}'} values",
                "take some out",
                token.start,
                token.end,
            )
        return Node("call", tuple(parts), name)
