"""Table sheets for virtual tables: planned within size limits, rendered, and archived with the settings to enter."""

from __future__ import annotations

import json
import zipfile
from collections import Counter
from collections.abc import Iterator, Sequence
from contextlib import closing
from dataclasses import dataclass
from string import ascii_uppercase
from typing import Any, BinaryIO, Literal

from pydantic import Field

from dramok.core.cards import Card
from dramok.core.faces import Face, Size
from dramok.core.output import Grid, Limits, NoRoom, each_once, file_name, fit_grids
from dramok.core.problem import Frozen, Problem
from dramok.formats.sheet_image import ENDINGS, SheetImage, encoded
from dramok.formats.text_table import Read, TextColumn, TextTable, text_of
from dramok.services.cards.card_detail import detail_of
from dramok.services.files.exports import must_show, read_layout, reader_of
from dramok.services.output.cell_images import Extent, drawn_cells, measures
from dramok.services.output.chosen_cards import CardChoice, Resolved, wanted
from dramok.services.output.job_steps import Made, Tick, unwatched
from dramok.services.output.table_guide import guide_lines, guide_page
from dramok.services.workspace.small_entities import thing_of
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import Refused, Workspace

FORMAT = "dramok-sheet/1"
MOST_BACKS = 6
"""With more different backs than this, sheets are not grouped by back."""
LEAST_QUALITY = 60
LEAST_SHARE = 0.15
MB = 1024 * 1024
DEFAULT_TABLE = TextTable(
    name="Cards",
    columns=tuple(
        TextColumn(heading=heading, front=(source,))
        for heading, source in (
            ("File", "sheet file"), ("Place", "sheet place"), ("Column", "sheet column"), ("Row", "sheet row"), ("Code", "code"), ("Name", "title"), ("Copies", "sheet copies"),
        )
    ),
)  # fmt: skip
"""The text table included if the user defined none."""


class SheetOrder(Frozen):
    """An order of table sheets.

    `decks`: separate sheets for each of these decks, instead of the choice of cards. `each_copy`: one cell for
    every copy. `width` of a cell in pixels. `megabytes`: the size limit of a file. `hidden`: the face shown of
    cards in a rival's hand, in the last cell of every sheet or in a separate file. `backs`: one for all cards
    of a sheet, or a matching sheet of backs. `single`: one file for each card. `table` is the id of a text
    table.
    """

    choice: CardChoice = CardChoice()
    decks: tuple[str, ...] = Field(default=(), max_length=100)
    each_copy: bool = True
    width: int = Field(default=512, ge=32, le=4_096)
    limits: Limits = Limits()
    megabytes: float = Field(default=10, gt=0, le=200, allow_inf_nan=False)
    hidden: Literal["none", "last", "apart"] = "none"
    backs: Literal["none", "one", "each"] = "one"
    extent: Extent = "square"
    form: Literal["png", "jpeg"] = "jpeg"
    quality: int = Field(default=92, ge=30, le=100)
    ground: str = Field(default="#000000", pattern=r"^#[0-9a-fA-F]{6}$")
    single: bool = False
    table: str = Field(default="", max_length=80)

    @property
    def choices(self) -> tuple[CardChoice, ...]:
        decks = tuple(self.choice.model_copy(update={"deck": each}) for each in self.decks)
        return decks or (self.choice,)

    model_config = {
        "json_schema_extra": {
            "examples": [
                {"decks": ["Fern over Moss"], "limits": {"side": 4096}, "hidden": "last", "backs": "one"}
            ]
        }
    }


@dataclass(frozen=True)
class PlannedSheet:
    """A sheet:

    `cards` with the copies that each cell represents; `back` is the card whose back is used for all; `number`
    of `count` in its group.
    """

    folder: str
    stem: str
    number: int
    count: int
    grid: Grid
    size: Size
    cards: tuple[tuple[Card, int], ...]
    back: Card
    group: str

    def name(self, form: str, what: str = "") -> str:
        """The file name, with the grid and the number of cards."""
        if self.grid.columns == self.grid.rows == 1:
            base = file_name(" ".join(part for part in (self.cards[0][0].code, self.stem, what) if part))
        else:
            parts = [self.stem, f"{self.number} of {self.count}" if self.count > 1 else "", what, f"{self.grid.columns}x{self.grid.rows}", f"{self.grid.cards} cards"]  # fmt: skip
            base = file_name(", ".join(part for part in parts if part))
        return f"{self.folder}{base}.{ENDINGS[form]}"


