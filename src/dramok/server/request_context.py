"""What every route needs from a request: the workspace, the page id, the idempotency key; and validation of raw
text.
"""

from __future__ import annotations

import hashlib
from collections import Counter
from collections.abc import Callable, Coroutine
from typing import Annotated, Any

from fastapi import Depends, Header, Path, Request, Response
from fastapi.routing import APIRoute
from starlette.concurrency import run_in_threadpool
from starlette.datastructures import UploadFile
from starlette.exceptions import HTTPException

from dramok.core.text_checks import Ident, InvalidInput, check_text, read_json
from dramok.services import GameSnapshot, Workspace
from dramok.services import Key as EditKey

NO_PAGE = "unnamed"
PIECE = 1 << 20


class ValidatingRoute(APIRoute):
    """A route that validates all text and JSON of a request first (see `core.text_checks`)."""

    def get_route_handler(self) -> Callable[[Request], Coroutine[Any, Any, Response]]:
        inner = super().get_route_handler()

        async def handler(request: Request) -> Response:
            await _look_at(request)
            return await inner(request)

        return handler


async def _look_at(request: Request) -> None:
    """Raises Unsound. The parsed body is stored with the request, so that it is not parsed again."""
    for name, value in (*request.path_params.items(), *request.query_params.multi_items()):
        check_text(str(value), name)
    kind = request.headers.get("content-type", "").partition(";")[0].strip().lower()
    if kind == "multipart/form-data":
        try:
            form = await request.form(max_files=1_000, max_fields=1_000)
        except (HTTPException, UnicodeDecodeError, LookupError, ValueError) as error:
            raise InvalidInput("form", "the form can't be read", "send it as multipart/form-data") from error
        for name, part in form.multi_items():
            check_text(part if isinstance(part, str) else part.filename or "", name)
    elif request.method in ("POST", "PUT", "DELETE", "PATCH"):
        body = await request.body()
        if body and (kind == "application/json" or kind.endswith("+json")):
            request._json = (
                await run_in_threadpool(read_json, body) if len(body) > 50_000 else read_json(body)
            )  # noqa: SLF001


async def _workspace(request: Request) -> Workspace:
    workspace: Workspace = request.app.state.workspace
    return workspace


def _game(request: Request, game_id: Annotated[Ident, Path()]) -> GameSnapshot:
    workspace: Workspace = request.app.state.workspace
    return workspace.game(game_id)


async def _page(
    x_page: Annotated[
        str | None, Header(max_length=80, description="who edits: an open page's own name")
    ] = None,
) -> str:
    return x_page or NO_PAGE


async def _key(
    request: Request,
    idempotency_key: Annotated[
        str | None,
        Header(
            min_length=1,
            max_length=80,
            pattern=r"^[\x21-\x7e]+$",
            description="the same key again writes nothing again; with another body it is refused (422)",
        ),
    ] = None,
) -> EditKey | None:
    if idempotency_key is None:
        return None
    return EditKey(idempotency_key, await _digest(request))


async def _digest(request: Request) -> str:
    """A digest of the request: method, path, query and body.

    A form is hashed by its parts, because its boundary changes.
    """
    said = hashlib.sha256(f"{request.method} {request.url.path}?{request.url.query}\n".encode())
    form = getattr(request, "_form", None)
    if form is None:
        said.update(await request.body())
        return said.hexdigest()[:32]
    for name, part in form.multi_items():
        said.update(f"{name}\n".encode())
        if isinstance(part, UploadFile):
            said.update(f"{part.filename}\n".encode())
            await run_in_threadpool(_read_through, part, said)
        else:
            said.update(part.encode())
    return said.hexdigest()[:32]


def _read_through(part: UploadFile, said: Any) -> None:
    while piece := part.file.read(PIECE):
        said.update(piece)
    part.file.seek(0)


async def _live(request: Request) -> Counter[str]:
    pages: Counter[str] = request.app.state.live_pages
    return pages


TheWorkspace = Annotated[Workspace, Depends(_workspace)]
TheGame = Annotated[GameSnapshot, Depends(_game)]
Page = Annotated[str, Depends(_page)]
Key = Annotated[EditKey | None, Depends(_key)]
LivePages = Annotated["Counter[str]", Depends(_live)]
