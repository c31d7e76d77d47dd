"""What every kind of field says of itself: all that the rooms ask of one, so that no room knows the kinds by name."""

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
"""How a query compares: with numbers, with a list's values, yes or no, by words, or by what the field itself reads and orders."""
MOST_GROUPS = 60


@dataclass(frozen=True)
class Grouping:
    """A place along one side of the wall: the value in it as a person types it, "" for cards where the field is empty."""

    value: str
    label: str
    colour: str | None = None


@dataclass(frozen=True)
class Guess:
    """What a column of a sheet may become: `kind` as the import calls it, and what the new field's document has besides."""

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
    """What every kind of field has.

    `default` is what is typed into a new card; `required` makes a card without it unfinished; `hide_empty` leaves it
    off the card's pane while it is empty; `retired` puts the field away: its values stay on the cards, unseen.
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
    """The kinds of field that the import makes for a column, where this is one of them."""
    typed: ClassVar[bool] = True
    """Whether a person types its values; the others are computed."""
    worded: ClassVar[bool] = False
    """Whether it holds words that one looks for and replaces."""
    searched: ClassVar[bool] = True
    """Whether its values are found by their words."""

    @abstractmethod
    def read(self, text: str, schema: SchemaLookup, vocabulary: Vocabulary, before: Value | None) -> Read:
        """Reads what was typed (tidied, never empty). A value comes back whenever the card can keep one."""

    @abstractmethod
    def holds(self, value: Value) -> bool:
        """Whether a value is of the form that this kind has."""

    @abstractmethod
    def described(self, schema: SchemaLookup) -> dict[str, Any]:
        """JSON Schema of the text that one types."""

    @abstractmethod
    def invented(self, schema: SchemaLookup) -> Value | None:
        """A value for a card that nobody wrote."""

    @property
    @abstractmethod
    def placement(self) -> Mapping[str, Any]:
        """The document of its placement on a face, as it first comes there."""

    def tidied(self, typed: str) -> str:
        """What was typed without stray blanks."""
        return " ".join(typed.split())

    def empty(self, vocabulary: Vocabulary, typed: str, before: Value | None) -> Read:
        """What it is to have nothing typed."""
        return None, ()

    def shown(self, value: Value, schema: SchemaLookup, vocabulary: Vocabulary) -> str:
        """The text that a person edits for a value; reading it gives the value again."""
        return str(value)

    def said(self, value: Value, schema: SchemaLookup) -> str:
        """The value as a face shows it."""
        return str(value)

    def order(self, value: Value, schema: SchemaLookup) -> Key:
        """Where a value stands among others when cards are sorted."""
        return (2, 0.0, fold(str(value)))

    def groups(self, values: Sequence[Value | None], schema: SchemaLookup) -> Sequence[Grouping] | None:
        """Every place that cards are grouped into by this field; None where they can't be."""
        return None

    def group_of(self, value: Value, schema: SchemaLookup) -> str:
        """The value of the group that a card with this value stands in."""
        return str(value)

    @property
    def groupable(self) -> bool:
        return False

    def in_json(self, text: str) -> Any:
        """A shown text (never empty) as JSON gives it: numbers and yes or no in their own form."""
        return text

    def problem(self, value: Value) -> Problem | None:
        """Why a value already in its form is refused."""
        return None

    def misplaced(self, card: Card, schema: SchemaLookup) -> Problem | None:
        """Why a value does not go with the card's others."""
        return None

    @classmethod
    def guess(cls, values: Sequence[str]) -> bool:
        """Whether a column of these texts (none empty) is best held by this kind."""
        return False

    @classmethod
    def guessed(cls, kind: str, values: Sequence[str], list_id: str) -> dict[str, Any]:
        """What the document of a field made for a column has besides its name; `kind` is one of `guesses`."""
        return {"kind": kind}

    def wrong(self, what: str, mend: str, **more: Any) -> Problem:
        return Problem(where=self.name, what=what, mend=mend, **more)

    def refused(self, what: str, mend: str, **more: Any) -> Read:
        return None, (self.wrong(what, mend, **more),)


def mostly(values: Sequence[str], fits: Callable[[str], object]) -> bool:
    """Whether at least nine tenths of the values fit: a column is what the bulk of its cells is, and the others are exceptions."""
    return 10 * sum(1 for value in values if fits(value)) >= 9 * len(values)


def parts_of(text: str) -> Iterable[str]:
    """The pieces of a text that names several, with commas, semicolons or bars between; none is empty."""
    return (part for each in text.replace(";", ",").replace("|", ",").split(",") if (part := each.strip()))
