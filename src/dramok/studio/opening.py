"""Opening a database."""

from __future__ import annotations

from pathlib import Path

from dramok.store import open_store
from dramok.studio.demo_world import fill
from dramok.studio.desk import Desk


def open_desk(path: Path, demo: bool = True) -> Desk:
    """Opens a database. One without any game is given the demo world, save without `demo`. Raises store.NotADatabase."""
    desk = Desk(open_store(path))
    if demo and not desk.store.games():
        fill(desk)
    return desk
