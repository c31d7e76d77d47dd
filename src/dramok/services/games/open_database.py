"""Open a database."""

from __future__ import annotations

from pathlib import Path

from dramok.services.games.demo_world import fill
from dramok.services.workspace.workspace import Workspace
from dramok.store import open_store


def open_workspace(path: Path, demo: bool = True) -> Workspace:
    """Open a database. An empty one gets the demo games, except with `demo` false. Raises store.NotADatabase."""
    workspace = Workspace(open_store(path))
    if demo and not workspace.store.games():
        fill(workspace)
    return workspace
