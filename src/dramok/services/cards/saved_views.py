"""Saved views of the cards."""

from __future__ import annotations

from typing import Any

from dramok.services.workspace import small_entities
from dramok.services.workspace.workspace import Commit, Workspace
from dramok.store import Key


def save_view(
    workspace: Workspace, game_id: str, name: str, doc: dict[str, Any], page: str, key: Key | None = None
) -> tuple[Commit, str]:
    """Save a view; one with the same name is replaced. Returns its id."""
    name = small_entities.named("view", name)
    old = small_entities.called(workspace.game(game_id), "view", name)
    if old is None:
        return small_entities.make(workspace, game_id, "view", {"name": name, "doc": doc}, f"view {name}", page, key)
    return small_entities.edit(workspace, game_id, "view", old.id, {"doc": doc}, f"view {name}", page, key), old.id


def remove_view(workspace: Workspace, game_id: str, ident: str, page: str, key: Key | None = None) -> Commit:
    """Remove a view; undo restores it. Raises Missing."""
    name = small_entities.thing_of(workspace.game(game_id), "view", ident).name
    return small_entities.take_out(workspace, game_id, "view", [ident], f"view {name} removed", page, key)
