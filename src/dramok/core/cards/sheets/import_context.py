"""Data types of an import: the game's data it needs, the user's options, and the outcome for rows and cells."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field

from dramok.core.cards.schema.card import Card, Value
from dramok.core.cards.schema.fields import FieldKind
from dramok.core.cards.schema.schema import Schema
from dramok.core.cards.sheets.column_matching import FileColumn
from dramok.core.effects import Vocabulary
from dramok.core.problem import Problem


@dataclass(frozen=True)
class Refusal:
    """Why one cell makes its row refused.

    `row` counts records from 1 as a spreadsheet does; `near` is a suggested value.
    """

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
class TakenRow:
    """A row that becomes a card, or belongs to an existing one (`card`, its id). `notes` list values that were
    read differently.

    `set` is the id of the existing set that the row names.
    """

    row: int
    code: str
    name: str
    type: str
    values: Mapping[str, Value]
    notes: tuple[str, ...] = ()
    card: str | None = None
    set: str | None = None


@dataclass(frozen=True)
class ImportResult:
    """`rows` = len(taken) + len(skipped) + len(refused). `header` is the header's row number."""

    rows: int
    header: int
    columns: tuple[FileColumn, ...]
    taken: tuple[TakenRow, ...]
    skipped: tuple[Skip, ...]
    refused: tuple[Refusal, ...]
    warnings: tuple[Problem, ...] = ()
    about: frozenset[str] = frozenset()
    """The existing cards that rows belong to, refused rows included."""


@dataclass(frozen=True)
class ImportOptions:
    """The user's options: columns set by hand (column index -> target or None), corrected cells (row, column
    index; "": left empty).

    `header` is the chosen header row; `default_type` the type (id) of rows that name none. With `leave_empty`,
    an unreadable cell is left empty with a note instead of refusing its row.
    """

    columns: Mapping[int, str | None] = field(default_factory=dict)
    corrections: Mapping[tuple[int, int], str] = field(default_factory=dict)
    accept_near: bool = False
    header: int | None = None
    default_type: str | None = None
    leave_empty: bool = False


class NothingMatched(ValueError):
    """No row looks like a header. `problem` says what was searched."""

    def __init__(self, problem: Problem) -> None:
        super().__init__(problem.what)
        self.problem = problem


@dataclass(frozen=True)
class Game:
    """The game's data for an import: schema and names, field roles, existing codes and pictures."""

    schema: Schema
    vocabulary: Vocabulary
    name_field: str
    copies_field: str | None
    printed_field: str | None
    codes: Mapping[str, str]
    names: Mapping[str, str]
    sets: Mapping[str, str] = field(default_factory=dict)
    pictures: Mapping[str, str] = field(default_factory=dict)
    """Set ids by folded name; the SHA-256 of pictures by folded file name."""


@dataclass(frozen=True)
class ExistingCards:
    """The existing cards for an update: by code or name (folded), with the texts of their cells."""

    by_key: Mapping[str, tuple[str, ...]]
    key: str
    cards: Mapping[str, Card]
    shown: Callable[[Card, FieldKind], str]
    printed: Callable[[Card], str]
