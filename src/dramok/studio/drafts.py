"""Effect lines that could not be read for want of a name, read again once the game has it: a card, a keyword, a tag, a choice."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from collections.abc import Set as AbstractSet

from dramok.core.cards import Card, EffectField
from dramok.core.effects import Script, read_again
from dramok.core.journal import EXISTS
from dramok.store import Change
from dramok.store.documents import card_text
from dramok.studio.holdings import differences
from dramok.studio.snapshot import GameSnapshot


def with_drafts_read(
    before: GameSnapshot, after: GameSnapshot, changes: Sequence[Change]
) -> tuple[Change, ...]:
    """The changes that led from `before` to `after`, with those of effects whose drafts can be read by what is called so only now."""
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
    """Whether something may be called so only now."""
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
    """A change that makes a card, made with the effect as it is read now."""
    card = read.get(change.id)
    if card is None or change.entity != "card" or change.field != EXISTS:
        return change
    card = card.at(change.value["revision"], 0)
    return change._replace(after=card_text(card), card=card if change.card is not None else None)
