"""The pictures of a game: import, match to cards, list; and a picture as faces show it."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query, Response, UploadFile
from pydantic import BaseModel, Field

from dramok.core.problem import Problem
from dramok.server.request_context import Key, Page, TheGame, TheWorkspace, ValidatingRoute
from dramok.server.responses import edit_out
from dramok.server.schemas.base import Out
from dramok.server.schemas.cards import EditOut
from dramok.server.upload_queue import run_queued
from dramok.services.faces import pictures as bringing

router = APIRouter(route_class=ValidatingRoute, prefix="/games/{game_id}/pictures", tags=["pictures"])
art = APIRouter(route_class=ValidatingRoute, prefix="/art", tags=["pictures"])
ROUTERS = (router, art)
Name = Annotated[str, Field(max_length=400)]


class BroughtOut(Out):
    """An imported file: `sha` is the value for a picture field; otherwise why it is not a picture."""

    name: str
    sha: str | None
    problem: Problem | None = None


class ListedOut(Out):
    """A picture of the game: size in pixels and bytes, and the cards that show it."""

    id: str | None
    sha: str
    name: str
    media: str
    width: int
    height: int
    bytes: int
    cards: list[str]
    elsewhere: bool


class WantingOut(Out):
    """A place for a picture that is empty, or waits for the file `file`."""

    card: str
    field: str
    file: str


class PicturesOut(BaseModel):
    pictures: list[ListedOut]
    wanting: list[WantingOut]


class MatchIn(BaseModel):
    """File names to match; `field` is the picture field to fill, `column` a field whose text names the file."""

    files: list[Name] = Field(max_length=20_000)
    field: str | None = None
    column: str | None = None

    model_config = {"json_schema_extra": {"examples": [{"files": ["RS-014.png", "copper larch fern.jpg"]}]}}


class PlacedOut(Out):
    """A file and its card; `near`: the names are only similar; `taken`: another file is for the same place."""

    file: str
    card: str | None
    field: str | None
    how: str
    near: bool
    taken: str | None


class PictureIdsIn(BaseModel):
    ids: list[str] = Field(min_length=1, max_length=20_000)

    model_config = {"json_schema_extra": {"examples": [{"ids": ["p1f0c2a9b3d4e5f600000"]}]}}


@router.post("", status_code=201)
async def bring_picture(workspace: TheWorkspace, game: TheGame, file: UploadFile, key: Key) -> BroughtOut:
    """Store a picture, detected by its content, and return the value for a picture field."""

    def work() -> BroughtOut:
        files = [(file.filename or "picture.png", file.file.read())]
        return BroughtOut.model_validate(bringing.add_pictures(workspace, game.id, files, key)[0])

    return await run_queued(work)


@router.post("/zip", status_code=201)
async def import_zip(workspace: TheWorkspace, game: TheGame, file: UploadFile, key: Key) -> list[BroughtOut]:
    """Store every picture of a ZIP."""

    def work() -> list[BroughtOut]:
        brought = bringing.import_zip(workspace, game.id, file.file.read(), key)
        return [BroughtOut.model_validate(each) for each in brought]

    return await run_queued(work)


@router.post("/match")
def match_pictures(game: TheGame, asked: MatchIn) -> list[PlacedOut]:
    """Match each file to a card: by the file name it waits for, a column, its code, its name, or a similar
    name. Writes nothing.
    """
    found = bringing.match_pictures(game, asked.files, asked.field, asked.column)
    return [PlacedOut.model_validate(each) for each in found]


@router.get("")
def pictures(workspace: TheWorkspace, game: TheGame) -> PicturesOut:
    """Every picture of the game with its uses, and every place without one."""
    found, wanting = bringing.listed(workspace, game)
    return PicturesOut(
        pictures=[ListedOut.model_validate(each) for each in found],
        wanting=[WantingOut.model_validate(each) for each in wanting],
    )


@router.post("/retire")
def remove_pictures(workspace: TheWorkspace, game: TheGame, asked: PictureIdsIn, page: Page, key: Key) -> EditOut:
    """Remove unused pictures from the game; undo restores them."""
    return edit_out(bringing.remove_pictures(workspace, game.id, asked.ids, page, key))


@art.get("/{sha}", response_class=Response)
def picture(workspace: TheWorkspace, sha: str, side: Annotated[int | None, Query(ge=16, le=2048)] = None) -> Response:
    """A picture as faces show it: PNG or JPEG; `side` is the approximate size at which it is shown."""
    data = bringing.drawn_picture(workspace, sha, side)
    media = "image/png" if data.startswith(b"\x89PNG") else "image/jpeg"
    headers = {"Cache-Control": "private, max-age=31536000, immutable", "X-Content-Type-Options": "nosniff"}
    return Response(data, media_type=media, headers=headers)
