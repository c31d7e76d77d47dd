"""Convert the values of a field to another kind of field."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from dramok.core.cards.schema.card import Card, Value
from dramok.core.cards.schema.fields import FieldKind
from dramok.core.cards.schema.schema import Schema
from dramok.core.cards.values.read_write import read_value, shown_value
from dramok.core.effects import Vocabulary


@dataclass(frozen=True)
class Lost:
    """A value that the new kind can't hold: its text, and why."""

    card: str
    text: str
    why: str
    mend: str


@dataclass(frozen=True)
class Conversion:
    """`values`: the new value of each card that keeps one, by card id; `lost`: the values that can't be converted."""

    values: dict[str, Value]
    lost: tuple[Lost, ...]


def convert(
    cards: Iterable[Card],
    old: FieldKind,
    before: Schema,
    new: FieldKind,
    after: Schema,
    vocabulary: Vocabulary,
) -> Conversion:
    """Parse each card's editable text of `old` as a value of `new`. Cards without a value are left out.

    A text that becomes an effect is kept as a draft: it is printed unchanged until it is written in the
    language.
    """
    values: dict[str, Value] = {}
    lost = []
    for card in cards:
        value = card.values.get(old.id)
        if value is None:
            continue
        text = shown_value(old, value, before, vocabulary)
        found, problems = read_value(new, text, after, vocabulary)
        if found is not None:
            values[card.id] = found
        else:
            problem = problems[0] if problems else None
            lost.append(
                Lost(
                    card.id,
                    text,
                    problem.what if problem else "nothing is left of it",
                    problem.mend if problem else "",
                )
            )
    return Conversion(values, tuple(lost))
