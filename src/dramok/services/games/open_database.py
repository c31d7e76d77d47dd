"""Open a database."""

from __future__ import annotations

from pathlib import Path

from dramok.services.games.demo_world import fill
from dramok.services.workspace.workspace import Desk
from dramok.store import open_store


def open_desk(path: Path, demo: bool = True) -> Desk:
    """Open a database. An empty one gets the demo games, except with `demo` false. Raises store.NotADatabase."""
    desk = Desk(open_store(path))
    if demo and not desk.store.games():
        fill(desk)
    return desk
