"""The only code that knows SQLite: tables, migrations, reading and writing games with their journal."""

from dramok.store.documents import card_from, read_values, write_values
from dramok.store.journal import Change, Op
from dramok.store.store import GameRecord, NotADatabase, PlaytestRecord, SetRecord, Store, open_store

__all__ = [
    "Change", "GameRecord", "NotADatabase", "Op", "PlaytestRecord", "SetRecord", "Store", "card_from", "open_store", "read_values", "write_values",
]  # fmt: skip
