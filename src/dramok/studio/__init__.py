"""Use cases: what a person asks for, across core, store and formats. The page and the command line share them."""

from dramok.studio.desk import Commit, Conflict, Desk, Missing, Refused, open_desk
from dramok.studio.snapshot import GameSnapshot

__all__ = ["Commit", "Conflict", "Desk", "GameSnapshot", "Missing", "Refused", "open_desk"]
