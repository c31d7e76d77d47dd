"""Games as a whole: list, create, delete, dates."""

from __future__ import annotations

from collections.abc import Sequence

from sqlalchemy import Connection, text
from sqlalchemy.exc import IntegrityError
from sqlmodel import Session, col, select

from dramok.store.journal import Op, op_of
from dramok.store.purge import remove_whole
from dramok.store.records import GameRecord
from dramok.store.restore import IdsTaken
from dramok.store.tables import GameRow, OpRow
from dramok.store.unjournalled import UnjournalledData


class Games(UnjournalledData):
    """The part of the store that handles games but not their content."""

    def games(self, ident: str | None = None) -> list[GameRecord]:
        """Every game in the order of creation; with `ident` only that one, if it exists."""
        chosen = select(GameRow).order_by(text("rowid"))
        if ident is not None:
            chosen = chosen.where(GameRow.id == ident)
        with Session(self._engine) as session:
            return [
                GameRecord(row.id, row.name, row.rulebook, row.away) for row in session.exec(chosen).all()
            ]

    @staticmethod
    def add_game(connection: Connection, game: GameRecord) -> None:
        """Insert an empty game, inside a `writing` transaction. Raises IdsTaken."""
        try:
            connection.exec_driver_sql(
                "INSERT INTO game (id, name, rulebook) VALUES (?, ?, ?)", (game.id, game.name, game.rules)
            )
        except IntegrityError as error:
            raise IdsTaken(game.id) from error

    def edited(self) -> dict[str, str]:
        """The time of the last edit of each game, by id."""
        with self._engine.connect() as connection:
            return dict(connection.exec_driver_sql("SELECT game, max(at) FROM op GROUP BY game").all())

    def remove_game(self, game: str, pictures: Sequence[str] = ()) -> bool:
        """Delete a game that was put away, with its journal and the pictures that no other game uses; False if
        it was not put away.
        """
        with self.writing() as connection:
            return remove_whole(connection, game, pictures)

    def first_op(self, game: str) -> Op | None:
        """The first op of a game."""
        with Session(self._engine) as session:
            row = session.exec(
                select(OpRow).where(OpRow.game == game).order_by(col(OpRow.seq)).limit(1)
            ).first()
            return op_of(row) if row else None
