"""Use cases: what a person asks for, across core, store and formats. The page and the command line share them."""

from dramok.store import FileDamaged, Key, KeyReused, NotWritten
from dramok.studio.desk import Commit, Conflict, Damaged, Desk, Missing, Refused
from dramok.studio.opening import open_desk
from dramok.studio.snapshot import GameSnapshot

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
