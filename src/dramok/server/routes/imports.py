"""Import of table files: preview, then write."""

from __future__ import annotations

from typing import Annotated, Literal

from fastapi import APIRouter, Form, UploadFile
from pydantic import BaseModel, Field, ValidationError

from dramok.core.cards.sheets.column_matching import Target
from dramok.core.cards.sheets.import_context import ImportOptions
from dramok.core.problem import Problem
from dramok.formats.tables import ENCODINGS, ReadAs
from dramok.server.cell_corrections import corrections_of
from dramok.server.request_context import Key, Page, TheGame, TheWorkspace, ValidatingRoute
from dramok.server.responses import edit_out
from dramok.server.schemas.base import Out
from dramok.server.schemas.cards import EditOut
from dramok.server.upload_queue import run_queued
from dramok.services import GameSnapshot, Refused
from dramok.services.files.sheet_additions import Making
from dramok.services.files.sheet_import import ImportPlan, Order, plan_import, said, write_import

router = APIRouter(route_class=ValidatingRoute, prefix="/games/{game_id}/imports", tags=["imports"])
WishesText = Annotated[str, Form(max_length=400_000)]
MOST_SHOWN = 500
MOST_CELLS = 2_000


class ColumnOut(Out):
    index: int
    heading: str
    target: str | None
    name: str
    by_hand: bool


class RefusalOut(Out):
    row: int
    column: str
    value: str
    why: str
    mend: str
    near: str | None
    others: list[str]


class SkipOut(Out):
    row: int
    column: str
    value: str
    why: str


class TakenOut(Out):
    row: int
    code: str
    name: str
    type: str
    notes: list[str]
    new: bool = True


class TargetOut(Out):
    id: str
    name: str


class NewFieldOut(Out):
    """A column without a field in the game, and the kind of field that fits it."""

    column: int
    name: str
    kind: str


class NewTypeOut(BaseModel):
    name: str
    rows: int


class NewValueOut(Out):
    list: str
    list_name: str
    value: str
    rows: int
    near: str | None


class CellChangeOut(Out):
    """A cell that an update changes.

    `conflict`: it was changed here since the last import; `theirs` is then the value of the file at that
    import.
    """

    key: str
    card: str
    code: str
    title: str
    field: str
    name: str
    before: str
    after: str
    conflict: bool
    theirs: str | None
    taken: bool = True


class GoneOut(BaseModel):
    key: str
    card: str
    code: str
    title: str
    taken: bool


class UpdateOut(BaseModel):
    """The first `MOST_CELLS` cells; the counts cover all."""

    added: int
    changed: int
    cards: int
    conflicts: int
    same: int
    kept: int
    gone: int
    cells: list[CellChangeOut]
    gone_cards: list[GoneOut]


class ImportOut(BaseModel):
    """The outcome for each row. `said` is a summary; `taken` lists the first 500.

    `lines` are the first lines of the file. `fields`, `types` and `values` exist in the file but not in the
    game. `ready`: something would be written.
    """

    said: str
    set_name: str
    set_code: str
    kind: str
    encoding: str
    delimiter: str
    sheet: str
    sheets: list[str]
    encodings: list[str]
    rows: int
    header: int
    lines: list[list[str]]
    columns: list[ColumnOut]
    targets: list[TargetOut]
    taken_count: int
    taken: list[TakenOut]
    skipped: list[SkipOut]
    refused: list[RefusalOut]
    warnings: list[Problem]
    notes: list[str]
    fields: list[NewFieldOut]
    types: list[NewTypeOut]
    values: list[NewValueOut]
    update: UpdateOut | None
    problem: Problem | None
    ready: bool
    edit: EditOut | None = None
    suggested: str | None = None
    reading: str = ""


class NewFieldIn(BaseModel):
    name: str = Field(max_length=60)
    kind: str = Field(max_length=20)


class MakeIn(BaseModel):
    """Additions to the rules: fields by column, card types by name, values by choice list."""

    fields: dict[int, NewFieldIn] = {}
    types: list[str] = Field(default=[], max_length=20)
    values: dict[str, list[str]] = {}


class WishesIn(BaseModel):
    """`corrections` by `row:column`.

    `leave_out` and `over` have keys of single changes, or added, changed, gone. `reading`: for a tracked table,
    the answer that was previewed.
    """

    set_name: str | None = Field(default=None, max_length=200)
    set_id: str | None = None
    match: Literal["new", "code", "name"] = "new"
    encoding: str | None = None
    delimiter: str | None = None
    sheet: str | None = None
    header: int | None = None
    columns: dict[int, str | None] = {}
    corrections: dict[str, str] = {}
    accept_near: bool = False
    leave_empty: bool = False
    default_type: str | None = Field(default=None, max_length=60)
    make: MakeIn = MakeIn()
    leave_out: list[str] = Field(default=["gone"], max_length=60_000)
    over: list[str] = Field(default=[], max_length=60_000)
    reading: str = Field(default="", max_length=40)

    model_config = {
        "json_schema_extra": {
            "examples": [
                {"match": "code", "columns": {"4": "cost"}, "make": {"values": {"beds": ["Heather"]}}}
            ]
        }
    }


