"""One value of a list, or several."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import TYPE_CHECKING, Any, ClassVar, Literal

from dramok.core.cards.schema.card import Card, Value
from dramok.core.cards.schema.choice_lists import Choice, ChoiceList
from dramok.core.cards.schema.fields.base import (
    MOST_GROUPS,
    Compared,
    FieldBase,
    Grouping,
    Key,
    Read,
    SchemaLookup,
    mostly,
    parts_of,
)
from dramok.core.cards.schema.fields.tags import LABELS
from dramok.core.problem import Problem, fold, nearest_name

if TYPE_CHECKING:
    from dramok.core.effects import Vocabulary

OFFERED = 12
MOST_CHOICES = 24
_FIGURES: Mapping[str, Any] = {
    "kind": "choice", "width": 22.0, "height": 4.6, "font": "figures", "largest": 2.7, "least": 2.0, "rise": "middle",
}  # fmt: skip


class ChoiceField(FieldBase):
    """One value of a list. `within` names another choice field: each value belongs to one of that field's values."""

    kind: Literal["choice"] = "choice"
    list: str
    within: str | None = None

    compared: ClassVar[Compared] = "choice"
    guesses: ClassVar[tuple[str, ...]] = ("choice",)

    def read(self, text: str, schema: SchemaLookup, vocabulary: Vocabulary, before: Value | None) -> Read:
        found, problem = _called(self, text, schema.list(self.list))
        return (found.id if found else None), ((problem,) if problem else ())

    def holds(self, value: Value) -> bool:
        return isinstance(value, str)

    def misplaced(self, card: Card, schema: SchemaLookup) -> Problem | None:
        if self.within is None:
            return None
        choice = schema.list(self.list).get(card.text(self.id))
        outer = schema.field_of(card.type, self.within)
        if (
            choice is None
            or choice.within is None
            or outer is None
            or choice.within == card.text(self.within)
        ):
            return None
        outer_list = schema.choices(outer)
        home = outer_list.get(choice.within) if outer_list else None
        belongs = home.name if home else choice.within
        return self.wrong(
            f"{choice.name} belongs to {belongs}",
            f"choose another {self.name.lower()}, or make {outer.name.lower()} {belongs}",
        )

    def shown(self, value: Value, schema: SchemaLookup, vocabulary: Vocabulary) -> str:
        return self.group_of(value, schema)

    def said(self, value: Value, schema: SchemaLookup) -> str:
        found = schema.list(self.list).get(str(value))
        return found.name if found else ""

    def order(self, value: Value, schema: SchemaLookup) -> Key:
        return (1, float(schema.list(self.list).position(str(value))), "")

    @property
    def groupable(self) -> bool:
        return True

    def groups(self, values: Sequence[Value | None], schema: SchemaLookup) -> Sequence[Grouping] | None:
        offered = schema.list(self.list).offered[:MOST_GROUPS]
        return [Grouping(each.name, each.name, each.colour) for each in offered]

    def group_of(self, value: Value, schema: SchemaLookup) -> str:
        return _name(schema.list(self.list), str(value))

    def described(self, schema: SchemaLookup) -> dict[str, Any]:
        return {"enum": ["", *(each.name for each in schema.list(self.list).offered)]}

    def sample_value(self, schema: SchemaLookup) -> Value | None:
        offered = schema.list(self.list).offered
        return offered[0].id if offered else None

    @property
    def placement(self) -> Mapping[str, Any]:
        return _FIGURES

    @classmethod
    def guess(cls, values: Sequence[str]) -> bool:
        distinct = {fold(value) for value in values}
        short = mostly(values, lambda value: len(value) <= 30)
        return short and len(distinct) <= MOST_CHOICES and len(values) >= 2 * len(distinct)

    @classmethod
    def guessed(cls, kind: str, values: Sequence[str], list_id: str) -> dict[str, Any]:
        return {"kind": kind, "list": list_id}


class ChoicesField(FieldBase):
    """Several values of a list, in the list's order."""

    kind: Literal["choices"] = "choices"
    list: str

    compared: ClassVar[Compared] = "choices"

    def read(self, text: str, schema: SchemaLookup, vocabulary: Vocabulary, before: Value | None) -> Read:
        choices = schema.list(self.list)
        picked: set[str] = set()
        for part in parts_of(text):
            found, problem = _called(self, part, choices)
            if problem:
                return None, (problem,)
            assert found is not None
            picked.add(found.id)
        return tuple(sorted(picked, key=choices.position)) or None, ()

    def holds(self, value: Value) -> bool:
        return isinstance(value, tuple)

    def shown(self, value: Value, schema: SchemaLookup, vocabulary: Vocabulary) -> str:
        return self.said(value, schema)

    def said(self, value: Value, schema: SchemaLookup) -> str:
        choices = schema.list(self.list)
        return ", ".join(_name(choices, each) for each in value) if isinstance(value, tuple) else ""

    def order(self, value: Value, schema: SchemaLookup) -> Key:
        if not isinstance(value, tuple):
            return (2, 0.0, fold(str(value)))
        return (1, float(schema.list(self.list).position(value[0])), fold(", ".join(value)))

    def described(self, schema: SchemaLookup) -> dict[str, Any]:
        return {"type": "string", "x-list-of": [each.name for each in schema.list(self.list).offered]}

    def sample_value(self, schema: SchemaLookup) -> Value | None:
        return tuple(each.id for each in schema.list(self.list).offered[:2])

    @property
    def placement(self) -> Mapping[str, Any]:
        return LABELS


def _name(choices: ChoiceList, ident: str) -> str:
    choice = choices.get(ident)
    return choice.name if choice else ident


def _called(field: FieldBase, text: str, choices: ChoiceList) -> tuple[Choice | None, Problem | None]:
    found = choices.called(text)
    if found is not None:
        return found, None
    names = [value.name for value in choices.offered]
    near = nearest_name(text, names)
    some = ", ".join(names[:OFFERED]) + (" …" if len(names) > OFFERED else "")
    mend = (
        f"did you mean {near}?"
        if near
        else f"write one of {some}"
        if names
        else f"add values to {choices.name} first"
    )
    return None, field.wrong(
        f"“{text[:40]}” is not among its values", mend, nearest=near, expected=tuple(names[:OFFERED])
    )
