"""Read table files to records of text; format, encoding, delimiter and sheet are detected or given."""

from __future__ import annotations

import csv
import io
import json
import re
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from itertools import islice
from typing import Any

from dramok.core.problem import Problem
from dramok.core.text_checks import read_json
from dramok.formats.zip_archives import UnsafeArchive

MOST_BYTES = 20 * 1024 * 1024
MOST_ROWS = 100_000
MOST_COLUMNS = 400
MOST_CELLS = 1_500_000
MOST_CELL = 200_000
DELIMITERS = {";": "semicolons", ",": "commas", "\t": "tabs", "|": "bars"}
ENCODINGS = {
    "UTF-8": "utf-8-sig", "UTF-16": "utf-16", "Windows-1252": "cp1252", "Latin-1": "latin-1", "Windows-1250": "cp1250", "Windows-1251": "cp1251",
    "Mac Roman": "mac_roman", "Shift JIS": "shift_jis", "GB 18030": "gb18030",
}  # fmt: skip
"""The supported encodings by their displayed name."""
MIXED = "UTF-8, with lines of Windows-1252"
_RUN = re.compile(r"'*[=+\-@\t\r]")
_NUMBER = re.compile(r"[+-]?\d+(?:[.,]\d+)?")
_QUOTED = re.compile(r"'+[=+\-@\t\r]")


@dataclass(frozen=True)
class ReadAs:
    """How to read a table; None is detected. `encoding` is a key of ENCODINGS, `delimiter` of DELIMITERS."""

    encoding: str | None = None
    delimiter: str | None = None
    sheet: str | None = None


@dataclass(frozen=True)
class TableFile:
    """`rows` are records as a spreadsheet counts them: row 1 is rows[0]; blank lines are records without cells.

    `kind` is text, workbook or JSON; only text has an encoding and a delimiter (in words), only workbooks have
    sheets.
    """

    rows: tuple[tuple[str, ...], ...]
    encoding: str = ""
    delimiter: str = ""
    kind: str = "text"
    sheets: tuple[str, ...] = ()
    sheet: str = ""
    notes: tuple[str, ...] = ()


class UnreadableFile(ValueError):
    """The file is not a readable table. `problem` has the reason and the fix."""

    def __init__(self, what: str, mend: str) -> None:
        super().__init__(what)
        self.problem = Problem(where="file", what=what, mend=mend)


def read_table(data: bytes, wanted: ReadAs = ReadAs()) -> TableFile:
    """Read CSV, TSV, XLSX or JSON bytes.

    Raises UnreadableFile for an empty or too large file, or one without a table.
    """
    if len(data) > MOST_BYTES:
        raise UnreadableFile(
            f"the file has {len(data) / 1048576:.0f} MB; {MOST_BYTES // 1048576} MB are the most",
            "split it into several files",
        )
    if not data.strip():
        raise UnreadableFile("the file is empty", "choose a file with a header line and a line for each card")
    if data.startswith(b"PK\x03\x04"):
        return _workbook(data, wanted)
    if data.startswith(b"\xd0\xcf\x11\xe0"):
        raise UnreadableFile(
            "this is a workbook of an old kind", "save it as XLSX or CSV and choose that file"
        )
    text, encoding = _decoded(data, wanted.encoding)
    start = text.lstrip("\ufeff \t\r\n")[:400]
    if start[:1] in "[{" and (found := _records(text)) is not None:
        return TableFile(found, encoding, kind="JSON")
    if start[:1] == "<" and re.match(r"<(!doctype html|html|head|body|\?xml|svg)", start, re.IGNORECASE):
        raise UnreadableFile(
            "this is a web page, not a table",
            "save or publish the sheet as CSV, and use the file or address of that",
        )
    delimiter = wanted.delimiter if wanted.delimiter in DELIMITERS else _delimiter(text)
    return TableFile(_cut(text, delimiter), encoding, DELIMITERS[delimiter])


def _cut(text: str, delimiter: str) -> tuple[tuple[str, ...], ...]:
    csv.field_size_limit(MOST_CELL)
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=delimiter)
    try:
        rows = tuple(tuple(row) for row in islice(reader, MOST_ROWS + 1))
    except csv.Error as error:
        raise UnreadableFile(
            f"line {reader.line_num} can't be read ({error})", "look for a quote that is never closed"
        ) from error
    _within_limits(rows)
    if "'" in text and any(cell[:1] == "'" for row in rows for cell in row):
        return tuple(tuple([unescaped(cell) for cell in row]) for row in rows)
    return rows


def _within_limits(rows: Sequence[Sequence[str]]) -> None:
    if len(rows) > MOST_ROWS:
        raise UnreadableFile(f"more than {MOST_ROWS:,} lines", "split it into several files")
    if sum(map(len, rows)) > MOST_CELLS:
        raise UnreadableFile(f"more than {MOST_CELLS:,} cells", "split it into several files")
    widest = max(range(len(rows)), key=lambda number: len(rows[number]), default=0)
    if rows and len(rows[widest]) > MOST_COLUMNS:
        raise UnreadableFile(
            f"line {widest + 1} has {len(rows[widest]):,} columns", f"keep to {MOST_COLUMNS} columns"
        )
    if not any(cell.strip() for row in rows for cell in row):
        raise UnreadableFile("the file is empty", "choose a file with a header line and a line for each card")


