"""The only code that knows SQLite: tables, migrations, reading and writing games with their journal."""

from dramok.store.idempotency import Key, KeyReused, new_key
from dramok.store.journal import Change, Op, OpKind
from dramok.store.json_documents import card_from, read_values, write_values
from dramok.store.records import (
    ArtFacts,
    ArtRecord,
    Contents,
    Fetched,
    GameRecord,
    JobRecord,
    PlaytestRecord,
    RawGame,
    SetRecord,
    Thing,
    WholeGame,
)
from dramok.store.restore import IdsTaken
from dramok.store.store import FileBusy, FileDamaged, NotADatabase, Store, open_store
from dramok.store.text_index import Said, TextIndex
from dramok.store.unjournalled import NotWritten

__all__ = [
    "ArtFacts", "ArtRecord", "Change", "Contents", "Fetched", "FileBusy", "FileDamaged", "GameRecord", "JobRecord", "IdsTaken", "Key", "KeyReused", "OpKind", "new_key", "NotADatabase", "NotWritten", "Op", "PlaytestRecord", "RawGame", "Said", "SetRecord", "Store", "TextIndex", "WholeGame", "Thing", "card_from", "open_store", "read_values", "write_values",
]  # fmt: skip
