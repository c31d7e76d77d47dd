"""Evaluate derived fields: a formula (see `formula`) for one card."""

from __future__ import annotations

import math
from decimal import Decimal
from fractions import Fraction
from typing import TYPE_CHECKING

from dramok.core.cards.schema.card import Card, Value
from dramok.core.cards.schema.formula import YES_OR_NO, Node, fields_in, is_number, parse_formula
from dramok.core.effects import Script
from dramok.core.problem import Problem, fold

if TYPE_CHECKING:
    from dramok.core.cards.schema.schema import Schema

PLACES = 4
LARGEST = Fraction(10**12)
FINEST = 10**12
"""Fractions stay exact up to this denominator; beyond, they would grow with each step."""

Result = Fraction | bool | str
"""A number, yes or no, or a text (a choice's id)."""


class CannotDerive(ValueError):
    """A formula has no value for this card: the reason and the fix."""

    def __init__(self, what: str, mend: str) -> None:
        super().__init__(what)
        self.what, self.mend = what, mend


def derived_values(card: Card, schema: Schema) -> tuple[dict[str, Value], tuple[Problem, ...]]:
    """The values of a card's derived fields by field id, and a problem for each that can't be computed."""
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
        """The value of a field as a result; None if it is empty."""
        if ident not in self.known:
            self.known[ident] = self.read(ident)
        return self.known[ident]

    def read(self, ident: str) -> Result | None:
        field = self.schema.field_of(self.card.type, ident)
        if field is not None and field.kind == "derived":
            read = parse_formula(field.formula)
            named = set(fields_in(read))
            if named and not _asks_for_none(read) and all(self.field(each) is None for each in named):
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
            raise CannotDerive(f"“{found[:40]}” is not a number", "compare it with is, or count it")
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
        """The number of tags, choices or effect lines in a field; for any other field, 1 if it has a value."""
        value = self.card.values.get(part.name) if part.kind == "field" else None
        if isinstance(value, tuple):
            return len(value)
        if isinstance(value, Script):
            return len(value.lines)
        return int(self.field(part.name) is not None) if part.kind == "field" else int(self.holds(part))

    def compare(self, node: Node) -> bool:
        left, right = node.parts
        if right.kind in ("text", "empty"):
            same = self.matches(left.name, right.name) if right.kind == "text" else self.is_empty(left.name)
            return same if node.name == "=" else not same
        one, other = self.value(left), self.value(right)
        if node.name in ("=", "!="):
            return (one == other) == (node.name == "=")
        one, other = self.number(left), self.number(right)
        return {"<": one < other, "<=": one <= other, ">": one > other, ">=": one >= other}[node.name]

    def held(self, ident: str) -> Value | Result | None:
        """The stored value of a field; for a derived one, its result."""
        field = self.schema.field_of(self.card.type, ident)
        derived = field is not None and field.kind == "derived"
        return self.field(ident) if derived else self.card.values.get(ident)

    def is_empty(self, ident: str) -> bool:
        value = self.held(ident)
        return value is None or value in ("", ()) or (isinstance(value, Script) and not value.lines)

    def matches(self, ident: str, text: str) -> bool:
        """Whether a field has a value with this name: a choice, one of several, a tag, yes or no, a number, a text."""
        field, value = self.schema.field_of(self.card.type, ident), self.held(ident)
        if value is None:
            return False
        if isinstance(value, bool):
            return YES_OR_NO.get(fold(text)) == value
        if isinstance(value, Fraction | int | float | Decimal):
            return is_number(text) and Fraction(text) == Fraction(str(value))
        choices = self.schema.choices(field)
        lists = [choices] if choices else self.schema.lists if field and field.kind == "derived" else []
        names = []
        for each in value if isinstance(value, tuple) else (str(value),):
            found = [choice.name for among in lists if (choice := among.get(each))]
            names += found or [each]
        return fold(text) in [fold(name) for name in names]


def _asks_for_none(node: Node) -> bool:
    """Whether a formula tests if a field is empty."""
    return node.kind == "empty" or any(_asks_for_none(part) for part in node.parts)
