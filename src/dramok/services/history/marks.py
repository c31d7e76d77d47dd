"""Marks: named moments of a game, such as “before playtest 3”."""

from __future__ import annotations

from dramok.core.problem import Problem
from dramok.services.workspace import small_entities
from dramok.services.workspace.clock import now_text
from dramok.services.workspace.rename_references import rename_thing
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import Commit, Missing, Refused, Workspace
from dramok.store import Key


def add_mark(
    workspace: Workspace, game_id: str, name: str, page: str, seq: int | None = None, key: Key | None = None
) -> tuple[Commit, str]:
    """Mark the moment after op `seq` (now, if left out).

    Raises Refused if the name is taken, Missing if the op does not exist.
    """
    name = small_entities.named("mark", name)
    game = workspace.game(game_id)
    _name_free(game, name)
    if seq is not None:
        op = workspace.store.op(seq)
        if op is None or op.game != game_id:
            raise Missing("there is no such edit")
    doc = {"name": name, "seq": game.seq if seq is None else seq, "at": now_text()}
    return small_entities.make(workspace, game_id, "mark", doc, f"mark {name}", page, key)


def rename_mark(workspace: Workspace, game_id: str, ident: str, name: str, page: str, key: Key | None = None) -> Commit:
    name = small_entities.named("mark", name)
    _name_free(workspace.game(game_id), name, ident)
    return rename_thing(workspace, game_id, "mark", ident, name, f"mark renamed to {name}", page, key)


def remove_mark(workspace: Workspace, game_id: str, ident: str, page: str, key: Key | None = None) -> Commit:
    name = small_entities.thing_of(workspace.game(game_id), "mark", ident).name
    return small_entities.take_out(workspace, game_id, "mark", [ident], f"mark {name} removed", page, key)


def _name_free(game: GameSnapshot, name: str, but: str | None = None) -> None:
    other = small_entities.called(game, "mark", name)
    if other is not None and other.id != but:
        raise Refused(
            Problem(where="mark", what=f"there is a mark {other.name} already", mend="choose another name")
        )
