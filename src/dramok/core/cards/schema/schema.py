"""The schema of cards: card types that extend each other, and choice lists."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import replace
from functools import cached_property
from typing import Literal

from pydantic import Field, model_validator

from dramok.core.cards.schema.card import Card
from dramok.core.cards.schema.choice_lists import ChoiceList
from dramok.core.cards.schema.fields import ChoiceField, ChoicesField, DerivedField, FieldKind
from dramok.core.cards.schema.formula import fields_in, parse_formula
from dramok.core.cards.schema.lexer import Unreadable
from dramok.core.cards.schema.picture_packs import Pack
from dramok.core.problem import Frozen

GroundName = Literal["trellis", "furrows", "panes", "diamonds", "dots", "weave", "plain"]
"""The patterns for a back."""


class Back(Frozen):
    """The default back of cards without a picture for it: a title on a pattern."""

    title: str = Field(default="", max_length=60)
    colour: str = Field(default="#24463b", pattern=r"^#[0-9a-fA-F]{6}$")
    ground: GroundName = "trellis"


class CardType(Frozen):
    """A card type. `extends` names the type whose fields come first; `stays`: a played card stays in play.

    `picture` is the pack for cards without art, `hint` the field whose words refine it; `shape` the layout of
    the default face plan (see `faces.plan.starting_plans`). A type without a `back` uses its parent's.
    """

    id: str = Field(pattern=r"^[a-z][a-z0-9-]*$", max_length=60)
    name: str = Field(min_length=1, max_length=60)
    extends: str | None = None
    fields: tuple[FieldKind, ...] = Field(default=(), max_length=200)
    abstract: bool = False
    stays: bool = True
    picture: Pack = "pattern"
    hint: str = Field(default="", max_length=60)
    shape: Literal["portrait", "landscape", "square"] = "portrait"
    back: Back | None = None


class Schema(Frozen):
    """Every card type and choice list of a game. Refuses cycles, unknown parents and a field defined with two kinds."""

    types: tuple[CardType, ...]
    lists: tuple[ChoiceList, ...] = ()

    @cached_property
    def _types(self) -> dict[str, CardType]:
        return {each.id: each for each in self.types}

    @cached_property
    def _lists(self) -> dict[str, ChoiceList]:
        return {each.id: each for each in self.lists}

    @cached_property
    def _every_field(self) -> dict[str, dict[str, FieldKind]]:
        """By type: its fields by id, inherited ones first; a type's own definition replaces its parent's."""
        return {
            each.id: {field.id: field for link in self._line(each) for field in link.fields}
            for each in self.types
        }

    @cached_property
    def _fields(self) -> dict[str, tuple[FieldKind, ...]]:
        return {
            ident: tuple(field for field in fields.values() if not field.retired)
            for ident, fields in self._every_field.items()
        }

    @cached_property
    def _held(self) -> dict[str, frozenset[str]]:
        return {ident: frozenset(field.id for field in fields) for ident, fields in self._fields.items()}

    @cached_property
    def _derived(self) -> dict[str, tuple[DerivedField, ...]]:
        return {
            ident: tuple(field for field in fields if isinstance(field, DerivedField))
            for ident, fields in self._fields.items()
        }

    @cached_property
    def fields(self) -> tuple[FieldKind, ...]:
        """Every field of every type, once, in order of first appearance, without hidden fields."""
        found: dict[str, FieldKind] = {}
        for each in self.types:
            for field in self._fields[each.id]:
                found.setdefault(field.id, field)
        return tuple(found.values())

    @cached_property
    def _by_id(self) -> dict[str, FieldKind]:
        return {field.id: field for field in self.fields}

    @property
    def type_ids(self) -> tuple[str, ...]:
        """The ids of all card types."""
        return tuple(each.id for each in self.types)

    def type(self, ident: str) -> CardType:
        """Raises KeyError for an unknown type."""
        return self._types[ident]

    def has_type(self, ident: str) -> bool:
        return ident in self._types

    def is_a(self, type_id: str, other: str) -> bool:
        """Whether a type is another, or extends it."""
        return any(each.id == other for each in self._line(self._types[type_id]))

    def fields_of(self, type_id: str) -> tuple[FieldKind, ...]:
        """A type's fields, the inherited ones first."""
        return self._fields[type_id]

    def field(self, ident: str | None) -> FieldKind | None:
        """A field by id, as the first type that has it defines it."""
        return self._by_id.get(ident) if ident else None

    def derived_of(self, type_id: str) -> tuple[DerivedField, ...]:
        """A type's derived fields."""
        return self._derived[type_id]

    def field_of(self, type_id: str, ident: str) -> FieldKind | None:
        """A field of a type, hidden or not; None if the type has no such field."""
        return self._every_field[type_id].get(ident)

    def has_field(self, type_id: str, ident: str) -> bool:
        return ident in self._held[type_id]

    def seen(self, card: Card) -> Card:
        """The card with its visible values only: without fields that its type lacks or hides.

        The values stay on the stored card, in case its type changes.
        """
        held = self._held[card.type]
        hidden = [ident for ident in card.values if ident not in held and ident in self._known]
        if not hidden:
            return card
        return replace(card, values={ident: value for ident, value in card.values.items() if ident not in hidden})

    @cached_property
    def _known(self) -> frozenset[str]:
        """The ids of all fields of all types, hidden ones included."""
        return frozenset(ident for fields in self._every_field.values() for ident in fields)

    def has_list(self, ident: str) -> bool:
        return ident in self._lists

    def list(self, ident: str) -> ChoiceList:
        """A choice list. Raises KeyError for an unknown one."""
        return self._lists[ident]

    def choices(self, field: FieldKind | None) -> ChoiceList | None:
        """The choice list of a choice field, single or multiple; None for any other field."""
        return self._lists.get(field.list) if isinstance(field, ChoiceField | ChoicesField) else None

    def back_of(self, type_id: str) -> Back | None:
        """The back of a type, or of the nearest type it extends that has one."""
        return next((each.back for each in reversed(self._line(self._types[type_id])) if each.back), None)

    def heirs(self, type_id: str) -> tuple[CardType, ...]:
        """The types that extend a type, directly or indirectly."""
        return tuple(
            each for each in self.types if each.id != type_id and self._types[type_id] in self._line(each)
        )

    def _line(self, card_type: CardType) -> tuple[CardType, ...]:
        """From the root type to the type itself."""
        line = [card_type]
        while line[0].extends is not None:
            parent = self._types.get(line[0].extends)
            if parent is None:
                raise ValueError(f"card type {line[0].name} extends {line[0].extends}, which does not exist")
            if parent in line:
                names = [each.name for each in reversed(line)]
                raise ValueError(
                    f"card types extend each other in a circle: {' → '.join([*names, names[0]])}"
                )
            line.insert(0, parent)
        return tuple(line)

    @model_validator(mode="after")
    def _sound(self) -> Schema:
        if len(self._types) < len(self.types) or len(self._lists) < len(self.lists):
            raise ValueError("two card types or two choice lists have the same id")
        seen: dict[str, FieldKind] = {}
        for card_type in self.types:
            ids = [field.id for field in card_type.fields]
            if len(set(ids)) < len(ids):
                raise ValueError(f"card type {card_type.name} has a field twice")
            for field in (field for link in self._line(card_type) for field in link.fields):
                if seen.setdefault(field.id, field).kind != field.kind:
                    raise ValueError(
                        f"field {field.name} is of kind {field.kind} here and of kind {seen[field.id].kind} elsewhere"
                    )
                if isinstance(field, ChoiceField | ChoicesField) and field.list not in self._lists:
                    raise ValueError(f"field {field.name} chooses from {field.list}, which does not exist")
            self._depend(card_type)
        _check_formulas(self)
        return self

    def _depend(self, card_type: CardType) -> None:
        """Check a dependent choice: the outer field exists, is a choice, and the dependency has no cycle."""
        fields = self._every_field[card_type.id]
        for field in fields.values():
            walked = [field]
            while isinstance(walked[-1], ChoiceField) and walked[-1].within is not None:
                outer = fields.get(walked[-1].within)
                if not isinstance(outer, ChoiceField):
                    raise ValueError(
                        f"field {walked[-1].name} depends on {walked[-1].within}, which is not a choice field of {card_type.name}"
                    )
                if outer in walked:
                    raise ValueError(
                        f"choices depend on each other in a circle: {' → '.join(each.name for each in [*walked, outer])}"
                    )
                walked.append(outer)


