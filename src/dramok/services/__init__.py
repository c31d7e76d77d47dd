"""Use cases: what a person asks for, across core, store and formats. The page and the command line share them."""

from dramok.services.games.open_database import open_workspace
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import Commit, Conflict, Damaged, Missing, Refused, Workspace
from dramok.store import FileDamaged, Key, KeyReused, NotWritten

__all__ = [
    "Commit",
    "Conflict",
    "Damaged",
    "Workspace",
    "GameSnapshot",
    "Key",
    "KeyReused",
    "FileDamaged",
    "NotWritten",
    "Missing",
    "Refused",
    "open_workspace",
]
