"""Use cases: what a person asks for, across core, store and formats. The page and the command line share them."""

from dramok.services.games.open_database import open_desk
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import Commit, Conflict, Damaged, Desk, Missing, Refused
from dramok.store import FileDamaged, Key, KeyReused, NotWritten

__all__ = [
    "Commit",
    "Conflict",
    "Damaged",
    "Desk",
    "GameSnapshot",
    "Key",
    "KeyReused",
    "FileDamaged",
    "NotWritten",
    "Missing",
    "Refused",
    "open_desk",
]
