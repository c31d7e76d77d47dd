"""Picture files matched to cards: by the name a card waits for, by code, by name, by a column; near names are offered."""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from unicodedata import combining, normalize

from dramok.core.cards.schema.card import Card
from dramok.core.cards.schema.fields import PictureField
from dramok.core.cards.schema.fields.picture import is_brought
from dramok.core.cards.schema.schema import Schema
from dramok.core.problem import close_names

NEAR = 0.75
_BACK = re.compile(r"^(.+?)[ ](?:back|rear|reverse|verso|b)$")


@dataclass(frozen=True)
class PlacedPicture:
    """A picture file and the card it is for. `how` says by what; `near` that the names are only alike, so that somebody should look.

    `card` is None where none is found; `taken` tells that another file is for the same place already.
    """

    file: str
    card: str | None
    field: str | None
    how: str
    near: bool = False
    taken: str | None = None


def plain(text: str) -> str:
    """A name as it is compared with a file's: no accents, no signs, lower case, single blanks."""
    bare = "".join(each for each in normalize("NFKD", text) if not combining(each))
    return " ".join(re.sub(r"[^\w]|_", " ", bare.casefold()).split())


def _stem(file: str) -> str:
    """A file's name without its ending."""
    head, dot, _ = file.rpartition(".")
    return head if dot and head else file


def place_pictures(
    files: Sequence[str],
    cards: Iterable[Card],
    schema: Schema,
    name_field: str,
    field: str | None = None,
    column: str | None = None,
) -> list[PlacedPicture]:
    """A place for each file. `field` is the picture field to fill, where a file's name does not say it is for a back;
    `column` a field whose text names the file. A file that cards wait for goes to them; one that several cards share, to all.
    """
    cards = list(cards)
    known = _Known(cards, schema, name_field, field, column)
    found: list[PlacedPicture] = []
    filled: dict[tuple[str, str], str] = {}
    for file in files:
        for placed in known.places(file):
            key = (placed.card or "", placed.field or "")
            if placed.card and key in filled:
                placed = PlacedPicture(file, placed.card, placed.field, placed.how, placed.near, filled[key])
            elif placed.card and not placed.near:
                filled[key] = file
            found.append(placed)
    return found


class _Known:
    def __init__(
        self, cards: Sequence[Card], schema: Schema, name_field: str, field: str | None, column: str | None
    ) -> None:
        self.schema, self.field = schema, field
        self.waiting: dict[str, list[tuple[Card, str]]] = {}
        self.codes: dict[str, list[Card]] = {}
        self.names: dict[str, list[Card]] = {}
        self.column: dict[str, list[Card]] = {}
        for card in cards:
            self.codes.setdefault(plain(card.code), []).append(card)
            if card.text(name_field):
                self.names.setdefault(plain(card.text(name_field)), []).append(card)
            if column and card.text(column):
                for text in (card.text(column), _stem(card.text(column))):
                    self.column.setdefault(plain(text), []).append(card)
            for each in schema.fields_of(card.type):
                value = card.text(each.id)
                if isinstance(each, PictureField) and value and not is_brought(value):
                    self.waiting.setdefault(plain(value), []).append((card, each.id))
        self.waiting_stems: dict[str, list[tuple[Card, str]]] = {}
        for held in self.waiting.values():
            for card, ident in held:
                self.waiting_stems.setdefault(plain(_stem(card.text(ident))), []).append((card, ident))

    def places(self, file: str) -> list[PlacedPicture]:
        base = file.replace("\\", "/").rpartition("/")[2]
        stem = plain(_stem(base))
        waiting = self.waiting.get(plain(base)) or self.waiting_stems.get(stem)
        if waiting:
            return [PlacedPicture(file, card.id, field, "this file is missing") for card, field in waiting]
        back = _BACK.match(stem)
        for text, side in [(stem, "front"), *([(back.group(1), "back")] if back else [])]:
            for held, how in ((self.column, "the column"), (self.codes, "code"), (self.names, "name")):
                placed = self._in(file, held.get(text, ()), side, how)
                if placed:
                    return placed
        return self._begun(file, stem) or self._near(file, stem)

    def _in(
        self, file: str, cards: Iterable[Card], side: str, how: str, near: bool = False
    ) -> list[PlacedPicture]:
        by_id = {card.id: card for card in cards}
        places = [(ident, self._field(card, side)) for ident, card in by_id.items()]
        return [PlacedPicture(file, ident, field, how, near) for ident, field in places if field is not None]

    def _field(self, card: Card, side: str) -> str | None:
        """The picture field of a card that a file for this side goes to."""
        fields = [each for each in self.schema.fields_of(card.type) if isinstance(each, PictureField)]
        if side == "front" and self.field and any(each.id == self.field for each in fields):
            return self.field
        return next((each.id for each in fields if each.side == side), None)

    def _begun(self, file: str, stem: str) -> list[PlacedPicture]:
        """A file whose name begins with a code: `RS-014 final version.png`."""
        words = stem.split()
        for count in range(len(words) - 1, 0, -1):
            held = self.codes.get(" ".join(words[:count]))
            if held:
                side = "back" if words[-1] in ("back", "rear", "reverse", "verso") else "front"
                return self._in(file, held, side, "code")
        return []

    def _near(self, file: str, stem: str) -> list[PlacedPicture]:
        close = close_names(stem, self.names, 1, NEAR)
        placed = self._in(file, self.names[close[0]], "front", "a name like it", near=True) if close else []
        return placed or [PlacedPicture(file, None, None, "no card is called so")]
