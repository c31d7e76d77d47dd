"""The interface of a kind of field, so that no other module depends on a specific kind."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, ClassVar, Literal, Protocol

from pydantic import Field

from dramok.core.cards.schema.card import Card, Value
from dramok.core.cards.schema.choice_lists import ChoiceList
from dramok.core.problem import Frozen, Problem, fold

if TYPE_CHECKING:
    from dramok.core.effects import Vocabulary

Read = tuple[Value | None, tuple[Problem, ...]]
Key = tuple[int, float, str]
Compared = Literal["number", "choice", "choices", "yesno", "text", "effect", "ordered"]
"""How a query compares: numbers, list values, yes or no, words, or the order that the field defines."""
MOST_GROUPS = 60


@dataclass(frozen=True)
class Grouping:
    """A group along one side of the wall: its value in typed form, "" for cards with an empty field."""

    value: str
    label: str
    colour: str | None = None


@dataclass(frozen=True)
class Guess:
    """A guessed kind for a column: `kind` as the import names it, and further keys of the field document."""

    kind: str
    document: Mapping[str, Any]


class SchemaLookup(Protocol):
    """The lookups that fields need; `schema.Schema` implements it."""

    @property
    def type_ids(self) -> tuple[str, ...]:
        """The ids of all card types."""

    def has_field(self, type_id: str, ident: str) -> bool:
        """Whether a card type has a field."""

    def field_of(self, type_id: str, ident: str) -> FieldBase | None:
        """A field of a card type."""

    def list(self, ident: str) -> ChoiceList:
        """A choice list."""

    def choices(self, field: Any) -> ChoiceList | None:
        """The choice list of a field, if it has one."""


class FieldBase(Frozen):
    """Common keys of all kinds of field.

    `default` is the typed value for a new card; `required`: a card without it is unfinished; `hide_empty`: the
    card pane hides it while it is empty; `retired`: the field is hidden and its values stay on the cards.
    """

    id: str = Field(pattern=r"^[a-z][a-z0-9-]*$", max_length=60)
    name: str = Field(min_length=1, max_length=60)
    help: str = Field(default="", max_length=500)
    required: bool = False
    hide_empty: bool = False
    default: str = Field(default="", max_length=2_000)
    retired: bool = False

    compared: ClassVar[Compared]
    guesses: ClassVar[tuple[str, ...]] = ()
    """The kinds that the import can create for a column, including this one."""
    typed: ClassVar[bool] = True
    """Whether users type its values; others are computed."""
    worded: ClassVar[bool] = False
    """Whether it contains words for find and replace."""
    searched: ClassVar[bool] = True
    """Whether the text index includes its values."""

    @abstractmethod
    def read(self, text: str, schema: SchemaLookup, vocabulary: Vocabulary, before: Value | None) -> Read:
        """Parse typed text (tidied, never empty). Returns a value whenever the card can keep one."""

    @abstractmethod
    def holds(self, value: Value) -> bool:
        """Whether a value has the form of this kind."""

    @abstractmethod
    def described(self, schema: SchemaLookup) -> dict[str, Any]:
        """JSON Schema of the typed text."""

    @abstractmethod
    def sample_value(self, schema: SchemaLookup) -> Value | None:
        """A value for a sample card."""

    @property
    @abstractmethod
    def placement(self) -> Mapping[str, Any]:
        """The document of a new placement for it on a face."""

    def tidied(self, typed: str) -> str:
        """The typed text without extra blanks."""
        return " ".join(typed.split())

    def empty(self, vocabulary: Vocabulary, typed: str, before: Value | None) -> Read:
        """The result for empty input."""
        return None, ()

    def shown(self, value: Value, schema: SchemaLookup, vocabulary: Vocabulary) -> str:
        """The editable text of a value; parsing it returns the same value."""
        return str(value)

    def said(self, value: Value, schema: SchemaLookup) -> str:
        """The text of a value on a face."""
        return str(value)

    def order(self, value: Value, schema: SchemaLookup) -> Key:
        """The sort key of a value."""
        return (2, 0.0, fold(str(value)))

    def groups(self, values: Sequence[Value | None], schema: SchemaLookup) -> Sequence[Grouping] | None:
        """All groups of this field; None if it can't be grouped."""
        return None

    def group_of(self, value: Value, schema: SchemaLookup) -> str:
        """The group of a value."""
        return str(value)

    @property
    def groupable(self) -> bool:
        return False

    def in_json(self, text: str) -> Any:
        """The editable text (never empty) as a JSON value: numbers and booleans in their own form."""
        return text

    def problem(self, value: Value) -> Problem | None:
        """Why a value of the right form is refused."""
        return None

    def misplaced(self, card: Card, schema: SchemaLookup) -> Problem | None:
        """Why a value does not fit the card's other values."""
        return None

    @classmethod
    def guess(cls, values: Sequence[str]) -> bool:
        """Whether this kind fits a column of these texts (none empty) best."""
        return False

    @classmethod
    def guessed(cls, kind: str, values: Sequence[str], list_id: str) -> dict[str, Any]:
        """Further keys of the document of a field created for a column; `kind` is one of `guesses`."""
        return {"kind": kind}

    def wrong(self, what: str, mend: str, **more: Any) -> Problem:
        return Problem(where=self.name, what=what, mend=mend, **more)

    def refused(self, what: str, mend: str, **more: Any) -> Read:
        return None, (self.wrong(what, mend, **more),)


def mostly(values: Sequence[str], fits: Callable[[str], object]) -> bool:
    """Whether at least nine tenths of the values fit: the kind of a column follows the majority, and the rest
    are exceptions.
    """
    return 10 * sum(1 for value in values if fits(value)) >= 9 * len(values)


def parts_of(text: str) -> Iterable[str]:
    """The items of a text separated by commas, semicolons or bars; none is empty."""
    return (part for each in text.replace(";", ",").replace("|", ",").split(",") if (part := each.strip()))
