"""Parse unread effect lines again when a name that they lack is created: a card, a keyword, a tag or a choice."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from collections.abc import Set as AbstractSet

from dramok.core.cards import Card, EffectField
from dramok.core.effects import Script, read_again
from dramok.core.journal import EXISTS
from dramok.services.workspace.entity_registry import differences
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.store import Change
from dramok.store.json_documents import card_text


def with_unread_effects_parsed(
    before: GameSnapshot, after: GameSnapshot, changes: Sequence[Change]
) -> tuple[Change, ...]:
    """The changes from `before` to `after`, together with the effects that can be parsed only with the new names."""
    drafted = list(_drafted(after)) if _may_name(changes, after) else []
    names = after.vocabulary.learnt(before.vocabulary) if drafted else frozenset()
    read = {card.id: found for card in drafted if (found := _read(card, names, after)) is not card}
    if not read:
        return tuple(changes)
    made = [_made(change, read) for change in changes]
    told = {change.id for change in made if change.entity == "card" and change.field == EXISTS}
    more = (each for ident, card in read.items() if ident not in told for each in differences(after.cards[ident], card))
    return (*made, *more)


def _may_name(changes: Sequence[Change], game: GameSnapshot) -> bool:
    """Whether an op may have created a name."""
    roles = game.rulebook.roles
    telling = {EXISTS, "code", roles.name, roles.tags}
    return any(each.entity == "game" or (each.entity == "card" and each.field in telling) for each in changes)


def _drafted(game: GameSnapshot) -> Iterator[Card]:
    fields = {each.id for each in game.rulebook.cards.fields if isinstance(each, EffectField)}
    for card in game.cards.values():
        for field in fields:
            value = card.values.get(field)
            if isinstance(value, Script) and value.has_draft:
                yield card
                break


def _read(card: Card, names: AbstractSet[str], game: GameSnapshot) -> Card:
    for field, value in card.values.items():
        if isinstance(value, Script) and (found := read_again(value, names, game.vocabulary)) is not value:
            card = card.with_value(field, found)
    return card


def _made(change: Change, read: dict[str, Card]) -> Change:
    """A change that creates a card, with its effect parsed again."""
    card = read.get(change.id)
    if card is None or change.entity != "card" or change.field != EXISTS:
        return change
    card = card.at(change.value["revision"], 0)
    return change._replace(after=card_text(card), card=card if change.card is not None else None)
