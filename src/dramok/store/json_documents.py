"""Convert cards and decks to JSON text and back."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from pydantic_core import from_json, to_json

from dramok.core.cards import Card, Value
from dramok.core.decks import Deck
from dramok.core.effects import Script


def write_value(value: Value) -> Any:
    """A value in JSON form: scripts as objects, tags as lists."""
    if isinstance(value, Script):
        return value.model_dump(mode="json", exclude_none=True)
    return list(value) if isinstance(value, tuple) else value


def read_value(raw: Any) -> Value:
    if isinstance(raw, dict):
        return Script.model_validate(raw)
    return tuple(raw) if isinstance(raw, list) else raw


def write_values(values: Mapping[str, Value]) -> str:
    return _values_text(dict(values)).decode()


def _values_text(document: Any) -> bytes:
    """JSON of values in the form of `write_value`, written directly, which is twice as fast."""
    return to_json(document, exclude_none=True, by_alias=False)


def read_values(text: str) -> dict[str, Value]:
    return values_from(from_json(text))


def values_from(raw: Mapping[str, Any]) -> dict[str, Value]:
    return {name: read_value(each) for name, each in raw.items()}


def dump(document: Any) -> str:
    """JSON text of plain data."""
    return to_json(document).decode()


def card_text(card: Card) -> str:
    """The whole document of a card, as an `exists` change holds it."""
    said = {"code": card.code, "set": card.set, "type": card.type, "revision": card.revision, "values": dict(card.values)}  # fmt: skip
    return _values_text(said).decode()


def card_of_text(ident: str, text: str, seq: int) -> Card:
    """A card from its document text, with the next revision number."""
    return card_from_document(ident, from_json(text), seq)


def card_from_document(ident: str, made: Mapping[str, Any], seq: int) -> Card:
    """The same from a parsed document."""
    return Card(
        ident,
        made["code"],
        made["set"],
        made["type"],
        values_from(made["values"]),
        made.get("revision", 0) + 1,
        seq,
    )


def card_from(ident: str, code: str, set_id: str, kind: str, doc: str, revision: int, seq: int) -> Card:
    return Card(ident, code, set_id, kind, read_values(doc), revision, seq)


def deck_of(ident: str, document: Mapping[str, Any], seq: int) -> Deck:
    """A deck from the whole document of an `exists` change. Empty sections are dropped."""
    sections = {
        section: held
        for section, counts in (document.get("sections") or {}).items()
        if (held := _held(counts))
    }
    return Deck(
        ident, document["name"], _held(document["cards"]), seq, document.get("format") or "", sections, document.get("note") or "",
    )  # fmt: skip


def _held(counts: Mapping[str, int]) -> dict[str, int]:
    return {card: count for card, count in counts.items() if count > 0}


def deck_document(deck: Deck, notes: bool = True) -> dict[str, Any]:
    """The whole document of a deck without default values; `notes` False leaves out the user's note."""
    document: dict[str, Any] = {"name": deck.name, "cards": dict(deck.cards)}
    if deck.sections:
        document["sections"] = {ident: dict(counts) for ident, counts in deck.sections.items()}
    if deck.format:
        document["format"] = deck.format
    if deck.note and notes:
        document["note"] = deck.note
    return document


def deck_from(ident: str, doc: str, seq: int) -> Deck:
    return deck_of(ident, from_json(doc), seq)
