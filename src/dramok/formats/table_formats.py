"""The table formats for export, one record each. Import detects the format itself (`tables`)."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from dramok.formats.tables import write_text_table

Cell = str | int | float | bool | list[str]
Row = Sequence[Cell]


@dataclass(frozen=True)
class TableForm:
    """`write` creates the file from (title, header, rows of typed cells); an empty text is an empty cell."""

    ending: str
    media: str
    write: Callable[[str, Sequence[str], Iterable[Row]], bytes]


def _texts(rows: Iterable[Row]) -> Iterator[list[str]]:
    """Cells as users type them."""
    for row in rows:
        yield [_text(cell) for cell in row]


def _text(cell: Cell) -> str:
    if isinstance(cell, bool):
        return "yes" if cell else "no"
    return ", ".join(cell) if isinstance(cell, list) else str(cell)


def _csv(title: str, header: Sequence[str], rows: Iterable[Row]) -> bytes:
    return ("\ufeff" + write_text_table([list(header), *_texts(rows)])).encode()


def _tsv(title: str, header: Sequence[str], rows: Iterable[Row]) -> bytes:
    return write_text_table([list(header), *_texts(rows)], "\t").encode()


def _xlsx(title: str, header: Sequence[str], rows: Iterable[Row]) -> bytes:
    """Numbers as numbers; everything else as typed text."""
    from dramok.formats.workbooks import write_sheet

    cells = (
        [
            each if isinstance(each, int | float) and not isinstance(each, bool) else _text(each)
            for each in row
        ]
        for row in rows
    )
    return write_sheet(title, header, cells)


def _json(title: str, header: Sequence[str], rows: Iterable[Row]) -> bytes:
    """A list of objects keyed by heading, with numbers, lists and booleans; empty values are left out, except
    in the first object, which names every column.
    """
    documents: list[dict[str, Any]] = [
        {heading: None if cell == "" else cell for heading, cell in zip(header, row, strict=True) if number == 0 or cell != ""}
        for number, row in enumerate(rows)
    ]
    return (json.dumps(documents, ensure_ascii=False, indent=1) + "\n").encode()


FORMS: Mapping[str, TableForm] = {
    each.ending: each
    for each in (
        TableForm("csv", "text/csv; charset=utf-8", _csv),
        TableForm("tsv", "text/tab-separated-values; charset=utf-8", _tsv),
        TableForm("xlsx", "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet", _xlsx),
        TableForm("json", "application/json", _json),
    )
}
