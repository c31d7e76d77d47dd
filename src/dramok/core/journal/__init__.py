"""What the journal speaks of, and what a change does to a document: the one interpreter of changes.

Tables, snapshots, undo, repair, history and archives go over `ENTITIES`; a new entity is its record there, its document's
model in `formats.gamefile` and, where it is no thing, its table in `store.rows`.
"""

from dramok.core.journal.entities import ENTITIES, EXISTS, THINGS, Entity, part, put

__all__ = ["ENTITIES", "EXISTS", "THINGS", "Entity", "part", "put"]
