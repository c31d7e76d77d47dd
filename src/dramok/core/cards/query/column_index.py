"""The cards of a game as columns for queries and sorting, built once per game state and field."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from functools import cached_property

from dramok.core.cards.schema.card import Card, Value
from dramok.core.cards.schema.schema import Schema
from dramok.core.cards.values.derived import derived_values
from dramok.core.effects import Script
from dramok.core.problem import fold


class CardIndex:
    """`cards` in order; columns are built on first access. Immutable: an edit creates a new index."""

    def __init__(self, cards: Sequence[Card], schema: Schema) -> None:
        self.cards = cards
        self.schema = schema
        self._columns: dict[str, list[Value | None]] = {}
        self._folded: dict[str, list[tuple[str, ...]]] = {}
        self._derived: dict[str, Mapping[str, Value]] = {}

    @cached_property
    def place(self) -> Mapping[str, int]:
        """The row of each card by its id."""
        return {card.id: row for row, card in enumerate(self.cards)}

    def column(self, ident: str) -> Sequence[Value | None]:
        """The values of a field, or of code, type, set or revision, row by row."""
        known = self._columns.get(ident)
        if known is None:
            known = self._columns[ident] = [self.value(card, ident) for card in self.cards]
        return known

    def folded(self, ident: str) -> Sequence[tuple[str, ...]]:
        """The texts of a field in folded form, row by row: none, one, or several."""
        known = self._folded.get(ident)
        if known is None:
            known = self._folded[ident] = [_folded(value) for value in self.column(ident)]
        return known

    def value(self, card: Card, ident: str) -> Value | None:
        """A card's value, stored or derived."""
        if ident in ("code", "type", "set", "revision"):
            found: Value = getattr(card, ident)
            return found
        field = self.schema.field(ident)
        if field is not None and not field.typed:
            return self.derived(card).get(ident)
        return card.values.get(ident) if self.schema.has_field(card.type, ident) else None

    def derived(self, card: Card) -> Mapping[str, Value]:
        known = self._derived.get(card.id)
        if known is None:
            known = self._derived[card.id] = derived_values(card, self.schema)[0]
        return known

    def rows(self, ids: Iterable[str]) -> set[int]:
        """The rows of the given cards that exist."""
        place = self.place
        return {place[ident] for ident in ids if ident in place}

    def edited(self, cards: Sequence[Card], changed: Iterable[str]) -> CardIndex:
        """The index after some cards changed, in the same order: columns are copied except for those rows.

        Other threads may add columns to the old index meanwhile: only those present now are copied.
        """
        after = CardIndex(cards, self.schema)
        after.__dict__["place"] = self.place
        gone = set(changed)
        after._derived = {ident: values for ident, values in self._derived.copy().items() if ident not in gone}
        for ident, column in self._columns.copy().items():
            carried = list(column)
            for card in gone:
                row = self.place[card]
                carried[row] = after.value(cards[row], ident)
            after._columns[ident] = carried
        for ident, folded in self._folded.copy().items():
            again = list(folded)
            for card in gone:
                row = self.place[card]
                again[row] = _folded(after.value(cards[row], ident))
            after._folded[ident] = again
        return after


def _folded(value: Value | None) -> tuple[str, ...]:
    if isinstance(value, tuple):
        return tuple([fold(each) for each in value])
    return () if value is None or isinstance(value, Script) else (fold(str(value)),)
