"""An import of 10,000 rows, as a ratio to csv.reader plus one bulk insert of the same rows."""

from __future__ import annotations

import csv
import io
import sqlite3
import tempfile
import time
from pathlib import Path

from dramok.services import open_workspace
from dramok.services.files.sheet_import import write_import

ROWS = 10_000
HEADER = "Card Name,Type,Bed,Rarity,Water cost,Height,Root,Rules Text,Count,Tags\n"
TEXTS = [
    "When it is pulled up 2 ribbons to you.",
    "upon enter this: draw 1",
    "",
    "Take one card from your pile.",
]


def sheet() -> bytes:
    beds, rarities = ("Fern", "Briar", "Orchid", "Moss"), ("Garden", "Grown", "Prize", "Heirloom")
    lines = (
        f"Larch {n},Plant,{beds[n % 4]},{rarities[n % 7 % 4]},{n % 7},{n % 5},{n % 9},{TEXTS[n % 4]},x{n % 3 + 1},climber\n"
        for n in range(ROWS)
    )
    return (HEADER + "".join(lines)).encode()


def run() -> None:
    data = sheet()
    ratios, times = [], []
    with tempfile.TemporaryDirectory() as folder:
        for attempt in range(3):
            begin = time.perf_counter()
            rows = list(csv.reader(io.StringIO(data.decode())))
            with sqlite3.connect(Path(folder) / f"bare{attempt}.db") as connection:
                connection.execute("PRAGMA journal_mode = WAL")
                connection.execute("CREATE TABLE card (a, b, c, d, e, f, g, h, i, j)")
                connection.executemany("INSERT INTO card VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)", rows)
            bare = time.perf_counter() - begin
            workspace = open_workspace(Path(folder) / f"own{attempt}.db")
            workspace.game("ribbon-season")
            begin = time.perf_counter()
            write_import(workspace, "ribbon-season", data, "large.csv", "bench")
            times.append(time.perf_counter() - begin)
            ratios.append(times[-1] / bare)
            workspace.close()
    print(
        f"import of {ROWS:,} rows: {sorted(times)[1]:.2f} s, {sorted(ratios)[1]:.1f} x csv.reader plus one bulk insert (wanted 10 x)"
    )
