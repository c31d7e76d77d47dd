"""Read the rows of a table file as cards."""

from __future__ import annotations

import re
from collections.abc import Collection, Iterable, Sequence
from functools import cached_property

from dramok.core.cards.schema.card import Card, Value
from dramok.core.cards.schema.fields import EffectField, FieldKind, NumberField, PictureField
from dramok.core.cards.sheets.column_matching import CODE, SET, TYPE, FileColumn
from dramok.core.cards.sheets.import_context import (
    ExistingCards,
    Game,
    ImportOptions,
    Refusal,
    Skip,
    TakenRow,
)
from dramok.core.cards.values.codes import free_codes
from dramok.core.cards.values.read_write import read_value
from dramok.core.effects import Vocabulary
from dramok.core.effects.vocabulary import CARD
from dramok.core.problem import Problem, fold, nearest_name, plural

TOTALS = {"total", "totals", "sum", "subtotal", "grand total"}
_TIMES = re.compile(r"\s*[x×]\s*(\d+)\s*|\s*(\d+)\s*[x×]\s*", re.IGNORECASE)
_WRITTEN = re.compile(r"\s*(upon|always)\b", re.IGNORECASE)

Memory = dict[str, tuple[Value | None, Problem | None]]
Good = dict[tuple[str, str], Value]
"""The value of a cell for a card type, if it has no problems."""


class _Soon:
    """A vocabulary that includes cards of the same file."""

    def __init__(self, known: Vocabulary, cards: Collection[str]) -> None:
        self.known, self.cards = known, cards

    def find(self, kind: str, name: str) -> str | None:
        coming = kind == CARD and fold(name) in self.cards
        return self.known.find(kind, name) or (fold(name) if coming else None)

    def name(self, kind: str, ident: str) -> str:
        return self.known.name(kind, ident)

    def names(self, kind: str) -> Iterable[str]:
        return self.known.names(kind)


