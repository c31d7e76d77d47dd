"""Derived fields: a small expression over a card's other fields, read by our own parser and never run as code.

    #height + #root          fields by id; a person types and sees their names: Height + Root, "Wet root" * 2
    round(#cost / 2)        min max sum round floor ceiling abs count
    if #bed is Fern then 2 else 0      comparisons: is, is not, < <= > >= ; joined by and, or, not

Numbers are exact fractions. An empty number counts as 0; a formula whose fields are all empty gives nothing.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache
from typing import TYPE_CHECKING

from dramok.core.cards.card import Card, Value
from dramok.core.cards.tokens import Token, Unreadable, tokens
from dramok.core.effects import Script
from dramok.core.problem import Problem, fold, nearest_name

if TYPE_CHECKING:
    from dramok.core.cards.fields import DerivedField, FieldKind
    from dramok.core.cards.schema import Schema

DEEPEST = 40
PLACES = 4
LARGEST = Fraction(10**12)
FINEST = 10**12
"""Fractions are kept exact up to this denominator: beyond, they would grow with each step."""
_FUNCTIONS: dict[str, tuple[int, int]] = {
    "min": (1, 20), "max": (1, 20), "sum": (1, 20), "round": (1, 1), "floor": (1, 1), "ceiling": (1, 1), "abs": (1, 1), "count": (1, 20),
}  # fmt: skip
_WORDS = {"if", "then", "else", "and", "or", "not", "is"}
_COMPARES = ("=", "!=", "<", "<=", ">", ">=")

Result = Fraction | bool | str
"""A number, yes or no, or a text (a choice's id)."""


@dataclass(frozen=True)
class Node:
    """`kind` is number, text, field, call, compare, and, or, not, if, or the mark of an arithmetic step."""

    kind: str
    parts: tuple[Node, ...] = ()
    name: str = ""
    number: Fraction = Fraction(0)


class CannotDerive(ValueError):
    """A formula has no value for this card: why, and what mends it."""

    def __init__(self, what: str, mend: str) -> None:
        super().__init__(what)
        self.what, self.mend = what, mend


@lru_cache(maxsize=2_000)
def parse_formula(text: str) -> Node:
    """Reads a stored formula, its fields as `#id`. Raises Unreadable."""
    return _Parser(text).whole()


def fields_in(node: Node) -> Iterator[str]:
    """The ids of the fields that a formula reads."""
    if node.kind == "field":
        yield node.name
    for part in node.parts:
        yield from fields_in(part)


def stored_formula(typed: str, schema: Schema, type_id: str) -> str:
    """A typed formula with every field as `#id`, so that renaming a field changes nothing. Raises Unreadable."""
    names = {fold(field.name): field for field in schema.fields_of(type_id)}
    found, put, at = tokens(typed), [], 0
    for index, token in enumerate(found):
        ident = None
        if token.kind == "id":
            if not schema.has_field(type_id, token.text[1:]):
                raise _unknown_field(token, names)
        elif (
            token.kind in ("word", "quoted") and fold(token.text) in names and not _is_compared(found, index)
        ):
            ident = names[fold(token.text)].id
        elif (
            token.kind in ("word", "quoted") and not _is_compared(found, index) and not _is_word(found, index)
        ):
            raise _unknown_field(token, names)
        put += [typed[at : token.start], f"#{ident}" if ident else typed[token.start : token.end]]
        at = token.end
    stored = "".join([*put, typed[at:]]).strip()
    _Parser(stored).whole()
    return stored


def shown_formula(stored: str, schema: Schema, type_id: str) -> str:
    """A stored formula with the fields' names in the place of their ids."""
    put, at = [], 0
    for token in tokens(stored):
        if token.kind != "id":
            continue
        field = schema.field_of(type_id, token.text[1:])
        name = field.name if field else token.text
        bare = (
            len(tokens(name)) == 1
            and tokens(name)[0].kind == "word"
            and fold(name) not in _WORDS | set(_FUNCTIONS)
        )
        put += [stored[at : token.start], name if bare else f'"{name}"']
        at = token.end
    return "".join([*put, stored[at:]])


def _is_compared(found: Sequence[Token], index: int) -> bool:
    """Whether a word is the value that a choice is compared with: it stands after `is`, `is not`, `=` or `!=`."""
    before = [token.text for token in found[max(0, index - 2) : index]]
    return bool(before) and (before[-1] in ("is", "=", "!=") or before == ["is", "not"])


def _is_word(found: Sequence[Token], index: int) -> bool:
    token = found[index]
    calls = index + 1 < len(found) and found[index + 1].text == "("
    return token.kind == "word" and (fold(token.text) in _WORDS or (calls and fold(token.text) in _FUNCTIONS))


def _unknown_field(token: Token, names: Mapping[str, FieldKind]) -> Unreadable:
    near = nearest_name(token.text, [field.name for field in names.values()])
    mend = (
        f"did you mean {near}?"
        if near
        else f"write one of {', '.join(field.name for field in list(names.values())[:10])}"
    )
    return Unreadable("formula", f"there is no field {token.text[:40]}", mend, token.start, token.end, near)


class _Parser:
    def __init__(self, text: str) -> None:
        self.found = tokens(text)
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
                "formula", "the formula stops too early", f"go on with {wanted}", self.end, self.end + 1
            )
        token = self.found[self.at]
        return Unreadable(
            "formula", f"“{token.text[:40]}” can't stand here", f"write {wanted}", token.start, token.end
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
            right = Node("text", name=token.text)
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
        if token.kind == "word" and name in _FUNCTIONS:
            self.at += 1
            return self.call(name, token)
        raise self.wrong("a number or a field")

    def call(self, name: str, token: Token) -> Node:
        self.need("(")
        parts = [self.expression()]
        while self.take(","):
            parts.append(self.expression())
        self.need(")")
        least, most = _FUNCTIONS[name]
        if not least <= len(parts) <= most:
            raise Unreadable(
                "formula",
                f"{name} takes {least if least == most else f'{least} to {most}'} values",
                "take some out",
                token.start,
                token.end,
            )
        return Node("call", tuple(parts), name)


def check_formulas(schema: Schema) -> None:
    """Raises ValueError for a formula that can't be read, names a field its type has not, or stands in a circle."""
    for card_type in schema.types:
        derived = {field.id: field for field in schema.derived_of(card_type.id)}
        for field in derived.values():
            try:
                read = parse_formula(field.formula)
            except Unreadable as error:
                raise ValueError(f"{field.name}: {error.problem.what}; {error.problem.mend}") from error
            for ident in fields_in(read):
                found = schema.field_of(card_type.id, ident)
                if found is None or found.retired:
                    raise ValueError(
                        f"{field.name} is derived from {found.name if found else ident}, which {card_type.name} has not"
                    )
        _no_circle(derived)


def _no_circle(derived: Mapping[str, DerivedField]) -> None:
    """Each field is looked at once: `walked` are those on the way to the one at hand, `sound` those that lead to no circle."""
    needs = {
        ident: [each for each in dict.fromkeys(fields_in(parse_formula(field.formula))) if each in derived]
        for ident, field in derived.items()
    }
    sound: set[str] = set()
    for start in derived:
        walked: dict[str, Iterator[str]] = {start: iter(needs[start])} if start not in sound else {}
        while walked:
            at = next(reversed(walked))
            ident = next(walked[at], None)
            if ident is None:
                sound.add(at)
                del walked[at]
            elif ident in walked:
                path = list(walked)
                names = [derived[each].name for each in [*path[path.index(ident) :], ident]]
                raise ValueError(f"derived fields wait for each other in a circle: {' → '.join(names)}")
            elif ident not in sound:
                walked[ident] = iter(needs[ident])


def derived_values(card: Card, schema: Schema) -> tuple[dict[str, Value], tuple[Problem, ...]]:
    """The values of a card's derived fields by field id, and a problem for each that has none because it can't be computed."""
    values: dict[str, Value] = {}
    problems: list[Problem] = []
    asked = _Evaluation(card, schema)
    for field in schema.derived_of(card.type):
        try:
            result = asked.field(field.id)
        except CannotDerive as error:
            problems.append(Problem(where=field.name, what=error.what, mend=error.mend))
            continue
        if result is not None:
            values[field.id] = _as_value(result)
    return values, tuple(problems)


def _as_value(result: Result) -> Value:
    if isinstance(result, Fraction):
        return result.numerator if result.denominator == 1 else round(float(result), PLACES)
    return result


class _Evaluation:
    def __init__(self, card: Card, schema: Schema) -> None:
        self.card = card
        self.schema = schema
        self.known: dict[str, Result | None] = {}

    def field(self, ident: str) -> Result | None:
        """A field's value as a result; None where it is empty."""
        if ident not in self.known:
            self.known[ident] = self.read(ident)
        return self.known[ident]

    def read(self, ident: str) -> Result | None:
        field = self.schema.field_of(self.card.type, ident)
        if field is not None and field.kind == "derived":
            read = parse_formula(field.formula)
            if all(self.field(each) is None for each in set(fields_in(read))) and any(fields_in(read)):
                return None
            return self.value(read)
        value = self.card.values.get(ident)
        if value is None or isinstance(value, bool | str):
            return value
        if isinstance(value, Script):
            return Fraction(len(value.lines))
        return Fraction(len(value)) if isinstance(value, tuple) else Fraction(str(value))

    def value(self, node: Node) -> Result:
        match node.kind:
            case "number":
                return node.number
            case "text":
                return node.name
            case "field":
                found = self.field(node.name)
                return Fraction(0) if found is None else found
            case "if":
                return self.value(node.parts[1 if self.holds(node.parts[0]) else 2])
            case "and":
                return all(self.holds(part) for part in node.parts)
            case "or":
                return any(self.holds(part) for part in node.parts)
            case "not":
                return not self.holds(node.parts[0])
            case "compare":
                return self.compare(node)
            case "call":
                return self.call(node)
            case _:
                return self.step(node)

    def holds(self, node: Node) -> bool:
        found = self.value(node)
        return found != 0 if isinstance(found, Fraction) else bool(found)

    def number(self, node: Node) -> Fraction:
        found = self.value(node)
        if isinstance(found, str):
            raise CannotDerive(f"“{found[:40]}” is no number", "compare it with is, or count it")
        return Fraction(found)

    def step(self, node: Node) -> Fraction:
        left, right = self.number(node.parts[0]), self.number(node.parts[1])
        if node.kind == "/" and right == 0:
            raise CannotDerive(
                "divides by zero", f"give {self.named(node.parts[1])} a value, or write “if … then … else”"
            )
        result = (
            {"+": left + right, "-": left - right, "*": left * right}[node.kind]
            if node.kind != "/"
            else left / right
        )
        if abs(result) > LARGEST:
            raise CannotDerive("the result is too large", "use smaller numbers")
        return result if result.denominator <= FINEST else result.limit_denominator(FINEST)

    def named(self, node: Node) -> str:
        names = [
            field.name for ident in fields_in(node) if (field := self.schema.field_of(self.card.type, ident))
        ]
        return " and ".join(names) or "it"

    def call(self, node: Node) -> Fraction:
        if node.name == "count":
            return Fraction(sum(self.counted(part) for part in node.parts))
        numbers = [self.number(part) for part in node.parts]
        match node.name:
            case "min":
                return min(numbers)
            case "max":
                return max(numbers)
            case "sum":
                return sum(numbers, Fraction(0))
            case "round":
                return Fraction(math.floor(numbers[0] + Fraction(1, 2)))
            case "floor":
                return Fraction(math.floor(numbers[0]))
            case "ceiling":
                return Fraction(math.ceil(numbers[0]))
            case "abs":
                return abs(numbers[0])
            case other:
                raise AssertionError(f"no function {other} can be worked out")

    def counted(self, part: Node) -> int:
        """How many tags, choices or effect lines a field holds; of any other field, whether it holds something."""
        value = self.card.values.get(part.name) if part.kind == "field" else None
        if isinstance(value, tuple):
            return len(value)
        if isinstance(value, Script):
            return len(value.lines)
        return int(self.field(part.name) is not None) if part.kind == "field" else int(self.holds(part))

    def compare(self, node: Node) -> bool:
        left, right = node.parts
        if right.kind == "text":
            same = self.matches(left.name, right.name)
            return same if node.name == "=" else not same
        one, other = self.value(left), self.value(right)
        if node.name in ("=", "!="):
            return (one == other) == (node.name == "=")
        one, other = self.number(left), self.number(right)
        return {"<": one < other, "<=": one <= other, ">": one > other, ">=": one >= other}[node.name]

    def matches(self, ident: str, text: str) -> bool:
        """Whether a field holds a value called this: a choice by its name, one of several, a tag, yes or no, a text."""
        field, value = self.schema.field_of(self.card.type, ident), self.card.values.get(ident)
        if isinstance(value, bool):
            return value == (fold(text) in ("yes", "true"))
        choices = self.schema.choices(field)
        held = value if isinstance(value, tuple) else (str(value),) if value is not None else ()
        names = [choice.name if choices and (choice := choices.get(each)) else each for each in held]
        return fold(text) in [fold(name) for name in names]
