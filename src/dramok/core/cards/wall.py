"""Cards grouped by two fields, with every place that the game has room for: empty ones are gaps."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from dramok.core.cards.card import Card, Value
from dramok.core.cards.fields import ChoiceField, NumberField, Schema, YesNoField

MOST_GROUPS = 60


@dataclass(frozen=True)
class Group:
    """A place along one side: the value in it as a person types it, "" for cards where the field is empty."""

    value: str
    label: str
    colour: str | None = None


@dataclass(frozen=True)
class Wall:
    """`cells[(across, down)]`: card ids by the groups' values. `cut`: how many cards have values beyond the last group."""

    across: tuple[Group, ...]
    down: tuple[Group, ...]
    cells: Mapping[tuple[str, str], tuple[str, ...]]
    cut: int


class NoGroups(ValueError):
    """A field that cards can't be grouped by."""


def wall(cards: Iterable[Card], schema: Schema, across: str, down: str) -> Wall:
    """Groups cards by two fields (or by one twice over). Raises NoGroups for a field that has no groups."""
    held = list(cards)
    sides = [_groups(held, schema, across), _groups(held, schema, down)]
    known = [{group.value for group in side} for side in sides]
    cells: dict[tuple[str, str], list[str]] = {}
    cut = 0
    for card in held:
        place = (group_of(card, schema, across), group_of(card, schema, down))
        if place[0] in known[0] and place[1] in known[1]:
            cells.setdefault(place, []).append(card.id)
        else:
            cut += 1
    return Wall(sides[0], sides[1], {place: tuple(ids) for place, ids in cells.items()}, cut)


def groupable(schema: Schema) -> tuple[str, ...]:
    """The ids of what cards can be grouped by: whole numbers, choices, yes or no, and the card type."""
    fields = [
        field.id
        for field in schema.fields
        if isinstance(field, ChoiceField | YesNoField) or (isinstance(field, NumberField) and field.whole)
    ]
    return (*fields, "type")


def group_of(card: Card, schema: Schema, ident: str) -> str:
    """The group that a card stands in, as a person types its value."""
    if ident == "type":
        return schema.type(card.type).name
    value = card.values.get(ident)
    return _typed(value, schema, ident)


def _typed(value: Value | None, schema: Schema, ident: str) -> str:
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    choices = schema.choices(schema.field(ident))
    choice = choices.get(str(value)) if choices else None
    return choice.name if choice else str(value)


def _groups(cards: list[Card], schema: Schema, ident: str) -> tuple[Group, ...]:
    if ident not in groupable(schema):
        raise NoGroups(ident)
    field = schema.field(ident)
    found: list[Group]
    if ident == "type":
        found = [Group(each.name, each.name) for each in schema.types if not each.abstract]
    elif isinstance(field, NumberField):
        numbers = [number for card in cards if (number := card.number(ident)) is not None]
        low, high = (
            (min(numbers), max(numbers)) if numbers else (field.least, min(field.most, field.least + 6))
        )
        found = [
            Group(str(number), f"{field.name} {number}")
            for number in range(low, min(high, low + MOST_GROUPS - 1) + 1)
        ]
    elif isinstance(field, YesNoField):
        found = [Group("yes", f"{field.name}: yes"), Group("no", f"{field.name}: no")]
    else:
        choices = schema.choices(field)
        assert choices is not None
        found = [Group(value.name, value.name, value.colour) for value in choices.offered[:MOST_GROUPS]]
    if ident != "type" and any(card.values.get(ident) is None for card in cards):
        label = f"no {field.name.lower()}" if field else "none"
        found.append(Group("", label))
    return tuple(found)
