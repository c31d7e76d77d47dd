"""Fonts of a game: import, and delivery to the page."""

from __future__ import annotations

from fastapi import APIRouter, Path, Response, UploadFile

from dramok.server.request_context import TheGame, TheWorkspace, ValidatingRoute
from dramok.server.schemas.base import Out
from dramok.server.upload_queue import run_queued
from dramok.services.faces.own_files import font_bytes, store_font

router = APIRouter(route_class=ValidatingRoute, prefix="/games/{game_id}/fonts", tags=["fonts"])
files = APIRouter(route_class=ValidatingRoute, prefix="/own-fonts", tags=["fonts"])
ROUTERS = (router, files)


class FontOut(Out):
    """A stored font:

    `file` is the value for the rules; `name` and `license` come from the file; `notes` are warnings.
    """

    file: str
    name: str
    license: str
    notes: list[str]


@router.post("", status_code=201)
async def bring_font(workspace: TheWorkspace, game: TheGame, file: UploadFile) -> FontOut:
    """Validate a TTF, OTF, WOFF or WOFF2 font, prepare it for all renderers, and store it.

    The rules then name it (`PUT rules/parts/fonts`).
    """

    def work() -> FontOut:
        found = store_font(workspace, file.file.read())
        return FontOut(file=found.sha, name=found.name, license=found.license, notes=list(found.notes))

    return await run_queued(work)


@files.get("/{sha}", response_class=Response)
def own_font_file(workspace: TheWorkspace, sha: str = Path(pattern=r"^[0-9a-f]{64}$")) -> Response:
    """A font as faces use it (TrueType)."""
    headers = {"Cache-Control": "private, max-age=31536000, immutable", "X-Content-Type-Options": "nosniff"}
    return Response(font_bytes(workspace, sha), media_type="font/ttf", headers=headers)
