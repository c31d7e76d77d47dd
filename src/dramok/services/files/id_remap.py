"""Assign new ids to all entities of a game that is restored next to another with the same ids.

Ids are replaced by their place in the documents: a card's set, a deck's cards, a note's card, the faces and
order of a print run, the cards of a measurement, the set and excluded cards of a tracked table, a playtest's
cards and deck. Text that only looks like an id is unchanged.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from pydantic_core import from_json

from dramok.core.journal import EXISTS
from dramok.store.json_documents import dump

Document = dict[str, Any]


class IdMap:
    """New ids by old ones; an id not in the map stays."""

    def __init__(self, ids: Mapping[str, str]) -> None:
        self._ids = dict(ids)

    def id(self, ident: str) -> str:
        return self._ids.get(ident, ident)

    def document(self, entity: str, document: Mapping[str, Any]) -> Document:
        """The whole document of an entity as an `exists` change holds it."""
        known = _DOCUMENTS.get(entity)
        return known(self, dict(document)) if known else dict(document)

    def field(self, entity: str, field: str) -> str:
        """The field of a change: `card/ID` and `in/SECTION/ID` of a deck contain an id."""
        if entity == "deck" and field.startswith(("card/", "in/")):
            room, _, ident = field.rpartition("/")
            return f"{room}/{self.id(ident)}"
        return field

    def text(self, entity: str, field: str, text: str | None) -> str | None:
        """The JSON text of a change's `before` or `after`."""
        if text is None or not self._ids:
            return text
        if field == EXISTS:
            return dump(self.document(entity, from_json(text)))
        if (entity, field) in _WITH_IDS:
            return dump(self.document(entity, {field: from_json(text)})[field])
        if (entity, field) == ("game", "play"):
            return dump(_play(self, from_json(text)))
        return self.effects(text) if entity in ("card", "game") else text

    def effects(self, text: str) -> str:
        """JSON text of effects, which name the cards they create by id."""
        return dump(_creating(self, from_json(text))) if self._ids and '"create"' in text else text

    def program(self, text: str) -> str:
        """The stored start of a playtest."""
        if not self._ids:
            return text
        held = from_json(text)
        held["cards"] = [
            {**each, "id": self.id(each["id"]), "set": self.id(each["set"])} for each in held["cards"]
        ]
        if "deck" in held:
            held["deck"] = self.keys(held["deck"])
        if "decks" in held:
            held["decks"] = [self.keys(each) for each in held["decks"]]
        if held.get("rival_deck"):
            held["rival_deck"] = self.id(held["rival_deck"])
        if "rulebook" in held:
            held["rulebook"] = _rules(self, held["rulebook"])
        held["cards"] = _creating(self, held["cards"])
        return dump(held)

    def keys(self, counts: Mapping[str, Any]) -> Document:
        return {self.id(ident): each for ident, each in counts.items()}


def _of(place: str) -> Callable[[IdMap, Document], Document]:
    """A document with an id in one key."""

    def renamed(new: IdMap, document: Document) -> Document:
        return (
            {**document, place: new.id(document[place])} if isinstance(document.get(place), str) else document
        )

    return renamed


def _deck(new: IdMap, document: Document) -> Document:
    found = dict(document)
    if "cards" in document:
        found["cards"] = new.keys(document["cards"])
    if isinstance(document.get("sections"), dict):
        found["sections"] = {ident: new.keys(counts) for ident, counts in document["sections"].items()}
    return found


def _rules(new: IdMap, document: Document) -> Document:
    """Deck rules name cards and sets."""
    formats = document.get("formats")
    found = _creating(new, document)
    if document.get("play"):
        found = {**found, "play": _play(new, document["play"])}
    return {**found, "formats": [_format(new, each) for each in formats]} if formats else found


def _play(new: IdMap, document: Any) -> Any:
    """Rules of play can lay out cards by id."""
    if not isinstance(document, dict) or not document.get("set_up"):
        return document
    placed = [{**each, "cards": new.keys(each["cards"])} for each in document["set_up"].get("placed", ())]
    return {**document, "set_up": {**document["set_up"], "placed": placed}}


def _creating(new: IdMap, part: Any) -> Any:
    if isinstance(part, list):
        return [_creating(new, each) for each in part]
    if not isinstance(part, dict):
        return part
    found = {key: _creating(new, value) for key, value in part.items()}
    return {**found, "card": new.id(part["card"])} if part.get("verb") == "create" and isinstance(part.get("card"), str) else found


def _format(new: IdMap, document: Mapping[str, Any]) -> Document:
    found = dict(document)
    for key in ("banned", "sets"):
        if found.get(key):
            found[key] = [new.id(each) for each in found[key]]
    if found.get("limited"):
        found["limited"] = new.keys(found["limited"])
    return found


def _run(new: IdMap, document: Document) -> Document:
    if "faces" in document:
        document["faces"] = new.keys(document["faces"])
    if isinstance(document.get("order"), dict):
        document["order"] = _order(new, dict(document["order"]))
    return document


def _measurement(new: IdMap, document: Document) -> Document:
    return {**document, "cards": new.keys(document["cards"])} if isinstance(document.get("cards"), dict) else document


def _order(new: IdMap, order: Document) -> Document:
    """An order of cards: its choice can name a deck, a set and a print run."""
    choice = order.get("choice")
    if isinstance(choice, dict):
        named = {
            key: new.id(choice[key]) for key in ("deck", "set", "run") if isinstance(choice.get(key), str)
        }
        order["choice"] = {**choice, **named}
    return order


def _source(new: IdMap, document: Document) -> Document:
    order = document.get("order")
    if not isinstance(order, dict):
        return document
    order = _of("set_id")(new, dict(order))
    if isinstance(order.get("leave_out"), list):
        order["leave_out"] = [_left_out(new, str(each)) for each in order["leave_out"]]
    return {**document, "order": order}


def _view(new: IdMap, document: Document) -> Document:
    """A view can show a single set."""
    held = document.get("doc")
    return {**document, "doc": _of("set")(new, dict(held))} if isinstance(held, dict) else document


def _left_out(new: IdMap, key: str) -> str:
    """`changed/CARD/FIELD`, `gone/CARD`, or a whole group."""
    group, slash, rest = key.partition("/")
    if not slash or group not in ("changed", "gone"):
        return key
    card, slash, field = rest.partition("/")
    return f"{group}/{new.id(card)}{slash}{field}"


_DOCUMENTS: Mapping[str, Callable[[IdMap, Document], Document]] = {
    "card": lambda new, document: _creating(new, _of("set")(new, document)), "deck": _deck, "game": _rules, "measurement": _measurement, "note": lambda new, document: _of("playtest")(new, _of("card")(new, document)), "run": _run, "source": _source, "view": _view,
}  # fmt: skip
_WITH_IDS = frozenset(
    {
        ("card", "set"),
        ("game", "formats"),
        ("measurement", "cards"),
        ("note", "card"),
        ("note", "playtest"),
        ("run", "faces"),
        ("run", "order"),
        ("source", "order"),
        ("view", "doc"),
    }
)
"""Fields of changes whose values contain ids."""
