"""Conditions of placements: queries about the card itself."""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping, Sequence

from dramok.core.cards import Card, Schema, Value
from dramok.core.cards.query.column_index import CardIndex
from dramok.core.cards.query.query import read_query
from dramok.core.cards.query.query_names import Names
from dramok.core.cards.query.query_source import Standing
from dramok.core.cards.schema.lexer import Unreadable
from dramok.core.problem import fold

Condition = Callable[[Card], bool]


def read_condition(text: str, schema: Schema, name_field: str, sets: Mapping[str, str]) -> Condition:
    """Parse a condition such as `rarity is Prize` or `cost >= 4`.

    Raises Unreadable, also for conditions that need data outside the card: verdicts, decks, notes.
    """
    query = read_query(text, Names(schema, {}, sets, name_field))
    if query.judged:
        raise Unreadable(
            "condition",
            "this can't be used here: it depends on the face",
            "ask for the card's own fields",
            0,
            len(text),
        )

    if query.around:
        raise Unreadable(
            "condition",
            f"{query.around} can't be checked for a single card",
            "ask for the card's own fields",
            0,
            len(text),
        )
    return lambda card: bool(query.make(_OneCard(card, schema)))


class _OneCard:
    """Implements `query_source.Facts` for a single card."""

    def __init__(self, card: Card, schema: Schema) -> None:
        self.index = CardIndex((card,), schema)

    @property
    def cards(self) -> Sequence[Card]:
        return self.index.cards

    def column(self, field: str) -> Sequence[Value | None]:
        return self.index.column(field)

    def folded(self, field: str) -> Sequence[tuple[str, ...]]:
        return self.index.folded(field)

    def standings(self) -> Sequence[Standing | None]:
        return (None,)

    def holding(self, text: str) -> Collection[int]:
        texts = (each for field in self.index.schema.fields for each in self.folded(field.id)[0])
        wanted = fold(text)
        return (0,) if any(wanted in each for each in texts) else ()

    def in_deck(self, deck: str) -> Collection[int]:
        return ()

    def noted(self, states: Collection[str]) -> Collection[int]:
        return ()

    def changed_since(self, element: str) -> Collection[int]:
        return ()

    def printed(self, run: str | None) -> Collection[int]:
        return ()

    def on_paper(self, run: str | None) -> Mapping[int, str]:
        return {}
