"""What a table file has and the game lacks: fields for columns, card types and choice values."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Any

from dramok.core.cards.schema.fields import KINDS, ChoiceField, ChoicesField
from dramok.core.cards.schema.fields.base import parts_of
from dramok.core.cards.schema.ids import id_from
from dramok.core.cards.schema.schema import Schema
from dramok.core.cards.sheets.column_matching import TYPE, FileColumn
from dramok.core.problem import fold, nearest_name

GUESSED = tuple(guess for kind in KINDS for guess in kind.guesses)
"""The kinds of field that can be created for a column; `back` is a picture on the back."""
MOST_LISTED = 60


@dataclass(frozen=True)
class NewField:
    """A column without a field, and the kind of field that fits its values."""

    column: int
    name: str
    kind: str


@dataclass(frozen=True)
class NewValue:
    """A value missing from a choice list: the number of rows with it, and the most similar existing value."""

    list: str
    list_name: str
    value: str
    rows: int
    near: str | None = None


def new_fields(rows: Sequence[Sequence[str]], header: int, columns: Sequence[FileColumn]) -> list[NewField]:
    """A field for each column that has a heading, some values, and no field yet.

    The second picture column is the back.
    """
    found: list[NewField] = []
    for column in columns:
        name = " ".join(column.heading.split())[:60]
        if column.target is not None or column.by_hand or not name:
            continue
        values = [row[column.index].strip() for row in rows[header + 1 :] if column.index < len(row)]
        values = [value for value in values if value]
        if values:
            kind = kind_of(values)
            if kind == "picture" and any(each.kind == "picture" for each in found):
                kind = "back"
            found.append(NewField(column.index, name, kind))
    return found


def kind_of(values: Sequence[str]) -> str:
    """The kind of field that holds all of these values."""
    return next(kind.guesses[0] for kind in KINDS if kind.guesses and kind.guess(values))


def field_document(
    name: str, kind: str, values: Sequence[str], used: Iterable[str], list_id: str
) -> dict[str, Any]:
    """The document of a new field for these values; a choice uses the list `list_id`."""
    record = next(each for each in KINDS if kind in each.guesses)
    return {"id": id_from(name, set(used), "field"), "name": name, **record.guessed(kind, values, list_id)}


def list_document(name: str, values: Sequence[str], ident: str) -> dict[str, Any]:
    """The document of a choice list with each distinct value in order of appearance."""
    names: dict[str, str] = {}
    for value in values:
        names.setdefault(fold(value), " ".join(value.split())[:80])
    return {"id": ident, "name": name, "values": with_values([], names.values())}


def with_values(held: Sequence[dict[str, Any]], names: Iterable[str]) -> list[dict[str, Any]]:
    """The values of a list followed by new ones, each with its own colour."""
    values = list(held)
    used = {each["id"] for each in values}
    for name in names:
        ident = id_from(name, used, "value")
        used.add(ident)
        values.append({"id": ident, "name": name, "colour": _INKS[len(values) % len(_INKS)]})
    return values


_INKS = (
    "#3f6a4f",
    "#8a4b3a",
    "#4a5a86",
    "#8a7330",
    "#6d4a78",
    "#3f7477",
    "#7a5a3a",
    "#5d6b2e",
    "#7b3f57",
    "#51616b",
)


def new_types(
    rows: Sequence[Sequence[str]], header: int, columns: Sequence[FileColumn], schema: Schema
) -> dict[str, int]:
    """Card types that the file names and the game lacks, with the number of rows."""
    column = next((each for each in columns if each.target == TYPE), None)
    if column is None:
        return {}
    known = {fold(each.name) for each in schema.types}
    counts: Counter[str] = Counter()
    names: dict[str, str] = {}
    for row in rows[header + 1 :]:
        cell = " ".join(row[column.index].split()) if column.index < len(row) else ""
        if cell and len(cell) <= 60 and fold(cell) not in known:
            counts[names.setdefault(fold(cell), cell)] += 1
    return dict(counts.most_common(20))


def new_values(
    rows: Sequence[Sequence[str]], header: int, columns: Sequence[FileColumn], schema: Schema
) -> list[NewValue]:
    """Choice values that the file names and the lists lack."""
    found: list[NewValue] = []
    for column in columns:
        field = schema.field(column.target)
        choices = schema.choices(field)
        if choices is None or not isinstance(field, ChoiceField | ChoicesField):
            continue
        counts: Counter[str] = Counter()
        names: dict[str, str] = {}
        for row in rows[header + 1 :]:
            cell = row[column.index] if column.index < len(row) else ""
            for part in parts_of(cell) if isinstance(field, ChoicesField) else [cell]:
                part = " ".join(part.split())
                if part and len(part) <= 80 and choices.called(part) is None:
                    counts[names.setdefault(fold(part), part)] += 1
        offered = [value.name for value in choices.offered]
        found += [
            NewValue(
                choices.id, choices.name, value, count, nearest_name(value, offered) if offered else None
            )
            for value, count in counts.most_common(MOST_LISTED)
        ]
    return found
