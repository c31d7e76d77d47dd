"""Match picture files to cards: by the file name a card waits for, by code, name, or a column; similar names
are suggested.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from unicodedata import combining, normalize

from dramok.core.cards.schema.card import Card
from dramok.core.cards.schema.fields import PictureField
from dramok.core.cards.schema.fields.picture import is_imported
from dramok.core.cards.schema.schema import Schema
from dramok.core.problem import close_names

NEAR = 0.75
_BACK = re.compile(r"^(.+?)[ ](?:back|rear|reverse|verso|b)$")


@dataclass(frozen=True)
class PlacedPicture:
    """A picture file and its card. `how` names the criterion; `near`: the names are only similar and need a
    check.

    `card` is None if none matches; `taken`: another file already has that place.
    """

    file: str
    card: str | None
    field: str | None
    how: str
    near: bool = False
    taken: str | None = None


def plain(text: str) -> str:
    """A name for comparison with file names: no accents or signs, lower case, single blanks."""
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
    """Find a place for each file.

    `field` is the picture field to fill, unless the file name says it is for a back; `column` a field whose
    text names the file. A file that cards wait for goes to all of them.
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
                if isinstance(each, PictureField) and value and not is_imported(value):
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
        """The picture field of a card for a file of this side."""
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
