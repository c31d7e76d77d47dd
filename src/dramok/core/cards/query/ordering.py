"""Sort cards by one or several fields, and keys for grouping."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass

from dramok.core.cards.schema.card import Card, Value
from dramok.core.cards.schema.fields.base import Key
from dramok.core.cards.schema.schema import Schema
from dramok.core.problem import fold

Read = Callable[[Card], "Value | None"]


@dataclass(frozen=True)
class SortBy:
    """`field` is a field id, or code, type, set, verdict, revision."""

    field: str
    down: bool = False


def sorted_cards(
    cards: Iterable[Card], by: Iterable[SortBy], schema: Schema, read: Callable[[str], Read]
) -> list[Card]:
    """Sort by the first field, then the next. Choices sort by their list; empty fields come last in both directions."""
    found = list(cards)
    for each in reversed(list(by)):
        value, order = read(each.field), _order(schema, each.field)
        keyed = [(order(value(card)), card) for card in found]
        filled = [pair for pair in keyed if pair[0] is not None]
        filled.sort(key=lambda pair: pair[0], reverse=each.down)  # type: ignore[arg-type, return-value]
        found = [card for _, card in filled] + [card for key, card in keyed if key is None]
    return found


def _order(schema: Schema, ident: str) -> Callable[[Value | None], Key | None]:
    field = schema.field(ident)
    types = {each.id: place for place, each in enumerate(schema.types)}

    def order(value: Value | None) -> Key | None:
        if value is None:
            return None
        if field is not None:
            return field.order(value, schema)
        if isinstance(value, int | float):
            return (0, float(value), "")
        if ident == "type":
            return (1, float(types.get(str(value), len(types))), "")
        return (2, 0.0, fold(str(value)))

    return order
