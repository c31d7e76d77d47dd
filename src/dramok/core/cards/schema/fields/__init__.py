"""The kinds of field of a card type, one module each.

A new kind needs its module here, its entry in `FieldKind` and `KINDS`, and its editor in `web/src/fieldkinds`.
"""

from typing import Annotated, get_args

from pydantic import Field

from dramok.core.cards.schema.fields.base import FieldBase, Grouping, Read
from dramok.core.cards.schema.fields.choices import ChoiceField, ChoicesField
from dramok.core.cards.schema.fields.date import DateField
from dramok.core.cards.schema.fields.derived import DerivedField
from dramok.core.cards.schema.fields.effect import EffectField
from dramok.core.cards.schema.fields.number import NumberField
from dramok.core.cards.schema.fields.picture import PictureField, is_imported
from dramok.core.cards.schema.fields.tags import TagsField
from dramok.core.cards.schema.fields.text import TextField
from dramok.core.cards.schema.fields.yesno import YesNoField

AnyField = (
    NumberField
    | PictureField
    | YesNoField
    | DateField
    | ChoiceField
    | ChoicesField
    | TagsField
    | EffectField
    | DerivedField
    | TextField
)
FieldKind = Annotated[AnyField, Field(discriminator="kind")]
KINDS: tuple[type[FieldBase], ...] = get_args(AnyField)
"""Every kind, in the order in which they are tried for a column of a table file."""

__all__ = [
    "KINDS", "ChoiceField", "ChoicesField", "DateField", "DerivedField", "EffectField", "FieldBase", "FieldKind", "Grouping", "NumberField", "PictureField",
    "Read", "TagsField", "TextField", "YesNoField", "is_imported",
]  # fmt: skip
