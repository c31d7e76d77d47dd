"""The tables. Documents are JSON text; ids are lasting; nothing is deleted, only retired."""

from __future__ import annotations

from sqlalchemy import Index, text
from sqlmodel import Field, SQLModel


class GameRow(SQLModel, table=True):
    __tablename__ = "game"
    id: str = Field(primary_key=True)
    name: str
    rulebook: str
    outside: str = "{}"
    away: bool = False


class SetRow(SQLModel, table=True):
    __tablename__ = "card_set"
    id: str = Field(primary_key=True)
    game: str = Field(foreign_key="game.id", index=True)
    name: str
    code: str
    pattern: str = ""
    back: str | None = None
    retired: bool = False


class ThingRow(SQLModel, table=True):
    """What a game has beside cards and decks; `doc` is a JSON object with a name.

    Kinds: `view` a way of looking at the cards; `mark` a named moment; `note` said of a card; `source` a followed
    table; `layout` a text table; `picture` one of the game's pictures; `plan` a face plan; `run` what a print run printed.
    """

    __tablename__ = "thing"
    id: str = Field(primary_key=True)
    game: str = Field(foreign_key="game.id", index=True)
    kind: str
    doc: str
    seq: int = 0
    retired: bool = False


class FetchedRow(SQLModel, table=True):
    """What a followed table last answered: `data` waits to be looked at, `taken` was taken in by op `taken_seq`."""

    __tablename__ = "fetched"
    source: str = Field(foreign_key="thing.id", primary_key=True)
    at: str
    problem: str | None = None
    data: bytes | None = None
    taken: bytes | None = None
    taken_seq: int = 0


class ArtRow(SQLModel, table=True):
    """A picture by the SHA-256 of `data`, as it was brought; `drawn` is the size that faces need."""

    __tablename__ = "art"
    sha: str = Field(primary_key=True)
    media: str
    width: int
    height: int
    drawn: bytes
    data: bytes


class CardRow(SQLModel, table=True):
    __tablename__ = "card"
    __table_args__ = (
        Index("card_code", "game", "code", unique=True, sqlite_where=text("retired = 0")),
        Index("card_set_type", "game", "set_id", "type"),
    )
    id: str = Field(primary_key=True)
    game: str = Field(foreign_key="game.id")
    set_id: str = Field(foreign_key="card_set.id")
    code: str
    type: str
    doc: str
    revision: int = 1
    seq: int = 0
    retired: bool = False


class DeckRow(SQLModel, table=True):
    __tablename__ = "deck"
    id: str = Field(primary_key=True)
    game: str = Field(foreign_key="game.id", index=True)
    name: str
    doc: str
    seq: int = 0
    retired: bool = False


class OpRow(SQLModel, table=True):
    """One edit. `page` made it; `inverse_of` is the op it undoes; `kind` see `journal.OpKind`.

    `key` makes a repeated request harmless; `asked` is the digest of what was asked with it.
    """

    __tablename__ = "op"
    __table_args__ = (Index("op_game", "game", "seq"), {"sqlite_autoincrement": True})
    seq: int | None = Field(default=None, primary_key=True)
    game: str = Field(foreign_key="game.id")
    label: str
    page: str
    inverse_of: int | None = None
    at: str
    key: str | None = Field(default=None, unique=True)
    kind: str = "edit"
    asked: str = ""


class ChangeRow(SQLModel, table=True):
    """One field of one thing, before and after, as JSON text; None is absent."""

    __tablename__ = "change"
    __table_args__ = (Index("change_op", "op"), Index("change_entity", "entity_id", "field", "op"))
    id: int | None = Field(default=None, primary_key=True)
    op: int = Field(foreign_key="op.seq")
    entity: str
    entity_id: str
    field: str
    before: str | None = None
    after: str | None = None


class JobRow(SQLModel, table=True):
    """Long work. `state` is waiting, running, done, stopped or failed; `file` is its result's name in the job's own folder.

    `result` is a JSON object: what was made, or the problem.
    """

    __tablename__ = "job"
    id: str = Field(primary_key=True)
    game: str = Field(foreign_key="game.id", index=True)
    kind: str
    title: str
    order: str
    state: str
    at: str
    ended: str | None = None
    file: str | None = None
    bytes: int = 0
    result: str | None = None
    key: str | None = Field(default=None, unique=True)
    asked: str = ""


class PlaytestRow(SQLModel, table=True):
    """A game at the table: the cards and rules as they were at its start, the seed, the decisions."""

    __tablename__ = "playtest"
    id: str = Field(primary_key=True)
    game: str = Field(foreign_key="game.id", index=True)
    deck: str
    deck_name: str
    seed: int
    program: str
    decisions: str
    at: str
    key: str | None = Field(default=None, unique=True)
    asked: str = ""
