"""Cards in order of one or several fields, and their keys for grouping."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass

from dramok.core.cards.card import Card, Value
from dramok.core.cards.fields import Schema
from dramok.core.effects import Script
from dramok.core.problem import fold

Read = Callable[[Card], "Value | None"]
Key = tuple[int, float, str]


@dataclass(frozen=True)
class SortBy:
    """`field` is a field id, or code, type, set, verdict, revision."""

    field: str
    down: bool = False


def sorted_cards(
    cards: Iterable[Card], by: Iterable[SortBy], schema: Schema, read: Callable[[str], Read]
) -> list[Card]:
    """Sorted by the first field, then the next. Choices go by their list's order; empty fields come last either way."""
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
    choices = schema.choices(field)
    types = {each.id: place for place, each in enumerate(schema.types)}

    def order(value: Value | None) -> Key | None:
        if value is None:
            return None
        if isinstance(value, int | float):
            return (0, float(value), "")
        if isinstance(value, Script):
            return (1, float(len(value.lines)), "")
        if isinstance(value, tuple):
            return (1, float(choices.position(value[0])) if choices else 0.0, fold(", ".join(value)))
        if ident == "type":
            return (1, float(types.get(value, len(types))), "")
        return (1, float(choices.position(value)), "") if choices else (2, 0.0, fold(value))

    return order
