"""Immutable records that the store returns and accepts."""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any, NamedTuple

from dramok.core.cards import Card
from dramok.core.decks import Deck
from dramok.store.idempotency import Key
from dramok.store.journal import Change, Op

FONT_MEDIA = "font/ttf"
"""The media type of fonts, which are stored like pictures."""


@dataclass(frozen=True)
class GameRecord:
    """`rules` is the JSON text of the rules: the rulebook with `prices` and `formats`.

    `away`: put away from the shelf.
    """

    id: str
    name: str
    rules: str
    away: bool = False


@dataclass(frozen=True)
class SetRecord:
    """`pattern` makes the codes of new cards; `back` is a JSON document, or None."""

    id: str
    name: str
    code: str
    pattern: str = ""
    back: str | None = None

    @property
    def document(self) -> dict[str, Any]:
        """The document in the form of an `exists` change."""
        back = json.loads(self.back) if self.back else None
        return {"name": self.name, "code": self.code, "pattern": self.pattern, "back": back}


@dataclass(frozen=True)
class Thing:
    """A small entity: anything in a game besides cards, decks and sets (see `tables.ThingRow`); `seq` is the op
    that last changed it.
    """

    kind: str
    id: str
    doc: Mapping[str, Any]
    seq: int = 0

    @property
    def name(self) -> str:
        return str(self.doc.get("name", ""))


@dataclass(frozen=True)
class ArtRecord:
    """A picture.

    `drawn` has the size that faces need, `data` is the imported file; `width` and `height` describe `data`.
    """

    sha: str
    media: str
    width: int
    height: int
    drawn: bytes
    data: bytes


class ArtFacts(NamedTuple):
    """A picture without its bytes: sizes in bytes and pixels."""

    sha: str
    media: str
    width: int
    height: int
    bytes: int


@dataclass(frozen=True)
class Fetched:
    """The last answer of a tracked table, and the part of it that was imported, with the op."""

    source: str
    at: str
    problem: str | None = None
    data: bytes | None = None
    taken: bytes | None = None
    taken_seq: int = 0


class RawGame(NamedTuple):
    """A game as in its tables, unparsed: (entity, id, JSON text of the whole document in the form of an
    `exists` change).
    """

    record: GameRecord
    documents: list[tuple[str, str, str | None]]
    seq: int


class Contents(NamedTuple):
    """The editable content of a game at one moment; `seq` is the latest op."""

    sets: list[SetRecord]
    cards: list[Card]
    decks: list[Deck]
    things: list[Thing]
    seq: int


@dataclass(frozen=True)
class PlaytestRecord:
    """`decisions` are (option, card on the table, other targets); `key` belongs to the latest one."""

    id: str
    game: str
    deck: str
    deck_name: str
    seed: int
    program: str
    decisions: tuple[tuple[Any, ...], ...]
    at: str
    key: Key | None = None


@dataclass(frozen=True)
class JobRecord:
    """A job: see `tables.JobRow`."""

    id: str
    game: str
    kind: str
    title: str
    order: Mapping[str, Any]
    state: str
    at: str
    ended: str | None = None
    file: str | None = None
    bytes: int = 0
    result: Mapping[str, Any] | None = None
    key: Key | None = None


@dataclass(frozen=True)
class WholeGame:
    """A game with everything that belongs to it. Cards are (id, code, set, type, document, revision, seq),
    decks (id, document), `fetched` (source, data).

    Op numbers are the original ones; `closing` is the op that completes the restore (label, page and time).
    """

    game: GameRecord
    sets: Sequence[SetRecord]
    cards: Sequence[tuple[str, str, str, str, str, int, int]]
    decks: Sequence[tuple[str, dict[str, Any]]]
    things: Sequence[Thing]
    ops: Iterable[tuple[Op, Sequence[Change]]]
    playtests: Sequence[PlaytestRecord]
    art: Sequence[ArtRecord]
    fetched: Sequence[tuple[str, bytes]]
    closing: Op
    key: Key | None = None