@router.post("/preview")
async def look(game: TheGame, file: UploadFile, wishes: WishesText = "{}") -> ImportOut:
    """Preview the outcome for each row. Writes nothing. `wishes` is JSON (see `WishesIn`)."""
    order = order_of(wishes_of(wishes))
    return await run_queued(
        lambda: import_out(plan_import(game, file.file.read(), file.filename or "import", order))
    )


@router.post("", status_code=201)
async def take(
    workspace: TheWorkspace, game: TheGame, file: UploadFile, page: Page, key: Key, wishes: WishesText = "{}"
) -> ImportOut:
    """Import the rows as one undoable edit."""
    order = order_of(wishes_of(wishes))

    def work() -> ImportOut:
        name = file.filename or "import"
        commit, plan = write_import(workspace, game.id, file.file.read(), name, page, order, key)
        return import_out(plan, edit_out(commit))

    return await run_queued(work)


def wishes_of(text: str) -> WishesIn:
    try:
        return WishesIn.model_validate_json(text)
    except ValidationError as error:
        raise Refused(Problem(where="wishes", what=str(error)[:200], mend="see /api/openapi.json")) from error


def order_of(wanted: WishesIn) -> Order:
    corrections = corrections_of(wanted.corrections)
    make = Making(
        {column: (each.name, each.kind) for column, each in wanted.make.fields.items()}, tuple(wanted.make.types),
        {ident: tuple(names) for ident, names in wanted.make.values.items()},
    )  # fmt: skip
    return Order(
        wanted.set_name, wanted.set_id or None, wanted.match, ReadAs(wanted.encoding, wanted.delimiter, wanted.sheet),
        ImportOptions(wanted.columns, corrections, wanted.accept_near, wanted.header, None, wanted.leave_empty), make, frozenset(wanted.leave_out), frozenset(wanted.over),
        wanted.default_type or None,
    )  # fmt: skip


def import_out(plan: ImportPlan, edit: EditOut | None = None, reading: str = "") -> ImportOut:
    intake, table = plan.intake, plan.file
    return ImportOut(
        said=said(plan), set_name=plan.set_name, set_code=plan.set_code, kind=table.kind, encoding=table.encoding, delimiter=table.delimiter,
        sheet=table.sheet, sheets=list(table.sheets), encodings=list(ENCODINGS), rows=intake.rows, header=intake.header,
        lines=[[cell[:80] for cell in line[:40]] for line in plan.lines], columns=[ColumnOut.model_validate(each) for each in intake.columns],
        targets=[TargetOut.model_validate(each) for each in Target.all_of(plan.game.rulebook.cards)], taken_count=len(intake.taken),
        taken=[TakenOut(row=each.row, code=each.code, name=each.name, type=each.type, notes=list(each.notes), new=each.card is None) for each in [*(row for row in intake.taken if row.card is None or row.notes)][:MOST_SHOWN]],
        skipped=[SkipOut.model_validate(each) for each in intake.skipped[:MOST_SHOWN]],
        refused=[RefusalOut.model_validate(each) for each in intake.refused[:MOST_SHOWN]], warnings=list(intake.warnings),
        notes=list(table.notes), fields=[NewFieldOut.model_validate(each) for each in plan.fields],
        types=[NewTypeOut(name=name, rows=rows) for name, rows in plan.types.items()],
        values=[NewValueOut.model_validate(each) for each in plan.values], update=update_out(plan), problem=plan.problem,
        ready=bool(plan.added or plan.changed or plan.gone), edit=edit, suggested=plan.suggested, reading=reading,
    )  # fmt: skip


def update_out(plan: ImportPlan) -> UpdateOut | None:
    update = plan.update
    if update is None:
        return None
    taken = {each.key for each in plan.changed}
    out = set(plan.gone)
    game: GameSnapshot = plan.game
    return UpdateOut(
        added=len(update.added), changed=len(update.changed), cards=len({each.card for each in update.changed}),
        conflicts=sum(each.conflict for each in update.changed), same=update.same, kept=update.kept, gone=len(update.gone),
        cells=[CellChangeOut.model_validate(each).model_copy(update={"taken": each.key in taken}) for each in update.changed[:MOST_CELLS]],
        gone_cards=[
            GoneOut(key=f"gone/{ident}", card=ident, code=game.cards[ident].code, title=game.title(game.cards[ident]), taken=ident in out)
            for ident in update.gone[:MOST_SHOWN]
        ],
    )  # fmt: skip
