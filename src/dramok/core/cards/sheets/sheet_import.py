"""Plan the import of a table file: header row, columns, and the outcome for every row.

Every record except the header ends as exactly one of taken, skipped, refused.
"""

from __future__ import annotations

from collections.abc import Sequence

from dramok.core.cards.sheets.column_matching import FileColumn, Target, find_header, match_columns
from dramok.core.cards.sheets.import_context import (
    ExistingCards,
    Game,
    ImportOptions,
    ImportResult,
    NothingMatched,
)
from dramok.core.cards.sheets.row_reader import RowReader
from dramok.core.problem import Problem, fold


def plan_rows(
    rows: Sequence[Sequence[str]],
    game: Game,
    code_prefix: str,
    wishes: ImportOptions = ImportOptions(),
    held: ExistingCards | None = None,
) -> ImportResult:
    """Plan an import; writes nothing. With `held`, rows are matched to existing cards.

    Raises NothingMatched if no header is found and none is chosen.
    """
    header = find_header(rows, game.schema) if wishes.header is None else wishes.header - 1
    if header is not None and not 0 <= header < len(rows):
        header = 0
    if header is None:
        looked = ", ".join(target.name for target in Target.all_of(game.schema))
        first = " / ".join(" | ".join(cell for cell in row if cell)[:80] for row in rows[:3])
        raise NothingMatched(
            Problem(
                where="header",
                what=f"no line looks like a header; the first lines are: {first or 'blank'}",
                mend=f"name the columns after the fields: {looked}",
            )
        )
    columns = match_columns(rows[header], game.schema, wishes.columns)
    reader = RowReader(game, columns, code_prefix, wishes, held, rows)
    for index, row in enumerate(rows):
        if index != header:
            reader.read(index, row, above=index < header, header=rows[header])
    return ImportResult(
        len(rows) - 1,
        header + 1,
        columns,
        tuple(reader.taken),
        tuple(reader.skipped),
        tuple(reader.refused),
        _alike(columns),
        frozenset(reader.about),
    )


def _alike(columns: Sequence[FileColumn]) -> tuple[Problem, ...]:
    by_heading: dict[str, list[FileColumn]] = {}
    for column in columns:
        if column.heading.strip():
            by_heading.setdefault(fold(column.heading), []).append(column)
    return tuple(
        Problem(
            where=same[0].heading.strip(),
            what=f"{len(same)} columns are called “{same[0].heading.strip()[:40]}”; only column {_letter(used.index)} is taken",
            mend="choose another column for the field if that is the wrong one",
        )
        for same in by_heading.values()
        if len(same) > 1
        for used in [next((column for column in same if column.target), same[0])]
    )


def _letter(index: int) -> str:
    letters = ""
    index += 1
    while index:
        index, rest = divmod(index - 1, 26)
        letters = chr(65 + rest) + letters
    return letters
