"""The difference between a table file and existing cards: additions, changed cells, missing cards."""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping
from dataclasses import dataclass

from dramok.core.cards.schema.card import Card, Value
from dramok.core.cards.schema.fields import FieldKind
from dramok.core.cards.schema.schema import Schema
from dramok.core.cards.sheets.column_matching import CODE, SET, TYPE
from dramok.core.cards.sheets.import_context import ImportResult, TakenRow

Shown = Callable[[FieldKind, Value | None], str]


@dataclass(frozen=True)
class CellChange:
    """One cell that the file changes, as text. `field` is a field's id, or code, type or set.

    `theirs` is the file's value at the last import; `conflict`: the cell was changed here since.
    """

    card: str
    code: str
    title: str
    field: str
    name: str
    before: str
    after: str
    value: Value | None
    conflict: bool = False
    theirs: str | None = None

    @property
    def key(self) -> str:
        return f"changed/{self.card}/{self.field}"


@dataclass(frozen=True)
class Update:
    """`added` rows become cards; `same` counts unchanged cards; `gone` are ids of missing cards.

    `kept`: cells changed here that the file did not change.
    """

    added: tuple[TakenRow, ...]
    changed: tuple[CellChange, ...]
    same: int
    gone: tuple[str, ...]
    kept: int = 0


def compare(
    intake: ImportResult,
    cards: Mapping[str, Card],
    scope: Collection[str],
    schema: Schema,
    shown: Shown,
    title: Callable[[Card], str],
    sets: Mapping[str, str],
    printed_field: str | None,
    before: Mapping[tuple[str, str], str] | None = None,
) -> Update:
    """Compare a parsed file with `cards`. `scope` are the ids that the file should list completely; `sets`
    names by id.

    `before` has the values at the last import by (card id, field). A cell that the file did not change since
    then keeps its current value; a cell changed both here and in the file is a conflict.
    """
    fed = [column.target for column in intake.columns if column.target]
    wanted = list(dict.fromkeys([*fed, *([printed_field] if printed_field else [])]))
    effects = {field.id for field in schema.fields if field.kind == "effect"}
    changed: list[CellChange] = []
    kept = 0
    same = 0
    for row in intake.taken:
        if row.card is None:
            continue
        card = cards[row.card]
        found: list[CellChange] = []
        for target in wanted:
            cell = _cell(row, card, target, schema, shown, sets)
            if cell is None or cell[1] == cell[2]:
                continue
            if target == printed_field and target not in fed and cell[3] is None:
                continue  # free text may go there, but nothing is removed
            if target in effects and cell[3] is None and row.values.get(printed_field or ""):
                continue  # the file has free text only: the behaviour stays
            name, old, new, value = cell
            last = before.get((card.id, target)) if before is not None else None
            if last == new:
                kept += 1
                continue
            conflict = last is not None and last != old
            found.append(
                CellChange(card.id, card.code, title(card), target, name, old, new, value, conflict, last)
            )
        changed += found
        same += not found
    named = {row.card for row in intake.taken if row.card} | set(intake.about)
    gone = tuple(ident for ident in scope if ident not in named)
    return Update(tuple(row for row in intake.taken if row.card is None), tuple(changed), same, gone, kept)


def _cell(
    row: TakenRow, card: Card, target: str, schema: Schema, shown: Shown, sets: Mapping[str, str]
) -> tuple[str, str, str, Value | None] | None:
    """(name, before, after, value after) of one cell; None if the card's type has no such field."""
    if target == CODE:
        return "Code", card.code, row.code, row.code
    if target == TYPE:
        return "Type", schema.type(card.type).name, schema.type(row.type).name, row.type
    if target == SET:
        home = row.set or card.set
        return "Set", sets.get(card.set, card.set), sets.get(home, home), home
    field = schema.field_of(row.type, target)
    if field is None or field.retired:
        return None
    value = row.values.get(target)
    old = card.values.get(target)
    if value == old and type(value) is type(old):
        return None
    return field.name, shown(field, old), shown(field, value), value
