"""The entities of the journal, and how a change applies to a document.

Tables, snapshots, undo, repair, history and archives iterate over `ENTITIES`. A new entity needs its record
there, the model of its document in `formats.game_file` and, unless it is a small entity, its table in
`store.rows`.
"""

from dramok.core.journal.entities import ENTITIES, EXISTS, THINGS, Entity, part, put

__all__ = ["ENTITIES", "EXISTS", "THINGS", "Entity", "part", "put"]
