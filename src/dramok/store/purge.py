"""Delete a whole game: the only place where rows are deleted, and only of a game that was put away."""

from __future__ import annotations

from collections.abc import Iterable

from sqlalchemy import Connection, text

_OF_GAME = (
    "DELETE FROM fetched WHERE source IN (SELECT id FROM thing WHERE game = :game)",
    "DELETE FROM change WHERE op IN (SELECT seq FROM op WHERE game = :game)",
    *(f"DELETE FROM {table} WHERE game = :game" for table in ("job", "playtest", "thing", "card", "deck", "card_set", "op")),
    "DELETE FROM game WHERE id = :game",
)  # fmt: skip
_NAMED = ("SELECT 1 FROM card WHERE instr(doc, :sha)", "SELECT 1 FROM thing WHERE instr(doc, :sha)", "SELECT 1 FROM game WHERE instr(rulebook, :sha)",
          "SELECT 1 FROM change WHERE instr(coalesce(before, '') || coalesce(after, ''), :sha)")  # fmt: skip


def remove_whole(connection: Connection, game: str, pictures: Iterable[str]) -> bool:
    """Delete all rows of a game inside a `writing` transaction, and those of its `pictures` (SHA-256) that no
    other game uses.

    False, without deleting anything, if the game is not put away (any more).
    """
    away = connection.execute(text("SELECT away FROM game WHERE id = :game"), {"game": game}).scalar()
    if not away:
        return False
    for statement in _OF_GAME:
        connection.execute(text(statement), {"game": game})
    for sha in pictures:
        if not any(connection.execute(text(f"{asked} LIMIT 1"), {"sha": sha}).first() for asked in _NAMED):
            connection.execute(text("DELETE FROM art WHERE sha = :sha"), {"sha": sha})
    return True
