"""A game at one moment, immutable: what every question is answered from."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from hashlib import sha256

from pydantic import TypeAdapter

from dramok.core.balance import PriceList
from dramok.core.cards import Card
from dramok.core.decks import Deck, Format
from dramok.core.rulebook import GameVocabulary, Rulebook
from dramok.store import Change, GameRecord, SetRecord
from dramok.store.documents import card_of_text, read_value

_FORMATS = TypeAdapter(tuple[Format, ...])


@dataclass(frozen=True)
class GameSnapshot:
    """`cards` and `decks` by id; `seq` is the number of the latest op. Retired things are not in it."""

    id: str
    name: str
    rulebook: Rulebook
    prices: PriceList
    formats: tuple[Format, ...]
    sets: tuple[SetRecord, ...]
    cards: Mapping[str, Card]
    decks: Mapping[str, Deck]
    seq: int
    rules_digest: str

    @staticmethod
    def of(
        record: GameRecord, sets: Sequence[SetRecord], cards: Sequence[Card], decks: Sequence[Deck], seq: int
    ) -> GameSnapshot:
        """Validates the documents. Raises pydantic's ValidationError where one is unsound."""
        digest = sha256(f"{record.rulebook}\0{record.prices}".encode()).hexdigest()[:16]
        return GameSnapshot(
            record.id, record.name, Rulebook.model_validate_json(record.rulebook), PriceList.model_validate_json(record.prices),
            _FORMATS.validate_json(record.formats), tuple(sets), {card.id: card for card in cards}, {deck.id: deck for deck in decks}, seq, digest,
        )  # fmt: skip

    @cached_property
    def vocabulary(self) -> GameVocabulary:
        """The rulebook's names and every tag in use."""
        tags = {tag for card in self.cards.values() for tag in card.tags(self.rulebook.roles.tags)}
        return GameVocabulary(self.rulebook, sorted(tags))

    @property
    def format(self) -> Format:
        return self.formats[0]

    def title(self, card: Card) -> str:
        """The card's name, or its code where it has none."""
        return card.text(self.rulebook.roles.name) or card.code

    def with_changes(self, changes: Sequence[Change], seq: int) -> GameSnapshot:
        """The game after an op."""
        cards, decks, sets = dict(self.cards), dict(self.decks), list(self.sets)
        order_changed = False
        for change in changes:
            if change.entity == "card":
                order_changed |= change.field in ("exists", "code")
                _change_card(cards, change, seq)
            elif change.entity == "deck":
                _change_deck(decks, change, seq)
            else:
                sets = [each for each in sets if each.id != change.id]
                if change.after is not None:
                    made = json.loads(change.after)
                    sets.append(SetRecord(change.id, made["name"], made["code"]))
        for ident in {
            change.id for change in changes if change.entity == "card" and change.field != "exists"
        }:
            cards[ident] = cards[ident].at(self.cards[ident].revision + 1, seq)
        if order_changed:
            cards = dict(sorted(cards.items(), key=lambda item: (item[1].code, item[0])))
        after = replace(self, cards=cards, decks=decks, sets=tuple(sets), seq=seq)
        if "vocabulary" in self.__dict__ and not any(
            change.field in ("exists", self.rulebook.roles.tags) for change in changes
        ):
            after.__dict__["vocabulary"] = self.__dict__["vocabulary"]
        return after


def _change_card(cards: dict[str, Card], change: Change, seq: int) -> None:
    if change.field == "exists":
        if change.after is None:
            cards.pop(change.id, None)
        else:
            cards[change.id] = (
                change.card.at(1, seq) if change.card else card_of_text(change.id, change.after, seq)
            )
        return
    card = cards[change.id]
    if change.field in ("code", "set", "type"):
        cards[change.id] = replace(card, **{change.field: json.loads(change.after or '""')})
    else:
        cards[change.id] = card.with_value(
            change.field, read_value(json.loads(change.after)) if change.after is not None else None
        )


def _change_deck(decks: dict[str, Deck], change: Change, seq: int) -> None:
    if change.field == "exists":
        if change.after is None:
            decks.pop(change.id, None)
        else:
            made = json.loads(change.after)
            decks[change.id] = Deck(change.id, made["name"], made["cards"], seq)
        return
    deck = decks[change.id]
    if change.field == "name":
        decks[change.id] = replace(deck, name=json.loads(change.after or '""'), seq=seq)
    else:
        count = json.loads(change.after) if change.after is not None else 0
        decks[change.id] = replace(deck.with_count(change.field.removeprefix("card/"), count), seq=seq)
