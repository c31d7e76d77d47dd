"""Routes that are loaded once per process, after the first screens can be served."""

from __future__ import annotations

import threading
from importlib import import_module

from fastapi import APIRouter, FastAPI
from fastapi.routing import APIRoute, iter_route_contexts
from starlette.datastructures import URLPath
from starlette.routing import BaseRoute, Match, NoMatchFound
from starlette.types import Receive, Scope, Send

from dramok.server.errors import RESPONSES

PREFIX = "/api"


def by_name(route: APIRoute) -> str:
    """The operation id of a route in the OpenAPI document."""
    return route.name


class LazyRoutes(BaseRoute):
    """A placeholder in an application's routes for the routes of several modules of `server.routes`.

    Building routes is slow and does not depend on the application. So they are built once, by whichever comes
    first: a timer, a request for one of them, or the OpenAPI document.
    """

    def __init__(self, *names: str) -> None:
        self.names = names
        self._lock = threading.Lock()
        self._routes: list[BaseRoute] | None = None

    def open(self) -> list[BaseRoute]:
        """The routes of the modules."""
        with self._lock:
            if self._routes is None:
                held = APIRouter(generate_unique_id_function=by_name, responses=RESPONSES)
                for name in self.names:
                    room = import_module(f"dramok.server.routes.{name}")
                    for router in getattr(room, "ROUTERS", None) or (room.router,):
                        held.include_router(router, prefix=PREFIX)
                # Otherwise the first request would have to build the response models.
                for _ in iter_route_contexts(held.routes):
                    pass
                self._routes = list(held.routes)
            return self._routes

    def close(self, app: FastAPI) -> None:
        """Stop what the modules run in the background for a server."""
        with self._lock:
            opened = self._routes is not None
        for name in self.names if opened else ():
            ended = getattr(import_module(f"dramok.server.routes.{name}"), "close", None)
            if ended is not None:
                ended(app)

    def matches(self, scope: Scope) -> tuple[Match, Scope]:
        if scope["type"] != "http" or not scope["path"].startswith(f"{PREFIX}/"):
            return Match.NONE, {}
        partly: tuple[Match, Scope] = (Match.NONE, {})
        for route in self.open():
            match, child = route.matches(scope)
            found = {**child, "room_route": route}
            if match is Match.FULL:
                return match, found
            if match is Match.PARTIAL and partly[0] is Match.NONE:
                partly = (match, found)
        return partly

    async def handle(self, scope: Scope, receive: Receive, send: Send) -> None:
        route: BaseRoute = scope["room_route"]
        await route.handle(scope, receive, send)

    def url_path_for(self, name: str, /, **path_params: object) -> URLPath:
        raise NoMatchFound(name, path_params)
