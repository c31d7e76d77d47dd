"""A sheet taken in: which row is the header, which column feeds which field, what becomes of every row.

Every record beside the header ends as exactly one of taken, skipped, refused.
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from dramok.core.cards.card import Value
from dramok.core.cards.columns import CODE, TYPE, Column, Target, find_header, match_columns
from dramok.core.cards.fields import EffectField, FieldKind, Schema
from dramok.core.cards.values import read_value
from dramok.core.effects import Vocabulary
from dramok.core.problem import Problem, fold, nearest_name

TOTALS = {"total", "totals", "sum", "subtotal", "grand total"}
_TIMES = re.compile(r"\s*[x×]\s*(\d+)\s*|\s*(\d+)\s*[x×]\s*", re.IGNORECASE)
_WRITTEN = re.compile(r"\s*(upon|always)\b", re.IGNORECASE)


@dataclass(frozen=True)
class Refusal:
    """Why one cell keeps its row out. `row` counts records from 1 as a spreadsheet does; `near` is a value offered."""

    row: int
    column: str
    value: str
    why: str
    mend: str
    near: str | None = None
    others: tuple[str, ...] = ()


@dataclass(frozen=True)
class Skip:
    row: int
    column: str
    value: str
    why: str


@dataclass(frozen=True)
class Taken:
    """A row that becomes a card. `notes` say what was read otherwise than it stands."""

    row: int
    code: str
    name: str
    type: str
    values: Mapping[str, Value]
    notes: tuple[str, ...] = ()


@dataclass(frozen=True)
class Intake:
    """`rows` = len(taken) + len(skipped) + len(refused). `header` is the header's row number."""

    rows: int
    header: int
    columns: tuple[Column, ...]
    taken: tuple[Taken, ...]
    skipped: tuple[Skip, ...]
    refused: tuple[Refusal, ...]
    warnings: tuple[Problem, ...] = ()


@dataclass(frozen=True)
class Wishes:
    """What the person chose: columns set by hand (column index -> target or None), cells corrected (row, column index)."""

    columns: Mapping[int, str | None] = field(default_factory=dict)
    corrections: Mapping[tuple[int, int], str] = field(default_factory=dict)
    accept_near: bool = False


class NothingMatched(ValueError):
    """No row looks like a header. `problem` says what was looked for."""

    def __init__(self, problem: Problem) -> None:
        super().__init__(problem.what)
        self.problem = problem


@dataclass(frozen=True)
class Game:
    """What intake has to know of the game: its schema and names, the roles of fields, what is already there."""

    schema: Schema
    vocabulary: Vocabulary
    name_field: str
    copies_field: str | None
    printed_field: str | None
    codes: Mapping[str, str]
    names: Mapping[str, str]


def take_in(rows: Sequence[Sequence[str]], game: Game, code_prefix: str, wishes: Wishes = Wishes()) -> Intake:
    """Plans the whole intake; nothing is written. Raises NothingMatched when no header is found."""
    header = find_header(rows, game.schema)
    if header is None:
        looked = ", ".join(target.name for target in Target.all_of(game.schema))
        first = " / ".join(" | ".join(cell for cell in row if cell)[:80] for row in rows[:3])
        raise NothingMatched(
            Problem(
                where="header",
                what=f"no line looks like a header; the first lines are: {first or 'blank'}",
                mend=f"name the columns after the fields: {looked}",
            )
        )
    columns = match_columns(rows[header], game.schema, wishes.columns)
    reader = _RowReader(game, columns, code_prefix, wishes)
    for index, row in enumerate(rows):
        if index != header:
            reader.read(index, row, above=index < header, header=rows[header])
    return Intake(
        len(rows) - 1,
        header + 1,
        columns,
        tuple(reader.taken),
        tuple(reader.skipped),
        tuple(reader.refused),
        _alike(columns),
    )


def _alike(columns: Sequence[Column]) -> tuple[Problem, ...]:
    by_heading: dict[str, list[Column]] = {}
    for column in columns:
        if column.heading.strip():
            by_heading.setdefault(fold(column.heading), []).append(column)
    return tuple(
        Problem(
            where=same[0].heading.strip(),
            what=f"{len(same)} columns are called “{same[0].heading.strip()[:40]}”; only column {_letter(used.index)} is taken",
            mend="choose another column for the field if that is the wrong one",
        )
        for same in by_heading.values()
        if len(same) > 1
        for used in [next((column for column in same if column.target), same[0])]
    )


