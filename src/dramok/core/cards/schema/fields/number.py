"""A stat: a number within bounds, whole or with up to four decimal places."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from decimal import Decimal
from typing import TYPE_CHECKING, Any, ClassVar, Literal

from pydantic import model_validator

from dramok.core.cards.schema.card import Value
from dramok.core.cards.schema.fields.base import (
    MOST_GROUPS,
    Compared,
    FieldBase,
    Grouping,
    Key,
    Read,
    SchemaLookup,
    mostly,
)
from dramok.core.problem import Problem, fold

if TYPE_CHECKING:
    from dramok.core.effects import Vocabulary

NUMBER_WORDS = (
    "none", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve",
)  # fmt: skip
FIGURES: Mapping[str, Any] = {
    "kind": "number", "width": 9.0, "height": 13.0, "font": "figures", "largest": 6.6, "least": 3.0, "align": "middle", "rise": "middle",
}  # fmt: skip
_WHOLE = re.compile(r"[+-]?\d{1,9}(?:[.,]0+)?")
_DECIMAL = re.compile(r"[+-]?\d{1,9}(?:[.,]\d{1,4}0*)?")
_IN_SHEETS = re.compile(r"[+-]?\d{1,9}(?:[.,]\d{1,4})?")


class NumberField(FieldBase):
    """A stat: a number within bounds, whole or with up to four decimal places."""

    kind: Literal["number"] = "number"
    least: int = 0
    most: int = 99
    whole: bool = True
    symbol: str | None = None

    compared: ClassVar[Compared] = "number"
    guesses: ClassVar[tuple[str, ...]] = ("number",)

    @model_validator(mode="after")
    def _bounds(self) -> NumberField:
        if self.least > self.most:
            raise ValueError(f"{self.name}: its least, {self.least}, is above its most, {self.most}")
        return self

    def read(self, text: str, schema: SchemaLookup, vocabulary: Vocabulary, before: Value | None) -> Read:
        if not (_WHOLE if self.whole else _DECIMAL).fullmatch(text):
            noun = "a whole number" if self.whole else "a number with up to four decimal places"
            near = in_words(text)
            mend = f"write {near}" if near else f"write {noun}, such as {max(self.least, min(3, self.most))}"
            return self.refused(
                f"“{text[:40]}” is not {noun if self.whole else 'a number'}", mend, nearest=near
            )
        exact = Decimal(text.replace(",", "."))
        number = int(exact) if self.whole or exact == exact.to_integral_value() else float(exact)
        problem = self.problem(number)
        return (None, (problem,)) if problem else (number, ())

    def holds(self, value: Value) -> bool:
        return isinstance(value, int | float) and not isinstance(value, bool)

    def problem(self, value: Value) -> Problem | None:
        if isinstance(value, int | float) and not self.least <= value <= self.most:
            return self.wrong(
                f"{value} is out of its bounds", f"write a number from {self.least} to {self.most}"
            )
        return None

    def shown(self, value: Value, schema: SchemaLookup, vocabulary: Vocabulary) -> str:
        return shown_number(value)

    def said(self, value: Value, schema: SchemaLookup) -> str:
        return shown_number(value)

    def order(self, value: Value, schema: SchemaLookup) -> Key:
        return (0, float(value), "") if isinstance(value, int | float) else (2, 0.0, fold(str(value)))

    @property
    def groupable(self) -> bool:
        return self.whole

    def groups(self, values: Sequence[Value | None], schema: SchemaLookup) -> Sequence[Grouping] | None:
        numbers = [each for each in values if isinstance(each, int) and not isinstance(each, bool)]
        low, high = (min(numbers), max(numbers)) if numbers else (self.least, min(self.most, self.least + 6))
        last = min(high, low + MOST_GROUPS - 1)
        return [Grouping(str(number), f"{self.name} {number}") for number in range(low, last + 1)]

    def in_json(self, text: str) -> Any:
        return float(text) if "." in text else int(text)

    def described(self, schema: SchemaLookup) -> dict[str, Any]:
        pattern = r"^$|^[+-]?\d+$" if self.whole else r"^$|^[+-]?\d+(\.\d{1,4})?$"
        bounds = {"minimum": self.least, "maximum": self.most, "whole": self.whole}
        return {"type": "string", "pattern": pattern, "x-number": bounds}

    def sample_value(self, schema: SchemaLookup) -> Value | None:
        return min(self.most, max(self.least, 3))

    @property
    def placement(self) -> Mapping[str, Any]:
        return FIGURES

    @classmethod
    def guess(cls, values: Sequence[str]) -> bool:
        figures = sum(1 for value in values if _IN_SHEETS.fullmatch(value))
        return 2 * figures >= len(values) and mostly(values, lambda value: _IN_SHEETS.fullmatch(value) or in_words(value))

    @classmethod
    def guessed(cls, kind: str, values: Sequence[str], list_id: str) -> dict[str, Any]:
        numbers = [float(value.replace(",", ".")) for value in values if _IN_SHEETS.fullmatch(value)] or [0.0]
        return {
            "kind": kind,
            "whole": all(number.is_integer() for number in numbers),
            "least": min(0, int(min(numbers) // 1)),
            "most": max(99, int(max(numbers) // 1 + 1)),
        }


def in_words(text: str) -> str | None:
    """The digits of a number word from none to twelve; None for any other text."""
    word = fold(text)
    return str(NUMBER_WORDS.index(word)) if word in NUMBER_WORDS else None


def shown_number(value: Value) -> str:
    """A number in typed form, with up to four decimal places."""
    return f"{value:.4f}".rstrip("0").rstrip(".") if isinstance(value, float) else str(value)
