"""Card types, fields and choice lists; cards and their values; queries, order and grouping; table files;
generated cards.

A card is a map from field id to value; choice values are ids. A field belongs to a card type or to a type it
extends.
"""

from dramok.core.cards.schema.card import Card, Value
from dramok.core.cards.schema.choice_lists import Choice, ChoiceList
from dramok.core.cards.schema.fields import (
    ChoiceField,
    ChoicesField,
    DerivedField,
    EffectField,
    FieldKind,
    NumberField,
    PictureField,
    TagsField,
    TextField,
    YesNoField,
)
from dramok.core.cards.schema.schema import Back, CardType, Schema
from dramok.core.cards.values.read_write import read_value, shown_value

__all__ = [
    "Back", "Card", "CardType", "Choice", "ChoiceField", "ChoiceList", "ChoicesField", "DerivedField", "EffectField", "FieldKind",
    "NumberField", "PictureField", "Schema", "TagsField", "TextField", "Value", "YesNoField", "read_value", "shown_value",
]  # fmt: skip