def _check_formulas(schema: Schema) -> None:
    """Raises ValueError for a formula that can't be parsed, names a field that its type lacks, or depends on itself."""
    for card_type in schema.types:
        derived = {field.id: field for field in schema.derived_of(card_type.id)}
        for field in derived.values():
            try:
                read = parse_formula(field.formula)
            except Unreadable as error:
                raise ValueError(f"{field.name}: {error.problem.what}; {error.problem.mend}") from error
            for ident in fields_in(read):
                found = schema.field_of(card_type.id, ident)
                if found is None or found.retired:
                    raise ValueError(
                        f"{field.name} is derived from {found.name if found else ident}, which {card_type.name} has not"
                    )
        _no_circle(derived)


def _no_circle(derived: Mapping[str, DerivedField]) -> None:
    """Depth-first search for a cycle. `walked` is the current path, `sound` the fields already known to lead to none."""
    needs = {
        ident: [each for each in dict.fromkeys(fields_in(parse_formula(field.formula))) if each in derived]
        for ident, field in derived.items()
    }
    sound: set[str] = set()
    for start in derived:
        walked: dict[str, Iterator[str]] = {start: iter(needs[start])} if start not in sound else {}
        while walked:
            at = next(reversed(walked))
            ident = next(walked[at], None)
            if ident is None:
                sound.add(at)
                del walked[at]
            elif ident in walked:
                path = list(walked)
                names = [derived[each].name for each in [*path[path.index(ident) :], ident]]
                raise ValueError(f"derived fields depend on each other in a circle: {' → '.join(names)}")
            elif ident not in sound:
                walked[ident] = iter(needs[ident])