def _workbook(data: bytes, wanted: ReadAs) -> TableFile:
    from dramok.formats.workbooks import NoWorkbook, read_sheet

    try:
        rows, names, chosen, notes = read_sheet(data, wanted.sheet, MOST_ROWS, MOST_COLUMNS)
    except UnsafeArchive as error:
        raise UnreadableFile(error.problem.what, error.problem.mend) from error
    except NoWorkbook as error:
        raise UnreadableFile(
            f"this is not a workbook: {error}", "choose a CSV, TSV, XLSX or JSON file"
        ) from error
    _within_limits(rows)
    if not rows:
        raise UnreadableFile(f"the sheet {chosen} is empty", "choose another sheet, or another file")
    return TableFile(tuple(rows), kind="workbook", sheets=tuple(names), sheet=chosen, notes=tuple(notes))


def _records(text: str) -> tuple[tuple[str, ...], ...] | None:
    """The records of a JSON document with a list of objects, with its keys as header; None for any other text.

    Nested objects become columns, lists are joined with commas.
    """
    try:
        found = read_json(text.lstrip("\ufeff"))
    except ValueError:
        if text.lstrip("\ufeff \t\r\n")[:2] in ("[{", '{"') or text.lstrip("\ufeff \t\r\n")[:1] == "{":
            raise UnreadableFile(
                "this JSON can't be read", "look for a comma or a bracket too many"
            ) from None
        return None
    lists = [found] if isinstance(found, list) else list(found.values()) if isinstance(found, dict) else []
    rows = next(
        (each for each in lists if isinstance(each, list) and each and isinstance(each[0], dict)), None
    )
    if rows is None:
        raise UnreadableFile(
            "this JSON holds no list of objects", "write it as a list with an object for each card"
        )
    if len(rows) > MOST_ROWS:
        raise UnreadableFile(f"more than {MOST_ROWS:,} cards", "split it into several files")
    flat = [dict(_flat(row)) for row in rows if isinstance(row, dict)]
    header = list(dict.fromkeys(key for row in flat for key in row))
    table = (tuple(header), *(tuple(row.get(key, "") for key in header) for row in flat))
    _within_limits(table)
    return table


def _flat(record: dict[str, Any]) -> Iterator[tuple[str, str]]:
    for key, value in record.items():
        if isinstance(value, dict):
            yield from ((inner, _plain(each)) for inner, each in value.items())
        else:
            yield str(key), _plain(value)


def _plain(value: Any) -> str:
    from dramok.formats.workbooks import as_text

    if isinstance(value, list):
        return ", ".join(_plain(each) for each in value)
    return json.dumps(value, ensure_ascii=False) if isinstance(value, dict) else as_text(value)


def _decoded(data: bytes, wanted: str | None) -> tuple[str, str]:
    if wanted in ENCODINGS:
        return data.decode(ENCODINGS[wanted], errors="replace"), wanted
    if data.startswith((b"\xff\xfe", b"\xfe\xff")):
        return data.decode("utf-16", errors="replace"), "UTF-16"
    if b"\x00" in data[:65536] or _odd_share(data[:4096]) > 0.1:
        raise UnreadableFile("this is not a table", "choose a CSV, TSV, XLSX or JSON file")
    try:
        return data.decode("utf-8-sig"), "UTF-8"
    except UnicodeDecodeError:
        pass
    lines = [_line(line) for line in data.split(b"\n")]
    if any(was_utf8 and not line.isascii() for line, was_utf8 in lines):
        return "\n".join(line for line, _ in lines).removeprefix("\ufeff"), MIXED
    try:
        return data.decode("cp1252"), "Windows-1252"
    except UnicodeDecodeError:
        return data.decode("latin-1"), "Latin-1"


def _line(line: bytes) -> tuple[str, bool]:
    try:
        return line.decode("utf-8"), True
    except UnicodeDecodeError:
        return line.decode("cp1252", errors="replace"), False


def _odd_share(data: bytes) -> float:
    """The share of control bytes, which text does not have."""
    odd = sum(byte < 32 and byte not in (9, 10, 12, 13) for byte in data)
    return odd / max(1, len(data))


def _delimiter(text: str) -> str:
    """The delimiter that divides the first lines into the most columns, most evenly."""
    head = text[:65536]
    best, best_score = ",", 0.0
    for delimiter in DELIMITERS:
        try:
            widths = [
                len(row) for row in csv.reader(io.StringIO(head, newline=""), delimiter=delimiter) if any(row)
            ][:60]
        except csv.Error:
            continue
        if not widths:
            continue
        usual = max(set(widths), key=widths.count)
        score = (usual - 1) * widths.count(usual) / len(widths)
        if score > best_score:
            best, best_score = delimiter, score
    return best


def escaped(cell: str) -> str:
    """A cell that spreadsheets do not run: an apostrophe is put before anything that looks like a formula and
    is not a number.
    """
    if not cell or cell[0] not in "=+-@\t\r'" or not _RUN.match(cell) or _NUMBER.fullmatch(cell):
        return cell
    return "'" + cell


def unescaped(cell: str) -> str:
    """The cell before `escaped`; any other is unchanged."""
    return cell[1:] if _QUOTED.match(cell) else cell


def write_text_table(rows: Iterable[Sequence[str]], delimiter: str = ",", line_end: str = "\r\n") -> str:
    """CSV (or TSV) text; cells that a spreadsheet would run are escaped."""
    out = io.StringIO(newline="")
    writer = csv.writer(out, delimiter=delimiter, lineterminator=line_end)
    writer.writerows([escaped(cell) for cell in row] for row in rows)
    return out.getvalue()
