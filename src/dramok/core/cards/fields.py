"""What fields a card has: kinds of field, card types that extend each other, choice lists."""

from __future__ import annotations

from functools import cached_property
from typing import Annotated, Literal

from pydantic import Field, model_validator

from dramok.core.problem import Frozen


class _Named(Frozen):
    id: str = Field(pattern=r"^[a-z][a-z0-9-]*$")
    name: str
    help: str = ""


class NumberField(_Named):
    """A stat: a whole number within bounds."""

    kind: Literal["number"] = "number"
    least: int = 0
    most: int = 99
    symbol: str | None = None


class ChoiceField(_Named):
    kind: Literal["choice"] = "choice"
    list: str


class TagsField(_Named):
    kind: Literal["tags"] = "tags"


class TextField(_Named):
    kind: Literal["text"] = "text"
    long: bool = False
    most: int = 2_000


class EffectField(_Named):
    kind: Literal["effect"] = "effect"


FieldKind = Annotated[
    NumberField | ChoiceField | TagsField | TextField | EffectField, Field(discriminator="kind")
]


class Choice(Frozen):
    """One allowed value. `colour` is #rrggbb; `notches` tells values apart without colour.

    `form` is the way of growth that pictures of this value's cards show.
    """

    id: str
    name: str
    colour: str = "#6b6b60"
    symbol: str | None = None
    notches: int = 0
    form: str = ""


class ChoiceList(Frozen):
    id: str
    name: str
    values: tuple[Choice, ...]

    def get(self, ident: str) -> Choice | None:
        return next((value for value in self.values if value.id == ident), None)

    def position(self, ident: str) -> int:
        """Where a value stands in the list's order; unknown values come last."""
        return next((place for place, value in enumerate(self.values) if value.id == ident), len(self.values))


class CardType(Frozen):
    """`extends` names the type whose fields come first; `stays` says that a played card stays in play.

    `picture` says what is drawn for a card without art.
    """

    id: str
    name: str
    extends: str | None = None
    fields: tuple[FieldKind, ...] = ()
    abstract: bool = False
    stays: bool = True
    picture: Literal["growth", "sky", "tool"] = "growth"


class Schema(Frozen):
    """Every card type and choice list of a game. Refuses circles, unknown parents and a field defined as two kinds."""

    types: tuple[CardType, ...]
    lists: tuple[ChoiceList, ...] = ()

    @cached_property
    def _types(self) -> dict[str, CardType]:
        return {each.id: each for each in self.types}

    @cached_property
    def _lists(self) -> dict[str, ChoiceList]:
        return {each.id: each for each in self.lists}

    @cached_property
    def _fields(self) -> dict[str, tuple[FieldKind, ...]]:
        return {
            each.id: tuple(field for link in self._line(each) for field in link.fields) for each in self.types
        }

    @cached_property
    def fields(self) -> tuple[FieldKind, ...]:
        """Every field of every type, each once, in order of first appearance."""
        return tuple({field.id: field for each in self.types for field in self._fields[each.id]}.values())

    @cached_property
    def _by_id(self) -> dict[str, FieldKind]:
        return {field.id: field for field in self.fields}

    def type(self, ident: str) -> CardType:
        """Raises KeyError for an unknown type."""
        return self._types[ident]

    def has_type(self, ident: str) -> bool:
        return ident in self._types

    def fields_of(self, type_id: str) -> tuple[FieldKind, ...]:
        """A type's fields, the inherited ones first."""
        return self._fields[type_id]

    def field(self, ident: str) -> FieldKind | None:
        return self._by_id.get(ident)

    def has_field(self, type_id: str, ident: str) -> bool:
        return any(field.id == ident for field in self._fields[type_id])

    def list(self, ident: str) -> ChoiceList:
        """Raises KeyError for an unknown list."""
        return self._lists[ident]

    def choices(self, field: FieldKind | None) -> ChoiceList | None:
        """The list behind a choice field; None for any other field."""
        return self._lists.get(field.list) if isinstance(field, ChoiceField) else None

    def _line(self, card_type: CardType) -> tuple[CardType, ...]:
        """From the root of the inheritance to the type itself."""
        line = [card_type]
        while line[0].extends is not None:
            parent = self._types.get(line[0].extends)
            if parent is None:
                raise ValueError(f"card type {line[0].name} extends {line[0].extends}, which does not exist")
            if parent in line:
                raise ValueError(
                    f"card types extend each other in a circle: {', '.join(each.name for each in line)}"
                )
            line.insert(0, parent)
        return tuple(line)

    @model_validator(mode="after")
    def _sound(self) -> Schema:
        seen: dict[str, FieldKind] = {}
        for card_type in self.types:
            for field in self._fields[card_type.id]:
                if seen.setdefault(field.id, field).kind != field.kind:
                    raise ValueError(
                        f"field {field.name} is a {field.kind} here and a {seen[field.id].kind} elsewhere"
                    )
                if isinstance(field, ChoiceField) and field.list not in self._lists:
                    raise ValueError(f"field {field.name} chooses from {field.list}, which does not exist")
        return self
