"""Out of the game: tables that come back cell for cell, text tables, whole games; and whole games back in."""

from __future__ import annotations

import re
from typing import Annotated, Any
from urllib.parse import quote

from fastapi import APIRouter, Form, Query, Response, UploadFile
from pydantic import BaseModel, ConfigDict

from dramok.formats.tableforms import FORMS
from dramok.formats.texttable import TextTable
from dramok.server.answers import edit_out
from dramok.server.asked import Key, Page, SoundRoute, TheDesk, TheGame
from dramok.server.schemas.base import GameBrief
from dramok.server.schemas.cards import EditOut
from dramok.server.uploads import in_turn
from dramok.studio import exporting
from dramok.studio.archiving import archive, restore_game
from dramok.studio.things import thing_of

router = APIRouter(route_class=SoundRoute, prefix="/games/{game_id}", tags=["exports"])
archives = APIRouter(route_class=SoundRoute, prefix="/archives", tags=["exports"])
ROUTERS = (router, archives)
QueryText = Annotated[str, Query(max_length=2_000)]
SHOWN_LINES = 12


class TableLookOut(BaseModel):
    """How a table begins: its headings, its first rows, and how many rows it has in all."""

    model_config = ConfigDict(from_attributes=True)

    head: list[str]
    rows: list[list[str]]
    total: int


class SourceOut(BaseModel):
    """Something that a column of a text table can show."""

    id: str
    name: str


class LayoutOut(BaseModel):
    id: str
    table: TextTable


class LayoutsOut(BaseModel):
    layouts: list[LayoutOut]
    sources: list[SourceOut]


class TextOut(BaseModel):
    """The first lines of a text table, how many there are, and what could not stand as it was."""

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
def export(desk: TheDesk, game: TheGame, format: str = "csv", query: QueryText = "") -> Response:
    """The cards that answer to a query as csv, tsv, xlsx or json: a table that comes back cell for cell."""
    data = exporting.export_table(desk, game, format, query)
    return _file(data, f"{game.name}.{format}", FORMS[format].media)


@router.get("/export/look")
def export_look(desk: TheDesk, game: TheGame, query: QueryText = "") -> TableLookOut:
    """How such a table begins, and how many rows it has. A query with a mistake is refused with its place."""
    return TableLookOut.model_validate(exporting.look_at_table(desk, game, query))


@router.get("/layouts")
def layouts(game: TheGame) -> LayoutsOut:
    """The text tables that were laid out, and what their columns can show."""
    held = [LayoutOut(id=each.id, table=exporting.read_layout(each.doc)) for each in game.of_kind("layout")]
    known = exporting.sources(game)
    return LayoutsOut(layouts=held, sources=[SourceOut(id=ident, name=name) for ident, name in known.items()])


@router.post("/layouts/preview")
def look_at_layout(desk: TheDesk, game: TheGame, asked: TextTable) -> TextOut:
    """A text table's first lines. Writes nothing."""
    text, notes = exporting.text_table(desk, game, asked)
    end = "\r\n" if asked.line_end == "crlf" else "\n"
    lines = text.split(end)[:-1]
    return TextOut(lines=[line[:400] for line in lines[:SHOWN_LINES]], count=len(lines), notes=notes)


@router.post("/layouts", status_code=201)
def new_layout(desk: TheDesk, game: TheGame, asked: TextTable, page: Page, key: Key) -> EditOut:
    """Saves a text table. `made` holds its id."""
    commit, ident = exporting.save_layout(desk, game.id, asked.model_dump(mode="json"), page, None, key)
    return edit_out(commit, [ident])


@router.put("/layouts/{layout_id}")
def put_layout(
    desk: TheDesk, game: TheGame, layout_id: str, asked: TextTable, page: Page, key: Key
) -> EditOut:
    document: dict[str, Any] = asked.model_dump(mode="json")
    return edit_out(exporting.save_layout(desk, game.id, document, page, layout_id, key)[0])


@router.delete("/layouts/{layout_id}")
def take_layout_out(desk: TheDesk, game: TheGame, layout_id: str, page: Page, key: Key) -> EditOut:
    return edit_out(exporting.remove_layout(desk, game.id, layout_id, page, key))


@router.get("/layouts/{layout_id}/text", response_class=Response)
def layout_text(desk: TheDesk, game: TheGame, layout_id: str) -> Response:
    """The whole text table."""
    layout = exporting.read_layout(thing_of(game, "layout", layout_id).doc)
    text, _ = exporting.text_table(desk, game, layout)
    return _file(text, f"{layout.name}.{layout.ending}", "text/plain; charset=utf-8")


@router.get("/archive", response_class=Response)
def archive_of(desk: TheDesk, game: TheGame, shared: bool = False, worths: bool = False) -> Response:
    """The whole game as one file: a backup, or (`shared`) a copy without what is private; `worths`: with those that are not."""
    data = archive(desk, game, shared, worths)
    return _file(data, f"{game.name} {'shared' if shared else 'backup'}.dramok.zip", "application/zip")


@archives.post("", status_code=201)
async def restore_archive(
    desk: TheDesk, file: UploadFile, key: Key, name: Annotated[str, Form(max_length=120)] = ""
) -> GameBrief:
    """Makes a game of an archive, beside those that are there."""
    game = await in_turn(lambda: restore_game(desk, file.file.read(), name or None, key))
    return GameBrief(id=game.id, name=game.name, cards=len(game.cards), decks=len(game.decks))
