"""Marks: named moments of a game, such as “before playtest 3”."""

from __future__ import annotations

from datetime import UTC, datetime

from dramok.core.problem import Problem
from dramok.store import Key
from dramok.studio import things
from dramok.studio.desk import Commit, Desk, Missing, Refused
from dramok.studio.namesakes import rename_thing
from dramok.studio.snapshot import GameSnapshot


def add_mark(
    desk: Desk, game_id: str, name: str, page: str, seq: int | None = None, key: Key | None = None
) -> tuple[Commit, str]:
    """Marks the moment after op `seq` (now, when left out). Raises Refused for a name that another mark has, Missing for an op that is not there."""
    name = things.named("mark", name)
    game = desk.game(game_id)
    _name_free(game, name)
    if seq is not None:
        op = desk.store.op(seq)
        if op is None or op.game != game_id:
            raise Missing("there is no such edit")
    doc = {"name": name, "seq": game.seq if seq is None else seq, "at": now_text()}
    return things.make(desk, game_id, "mark", doc, f"mark {name}", page, key)


def rename_mark(desk: Desk, game_id: str, ident: str, name: str, page: str, key: Key | None = None) -> Commit:
    name = things.named("mark", name)
    _name_free(desk.game(game_id), name, ident)
    return rename_thing(desk, game_id, "mark", ident, name, f"mark renamed to {name}", page, key)


def remove_mark(desk: Desk, game_id: str, ident: str, page: str, key: Key | None = None) -> Commit:
    name = things.thing_of(desk.game(game_id), "mark", ident).name
    return things.take_out(desk, game_id, "mark", [ident], f"mark {name} removed", page, key)


def now_text() -> str:
    return datetime.now(UTC).isoformat(timespec="seconds")


def _name_free(game: GameSnapshot, name: str, but: str | None = None) -> None:
    other = things.called(game, "mark", name)
    if other is not None and other.id != but:
        raise Refused(
            Problem(where="mark", what=f"there is a mark {other.name} already", mend="choose another name")
        )
