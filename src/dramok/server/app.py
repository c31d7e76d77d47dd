"""The application: routes, error handlers, security, and the built page."""

from __future__ import annotations

import threading
import warnings
from collections import Counter
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from pathlib import Path
from typing import TYPE_CHECKING, Any

from fastapi import FastAPI
from fastapi.openapi.utils import get_openapi
from fastapi.responses import FileResponse, HTMLResponse, Response
from fastapi.staticfiles import StaticFiles
from pydantic.warnings import UnsupportedFieldAttributeWarning

from dramok import __version__
from dramok.formats.font_files import ASSETS
from dramok.server.errors import REFUSED, RESPONSES, add_handlers, answer, problems_as_problems
from dramok.server.lazy_routes import LazyRoutes, by_name
from dramok.server.schemas.base import ProblemOut
from dramok.server.security import LOOPBACK, Security
from dramok.services import Workspace
from dramok.services.files.tracked_tables import TrackingScheduler

if TYPE_CHECKING:
    from dramok.services.output.job_pool import JobPool

# FastAPI suppresses this warning while it builds responses, but not in a second thread.
warnings.filterwarnings("ignore", category=UnsupportedFieldAttributeWarning)

PAGE = Path(__file__).resolve().parent / "page"
FIRST = LazyRoutes("games", "cards", "decks")
LATE = LazyRoutes(
    "rules", "table", "imports", "history", "exports", "pictures", "fonts", "sources", "faces", "output", "shelf", "parts", "measure", "balance",
)  # fmt: skip
"""Modules of `routes` that no first screen needs: loaded once the server answers."""


def create_app(workspace: Workspace, hosts: frozenset[str] = frozenset(LOOPBACK), key: str | None = None, cluster: str = "") -> FastAPI:
    """Create the server for a workspace.

    `hosts` are the host names that it accepts; with `key`, every request needs it; games are played on a
    `cluster`, if given.
    """
    @asynccontextmanager
    async def life(app: FastAPI) -> AsyncIterator[None]:
        timer = threading.Timer(1.0, LATE.open)
        timer.start()
        resuming = threading.Timer(1.5, app.state.works.resume)
        resuming.start()
        clock = TrackingScheduler(workspace)
        clock.start()
        yield
        timer.cancel()
        resuming.cancel()
        app.state.works.close()
        LATE.close(app)
        clock.stop()

    app = _App(
        title="Dramok", version=__version__, description=REFUSED, docs_url=None, redoc_url=None, openapi_url="/api/openapi.json", responses=RESPONSES,
        generate_unique_id_function=by_name, lifespan=life,
    )  # fmt: skip
    app.state.workspace = workspace
    app.state.cluster = cluster
    app.state.live_pages = Counter()
    app.state.works = _LateWorks(workspace)
    add_handlers(app)
    app.router.routes += [FIRST, LATE]
    _serve_page(app)
    app.add_middleware(Security, hosts=hosts, key=key)
    return app


class _App(FastAPI):
    """Builds the OpenAPI document with every route loaded."""

    def openapi(self) -> dict[str, Any]:
        if self.openapi_schema is None:
            routes = [each for each in self.routes if not isinstance(each, LazyRoutes)] + FIRST.open() + LATE.open()
            self.openapi_schema = get_openapi(
                title=self.title,
                version=self.version,
                openapi_version=self.openapi_version,
                description=self.description,
                routes=routes,
            )
            problems_as_problems(self.openapi_schema)
        return self.openapi_schema


class _LateWorks:
    """The job pool, loaded when the first job exists."""

    def __init__(self, workspace: Workspace) -> None:
        self._workspace = workspace
        self._lock = threading.Lock()
        self._works: JobPool | None = None

    def opened(self) -> JobPool:
        with self._lock:
            if self._works is None:
                from dramok.services.output.job_pool import JobPool

                self._works = JobPool(self._workspace)
                self._works.resume()
            return self._works

    def resume(self) -> None:
        """Resume the jobs that a stop of the server interrupted."""
        if self._workspace.store.jobs(states=("waiting", "running"), newest=1):
            self.opened()

    def close(self) -> None:
        with self._lock:
            if self._works is not None:
                self._works.close()


def _serve_page(app: FastAPI) -> None:
    if (ASSETS / "fonts").is_dir():
        app.mount("/fonts", StaticFiles(directory=ASSETS / "fonts"), name="fonts")
    if (PAGE / "assets").is_dir():
        app.mount("/assets", StaticFiles(directory=PAGE / "assets"), name="assets")

    @app.api_route("/api/{rest:path}", methods=["GET", "POST", "PUT", "DELETE"], include_in_schema=False)
    async def unknown(rest: str) -> Response:
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
