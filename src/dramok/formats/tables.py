"""Bytes of a table to records of text, with encoding and delimiter found out."""

from __future__ import annotations

import csv
import io
from dataclasses import dataclass
from itertools import islice

from dramok.core.problem import Problem

MOST_BYTES = 20 * 1024 * 1024
MOST_ROWS = 100_000
MOST_COLUMNS = 400
MOST_CELL = 200_000
DELIMITERS = {";": "semicolons", ",": "commas", "\t": "tabs", "|": "bars"}


@dataclass(frozen=True)
class Table:
    """`rows` are records as a spreadsheet counts them: row 1 is rows[0]; blank lines are records without cells."""

    rows: tuple[tuple[str, ...], ...]
    encoding: str
    delimiter: str


class Unreadable(ValueError):
    """The file is not a table that can be read. `problem` says why and what to do."""

    def __init__(self, what: str, mend: str) -> None:
        super().__init__(what)
        self.problem = Problem(where="file", what=what, mend=mend)


def read_table(data: bytes) -> Table:
    """Reads CSV or TSV bytes. Raises Unreadable for what is empty, too large, or not text."""
    if len(data) > MOST_BYTES:
        raise Unreadable(
            f"the file has {len(data) / 1048576:.0f} MB; {MOST_BYTES // 1048576} MB are the most",
            "split it into several files",
        )
    if not data.strip():
        raise Unreadable("the file is empty", "choose a file with a header line and a line for each card")
    text, encoding = _decoded(data)
    delimiter = _delimiter(text)
    csv.field_size_limit(MOST_CELL)
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=delimiter)
    try:
        rows = tuple(tuple(row) for row in islice(reader, MOST_ROWS + 1))
    except csv.Error as error:
        raise Unreadable(
            f"line {reader.line_num} can't be read ({error})", "look for a quote that is never closed"
        ) from error
    if len(rows) > MOST_ROWS:
        raise Unreadable(f"more than {MOST_ROWS:,} lines", "split it into several files")
    widest = max(range(len(rows)), key=lambda number: len(rows[number]))
    if len(rows[widest]) > MOST_COLUMNS:
        raise Unreadable(
            f"line {widest + 1} has {len(rows[widest]):,} columns", f"keep to {MOST_COLUMNS} columns"
        )
    return Table(rows, encoding, DELIMITERS[delimiter])


def _decoded(data: bytes) -> tuple[str, str]:
    if data.startswith((b"\xff\xfe", b"\xfe\xff")):
        return data.decode("utf-16", errors="replace"), "UTF-16"
    if data.startswith(b"PK\x03\x04"):
        raise Unreadable(
            "this is a workbook or a ZIP archive, not a text table",
            "save the sheet as CSV and choose that file",
        )
    if b"\x00" in data[:65536] or _odd_share(data[:4096]) > 0.1:
        raise Unreadable("this is not a text file", "save the sheet as CSV and choose that file")
    for encoding, name in (("utf-8-sig", "UTF-8"), ("cp1252", "Windows-1252")):
        try:
            return data.decode(encoding), name
        except UnicodeDecodeError:
            continue
    return data.decode("latin-1"), "Latin-1"


def _odd_share(data: bytes) -> float:
    """The share of control bytes that no text has."""
    odd = sum(byte < 32 and byte not in (9, 10, 12, 13) for byte in data)
    return odd / max(1, len(data))


def _delimiter(text: str) -> str:
    """The delimiter that cuts the first lines into the most columns, most evenly."""
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