@dataclass(frozen=True)
class SheetPlan:
    order: SheetOrder
    game: GameSnapshot
    title: str
    sheets: tuple[PlannedSheet, ...]
    table: TextTable
    warnings: tuple[str, ...]

    @property
    def cells(self) -> int:
        return sum(len(each.cards) for each in self.sheets)


def plan_sheets(
    workspace: Workspace, game: GameSnapshot, order: SheetOrder, cards: Resolved | None = None
) -> SheetPlan:
    """Plan the cells of all sheets.

    Raises Refused if no card is chosen or a sheet can't hold one; Missing for an unknown deck, set, print run
    or text table.
    """
    table = DEFAULT_TABLE
    if order.table:
        table = read_layout(thing_of(game, "layout", order.table).doc)
        must_show(game, table)
    sheets: list[PlannedSheet] = []
    warnings: list[str] = []
    names: list[str] = []
    for number, choice in enumerate(order.choices):
        found = wanted(workspace, game, choice, cards[number] if cards else None)
        warnings += found.notes
        names.append(found.deck.name if found.deck else _title(game, choice))
        folder = f"{each_once(map(file_name, names))[-1]}/" if len(order.choices) > 1 else ""
        cells = [(card, 1 if order.each_copy and not order.single else count) for card, count in found.cards for _ in range(count if order.each_copy and not order.single else 1)]  # fmt: skip
        sheets += _sheets(game, order, cells, folder, names[-1], warnings)
    title = names[0] if len(names) == 1 else f"{len(names)} decks"
    return SheetPlan(order, game, title, tuple(sheets), table, tuple(dict.fromkeys(warnings)))


def _named(game: GameSnapshot, title: str) -> str:
    return title if title == game.name else f"{game.name}, {title}"


def _title(game: GameSnapshot, choice: CardChoice) -> str:
    home = next((each.name for each in game.sets if choice.set in (each.id, each.name)), None)
    return home or (game.name if not choice.query.strip() else choice.query.strip()[:40])


def _sheets(
    game: GameSnapshot,
    order: SheetOrder,
    cards: Sequence[tuple[Card, int]],
    folder: str,
    name: str,
    warnings: list[str],
) -> Iterator[PlannedSheet]:
    """Sheets for cards of one size and, if one back is used for all, of one back."""
    backs = Counter(detail_of(game, card).back.digest for card, _ in cards) if _by_back(order) else Counter()
    parted = len(backs) <= MOST_BACKS
    if not parted:
        warnings.append(
            f"{name} has {len(backs)} different backs, and sheets have one: ask for a back for each card"
        )
    groups: dict[tuple[float, float, str, float, str], list[tuple[Card, int]]] = {}
    for card, count in cards:
        size = game.faces.worn(card).size
        bleed = size.bleed if order.extent == "bleed" else 0.0
        back = detail_of(game, card).back.digest if backs and parted else ""
        groups.setdefault((size.width, size.height, size.outline, bleed, back), []).append((card, count))
    for number, held in enumerate(groups.values()):
        size = game.faces.worn(held[0][0]).size
        stem = file_name(
            name if len(groups) == 1 else f"{name} {ascii_uppercase[number] if number < 26 else number + 1}"
        )
        wide, high = measures((size.width, size.height), size.bleed, order.extent, order.width)
        try:
            grids = [Grid(1, 1, 1, wide, high)] * len(held) if order.single else fit_grids(len(held), wide, high, order.limits, order.hidden == "last")  # fmt: skip
        except NoRoom as error:
            raise Refused(error.problem) from error
        if order.single and max(wide, high) > order.limits.side:
            raise Refused(
                Problem(where="side", what=f"a card of {wide} x {high} pixels is over {order.limits.side}", mend="make cells less wide")
            )  # fmt: skip
        common = backs.most_common(1)[0][0] if backs and not parted else ""
        shown = next((card for card, _ in held if common and detail_of(game, card).back.digest == common), held[0][0])  # fmt: skip
        start = 0
        for place, grid in enumerate(grids, 1):
            part = tuple(held[start : start + grid.cards])
            start += grid.cards
            called = file_name(game.title(part[0][0])) if order.single else stem
            yield PlannedSheet(folder, called, place, len(grids), grid, size, part, shown, f"{folder}{stem}")


