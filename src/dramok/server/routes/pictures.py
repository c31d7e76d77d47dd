"""A game's pictures: brought, matched to cards, listed; and a picture as faces show it."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query, Response, UploadFile
from pydantic import BaseModel, Field

from dramok.core.problem import Problem
from dramok.server.answers import edit_out
from dramok.server.asked import Key, Page, SoundRoute, TheDesk, TheGame
from dramok.server.schemas.base import Out
from dramok.server.schemas.cards import EditOut
from dramok.server.uploads import in_turn
from dramok.studio import pictures as bringing

router = APIRouter(route_class=SoundRoute, prefix="/games/{game_id}/pictures", tags=["pictures"])
art = APIRouter(route_class=SoundRoute, prefix="/art", tags=["pictures"])
ROUTERS = (router, art)
Name = Annotated[str, Field(max_length=400)]


class BroughtOut(Out):
    """A file that was brought: `sha` is the value for a picture field; without it, why it is not a picture."""

    name: str
    sha: str | None
    problem: Problem | None = None


class ListedOut(Out):
    """One of the game's pictures: its measures in pixels, its size in bytes, and the cards that show it."""

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
    """File names to be matched; `field` is the picture field to fill, `column` a field whose text names the file."""

    files: list[Name] = Field(max_length=20_000)
    field: str | None = None
    column: str | None = None

    model_config = {"json_schema_extra": {"examples": [{"files": ["RS-014.png", "copper larch fern.jpg"]}]}}


class PlacedOut(Out):
    """A file and its card; `near`: the names are only alike; `taken`: that other file is for the same place."""

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
async def bring_picture(desk: TheDesk, game: TheGame, file: UploadFile, key: Key) -> BroughtOut:
    """Keeps a picture, known by its content whatever its ending, and gives the value for a picture field."""

    def work() -> BroughtOut:
        files = [(file.filename or "picture.png", file.file.read())]
        return BroughtOut.model_validate(bringing.bring_pictures(desk, game.id, files, key)[0])

    return await in_turn(work)


@router.post("/zip", status_code=201)
async def bring_zip(desk: TheDesk, game: TheGame, file: UploadFile, key: Key) -> list[BroughtOut]:
    """Keeps every picture of a ZIP."""

    def work() -> list[BroughtOut]:
        brought = bringing.bring_zip(desk, game.id, file.file.read(), key)
        return [BroughtOut.model_validate(each) for each in brought]

    return await in_turn(work)


@router.post("/match")
def match_pictures(game: TheGame, asked: MatchIn) -> list[PlacedOut]:
    """A card for each file: by the name it waits for, a column, its code, its name; else a name like it. Writes nothing."""
    found = bringing.match_pictures(game, asked.files, asked.field, asked.column)
    return [PlacedOut.model_validate(each) for each in found]


@router.get("")
def pictures(desk: TheDesk, game: TheGame) -> PicturesOut:
    """Every picture of the game with where it is used, and every place that has none."""
    found, wanting = bringing.listed(desk, game)
    return PicturesOut(
        pictures=[ListedOut.model_validate(each) for each in found],
        wanting=[WantingOut.model_validate(each) for each in wanting],
    )


@router.post("/retire")
def take_pictures_out(desk: TheDesk, game: TheGame, asked: PictureIdsIn, page: Page, key: Key) -> EditOut:
    """Takes pictures that nothing shows out of the game; undo brings them back."""
    return edit_out(bringing.take_pictures_out(desk, game.id, asked.ids, page, key))


@art.get("/{sha}", response_class=Response)
def picture(desk: TheDesk, sha: str, side: Annotated[int | None, Query(ge=16, le=2048)] = None) -> Response:
    """A picture as faces show it: PNG or JPEG, whatever was brought; with `side` at about the size at which it is shown."""
    data = bringing.drawn_picture(desk, sha, side)
    media = "image/png" if data.startswith(b"\x89PNG") else "image/jpeg"
    headers = {"Cache-Control": "private, max-age=31536000, immutable", "X-Content-Type-Options": "nosniff"}
    return Response(data, media_type=media, headers=headers)
