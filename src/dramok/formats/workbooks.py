"""Read and write sheets of XLSX workbooks."""

from __future__ import annotations

import io
import re
import warnings
import zipfile
from collections.abc import Iterable, Sequence
from datetime import date, datetime, time
from typing import Any

from dramok.core.problem import plural
from dramok.core.text_checks import text_fault
from dramok.formats.zip_archives import UnsafeArchive, open_archive

MOST_BLANK = 2_000
"""This number of consecutive blank rows ends a sheet."""
MOST_UNPACKED = 300 * 1024 * 1024
_FORMULA = re.compile(rb"<f[ >/]")
_NO_VALUE = re.compile(rb"<c [^>]*>(?:<f[^>]*/>|<f[^>]*>[^<]*</f>)(?:<v\s*/>|<v></v>)?</c>")


class NoWorkbook(ValueError):
    """The bytes are not a readable workbook."""


def read_sheet(
    data: bytes, wanted: str | None, most_rows: int, most_columns: int
) -> tuple[list[tuple[str, ...]], list[str], str, list[str]]:
    """(records, names of all sheets, name of the sheet read, notes) of a workbook.

    Formula cells give their last value. By default the first sheet with more than one filled row is read.
    Raises NoWorkbook, UnsafeArchive.
    """
    from openpyxl import load_workbook

    archive = open_archive(data, MOST_UNPACKED)
    if not any(name.lower().endswith("workbook.xml") for name in archive.namelist()):
        raise NoWorkbook("a ZIP archive without a workbook in it")
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            book = load_workbook(io.BytesIO(data), read_only=True, data_only=True, keep_links=False)
            names = [sheet.title for sheet in book.worksheets]
            if not names:
                raise NoWorkbook("a workbook without sheets")
            chosen = wanted if wanted in names else None
            rows: list[tuple[str, ...]] = []
            for name in [chosen] if chosen else names:
                found = _rows(book[name], most_rows, most_columns)
                if chosen or sum(any(row) for row in found) > 1 or not rows:
                    rows, chosen_name = found, name
                if sum(any(row) for row in rows) > 1:
                    break
            path = getattr(book[chosen_name], "_worksheet_path", "")
            book.close()
    except (NoWorkbook, UnsafeArchive):
        raise
    except Exception as error:  # openpyxl passes on many kinds of errors
        raise NoWorkbook(f"the workbook can't be read ({str(error)[:80]})") from error
    return rows, names, chosen_name, _notes(archive, path.lstrip("/"))


def _rows(sheet: Any, most_rows: int, most_columns: int) -> list[tuple[str, ...]]:
    """Every record up to the last filled one, without blank cells at its end."""
    sheet.reset_dimensions()
    rows: list[tuple[str, ...]] = []
    filled = 0
    for row in sheet.iter_rows(max_row=most_rows + 1, max_col=most_columns + 1, values_only=True):
        texts = [as_text(value) for value in row]
        while texts and not texts[-1]:
            texts.pop()
        rows.append(tuple(texts))
        if texts:
            filled = len(rows)
        elif len(rows) - filled >= MOST_BLANK:
            break
    return rows[:filled]


def _notes(archive: zipfile.ZipFile, path: str) -> list[str]:
    """Notes about a sheet's XML: formula cells without a stored value, because the program that wrote them did
    not compute it; hidden rows, which are read like all others.
    """
    if path not in archive.namelist() or archive.getinfo(path).file_size > 30 * 1024 * 1024:
        return []
    text = archive.read(path)
    notes = []
    if count := len(_NO_VALUE.findall(text)) if _FORMULA.search(text) else 0:
        notes.append(
            f"{plural(count, 'formula cell')} without a value: open the workbook in a spreadsheet and save it there, then they have one"
        )
    if hidden := [row.decode() for row in _HIDDEN.findall(text)]:
        notes.append(f"row {', '.join(hidden[:10])} is hidden in the workbook and is read all the same")
    return notes


def as_text(value: Any) -> str:
    """A cell as a user would type it: whole numbers without a decimal point, dates as 2026-11-23, yes and no."""
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float):
        return str(int(value)) if value.is_integer() and abs(value) < 1e15 else repr(round(value, 10))
    if isinstance(value, datetime) and value.time() == time():
        return value.date().isoformat()
    if isinstance(value, datetime | date | time):
        return value.isoformat(" ") if isinstance(value, datetime) else value.isoformat()
    text = str(value)
    return _unescaped(text) if "_x" in text else text


def _unescaped(text: str) -> str:
    """Decode `_xHHHH_`: surrogate pairs become one character, and characters that are invalid in text are
    dropped (see `core.text_checks`).
    """
    text = _ESCAPED.sub(lambda found: chr(int(found.group(1), 16)), text).replace("\r\n", "\n").replace("\x00", "")
    return text if text_fault(text) is None else text.encode("utf-16-le", "surrogatepass").decode("utf-16-le", "replace")


_HIDDEN = re.compile(rb'<row [^>]*?r="(\d+)"[^>]*hidden="(?:1|true)"')


def _escaped(text: str) -> str:
    """Encode characters that XML can't contain as `_xHHHH_`; text that looks like that gets its first mark escaped."""
    return _UNSAFE.sub(
        lambda found: f"_x{ord(found[0]):04X}_" if len(found[0]) == 1 else f"_x005F_{found[0][1:]}", text
    )


_UNSAFE = re.compile(r"[\x00-\x08\x0b-\x1f\ufffe\uffff]|_x[0-9A-Fa-f]{4}_")
_ESCAPED = re.compile(r"_x([0-9A-Fa-f]{4})_")
"""The escape of a workbook for characters that XML can't contain."""


def write_sheet(
    title: str, header: Sequence[str], rows: Iterable[Sequence[str | int | float | bool]]
) -> bytes:
    """A workbook with one sheet: numbers as numbers, every text as text, so that nothing is run as a formula."""
    from openpyxl import Workbook
    from openpyxl.cell import WriteOnlyCell
    from openpyxl.styles import Font

    book = Workbook(write_only=True)
    sheet = book.create_sheet(re.sub(r"[\[\]:*?/\\'\x00-\x1f\ufffe\uffff]", " ", title)[:31].strip() or "Cards")
    sheet.freeze_panes = "A2"
    bold = Font(bold=True)

    def text_cell(text: str) -> Any:
        cell = WriteOnlyCell(sheet)
        cell.value = _escaped(text)[:32_767]
        cell.data_type = "s"
        return cell

    head = [text_cell(text) for text in header]
    for cell in head:
        cell.font = bold
    sheet.append(head)
    for row in rows:
        sheet.append(
            [
                value
                if not isinstance(value, str)
                else text_cell(value)
                if value[:1] in "=+-@\t\r'" or _UNSAFE.search(value)
                else value or None
                for value in row
            ]
        )
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()
