"""Tracked tables: read again, preview differences, import."""

from __future__ import annotations

from typing import Any

from fastapi import APIRouter
from pydantic import BaseModel, Field

from dramok.server.request_context import Key, Page, TheGame, TheWorkspace, ValidatingRoute
from dramok.server.responses import edit_out
from dramok.server.routes.imports import ImportOut, WishesIn, import_out, order_of
from dramok.server.schemas.cards import EditOut
from dramok.services.files import tracked_tables

router = APIRouter(route_class=ValidatingRoute, prefix="/games/{game_id}", tags=["followed tables"])


class AllowedOut(BaseModel):
    """What tracked tables may read: other hosts, files of this machine, private hosts by name."""

    on: bool = False
    files: bool = False
    hosts: list[str] = Field(default=[], max_length=50)

    model_config = {
        "json_schema_extra": {"examples": [{"on": True, "files": False, "hosts": ["127.0.0.1:8090"]}]}
    }


class SourceIn(BaseModel):
    """`order` is how it is read: set_name, set_id, match (code or name), encoding, delimiter, sheet,
    default_type, leave_out.
    """

    name: str = Field(default="", max_length=200)
    address: str = Field(max_length=2_000)
    order: dict[str, Any] = {}
    minutes: int = 0

    model_config = {
        "json_schema_extra": {
            "examples": [
                {
                    "name": "Costs",
                    "address": "https://example.org/cards.csv",
                    "order": {"match": "code"},
                    "minutes": 60,
                }
            ]
        }
    }


class FollowedOut(BaseModel):
    """`read_at` and `problem` of the last read; `waiting`: its answer was not imported yet."""

    id: str
    name: str
    address: str
    order: dict[str, Any]
    minutes: int
    read_at: str | None
    problem: str | None
    waiting: bool


class FollowingOut(BaseModel):
    allowed: AllowedOut
    sources: list[FollowedOut]


@router.get("/sources")
def sources(workspace: TheWorkspace, game: TheGame) -> FollowingOut:
    """Every tracked table, and what they may read."""
    may = tracked_tables.allowed(workspace, game.id)
    return FollowingOut(
        allowed=AllowedOut(on=may.on, files=may.files, hosts=list(may.hosts)),
        sources=[
            FollowedOut(
                id=each.source.id, name=each.source.name, address=each.source.doc["address"], order=each.source.doc.get("order") or {},
                minutes=each.source.doc.get("minutes") or 0, read_at=each.read_at, problem=each.problem, waiting=each.waiting,
            )
            for each in tracked_tables.followed(workspace, game)
        ],
    )  # fmt: skip


@router.put("/sources/allowed")
def allow(workspace: TheWorkspace, game: TheGame, asked: AllowedOut) -> AllowedOut:
    """Switch requests on or off for this game."""
    may = tracked_tables.allow(workspace, game.id, tracked_tables.Allowed(asked.on, tuple(asked.hosts), asked.files))
    return AllowedOut(on=may.on, files=may.files, hosts=list(may.hosts))


@router.post("/sources", status_code=201)
def follow(workspace: TheWorkspace, game: TheGame, asked: SourceIn, page: Page, key: Key) -> EditOut:
    """Track a table. `made` has its id."""
    commit, ident = tracked_tables.follow(
        workspace, game.id, asked.name, asked.address, page, asked.order, asked.minutes, None, key
    )
    return edit_out(commit, [ident])


@router.put("/sources/{source_id}")
def put_source(
    workspace: TheWorkspace, game: TheGame, source_id: str, asked: SourceIn, page: Page, key: Key
) -> EditOut:
    return edit_out(
        tracked_tables.follow(
            workspace, game.id, asked.name, asked.address, page, asked.order, asked.minutes, source_id, key
        )[0]
    )


@router.delete("/sources/{source_id}")
def unfollow(workspace: TheWorkspace, game: TheGame, source_id: str, page: Page, key: Key) -> EditOut:
    return edit_out(tracked_tables.unfollow(workspace, game.id, source_id, page, key))


@router.post("/sources/{source_id}/read")
def read_source(workspace: TheWorkspace, game: TheGame, source_id: str) -> FollowingOut:
    """Read a tracked table now."""
    tracked_tables.read_again(workspace, game.id, source_id)
    return sources(workspace, game)


@router.post("/sources/{source_id}/differences")
def look_at_source(workspace: TheWorkspace, game: TheGame, source_id: str, asked: WishesIn) -> ImportOut:
    """Preview an import of the last answer; `reading` is its hash. Writes nothing."""
    plan, reading = tracked_tables.differences_of(workspace, game, source_id, order_of(asked))
    return import_out(plan, reading=reading)


@router.post("/sources/{source_id}/take")
def take_source(
    workspace: TheWorkspace, game: TheGame, source_id: str, asked: WishesIn, page: Page, key: Key
) -> ImportOut:
    """Import the last answer as one undoable edit; refused if it is not the previewed `reading`."""
    commit, plan = tracked_tables.import_differences(
        workspace, game.id, source_id, page, order_of(asked), key, asked.reading
    )
    return import_out(plan, edit_out(commit))


@router.post("/sources/{source_id}/keep")
def keep_source(workspace: TheWorkspace, game: TheGame, source_id: str, reading: str = "") -> FollowingOut:
    """Mark the last answer as imported without importing it."""
    tracked_tables.mark_imported(workspace, game.id, source_id, reading)
    return sources(workspace, game)
