"""Card types, fields, choice lists; cards and their values; sheets taken in.

A card is a map from field id to value; choice values are ids. A field belongs to a card type or to a type it extends.
"""

from dramok.core.cards.card import Card, Value
from dramok.core.cards.fields import (
    CardType,
    Choice,
    ChoiceField,
    ChoiceList,
    EffectField,
    FieldKind,
    NumberField,
    Schema,
    TagsField,
    TextField,
)
from dramok.core.cards.values import read_value, shown_value, value_problem

__all__ = [
    "Card", "CardType", "Choice", "ChoiceField", "ChoiceList", "EffectField", "FieldKind", "NumberField",
    "Schema", "TagsField", "TextField", "Value", "read_value", "shown_value", "value_problem",
]  # fmt: skip
