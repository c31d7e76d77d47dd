"""The names of a rulebook for the effect language."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping

from dramok.core.cards import ChoiceField, NumberField
from dramok.core.effects.vocabulary import (
    CARD,
    CHOICE,
    KEYWORD,
    PHASE,
    RESOURCE,
    STAT,
    TAG,
    TYPE,
    ZONE,
    value_of,
)
from dramok.core.problem import fold
from dramok.core.rulebook.play_rules import ZONES
from dramok.core.rulebook.rulebook import Rulebook


class GameVocabulary:
    """Implements `effects.Vocabulary`.

    `tags` are the tags in use besides the declared ones; `cards` returns the names of cards by id, for effects
    that create them; called at the first such name.
    """

    def __init__(self, rulebook: Rulebook, tags: Iterable[str] = (), cards: Callable[[], Mapping[str, str]] = dict) -> None:
        schema = rulebook.cards
        self._names: dict[str, dict[str, str]] = {
            TYPE: {each.id: each.name for each in schema.types if not each.abstract},
            STAT: {
                field.id: field.name
                for field in schema.fields
                if isinstance(field, NumberField) and field.whole
            }
            | {each.id: each.name for each in rulebook.played.counters},
            RESOURCE: {each.id: each.name for each in rulebook.resources},
            CHOICE: {field.id: field.name for field in schema.fields if isinstance(field, ChoiceField)},
            TAG: {fold(tag): tag for tag in (*rulebook.tags, *tags)},
            KEYWORD: {each.id: each.name for each in rulebook.keywords},
            ZONE: {ident: rulebook.zone_name(ident) for ident in (*ZONES, *(zone.id for zone in rulebook.played.zones))},
            PHASE: {phase.id: phase.name for phase in rulebook.played.phases},
        }
        for field in schema.fields:
            if isinstance(field, ChoiceField):
                # A hidden value is still understood, unless another value has its name.
                values = sorted(schema.list(field.list).values, key=lambda each: not each.retired)
                self._names[value_of(field.id)] = {each.id: each.name for each in values}
        self._ids = {
            kind: {fold(name): ident for ident, name in names.items()} for kind, names in self._names.items()
        }

        self._cards = cards

    def _know_cards(self) -> None:
        names = dict(self._cards())
        self._ids[CARD] = {fold(name): ident for ident, name in reversed(names.items())}
        self._names[CARD] = names

    def find(self, kind: str, name: str) -> str | None:
        if kind == CARD and CARD not in self._names:
            self._know_cards()
        return self._ids.get(kind, {}).get(fold(name))

    def name(self, kind: str, ident: str) -> str:
        if kind == CARD and CARD not in self._names:
            self._know_cards()
        return self._names.get(kind, {}).get(ident, ident)

    def names(self, kind: str) -> Iterable[str]:
        if kind == CARD and CARD not in self._names:
            self._know_cards()
        return self._names.get(kind, {}).values()

    def learnt(self, before: GameVocabulary) -> frozenset[str]:
        """The folded names that `before` lacked or resolved differently."""
        for each in (self, before):
            each.names(CARD)  # looked up on first access
        return frozenset(
            name for kind, ids in self._ids.items() for name in ids.keys() - before._ids.get(kind, {}).keys()
        )
