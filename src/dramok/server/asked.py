"""What every route needs of a request: the desk, the page that asks, the key of the edit."""

from __future__ import annotations

from collections import Counter
from typing import Annotated

from fastapi import Depends, Header, Request

from dramok.studio import Desk, GameSnapshot

NO_PAGE = "unnamed"


async def _desk(request: Request) -> Desk:
    desk: Desk = request.app.state.desk
    return desk


def _game(request: Request, game_id: str) -> GameSnapshot:
    desk: Desk = request.app.state.desk
    return desk.game(game_id)


async def _page(x_page: Annotated[str | None, Header(max_length=80)] = None) -> str:
    return x_page or NO_PAGE


async def _key(idempotency_key: Annotated[str | None, Header(max_length=80)] = None) -> str | None:
    return idempotency_key


async def _live(request: Request) -> Counter[str]:
    pages: Counter[str] = request.app.state.live_pages
    return pages


TheDesk = Annotated[Desk, Depends(_desk)]
TheGame = Annotated[GameSnapshot, Depends(_game)]
Page = Annotated[str, Depends(_page)]
Key = Annotated[str | None, Depends(_key)]
LivePages = Annotated["Counter[str]", Depends(_live)]
