"""The application: routes, errors, safety, and the built page."""

from __future__ import annotations

from collections import Counter
from pathlib import Path

from fastapi import FastAPI
from fastapi.responses import FileResponse, HTMLResponse, JSONResponse, Response
from fastapi.staticfiles import StaticFiles

from dramok import __version__
from dramok.formats.fontfiles import ASSETS
from dramok.server.errors import RESPONSES, add_handlers, answer
from dramok.server.routes import cards, decks, games, imports, rules, table
from dramok.server.safety import LOOPBACK, Safety
from dramok.server.schemas import ProblemOut
from dramok.studio import Desk

PAGE = Path(__file__).resolve().parent / "page"


def create_app(desk: Desk, hosts: frozenset[str] = frozenset(LOOPBACK), key: str | None = None) -> FastAPI:
    """The server over a desk. `hosts` are the names it answers to; with `key`, everyone must show it."""
    app = FastAPI(
        title="Dramok", version=__version__, docs_url=None, redoc_url=None, openapi_url="/api/openapi.json", responses=RESPONSES,
        generate_unique_id_function=lambda route: route.name,
    )  # fmt: skip
    app.state.desk = desk
    app.state.live_pages = Counter()
    add_handlers(app)
    for room in (games, cards, decks, imports, table, rules):
        app.include_router(room.router, prefix="/api")
    app.include_router(rules.pictures, prefix="/api")
    _serve_page(app)
    app.add_middleware(Safety, hosts=hosts, key=key)
    return app


def _serve_page(app: FastAPI) -> None:
    if (ASSETS / "fonts").is_dir():
        app.mount("/fonts", StaticFiles(directory=ASSETS / "fonts"), name="fonts")
    if (PAGE / "assets").is_dir():
        app.mount("/assets", StaticFiles(directory=PAGE / "assets"), name="assets")

    @app.api_route("/api/{rest:path}", methods=["GET", "POST", "PUT", "DELETE"], include_in_schema=False)
    def unknown(rest: str) -> JSONResponse:
        return answer(
            ProblemOut(
                title="not there",
                status=404,
                detail=f"there is no /api/{rest[:80]}",
                mend="see /api/openapi.json",
            )
        )

    @app.get("/{rest:path}", include_in_schema=False)
    def page(rest: str) -> Response:
        if rest == "favicon.svg" and (PAGE / rest).is_file():
            return FileResponse(PAGE / rest)
        if not (PAGE / "index.html").is_file():
            return HTMLResponse("<p>The page is not built. Run <code>make setup</code>.</p>", status_code=503)
        return FileResponse(PAGE / "index.html", headers={"Cache-Control": "no-cache"})