def _by_back(order: SheetOrder) -> bool:
    return order.backs == "one" or (order.hidden != "none" and order.backs != "each")


def make_sheets(
    workspace: Workspace, plan: SheetPlan, out: BinaryIO, tick: Tick = unwatched, workers: int | None = None
) -> Made:
    """Write the archive: sheets, a JSON file for each, the text table, and the instructions.

    Raises job_steps.Stopped if `tick` does, Refused for a limit that can't be met.
    """
    order, game = plan.order, plan.game
    entries: list[dict[str, Any]] = []
    lines: list[tuple[Read, int]] = []
    read = reader_of(game)
    with (
        closing(_Work(workspace, plan, tick, workers)) as work,
        zipfile.ZipFile(out, "w", zipfile.ZIP_STORED) as archive,
    ):
        for sheet in plan.sheets:
            entry = work.sheet(sheet, archive)
            entries.append(entry)
            lines += [(_placed(read(card), at), at["copies"]) for (card, _), at in zip(sheet.cards, [{**each, "file": entry["file"]} for each in entry["places"]], strict=True)]  # fmt: skip
        text, notes = text_of(plan.table.model_copy(update={"query": "", "each_copy": False}), lines)
        archive.writestr(f"{file_name(plan.table.name)}.{plan.table.ending}", text, zipfile.ZIP_DEFLATED)
        if order.single:
            _put_json(archive, "cards.json", {"format": FORMAT, "game": game.name, "cards": entries})
        archive.writestr(
            "read me first.html",
            guide_page(game.name, plan.title, order.single, entries),
            zipfile.ZIP_DEFLATED,
        )
    tick(work.total, work.total)
    facts = {
        "sheets": len(plan.sheets), "cells": plan.cells,
        "grids": [{key: entry[key] for key in ("file", "columns", "rows", "cards", "cell", "width", "height", "hidden", "back", "backs")} for entry in entries[:200]],
    }  # fmt: skip
    return Made(
        f"{file_name(_named(game, plan.title))} table {'cards' if order.single else 'sheets'}.zip",
        facts,
        (*plan.warnings, *work.warnings, *notes),
        tuple(guide_lines(order.single, entries[:12])),
    )


def _placed(read: Read, at: dict[str, Any]) -> Read:
    """A text table row that includes the card's position on its sheet."""

    def both(source: str) -> str:
        return str(at[source.partition(" ")[2]]) if source.startswith("sheet ") else read(source)

    return both


