"""The tables. Documents are JSON text; ids are permanent; rows are retired, not deleted."""

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
    """Entities besides cards, decks and sets; `doc` is a JSON object with a name.

    Kinds: `view` a saved view; `mark` a named moment; `note` on a card; `source` a tracked table; `layout` a
    text table; `picture` a picture of the game; `plan` a face plan; `run` a print run.
    """

    __tablename__ = "thing"
    id: str = Field(primary_key=True)
    game: str = Field(foreign_key="game.id", index=True)
    kind: str
    doc: str
    seq: int = 0
    retired: bool = False


class FetchedRow(SQLModel, table=True):
    """The last answer of a tracked table: `data` is not imported yet, `taken` was imported by op `taken_seq`."""

    __tablename__ = "fetched"
    source: str = Field(foreign_key="thing.id", primary_key=True)
    at: str
    problem: str | None = None
    data: bytes | None = None
    taken: bytes | None = None
    taken_seq: int = 0


class ArtRow(SQLModel, table=True):
    """A picture by the SHA-256 of `data`, the imported file; `drawn` has the size that faces need."""

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

    `key` makes a repeated request harmless; `asked` is the digest of the request.
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
    """One field of one entity, before and after, as JSON text; None is absent."""

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
    """A job. `state` is waiting, running, done, stopped or failed; `file` is the name of its result in the
    job's folder.

    `result` is a JSON object: facts about the file, or the problem.
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
    """A playtest: the cards and rules at its start, the seed, the decisions."""

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
