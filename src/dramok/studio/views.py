"""Ways of looking at the cards, saved under a name."""

from __future__ import annotations

from typing import Any

from dramok.store import Key
from dramok.studio import things
from dramok.studio.desk import Commit, Desk


def save_view(
    desk: Desk, game_id: str, name: str, doc: dict[str, Any], page: str, key: Key | None = None
) -> tuple[Commit, str]:
    """Saves a view; one of the same name is replaced. Gives its id."""
    name = things.named("view", name)
    old = things.called(desk.game(game_id), "view", name)
    if old is None:
        return things.make(desk, game_id, "view", {"name": name, "doc": doc}, f"view {name}", page, key)
    return things.edit(desk, game_id, "view", old.id, {"doc": doc}, f"view {name}", page, key), old.id


def remove_view(desk: Desk, game_id: str, ident: str, page: str, key: Key | None = None) -> Commit:
    """Takes a view out; undo brings it back. Raises Missing."""
    name = things.thing_of(desk.game(game_id), "view", ident).name
    return things.take_out(desk, game_id, "view", [ident], f"view {name} removed", page, key)
