"""Export of tables and archives, text tables, and restoring archives."""

from __future__ import annotations

import re
from typing import Annotated, Any
from urllib.parse import quote

from fastapi import APIRouter, Form, Query, Response, UploadFile
from pydantic import BaseModel, ConfigDict

from dramok.formats.table_formats import FORMS
from dramok.formats.text_table import TextTable
from dramok.server.request_context import Key, Page, TheGame, TheWorkspace, ValidatingRoute
from dramok.server.responses import edit_out
from dramok.server.schemas.base import GameBrief
from dramok.server.schemas.cards import EditOut
from dramok.server.upload_queue import run_queued
from dramok.services.files import exports
from dramok.services.files.archive import archive, restore_game
from dramok.services.workspace.small_entities import thing_of

router = APIRouter(route_class=ValidatingRoute, prefix="/games/{game_id}", tags=["exports"])
archives = APIRouter(route_class=ValidatingRoute, prefix="/archives", tags=["exports"])
ROUTERS = (router, archives)
QueryText = Annotated[str, Query(max_length=2_000)]
SHOWN_LINES = 12


class TableLookOut(BaseModel):
    """The start of a table: its headings, first rows and number of rows."""

    model_config = ConfigDict(from_attributes=True)

    head: list[str]
    rows: list[list[str]]
    total: int


class SourceOut(BaseModel):
    """A source for a column of a text table."""

    id: str
    name: str


class LayoutOut(BaseModel):
    id: str
    table: TextTable


class LayoutsOut(BaseModel):
    layouts: list[LayoutOut]
    sources: list[SourceOut]


class TextOut(BaseModel):
    """The first lines of a text table, their number, and notes on values that had to change."""

    lines: list[str]
    count: int
    notes: list[str]


def _file(data: bytes | str, name: str, media: str) -> Response:
    plain = re.sub(r"[^A-Za-z0-9._-]+", "-", name).strip("-") or "cards"
    disposition = f"attachment; filename=\"{plain}\"; filename*=UTF-8''{quote(name)}"
    return Response(
        data,
        media_type=media,
        headers={
            "Content-Disposition": disposition,
            "X-Content-Type-Options": "nosniff",
            "Cache-Control": "no-store",
        },
    )


@router.get("/export", response_class=Response)
def export(workspace: TheWorkspace, game: TheGame, format: str = "csv", query: QueryText = "") -> Response:
    """The cards that match a query as csv, tsv, xlsx or json: a table that can be imported again without loss."""
    data = exports.export_table(workspace, game, format, query)
    return _file(data, f"{game.name}.{format}", FORMS[format].media)


@router.get("/export/look")
def export_look(workspace: TheWorkspace, game: TheGame, query: QueryText = "") -> TableLookOut:
    """Preview such a table. An invalid query is refused with the position of the error."""
    return TableLookOut.model_validate(exports.preview_table(workspace, game, query))


@router.get("/layouts")
def layouts(game: TheGame) -> LayoutsOut:
    """The text tables of the game, and the sources for their columns."""
    held = [LayoutOut(id=each.id, table=exports.read_layout(each.doc)) for each in game.of_kind("layout")]
    known = exports.sources(game)
    return LayoutsOut(layouts=held, sources=[SourceOut(id=ident, name=name) for ident, name in known.items()])


@router.post("/layouts/preview")
def look_at_layout(workspace: TheWorkspace, game: TheGame, asked: TextTable) -> TextOut:
    """Preview a text table. Writes nothing."""
    text, notes = exports.text_table(workspace, game, asked)
    end = "\r\n" if asked.line_end == "crlf" else "\n"
    lines = text.split(end)[:-1]
    return TextOut(lines=[line[:400] for line in lines[:SHOWN_LINES]], count=len(lines), notes=notes)


@router.post("/layouts", status_code=201)
def new_layout(workspace: TheWorkspace, game: TheGame, asked: TextTable, page: Page, key: Key) -> EditOut:
    """Save a text table. `made` has its id."""
    commit, ident = exports.save_layout(workspace, game.id, asked.model_dump(mode="json"), page, None, key)
    return edit_out(commit, [ident])


@router.put("/layouts/{layout_id}")
def put_layout(
    workspace: TheWorkspace, game: TheGame, layout_id: str, asked: TextTable, page: Page, key: Key
) -> EditOut:
    document: dict[str, Any] = asked.model_dump(mode="json")
    return edit_out(exports.save_layout(workspace, game.id, document, page, layout_id, key)[0])


@router.delete("/layouts/{layout_id}")
def take_layout_out(workspace: TheWorkspace, game: TheGame, layout_id: str, page: Page, key: Key) -> EditOut:
    return edit_out(exports.remove_layout(workspace, game.id, layout_id, page, key))


@router.get("/layouts/{layout_id}/text", response_class=Response)
def layout_text(workspace: TheWorkspace, game: TheGame, layout_id: str) -> Response:
    """The complete text table."""
    layout = exports.read_layout(thing_of(game, "layout", layout_id).doc)
    text, _ = exports.text_table(workspace, game, layout)
    return _file(text, f"{layout.name}.{layout.ending}", "text/plain; charset=utf-8")


@router.get("/archive", response_class=Response)
def archive_of(workspace: TheWorkspace, game: TheGame, shared: bool = False, worths: bool = False) -> Response:
    """The whole game as one file: a backup, or (`shared`) a copy without private data; `worths` includes the
    worths that are not private.
    """
    data = archive(workspace, game, shared, worths)
    return _file(data, f"{game.name} {'shared' if shared else 'backup'}.dramok.zip", "application/zip")


@archives.post("", status_code=201)
async def restore_archive(
    workspace: TheWorkspace, file: UploadFile, key: Key, name: Annotated[str, Form(max_length=120)] = ""
) -> GameBrief:
    """Restore a game from an archive as a separate game."""
    game = await run_queued(lambda: restore_game(workspace, file.file.read(), name or None, key))
    return GameBrief(id=game.id, name=game.name, cards=len(game.cards), decks=len(game.decks))