class RowReader:
    """Reads one row after another and caches results by cell, so that equal cells are fast."""

    def __init__(
        self,
        game: Game,
        columns: Sequence[FileColumn],
        code_prefix: str,
        wishes: ImportOptions,
        held: ExistingCards | None = None,
        rows: Sequence[Sequence[str]] = (),
    ) -> None:
        self.game = game
        self.wishes = wishes
        self.held = held
        self.rows = rows
        self.waiting: dict[tuple[str, str], bool] = {}
        self.about: dict[str, int] = {}
        self.taken: list[TakenRow] = []
        self.skipped: list[Skip] = []
        self.refused: list[Refusal] = []
        self.columns = [column for column in columns if column.target]
        self.at = {column.target: column for column in self.columns}
        self.types = {fold(each.name): each.id for each in game.schema.types if not each.abstract}
        known = wishes.default_type in self.types.values()
        self.default_type = (
            wishes.default_type if known and wishes.default_type else next(iter(self.types.values()))
        )
        self.fields = {kind: {f.id: f for f in game.schema.fields_of(kind)} for kind in self.types.values()}
        self.names = dict(game.names)
        self.codes = dict(game.codes)
        pattern = code_prefix if "{n" in code_prefix else f"{code_prefix}-{{n:03}}"
        self.fresh = free_codes(pattern, self.codes)
        self.effect_fields = {
            f.id for fields in self.fields.values() for f in fields.values() if isinstance(f, EffectField)
        }
        self.picture_fields = {
            f.id for fields in self.fields.values() for f in fields.values() if isinstance(f, PictureField)
        }
        special = self.picture_fields | self.effect_fields
        self.value_columns: list[tuple[FileColumn, int, str, dict[int, Memory], Good, bool]] = []
        for column in self.columns:
            target = column.target or ""
            if target in (TYPE, CODE, SET):
                continue
            # Types may define a field with different bounds: cache by definition.
            pictures = game.pictures.items() if target in self.picture_fields else ()
            memories: dict[int, Memory] = {
                id(found[target]): {name: (sha, None) for name, sha in pictures}
                for found in self.fields.values()
                if target in found
            }
            self.value_columns.append((column, column.index, target, memories, {}, target not in special))
        # Rules text goes to the effect field unchanged, drafts included, if the file has a separate column for printed text.
        self.own_language = game.printed_field is None or game.printed_field in self.at

    @cached_property
    def soon(self) -> Vocabulary:
        """The game's names plus the cards of the file; each card resolves to its own name."""
        column = self.at.get(self.game.name_field)
        at = column.index if column else len(self.rows)
        return _Soon(self.game.vocabulary, {fold(row[at]) for row in self.rows if at < len(row)} - {""})

    def read(self, index: int, row: Sequence[str], above: bool, header: Sequence[str]) -> None:
        why = self._skip_reason(row, above, header)
        if why is not None:
            first = next(((place, cell) for place, cell in enumerate(row) if cell.strip()), (0, ""))
            heading = header[first[0]].strip() if first[0] < len(header) and first[1] else ""
            self.skipped.append(Skip(index + 1, heading, first[1].strip()[:80], why))
            return
        self._card(index + 1, row)

    def _skip_reason(self, row: Sequence[str], above: bool, header: Sequence[str]) -> str | None:
        filled = [cell for cell in row if cell and not cell.isspace()]
        if not filled:
            return "a blank line"
        if above:
            return "a title above the header"
        if not self.columns:
            return "no column is matched to a field yet"
        if len(filled) <= 3 and any(fold(cell).rstrip(":") in TOTALS for cell in filled):
            return "a total, not a card"
        if (
            row[0][:1] in header[0]
            and len(filled) > 1
            and [fold(cell) for cell in row] == [fold(cell) for cell in header]
        ):
            return "the header again"
        return None

    def _card(self, row_number: int, row: Sequence[str]) -> None:
        notes: list[str] = []
        refusals: list[Refusal] = []
        card = self._about(row_number, row, refusals) if self.held else None
        kind = self._type(row_number, row, refusals, notes, card)
        fields = self.fields[kind]
        values: dict[str, Value] = {}
        corrected = bool(self.wishes.corrections)
        for column, index, target, memories, good, plain in self.value_columns:
            cell = (
                self._cell(row_number, column, row) if corrected else row[index] if index < len(row) else ""
            )
            value = good.get((kind, cell)) if card is None else None
            if value is not None:
                values[target] = value
                continue
            if not cell or cell.isspace():
                continue
            found = fields.get(target)
            if found is None:
                notes.append(
                    f"{self.game.schema.type(kind).name} has no {column.name}: “{cell.strip()[:30]}” is left out"
                )
                continue
            memory = memories[id(found)]
            if (not plain or card is not None) and self._special(found, cell, card, memory, values, notes):
                continue
            value, problem = memory.get(cell) or self._read(found, cell.strip(), memory, cell)
            if problem is not None:
                value = self._near(row_number, column, found, cell.strip(), memory, problem, refusals, notes)
            elif value is not None:
                good[kind, cell] = value
            if value is not None:
                values[target] = value
        code = self._code(row_number, row, refusals, card)
        if refusals:
            first, rest = refusals[0], refusals[1:]
            others = tuple(f"{each.column}: {each.why}" for each in rest)
            self.refused.append(
                Refusal(first.row, first.column, first.value, first.why, first.mend, first.near, others)
            )
            return
        home = self._set(row_number, row, notes)
        if card is not None:
            name = str(values.get(self.game.name_field) or card.text(self.game.name_field))
            self.taken.append(
                TakenRow(row_number, code or card.code, name, kind, values, tuple(notes), card.id, home)
            )
            return
        self._take(row_number, code, kind, values, notes, home)

    def _about(self, row_number: int, row: Sequence[str], refusals: list[Refusal]) -> Card | None:
        """The existing card of a row, by the file's key column; None for a new one."""
        held = self.held
        target = CODE if held and held.key == "code" else self.game.name_field
        column = self.at.get(target)
        if held is None or column is None:
            return None
        cell = self._cell(row_number, column, row)
        found = held.by_key.get(fold(cell), ()) if cell else ()
        if not cell and held.key != CODE:
            refusals.append(
                Refusal(
                    row_number,
                    column.heading.strip(),
                    "",
                    "without a name it can't be matched by name",
                    "write its name, or match by code",
                )
            )
            return None
        if len(found) > 1:
            for ident in found:
                self.about.setdefault(ident, row_number)
            what = f"{plural(len(found), 'card')} are called so"
            refusals.append(
                Refusal(row_number, column.heading.strip(), cell[:80], what, "match by code instead")
            )
            return None
        if not found:
            return None
        before = self.about.setdefault(found[0], row_number)
        if before != row_number:
            refusals.append(
                Refusal(
                    row_number,
                    column.heading.strip(),
                    cell[:80],
                    f"row {before} is about this card already",
                    "keep one of the two rows",
                )
            )
        return held.cards[found[0]]

    def _set(self, row_number: int, row: Sequence[str], notes: list[str]) -> str | None:
        column = self.at.get(SET)
        cell = self._cell(row_number, column, row) if column else ""
        found = self.game.sets.get(fold(cell)) if cell else None
        if cell and found is None:
            notes.append(f"there is no set {cell[:40]} yet")
        return found

    def _picture(
        self, found: FieldKind, cell: str, memory: Memory, values: dict[str, Value], notes: list[str]
    ) -> None:
        """A picture by its file name: the game's own, or the name itself until the picture is imported."""
        value, problem = memory.get(fold(cell)) or self._read(found, cell, memory, fold(cell))
        if value is not None and problem is None:
            values[found.id] = value
            if value == cell and "." in cell:
                notes.append(f"{found.name} “{cell[:60]}” is still to be brought")
        else:
            notes.append(f"{found.name} “{cell[:30]}” is left out: it is not a file's name")

    def _special(
        self,
        found: FieldKind,
        cell: str,
        card: Card | None,
        memory: Memory,
        values: dict[str, Value],
        notes: list[str],
    ) -> bool:
        """Handle a cell equal to its card's text, and cells of pictures and effects; otherwise False."""
        ident, held = found.id, self.held
        if card is not None and held and held.shown(card, found) == cell.strip():
            if ident in card.values:
                values[ident] = card.values[ident]
        elif ident in self.picture_fields:
            self._picture(found, cell.strip(), memory, values, notes)
            if ident not in values and card is not None and ident in card.values:
                values[ident] = card.values[ident]
        elif ident not in self.effect_fields:
            return False
        elif card is not None and held and held.printed(card) == _plain(cell):
            names = (ident, self.game.printed_field)
            values |= {name: card.values[name] for name in names if name and name in card.values}
        else:
            self._text(found, cell.strip(), memory, values, notes)
        return True

    def _take(
        self,
        row_number: int,
        code: str,
        kind: str,
        values: dict[str, Value],
        notes: list[str],
        home: str | None,
    ) -> None:
        name = str(values.get(self.game.name_field, ""))
        code = code or next(self.fresh)
        key = fold(name)
        if not name:
            notes.append(f"no name: its code {code} is used")
        elif key in self.names:
            notes.append(f"a second card called {name}: the first is {self.names[key]}")
        else:
            self.names[key] = code
        self.codes[fold(code)] = name or code
        self.taken.append(TakenRow(row_number, code, name, kind, values, tuple(notes), None, home))

    def _cell(self, row_number: int, column: FileColumn, row: Sequence[str]) -> str:
        corrected = self.wishes.corrections.get((row_number, column.index))
        if corrected is not None:
            return corrected.strip()
        return row[column.index].strip() if column.index < len(row) else ""

    def _type(
        self,
        row_number: int,
        row: Sequence[str],
        refusals: list[Refusal],
        notes: list[str],
        card: Card | None = None,
    ) -> str:
        column = self.at.get(TYPE)
        cell = self._cell(row_number, column, row) if column else ""
        if column is None or not cell:
            if card is not None:
                return card.type
            if column is not None:
                notes.append(f"no type: taken as {self.game.schema.type(self.default_type).name}")
            return self.default_type
        found = self.types.get(cell) or self.types.get(fold(cell))
        if found is not None:
            self.types[cell] = found  # the next equal cell is fast
            return found
        names = [each.name for each in self.game.schema.types if not each.abstract]
        near = nearest_name(cell, names)
        if near and self.wishes.accept_near:
            notes.append(f"{column.name} “{cell}” is read as {near}")
            return self.types[fold(near)]
        mend = f"did you mean {near}?" if near else f"write one of {', '.join(names)}"
        refusals.append(
            Refusal(
                row_number, column.heading.strip(), cell[:80], "the game has no such card type", mend, near
            )
        )
        return self.default_type

    def _near(
        self,
        row_number: int,
        column: FileColumn,
        found: FieldKind,
        cell: str,
        memory: Memory,
        problem: Problem,
        refusals: list[Refusal],
        notes: list[str],
    ) -> Value | None:
        """The replacement for an unreadable cell: digits for a number word, the similar value if requested,
        nothing if the cell may be empty; otherwise the row is refused.
        """
        words = isinstance(found, NumberField)
        if problem.nearest and (words or self.wishes.accept_near):
            notes.append(f"{column.name} “{cell}” is read as {problem.nearest}")
            return self._read(found, problem.nearest, memory, problem.nearest)[0]
        if self.wishes.leave_empty:
            notes.append(f"{column.name} “{cell[:40]}” is left empty: {problem.what}")
            return None
        refusals.append(
            Refusal(
                row_number, column.heading.strip(), cell[:80], problem.what, problem.mend, problem.nearest
            )
        )
        return None

    def _read(
        self, found: FieldKind, text: str, memory: Memory, cell: str
    ) -> tuple[Value | None, Problem | None]:
        """Parse a cell with caching."""
        times = _TIMES.fullmatch(text) if found.id == self.game.copies_field else None
        typed = (times.group(1) or times.group(2)) if times else text
        value, problems = read_value(found, typed, self.game.schema, self.game.vocabulary)
        memory[cell] = (value, problems[0] if problems else None)
        return memory[cell]

    def _text(
        self, found: FieldKind, text: str, memory: Memory, values: dict[str, Value], notes: list[str]
    ) -> None:
        """Effect lines if the text is in the effect language, otherwise the card's printed text."""
        if self.own_language or _WRITTEN.match(text):
            value, problem = memory.get(text) or self._read(found, text, memory, text)
            soon = problem is not None and self._read_soon(found, text)
            if value is not None and (problem is None or soon or self.own_language):
                values[found.id] = value
                if soon:
                    notes.append(f"{found.name}: it names cards of this file, and plays once they are imported")
                elif problem is not None:
                    notes.append(
                        f"{found.name}: {problem.what}; it is kept as typed, and does not play: {problem.mend}"
                    )
                return
            if problem is not None:
                notes.append(f"{found.name}: {problem.what}: {problem.mend}")
        if self.game.printed_field is not None:
            values.setdefault(self.game.printed_field, text[:2000])
        notes.append("behaviour not written: its text is printed as it is")

    def _read_soon(self, found: FieldKind, text: str) -> bool:
        """Whether an effect becomes readable with the cards of the file."""
        if (found.id, text) not in self.waiting:
            self.waiting[found.id, text] = not read_value(found, text, self.game.schema, self.soon)[1]
        return self.waiting[found.id, text]

    def _code(
        self, row_number: int, row: Sequence[str], refusals: list[Refusal], card: Card | None = None
    ) -> str:
        column = self.at.get(CODE)
        code = " ".join(self._cell(row_number, column, row).split()) if column else ""
        if column is None or not code:
            return ""
        holder = self.codes.get(fold(code))
        if card is not None and fold(code) == fold(card.code):
            return card.code
        if holder is not None:
            refusals.append(
                Refusal(
                    row_number,
                    column.heading.strip(),
                    code[:80],
                    f"this code is taken by {holder}",
                    "give it a code of its own",
                )
            )
        elif len(code) > 40:
            refusals.append(
                Refusal(
                    row_number,
                    column.heading.strip(),
                    code[:80],
                    "a code of over 40 characters",
                    "shorten it",
                )
            )
        return code


def _plain(text: str) -> str:
    return " ".join(text.split())
