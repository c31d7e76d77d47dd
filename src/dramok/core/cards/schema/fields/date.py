"""A calendar date, such as a release, a playtest or a deadline."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from datetime import date
from typing import TYPE_CHECKING, Any, ClassVar, Literal

from dramok.core.cards.schema.card import Value
from dramok.core.cards.schema.fields.base import Compared, FieldBase, Read, SchemaLookup, mostly
from dramok.core.cards.schema.fields.text import LINE

if TYPE_CHECKING:
    from dramok.core.effects import Vocabulary

MONTHS = ("jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec")
_ISO = re.compile(r"(?P<year>\d{4})-(?P<month>\d{1,2})-(?P<day>\d{1,2})(?:[T ]00:00(?::00)?)?")
_DOTS = re.compile(r"(?P<day>\d{1,2})\.\s?(?P<month>\d{1,2})\.\s?(?P<year>\d{4})")
_DAY_FIRST = re.compile(r"(?P<day>\d{1,2})\.? (?P<word>[A-Za-z]{3,9})\.?,? (?P<year>\d{4})")
_MONTH_FIRST = re.compile(r"(?P<word>[A-Za-z]{3,9})\.? (?P<day>\d{1,2}),? (?P<year>\d{4})")


class DateField(FieldBase):
    """A date stored as `2026-11-27`, so that text order is date order."""

    kind: Literal["date"] = "date"

    compared: ClassVar[Compared] = "ordered"
    guesses: ClassVar[tuple[str, ...]] = ("date",)

    def read(self, text: str, schema: SchemaLookup, vocabulary: Vocabulary, before: Value | None) -> Read:
        found = day_of(text)
        if found is None:
            mend = "write year, month and day, such as 2026-11-27"
            both = "which is the month is not clear; " if re.fullmatch(r"\d+/\d+/\d+", text) else ""
            return self.refused(f"“{text[:40]}” is not a day", both + mend)
        return found.isoformat(), ()

    def holds(self, value: Value) -> bool:
        found = day_of(value) if isinstance(value, str) else None
        return found is not None and found.isoformat() == value

    def described(self, schema: SchemaLookup) -> dict[str, Any]:
        return {"type": "string", "pattern": r"^$|^\d{4}-\d{2}-\d{2}$", "description": "year, month and day"}

    def sample_value(self, schema: SchemaLookup) -> Value | None:
        return "2026-06-21"

    @property
    def placement(self) -> Mapping[str, Any]:
        return LINE

    @classmethod
    def guess(cls, values: Sequence[str]) -> bool:
        return mostly(values, day_of)


def day_of(text: str) -> date | None:
    """The date in a text, if its form is unambiguous; otherwise None."""
    for pattern in (_ISO, _DOTS, _DAY_FIRST, _MONTH_FIRST):
        if (match := pattern.fullmatch(text)) is None:
            continue
        parts = match.groupdict()
        word = parts.get("word", "")[:3].lower()
        if word and word not in MONTHS:
            return None
        month = MONTHS.index(word) + 1 if word else int(parts["month"])
        try:
            return date(int(parts["year"]), month, int(parts["day"]))
        except ValueError:
            return None
    return None
