"""Import and export of tables with 10,000 rows against the bare libraries; an archive against zipfile alone; the diff of two marks."""

from __future__ import annotations

import csv
import io
import sqlite3
import tempfile
import time
import zipfile
from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import Any

from bench.imports import sheet
from dramok.services import Workspace, open_workspace
from dramok.services.cards.cells import CellEdit, write_cells
from dramok.services.faces.pictures import add_pictures
from dramok.services.files.archive import archive
from dramok.services.files.exports import export_table
from dramok.services.files.sheet_additions import Making
from dramok.services.files.sheet_import import Order, plan_import, write_import
from dramok.services.history.history import difference

GAME = "ribbon-season"
CARDS = 1_000


def timed(work: Callable[[], object], times: int = 3) -> float:
    """The middle of several runs, in seconds."""
    found = []
    for _ in range(times):
        begin = time.perf_counter()
        work()
        found.append(time.perf_counter() - begin)
    return sorted(found)[len(found) // 2]


def run() -> None:
    with tempfile.TemporaryDirectory() as folder:
        workspace = open_workspace(Path(folder) / "own.db")
        write_import(workspace, GAME, sheet(), "large.csv", "bench")
        tables(workspace, Path(folder))
        marks(workspace)
        archives(workspace)
        workspace.close()


def tables(workspace: Workspace, folder: Path) -> None:
    import openpyxl

    game = workspace.game(GAME)
    own = {form: export_table(workspace, game, form) for form in ("csv", "xlsx")}
    rows = list(csv.reader(io.StringIO(own["csv"].decode("utf-8-sig"))))

    def bare_csv_out() -> None:
        out = io.StringIO()
        csv.writer(out).writerows(rows)

    def bare_xlsx_out() -> None:
        book = openpyxl.Workbook(write_only=True)
        page = book.create_sheet()
        for row in rows:
            page.append(row)
        book.save(io.BytesIO())

    def bare_xlsx_in() -> None:
        book = openpyxl.load_workbook(io.BytesIO(own["xlsx"]), read_only=True, data_only=True)
        insert(list(book.worksheets[0].iter_rows(values_only=True)))

    def bare_csv_in() -> None:
        insert(list(csv.reader(io.StringIO(own["csv"].decode("utf-8-sig")))))

    def insert(held: list[Any]) -> None:
        with sqlite3.connect(folder / "bare.db") as connection:
            connection.execute("PRAGMA journal_mode = WAL")
            marks = ", ".join("?" * len(rows[0]))
            connection.execute(
                f"CREATE TABLE IF NOT EXISTS card ({', '.join(f'c{n}' for n in range(len(rows[0])))})"
            )
            connection.executemany(f"INSERT INTO card VALUES ({marks})", held)

    for form, out, back in (("csv", bare_csv_out, bare_csv_in), ("xlsx", bare_xlsx_out, bare_xlsx_in)):
        bare = timed(out)
        mine = timed(partial(export_table, workspace, game, form))
        against = "the csv module" if form == "csv" else "openpyxl write-only"
        print(
            f"{form} out, {len(rows) - 1:,} rows: {mine:.2f} s, {mine / bare:.1f} x {against} (wanted 10 x)"
        )
        bare = timed(back)
        data = own[form]
        took = []
        for attempt in range(3):
            begin = time.perf_counter()
            order = Order(set_name=f"Back {form} {attempt}")
            clone = (
                data
                if form == "xlsx"
                else data.replace(b"\nRS-", b"\nQ%d-" % attempt).replace(b"\nLA", b"\nP%d" % attempt)
            )
            plan_import(game, clone, f"back.{form}", order)
            took.append(time.perf_counter() - begin)
        mine = sorted(took)[1]
        print(
            f"{form} in, looked at: {mine:.2f} s, {mine / bare:.1f} x reading and inserting bare (wanted 10 x)"
        )
        mine = timed(partial(plan_import, game, data, f"same.{form}", Order(match="code")))
        print(f"{form} in, as an update of every card: {mine:.2f} s, {mine / bare:.1f} x (wanted 10 x)")


def marks(workspace: Workspace) -> None:
    game = workspace.game(GAME)
    before = game.seq
    for field, values in (("cost", "123456"), ("root", "23456")):
        edits = [
            CellEdit(card.id, field, values[number % len(values)])
            for number, card in enumerate(game.cards.values())
        ]
        write_cells(workspace, GAME, edits, workspace.game(GAME).seq, "bench")
    game = workspace.game(GAME)
    took = timed(lambda: difference(workspace, game, before), 5)
    found = difference(workspace, game, before)
    fields = sum(len(each.changes) for each in found.cards)
    print(
        f"difference of two marks: {took * 1000:.0f} ms, {len(found.cards):,} of {len(game.cards):,} cards, {fields:,} fields (wanted 300 ms)"
    )


def archives(workspace: Workspace) -> None:
    from PIL import Image

    small = open_workspace(Path(tempfile.mkdtemp()) / "pictures.db")
    rows = "Name,Type,Bed,Cost,Height,Root,Art\n" + "".join(
        f"Card {n},Plant,Fern,2,1,3,p{n}.png\n" for n in range(CARDS)
    )
    write_import(
        small, GAME, rows.encode(), "cards.csv", "bench", Order(make=Making(fields={6: ("Art", "picture")}))
    )
    noise = Image.effect_noise((420, 560), 60).convert("RGB")
    files = []
    for number in range(CARDS):
        out = io.BytesIO()
        noise.rotate(number * 0.36).save(out, "JPEG", quality=70)
        files.append((f"p{number}.png", out.getvalue()))
    add_pictures(small, GAME, files)
    game = small.game(GAME)
    data = archive(small, game)
    with zipfile.ZipFile(io.BytesIO(data)) as held:
        entries = [(info.filename, info.compress_type, held.read(info)) for info in held.infolist()]

    def bare() -> None:
        with zipfile.ZipFile(io.BytesIO(), "w") as target:
            for name, kind, content in entries:
                target.writestr(name, content, compress_type=kind, compresslevel=6)

    alone, mine = timed(bare), timed(lambda: archive(small, game))
    print(
        f"archive of {len(game.cards):,} cards and {CARDS:,} pictures: {mine:.2f} s, {len(data) // 1048576} MB, {mine / alone:.1f} x zipfile alone (wanted 3 x)"
    )
    small.close()