def _letter(index: int) -> str:
    letters = ""
    index += 1
    while index:
        index, rest = divmod(index - 1, 26)
        letters = chr(65 + rest) + letters
    return letters


Memory = dict[str, tuple[Value | None, Problem | None]]


class _RowReader:
    """Reads one row after another; what was read before is remembered, so that equal cells cost nothing."""

    def __init__(self, game: Game, columns: Sequence[Column], code_prefix: str, wishes: Wishes) -> None:
        self.game = game
        self.wishes = wishes
        self.taken: list[Taken] = []
        self.skipped: list[Skip] = []
        self.refused: list[Refusal] = []
        self.columns = [column for column in columns if column.target]
        self.at = {column.target: column for column in self.columns}
        self.types = {fold(each.name): each.id for each in game.schema.types if not each.abstract}
        self.default_type = next(iter(self.types.values()))
        self.fields = {kind: {f.id: f for f in game.schema.fields_of(kind)} for kind in self.types.values()}
        self.names = dict(game.names)
        self.codes = dict(game.codes)
        self.prefix, self.number = code_prefix, 0
        self.effect_fields = {
            f.id for fields in self.fields.values() for f in fields.values() if isinstance(f, EffectField)
        }
        self.value_columns = [
            (column, column.index, column.target or "", Memory())
            for column in self.columns
            if column.target not in (TYPE, CODE)
        ]

    def read(self, index: int, row: Sequence[str], above: bool, header: Sequence[str]) -> None:
        why = self._skip_reason(row, above, header)
        if why is not None:
            first = next(((place, cell) for place, cell in enumerate(row) if cell.strip()), (0, ""))
            heading = header[first[0]].strip() if first[0] < len(header) and first[1] else ""
            self.skipped.append(Skip(index + 1, heading, first[1].strip()[:80], why))
            return
        self._card(index + 1, row)

    def _skip_reason(self, row: Sequence[str], above: bool, header: Sequence[str]) -> str | None:
        filled = [cell for cell in row if cell and not cell.isspace()]
        if not filled:
            return "a blank line"
        if above:
            return "a title above the header"
        if len(filled) <= 3 and any(fold(cell).rstrip(":") in TOTALS for cell in filled):
            return "a total, not a card"
        if (
            row[0][:1] in header[0]
            and len(filled) > 1
            and [fold(cell) for cell in row] == [fold(cell) for cell in header]
        ):
            return "the header again"
        return None

    def _card(self, row_number: int, row: Sequence[str]) -> None:
        notes: list[str] = []
        refusals: list[Refusal] = []
        kind = self._type(row_number, row, refusals, notes)
        fields = self.fields[kind]
        values: dict[str, Value] = {}
        for column, index, target, memory in self.value_columns:
            cell = (
                row[index]
                if index < len(row) and not self.wishes.corrections
                else self._cell(row_number, column, row)
            )
            if not cell or cell.isspace():
                continue
            found = fields.get(target)
            if found is None:
                notes.append(
                    f"{self.game.schema.type(kind).name} has no {column.name}: “{cell.strip()[:30]}” is left out"
                )
            elif target in self.effect_fields:
                self._text(found, cell.strip(), memory, values, notes)
            else:
                known = memory.get(cell) or self._read(found, cell.strip(), memory, cell)
                value = (
                    known[0]
                    if known[1] is None
                    else self._near(
                        row_number, column, found, cell.strip(), memory, known[1], refusals, notes
                    )
                )
                if value is not None:
                    values[target] = value
        code = self._code(row_number, row, refusals)
        if refusals:
            first, rest = refusals[0], refusals[1:]
            others = tuple(f"{each.column}: {each.why}" for each in rest)
            self.refused.append(
                Refusal(first.row, first.column, first.value, first.why, first.mend, first.near, others)
            )
            return
        self._take(row_number, code, kind, values, notes)

    def _take(
        self, row_number: int, code: str, kind: str, values: dict[str, Value], notes: list[str]
    ) -> None:
        name = str(values.get(self.game.name_field, ""))
        code = code or self._next_code()
        key = fold(name)
        if not name:
            notes.append(f"no name: its code {code} stands in")
        elif key in self.names:
            notes.append(f"a second card called {name}: the first is {self.names[key]}")
        else:
            self.names[key] = code
        self.codes[fold(code)] = name or code
        self.taken.append(Taken(row_number, code, name, kind, values, tuple(notes)))

    def _cell(self, row_number: int, column: Column, row: Sequence[str]) -> str:
        corrected = self.wishes.corrections.get((row_number, column.index))
        if corrected is not None:
            return corrected.strip()
        return row[column.index].strip() if column.index < len(row) else ""

    def _type(self, row_number: int, row: Sequence[str], refusals: list[Refusal], notes: list[str]) -> str:
        column = self.at.get(TYPE)
        cell = self._cell(row_number, column, row) if column else ""
        if column is None or not cell:
            if column is not None:
                notes.append(f"no type: taken as {self.game.schema.type(self.default_type).name}")
            return self.default_type
        found = self.types.get(fold(cell))
        if found is not None:
            return found
        names = [each.name for each in self.game.schema.types if not each.abstract]
        near = nearest_name(cell, names)
        if near and self.wishes.accept_near:
            notes.append(f"{column.name} “{cell}” is read as {near}")
            return self.types[fold(near)]
        mend = f"did you mean {near}?" if near else f"write one of {', '.join(names)}"
        refusals.append(
            Refusal(
                row_number, column.heading.strip(), cell[:80], "the game has no such card type", mend, near
            )
        )
        return self.default_type

    def _near(
        self,
        row_number: int,
        column: Column,
        found: FieldKind,
        cell: str,
        memory: Memory,
        problem: Problem,
        refusals: list[Refusal],
        notes: list[str],
    ) -> Value | None:
        """What stands for a cell that can't be read: the near value where that is wished, else a refusal."""
        if problem.nearest and self.wishes.accept_near:
            notes.append(f"{column.name} “{cell}” is read as {problem.nearest}")
            return self._read(found, problem.nearest, memory, problem.nearest)[0]
        refusals.append(
            Refusal(
                row_number, column.heading.strip(), cell[:80], problem.what, problem.mend, problem.nearest
            )
        )
        return None

    def _read(
        self, found: FieldKind, text: str, memory: Memory, cell: str
    ) -> tuple[Value | None, Problem | None]:
        """Reads a cell and remembers it, so that equal cells of a column cost nothing."""
        times = _TIMES.fullmatch(text) if found.id == self.game.copies_field else None
        typed = (times.group(1) or times.group(2)) if times else text
        value, problems = read_value(found, typed, self.game.schema, self.game.vocabulary)
        memory[cell] = (value, problems[0] if problems else None)
        return memory[cell]

    def _text(
        self, found: FieldKind, text: str, memory: Memory, values: dict[str, Value], notes: list[str]
    ) -> None:
        """Effect lines where the text is in the effect language, else the card's printed text."""
        if _WRITTEN.match(text):
            value, problem = memory.get(text) or self._read(found, text, memory, text)
            if value is not None and problem is None:
                values[found.id] = value
                return
        if self.game.printed_field is not None:
            values.setdefault(self.game.printed_field, text[:2000])
        notes.append("behaviour not written: its text is printed as it stands")

    def _code(self, row_number: int, row: Sequence[str], refusals: list[Refusal]) -> str:
        column = self.at.get(CODE)
        code = " ".join(self._cell(row_number, column, row).split()) if column else ""
        if column is None or not code:
            return ""
        holder = self.codes.get(fold(code))
        if holder is not None:
            refusals.append(
                Refusal(
                    row_number,
                    column.heading.strip(),
                    code[:80],
                    f"this code is taken by {holder}",
                    "give it a code of its own",
                )
            )
        elif len(code) > 40:
            refusals.append(
                Refusal(
                    row_number,
                    column.heading.strip(),
                    code[:80],
                    "a code of over 40 characters",
                    "shorten it",
                )
            )
        return code

    def _next_code(self) -> str:
        while True:
            self.number += 1
            code = f"{self.prefix}-{self.number:03}"
            if fold(code) not in self.codes:
                return code
