"""What is known of a game beside a sheet, what one wishes of it, and what becomes of its rows and cells."""

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
    """A row that becomes a card, or is about a card that is there (`card`, its id). `notes` say what was read otherwise than it stands.

    `set` is the id of the set it names, where it names one that is there.
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
class Intake:
    """`rows` = len(taken) + len(skipped) + len(refused). `header` is the header's row number."""

    rows: int
    header: int
    columns: tuple[FileColumn, ...]
    taken: tuple[Taken, ...]
    skipped: tuple[Skip, ...]
    refused: tuple[Refusal, ...]
    warnings: tuple[Problem, ...] = ()
    about: frozenset[str] = frozenset()
    """The cards that are there and that rows are about, refused rows too."""


@dataclass(frozen=True)
class Wishes:
    """What the person chose: columns set by hand (column index -> target or None), cells corrected (row, column index; "": left empty).

    `header` is the header's row number where it was chosen; `default_type` the type (id) of rows that name none. With `leave_empty` a cell that
    can't be read is left empty, with a note, where its row would otherwise be refused.
    """

    columns: Mapping[int, str | None] = field(default_factory=dict)
    corrections: Mapping[tuple[int, int], str] = field(default_factory=dict)
    accept_near: bool = False
    header: int | None = None
    default_type: str | None = None
    leave_empty: bool = False


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
    sets: Mapping[str, str] = field(default_factory=dict)
    pictures: Mapping[str, str] = field(default_factory=dict)
    """Set ids by folded name; the SHA-256 of the game's pictures by folded file name."""


@dataclass(frozen=True)
class Held:
    """The cards that rows are about when a sheet updates them: by code or name (folded), and what their cells show."""

    by_key: Mapping[str, tuple[str, ...]]
    key: str
    cards: Mapping[str, Card]
    shown: Callable[[Card, FieldKind], str]
    printed: Callable[[Card], str]
