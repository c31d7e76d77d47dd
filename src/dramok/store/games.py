"""Games as wholes: listed, made, removed, when they began and were last edited."""

from __future__ import annotations

from collections.abc import Sequence

from sqlalchemy import Connection, text
from sqlalchemy.exc import IntegrityError
from sqlmodel import Session, col, select

from dramok.store.beside import Beside
from dramok.store.journal import Op, op_of
from dramok.store.records import GameRecord
from dramok.store.removing import remove_whole
from dramok.store.restoring import IdsTaken
from dramok.store.tables import GameRow, OpRow


class Games(Beside):
    """The part of the store that knows of games, and not of what is in them."""

    def games(self, ident: str | None = None) -> list[GameRecord]:
        """Every game in the order in which they were begun; with `ident` that one alone, where it is there."""
        chosen = select(GameRow).order_by(text("rowid"))
        if ident is not None:
            chosen = chosen.where(GameRow.id == ident)
        with Session(self._engine) as session:
            return [
                GameRecord(row.id, row.name, row.rulebook, row.away) for row in session.exec(chosen).all()
            ]

    @staticmethod
    def add_game(connection: Connection, game: GameRecord) -> None:
        """Writes a game without anything in it, inside a `writing` transaction. Raises IdsTaken."""
        try:
            connection.exec_driver_sql(
                "INSERT INTO game (id, name, rulebook) VALUES (?, ?, ?)", (game.id, game.name, game.rules)
            )
        except IntegrityError as error:
            raise IdsTaken(game.id) from error

    def edited(self) -> dict[str, str]:
        """When each game was last edited, by id."""
        with self._engine.connect() as connection:
            return dict(connection.exec_driver_sql("SELECT game, max(at) FROM op GROUP BY game").all())

    def remove_game(self, game: str, pictures: Sequence[str] = ()) -> bool:
        """Removes a game that is put away for good, with its journal, and those of its pictures that no other game names; else False."""
        with self.writing() as connection:
            return remove_whole(connection, game, pictures)

    def first_op(self, game: str) -> Op | None:
        """The op with which a game began."""
        with Session(self._engine) as session:
            row = session.exec(
                select(OpRow).where(OpRow.game == game).order_by(col(OpRow.seq)).limit(1)
            ).first()
            return op_of(row) if row else None
