"""Cards grouped by two fields, with a cell for every combination; empty cells are gaps."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from dramok.core.cards.schema.card import Card
from dramok.core.cards.schema.fields import Grouping
from dramok.core.cards.schema.schema import Schema


@dataclass(frozen=True)
class Wall:
    """`cells[(across, down)]`: card ids by the groups' values.

    `cut`: the number of cards with values beyond the last group.
    """

    across: tuple[Grouping, ...]
    down: tuple[Grouping, ...]
    cells: Mapping[tuple[str, str], tuple[str, ...]]
    cut: int


class NoGroups(ValueError):
    """The field can't be used for grouping."""


def wall(cards: Iterable[Card], schema: Schema, across: str, down: str) -> Wall:
    """Group cards by two fields (or twice by one). Raises NoGroups for a field without groups."""
    held = [schema.seen(card) for card in cards]
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
    """The ids of groupable fields: whole numbers, choices, yes or no, and the card type."""
    fields = [field.id for field in schema.fields if field.groupable]
    return (*fields, "type")


def group_of(card: Card, schema: Schema, ident: str) -> str:
    """The group of a card, as the typed form of its value."""
    if ident == "type":
        return schema.type(card.type).name
    field, value = schema.field(ident), card.values.get(ident)
    return "" if field is None or value is None else field.group_of(value, schema)


def _groups(cards: list[Card], schema: Schema, ident: str) -> tuple[Grouping, ...]:
    if ident == "type":
        return tuple(Grouping(each.name, each.name) for each in schema.types if not each.abstract)
    field = schema.field(ident)
    values = [card.values.get(ident) for card in cards]
    found = field.groups(values, schema) if field is not None and field.groupable else None
    if field is None or found is None:
        raise NoGroups(ident)
    empty = [Grouping("", f"no {field.name.lower()}")] if None in values else []
    return (*found, *empty)
