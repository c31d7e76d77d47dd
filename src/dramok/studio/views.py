"""Ways of looking at the cards, saved under a name."""

from __future__ import annotations

import json
from collections.abc import Sequence
from typing import Any

from dramok.core.problem import Problem, fold
from dramok.store import Change, ViewRecord
from dramok.studio.desk import Commit, Desk, Missing, Refused
from dramok.studio.ids import new_id
from dramok.studio.snapshot import GameSnapshot

MOST_VIEWS = 100
MOST_NAME = 60


def save_view(
    desk: Desk, game_id: str, name: str, doc: dict[str, Any], page: str, key: str | None = None
) -> tuple[Commit, str]:
    """Saves a view; one of the same name is replaced. Gives its id."""
    name = " ".join(name.split())
    if not 1 <= len(name) <= MOST_NAME:
        raise Refused(
            Problem(where="view", what="a view needs a name", mend=f"write 1 to {MOST_NAME} characters")
        )
    old = next((each for each in desk.game(game_id).views if fold(each.name) == fold(name)), None)
    ident = old.id if old else new_id("v")

    def plan(now: GameSnapshot) -> Sequence[Change]:
        before = next((each for each in now.views if each.id == ident), None)
        if before is None and len(now.views) >= MOST_VIEWS:
            raise Refused(
                Problem(where="view", what=f"there are {MOST_VIEWS} views already", mend="take one out first")
            )
        after = json.dumps(doc, sort_keys=True)
        if before is None:
            return (Change("view", ident, "exists", None, json.dumps({"name": name, "doc": doc})),)
        return (Change("view", ident, "doc", before.doc, after),) if before.doc != after else ()

    return desk.commit(game_id, f"view {name}", page, plan, key=key), ident


def remove_view(desk: Desk, game_id: str, ident: str, page: str, key: str | None = None) -> Commit:
    """Takes a view out; undo brings it back. Raises Missing."""

    def plan(now: GameSnapshot) -> Sequence[Change]:
        view = _view(now, ident)
        return (
            Change(
                "view", ident, "exists", json.dumps({"name": view.name, "doc": json.loads(view.doc)}), None
            ),
        )

    return desk.commit(
        game_id, f"view {_view(desk.game(game_id), ident).name} taken out", page, plan, key=key
    )


def _view(game: GameSnapshot, ident: str) -> ViewRecord:
    found = next((each for each in game.views if each.id == ident), None)
    if found is None:
        raise Missing("there is no such view")
    return found
