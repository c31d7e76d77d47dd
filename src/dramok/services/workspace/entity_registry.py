"""The entities of one game in memory: built from documents, changed by changes, written back as documents.

Cards, decks, sets and small entities are immutable records. `core.journal.put` applies a change to the document
of a record, in memory and in the tables alike.
"""

from __future__ import annotations

import json
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from typing import Any

from dramok.core.cards import Card, Value
from dramok.core.cards.schema.card import is_empty
from dramok.core.decks import Deck
from dramok.core.effects import Script
from dramok.core.journal import EXISTS, THINGS, part, put
from dramok.store import Change, SetRecord, Thing
from dramok.store.json_documents import (
    card_from_document,
    card_text,
    deck_document,
    deck_of,
    read_value,
    write_value,
)

COLUMNS = ("code", "type", "set")
"""The columns of a card that are not field values."""
Record = Card | Deck | SetRecord | Thing
Document = Mapping[str, Any]


@dataclass(frozen=True)
class _Holding:
    """How one kind of entity is read and written: `made` builds a record from a document, `opened` gives the
    document of a record, `closed` applies a document to a record.

    An opened document holds core values, not JSON text.
    """

    made: Callable[[str, str, Document, int], Record]
    opened: Callable[[Any], dict[str, Any]]
    closed: Callable[[Any, Document, int], Record]


def _card_opened(card: Card) -> dict[str, Any]:
    return {"code": card.code, "set": card.set, "type": card.type, "values": dict(card.values)}


def _card_closed(card: Card, document: Document, seq: int) -> Card:
    return replace(
        card, code=document["code"], set=document["set"], type=document["type"], values=document["values"]
    )


def _deck_made(entity: str, ident: str, document: Document, seq: int) -> Deck:
    return deck_of(ident, document, seq)


def _deck_closed(deck: Deck, document: Document, seq: int) -> Deck:
    return deck_of(deck.id, document, seq)


def _set_made(entity: str, ident: str, document: Document, seq: int) -> SetRecord:
    back = json.dumps(document["back"]) if document.get("back") else None
    return SetRecord(ident, document["name"], document["code"], document.get("pattern") or "", back)


def _thing_made(entity: str, ident: str, document: Document, seq: int) -> Thing:
    return Thing(entity, ident, dict(document), seq)


_THING = _Holding(
    _thing_made, lambda thing: dict(thing.doc), lambda thing, doc, seq: replace(thing, doc=doc, seq=seq)
)
_HOLDINGS: Mapping[str, _Holding] = {
    "set": _Holding(
        _set_made, lambda each: each.document, lambda each, doc, seq: _set_made("set", each.id, doc, seq)
    ),
    "card": _Holding(
        lambda _, ident, doc, seq: card_from_document(ident, doc, seq), _card_opened, _card_closed
    ),
    "deck": _Holding(_deck_made, deck_document, _deck_closed),
    **dict.fromkeys(THINGS, _THING),
}


def made(entity: str, ident: str, document: Document, seq: int) -> Record:
    """The record of a whole document.

    Raises KeyError for an unknown entity, and whatever the model raises for an invalid document.
    """
    return _HOLDINGS[entity].made(entity, ident, document, seq)


def apply(held: dict[str, Any], change: Change, seq: int) -> None:
    """Apply a change to the records of its entity. Raises KeyError if its target does not exist."""
    if change.field == EXISTS:
        if change.after is None:
            held.pop(change.id, None)
        elif change.card is not None:
            held[change.id] = change.card.at(1, seq)
        else:
            held[change.id] = made(change.entity, change.id, change.value, seq)
        return
    holding, record = _HOLDINGS[change.entity], held[change.id]
    value = change.value
    if change.entity == "card" and value is not None:
        value = read_value(value)
        value = None if is_empty(value) else value
    document = put(change.entity, holding.opened(record), change.field, value)
    held[change.id] = holding.closed(record, document, seq)


def text_of(entity: str, record: Record, field: str) -> str | None:
    """A field of a record as text, as changes store it; the whole document for `exists`; None if it is absent."""
    if field == EXISTS and isinstance(record, Card):
        return card_text(record)
    document = _HOLDINGS[entity].opened(record)
    found = document if field == EXISTS else part(entity, document, field)
    if found is None:
        return None
    return json.dumps(write_value(found) if isinstance(found, Script | tuple) else found)


def differences(before: Card, after: Card) -> list[Change]:
    """One change for each column and field that differs between two cards."""
    if before is after:
        return []
    changes = [
        Change(
            "card", before.id, column, json.dumps(getattr(before, column)), json.dumps(getattr(after, column))
        )
        for column in COLUMNS
        if getattr(before, column) != getattr(after, column)
    ]
    for name in dict.fromkeys((*before.values, *after.values)):
        old, new = before.values.get(name), after.values.get(name)
        if old is not new and (old != new or type(old) is not type(new)):
            changes.append(Change("card", before.id, name, _json(old), _json(new)))
    return changes


def _json(value: Value | None) -> str | None:
    return None if value is None else json.dumps(write_value(value), ensure_ascii=False)