class _Work:
    """Renders the sheets of a plan into an archive, with one rendering stream for all cells."""

    def __init__(self, workspace: Workspace, plan: SheetPlan, tick: Tick, workers: int | None) -> None:
        self.workspace, self.plan, self.tick = workspace, plan, tick
        sides = 2 if plan.order.backs == "each" else 1
        self.total = plan.cells * sides + len(plan.sheets)
        self.done = 0
        self.warnings: list[str] = []
        self._apart: set[str] = set()
        self._ones: dict[str, bytes] = {}
        faces = [face for sheet in plan.sheets for side in range(sides) for face in self._faces(sheet, side)]
        self._cells = drawn_cells(workspace, faces, plan.order.width, plan.order.extent, workers)

    def close(self) -> None:
        """Cancel pending renderings."""
        self._cells.close()

    def _faces(self, sheet: PlannedSheet, side: int) -> list[Face]:
        held = [detail_of(self.plan.game, card) for card, _ in sheet.cards]
        return [each.back if side else each.face for each in held]

    def sheet(self, sheet: PlannedSheet, archive: zipfile.ZipFile) -> dict[str, Any]:
        """Render a sheet and its extra files; returns its facts."""
        order, game = self.plan.order, self.plan.game
        front, cell = self._filled(sheet)
        file = sheet.name(order.form)
        archive.writestr(file, front)
        backs = None
        if order.backs == "each":
            backs = sheet.name(order.form, "backs" if not order.single else "back")
            data, _ = self._filled(sheet)
            archive.writestr(backs, data)
        grid = sheet.grid
        entry = {
            "format": FORMAT, "game": game.name, "of": self.plan.title if not sheet.folder else sheet.folder[:-1], "file": file, "columns": grid.columns, "rows": grid.rows, "cards": grid.cards,
            "cell": {"width": cell[0], "height": cell[1]}, "width": cell[0] * grid.columns, "height": cell[1] * grid.rows,
            "outline": sheet.size.outline, "millimetres": {"width": sheet.size.width, "height": sheet.size.height},
            "hidden": self._hidden(sheet, archive), "back": self._apart_file(sheet, "back", archive) if order.backs == "one" else None, "backs": backs,
            "places": [
                {"place": place + 1, "column": place % grid.columns + 1, "row": place // grid.columns + 1, "code": card.code, "name": game.title(card), "id": card.id, "copies": copies}
                for place, (card, copies) in enumerate(sheet.cards)
            ],
        }  # fmt: skip
        if not order.single:
            _put_json(archive, f"{file.rpartition('.')[0]}.json", entry)
        self._tick(1)
        return entry

    def _tick(self, more: int) -> None:
        self.done += more
        self.tick(self.done, self.total)

    def _filled(self, sheet: PlannedSheet) -> tuple[bytes, tuple[int, int]]:
        """The picture of a sheet, and the cell size reduced to meet the size limit of the file."""
        order, grid = self.plan.order, sheet.grid
        image = SheetImage(*grid.size, order.ground if order.form == "jpeg" else None)
        size = (grid.width, grid.height)
        for place in range(grid.cards):
            image.put(next(self._cells), grid.corner(place), size)
            self._tick(1)
        if order.hidden == "last" and not order.single:
            image.put(self._one(sheet.back, grid.width), grid.corner(grid.last), size)
        return self._within(image, grid, sheet)

    def _within(self, image: SheetImage, grid: Grid, sheet: PlannedSheet) -> tuple[bytes, tuple[int, int]]:
        order = self.plan.order
        most, quality, cell = order.megabytes * MB, order.quality, (grid.width, grid.height)
        while True:
            size = (cell[0] * grid.columns, cell[1] * grid.rows)
            data = image.encoded(order.form, quality, size)
            if len(data) <= most:
                break
            if order.form == "jpeg" and quality > LEAST_QUALITY:
                quality = max(LEAST_QUALITY, quality - 12)
                continue
            share = min(0.95, (most / len(data)) ** 0.5 * 0.97)
            cell = (max(1, int(cell[0] * share)), max(1, int(cell[1] * share)))
            if cell[0] < grid.width * LEAST_SHARE:
                raise Refused(
                    Problem(
                        where="megabytes",
                        what=f"{sheet.name(order.form)} can't be made as small as {order.megabytes:g} MB",
                        mend="allow a larger file, or fewer columns and rows",
                    )
                )
        if quality != order.quality or cell[0] != grid.width:
            how = f"its cells are {cell[0]} pixels wide, not {grid.width}" if cell[0] != grid.width else f"its quality is {quality}, not {order.quality}"  # fmt: skip
            self.warnings.append(
                f"{sheet.name(order.form)}: {how}, so that it keeps to {order.megabytes:g} MB"
            )
        return data, cell

    def _one(self, card: Card, width: int) -> bytes:
        back = detail_of(self.plan.game, card).back
        if back.digest not in self._ones:
            self._ones[back.digest] = next(drawn_cells(self.workspace, [back], width, self.plan.order.extent, 1))
        return self._ones[back.digest]

    def _hidden(self, sheet: PlannedSheet, archive: zipfile.ZipFile) -> dict[str, Any] | None:
        grid = sheet.grid
        if self.plan.order.hidden == "none" or (self.plan.order.single and self.plan.order.hidden == "last"):
            return None
        if self.plan.order.hidden == "last":
            return {"place": grid.last + 1, "column": grid.columns, "row": grid.rows}
        return {"file": self._apart_file(sheet, "hidden", archive)}

    def _apart_file(self, sheet: PlannedSheet, what: str, archive: zipfile.ZipFile) -> str:
        """One file for all sheets of a group."""
        order = self.plan.order
        name = f"{sheet.group}, {what}.{ENDINGS[order.form]}"
        if name not in self._apart:
            png = self._one(sheet.back, sheet.grid.width)
            archive.writestr(name, encoded(png, order.form, order.quality, order.ground))
            self._apart.add(name)
        return name


def _put_json(archive: zipfile.ZipFile, name: str, document: Any) -> None:
    archive.writestr(name, json.dumps(document, ensure_ascii=False, indent=1) + "\n", zipfile.ZIP_DEFLATED)
