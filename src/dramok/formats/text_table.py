"""Text tables for other programs: the user defines columns, order, separator and line ends."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from typing import Literal

from pydantic import Field

from dramok.core.problem import Frozen
from dramok.formats.tables import escaped

SEPARATORS = {"tab": "\t", "comma": ",", "semicolon": ";", "bar": "|"}


class TextColumn(Frozen):
    """One column.

    `front` and `back` name its sources for each side (see `services.files.exports.SOURCES`), joined by `join`;
    empty ones are left out.
    """

    heading: str = Field(default="", max_length=120)
    front: tuple[str, ...] = Field(default=(), max_length=40)
    back: tuple[str, ...] = Field(default=(), max_length=40)
    join: str = Field(default=" ", max_length=20)


class TextTable(Frozen):
    """A text table definition.

    `separator` is a name of SEPARATORS or any text of up to 8 characters. `sides`: front omits backs; joined
    puts the back into the same cell, after `side_join`; lines gives a card with a back a second line.
    `newlines` in cells are kept, replaced by a blank, or written as the two characters \n. `guard` puts an
    apostrophe before cells that a spreadsheet would run.
    """

    name: str = Field(min_length=1, max_length=60)
    columns: tuple[TextColumn, ...] = Field(default=(), max_length=200)
    separator: str = Field(default="tab", min_length=1, max_length=9)
    header: bool = True
    quotes: Literal["needed", "always", "never"] = "needed"
    newlines: Literal["keep", "blank", "escape"] = "keep"
    line_end: Literal["lf", "crlf"] = "lf"
    sides: Literal["front", "joined", "lines"] = "front"
    side_join: str = Field(default=" | ", max_length=20)
    each_copy: bool = False
    guard: bool = True
    query: str = Field(default="", max_length=2_000)

    model_config = {
        "json_schema_extra": {
            "examples": [
                {
                    "name": "Labels",
                    "separator": "tab",
                    "columns": [{"heading": "Card", "front": ["code", "title"]}],
                }
            ]
        }
    }

    @property
    def cut(self) -> str:
        """The separator between cells."""
        return SEPARATORS.get(self.separator, self.separator)

    @property
    def ending(self) -> str:
        """The file extension for this separator."""
        return {"tab": "tsv", "comma": "csv", "semicolon": "csv"}.get(self.separator, "txt")


Read = Callable[[str], str]


def text_of(table: TextTable, cards: Iterable[tuple[Read, int]]) -> tuple[str, list[str]]:
    """The text, and notes on values that had to change. Cards are (reader of a source, number of copies)."""
    writer = _Writer(table)
    if table.header:
        writer.line([column.heading for column in table.columns])
    for read, copies in cards:
        front = [_joined(column.front, column.join, read) for column in table.columns]
        back = [_joined(column.back, column.join, read) for column in table.columns]
        for _ in range(copies if table.each_copy else 1):
            if table.sides == "joined":
                writer.line(
                    [
                        table.side_join.join(each for each in pair if each)
                        for pair in zip(front, back, strict=True)
                    ]
                )
                continue
            writer.line(front)
            if table.sides == "lines" and any(back):
                writer.line(back)
    return writer.text(), writer.notes()


def _joined(sources: Sequence[str], join: str, read: Read) -> str:
    return join.join(text for source in sources if (text := read(source)))


class _Writer:
    def __init__(self, table: TextTable) -> None:
        self.table = table
        self.lines: list[str] = []
        self.blanked = 0
        self.guarded = 0

    def line(self, cells: Sequence[str]) -> None:
        self.lines.append(self.table.cut.join(self._cell(cell) for cell in cells))

    def _cell(self, text: str) -> str:
        table = self.table
        text = text.replace("\r\n", "\n").replace("\r", "\n")
        if table.newlines != "keep":
            text = text.replace("\n", " " if table.newlines == "blank" else "\\n")
        if table.guard and (safe := escaped(text)) != text:
            self.guarded += 1
            text = safe
        if table.quotes == "never":
            plain = _without(text.replace("\n", " "), table.cut)
            self.blanked += plain != text
            return plain
        if table.quotes == "always" or any(each in text for each in (table.cut, '"', "\n")) or _touching(text, table.cut):
            return '"' + text.replace('"', '""') + '"'
        return text

    def text(self) -> str:
        end = "\r\n" if self.table.line_end == "crlf" else "\n"
        return "".join(line + end for line in self.lines)

    def notes(self) -> list[str]:
        said = []
        if self.blanked:
            said.append(
                f"{self.blanked} cells held the separator or a line break, which stand as a blank now: let cells be quoted to keep them"
            )
        if self.guarded:
            said.append(
                f"{self.guarded} cells that a spreadsheet would run as formulas have an apostrophe in front"
            )
        return said


def _touching(text: str, cut: str) -> int:
    """The number of characters at an end of a cell that would be read as part of the separator next to it; 0
    for none, negative at the front.
    """
    for length in range(len(cut) - 1, 0, -1):
        if text.endswith(cut[:length]):
            return length
        if text.startswith(cut[-length:]):
            return -length
    return 0


def _without(text: str, cut: str) -> str:
    """An unquoted cell: each separator in it is replaced by a blank."""
    stand = " " if cut.strip(" ") else "\u00a0"
    while cut in text:
        text = text.replace(cut, stand)
    while many := _touching(text, cut):
        text = text[:-many] if many > 0 else text[-many:]
    return text


def sources_of(table: TextTable) -> Mapping[str, None]:
    """Every source of a table's columns."""
    return dict.fromkeys(source for column in table.columns for source in (*column.front, *column.back))
