"""The names a rulebook knows, for the effect language."""

from __future__ import annotations

from collections.abc import Iterable

from dramok.core.cards import ChoiceField, NumberField
from dramok.core.effects.vocabulary import CHOICE, RESOURCE, STAT, TAG, TYPE, value_of
from dramok.core.problem import fold
from dramok.core.rulebook.rulebook import Rulebook


class GameVocabulary:
    """Implements `effects.Vocabulary`. `tags` are the tags in use beside those the rulebook declares."""

    def __init__(self, rulebook: Rulebook, tags: Iterable[str] = ()) -> None:
        schema = rulebook.cards
        self._names: dict[str, dict[str, str]] = {
            TYPE: {each.id: each.name for each in schema.types if not each.abstract},
            STAT: {
                field.id: field.name
                for field in schema.fields
                if isinstance(field, NumberField) and field.whole
            },
            RESOURCE: {each.id: each.name for each in rulebook.resources},
            CHOICE: {field.id: field.name for field in schema.fields if isinstance(field, ChoiceField)},
            TAG: {fold(tag): tag for tag in (*rulebook.tags, *tags)},
        }
        for field in schema.fields:
            if isinstance(field, ChoiceField):
                # A value put away is still understood, unless another has its name now.
                values = sorted(schema.list(field.list).values, key=lambda each: not each.retired)
                self._names[value_of(field.id)] = {each.id: each.name for each in values}
        self._ids = {
            kind: {fold(name): ident for ident, name in names.items()} for kind, names in self._names.items()
        }

    def find(self, kind: str, name: str) -> str | None:
        return self._ids.get(kind, {}).get(fold(name))

    def name(self, kind: str, ident: str) -> str:
        return self._names.get(kind, {}).get(ident, ident)

    def names(self, kind: str) -> Iterable[str]:
        return self._names.get(kind, {}).values()
