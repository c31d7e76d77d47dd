"""Find and replace text in the fields of cards."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass

from dramok.core.cards.schema.card import Card
from dramok.core.cards.schema.schema import Schema
from dramok.core.cards.values.read_write import shown_value
from dramok.core.effects import Vocabulary


@dataclass(frozen=True)
class Replacement:
    """One field of a card before and after; `count` is the number of matches in it."""

    card: str
    field: str
    before: str
    after: str
    count: int


def replacements(
    cards: Iterable[Card],
    schema: Schema,
    vocabulary: Vocabulary,
    wanted: str,
    instead: str,
    *,
    field: str | None = None,
    same_case: bool = False,
    whole_words: bool = False,
) -> list[Replacement]:
    """Every text, effect and tag that contains `wanted`, with `instead` in its place.

    `field` restricts it to one field.
    """
    if not wanted:
        return []
    pattern = re.escape(wanted)
    if whole_words:
        pattern = rf"(?<!\w){pattern}(?!\w)"
    search = re.compile(pattern, 0 if same_case else re.IGNORECASE)
    found = []
    for card in cards:
        for each in schema.fields_of(card.type):
            if not each.worded or field not in (None, each.id):
                continue
            value = card.values.get(each.id)
            if value is None:
                continue
            before = shown_value(each, value, schema, vocabulary)
            after, count = search.subn(lambda _: instead, before)
            if count and after != before:
                found.append(Replacement(card.id, each.id, before, after, count))
    return found
