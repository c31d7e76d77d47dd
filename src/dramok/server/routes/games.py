"""Games, their undo history, and the stream of their changes."""

from __future__ import annotations

import asyncio
import json
import re
from collections.abc import AsyncIterator
from typing import Annotated, Any

from fastapi import APIRouter, Header, Path, Query, Request, Response
from fastapi.responses import StreamingResponse

from dramok.core.text_checks import Ident
from dramok.server.request_context import Key, LivePages, Page, TheGame, TheWorkspace, ValidatingRoute
from dramok.server.responses import edit_out, game_out
from dramok.server.schemas.base import DamageBrief, DamageOut, GameBrief, RepairIn
from dramok.server.schemas.cards import EditOut, HistoryOut, StepIn
from dramok.server.schemas.game import GameOut
from dramok.services import Damaged, GameSnapshot, Missing, Workspace
from dramok.services.files.repair import damage_of, repair, rescue
from dramok.services.history.undo import next_steps, redo, undo

router = APIRouter(route_class=ValidatingRoute, prefix="/games", tags=["games"])
AnyGame = Annotated[Ident, Path()]
LOOK_EVERY = 0.25
BEAT_EVERY = 15
LARGE_GAP = 100


@router.get("")
def games(workspace: TheWorkspace) -> list[GameBrief]:
    """Every game that is not put away; one that cannot be read is listed with the reason."""
    return [_brief(each) for each in workspace.shelf() if isinstance(each, Damaged) or not each.away]


def _brief(found: GameSnapshot | Damaged) -> GameBrief:
    if isinstance(found, Damaged):
        damage = DamageBrief(what=found.problem.what, mend=found.problem.mend)
        return GameBrief(id=found.ident, name=found.name, cards=0, decks=0, damage=damage)
    return GameBrief(id=found.id, name=found.name, cards=len(found.cards), decks=len(found.decks))


@router.get("/{game_id}")
def game(found: TheGame) -> GameOut:
    """A game's card types, fields, choice lists, sets and deck rules."""
    return game_out(found)


@router.get("/{game_id}/damage")
def damage(workspace: TheWorkspace, game_id: AnyGame) -> DamageOut:
    """The damage of a game, readable or not, and the way back."""
    return DamageOut.model_validate(damage_of(workspace, game_id))


@router.post("/{game_id}/repair")
def walk_back(workspace: TheWorkspace, game_id: AnyGame, asked: RepairIn) -> GameBrief:
    """Repair a damaged game by going back to its last valid moment; the journal keeps what is reverted."""
    return _brief(repair(workspace, game_id, asked.to))


@router.get("/{game_id}/rescue", response_class=Response)
def rescued(workspace: TheWorkspace, game_id: AnyGame) -> Response:
    """The backup of a damaged game: its raw rows, and the game at its last valid moment."""
    headers = {"Content-Disposition": f'attachment; filename="{game_id}.rescued.dramok"'}
    return Response(rescue(workspace, game_id), media_type="application/zip", headers=headers)


@router.get("/{game_id}/history")
def history(workspace: TheWorkspace, found: TheGame, page: Page, live: LivePages) -> HistoryOut:
    """The next undo and redo for this page."""
    steps = next_steps(workspace, found.id, page, set(live))
    return HistoryOut(
        undo=steps.undo.label if steps.undo else None, redo=steps.redo.label if steps.redo else None
    )


@router.post("/{game_id}/undo")
def undo_last(
    workspace: TheWorkspace, found: TheGame, page: Page, key: Key, live: LivePages, asked: StepIn | None = None
) -> EditOut:
    """Undo the page's latest edit. A conflict (409) names the edit as `op`: send it back with the decision."""
    asked = asked or StepIn()
    return edit_out(undo(workspace, found.id, page, set(live), key, asked.how, asked.op))


@router.post("/{game_id}/redo")
def redo_last(
    workspace: TheWorkspace, found: TheGame, page: Page, key: Key, live: LivePages, asked: StepIn | None = None
) -> EditOut:
    """Redo the page's latest undo; conflicts as with undo."""
    asked = asked or StepIn()
    return edit_out(redo(workspace, found.id, page, set(live), key, asked.how, asked.op))


@router.get("/{game_id}/events", response_class=StreamingResponse)
async def events(
    request: Request, workspace: TheWorkspace, found: TheGame, live: LivePages, page: Annotated[str, Query(max_length=80)],
    last_event_id: Annotated[str | None, Header()] = None,
) -> StreamingResponse:  # fmt: skip
    """Server-sent events: one for each op, with its number and time as id; after a large gap, `refetch`.

    The first event `here` has the number of the latest op. `other` means that the last id seen is not an op of
    this database: the client has a game of another file.
    """
    last = _seen(last_event_id)
    other = last is not None and not _is_here(workspace, found, *last)
    seen = found.seq if last is None or other else last[0]

    async def stream() -> AsyncIterator[str]:
        nonlocal seen
        live[page] += 1
        quiet = 0.0
        try:
            yield f": open\nretry: 1000\nid: {_place(workspace, seen)}\nevent: here\ndata: {found.seq}\n\n"
            if other:
                yield _said(workspace, seen, refetch=True, other=True)
            while not await request.is_disconnected():
                try:
                    now = (await asyncio.to_thread(workspace.game, found.id)).seq
                except (Missing, Damaged):
                    # The game can't be used any more: the page requests it and gets the reason.
                    yield f"data: {json.dumps({'seq': seen, **NOTHING, 'refetch': True})}\n\n"
                    return
                if now > seen:
                    yield await asyncio.to_thread(_news, workspace, found.id, seen)
                    seen, quiet = now, 0.0
                elif quiet >= BEAT_EVERY:
                    yield ": still here\n\n"
                    quiet = 0.0
                await asyncio.sleep(LOOK_EVERY)
                quiet += LOOK_EVERY
        finally:
            live[page] -= 1
            if live[page] <= 0:
                del live[page]

    return StreamingResponse(
        stream(),
        media_type="text/event-stream",
        headers={"Cache-Control": "no-store", "X-Accel-Buffering": "no"},
    )


NOTHING: dict[str, Any] = {"refetch": False, "pages": [], "ops": []}


def _seen(text: str | None) -> tuple[int, str] | None:
    """The number of an op, and its time if it was sent; None for anything else."""
    found = re.fullmatch(r"([0-9]{1,15})(?:@([0-9T:.+-]{1,40}))?", text) if text else None
    return (int(found[1]), found[2] or "") if found else None


def _place(workspace: Workspace, seq: int) -> str:
    """An event id: another file can have an op with that number, but not with that time."""
    op = workspace.store.op(seq)
    return f"{seq}@{op.at}" if op else f"{seq}"


def _is_here(workspace: Workspace, game: GameSnapshot, seq: int, at: str) -> bool:
    op = workspace.store.op(seq)
    return seq <= game.seq and (not at or (op is not None and op.at == at))


def _said(workspace: Workspace, seq: int, **news: object) -> str:
    return f"id: {_place(workspace, seq)}\ndata: {json.dumps({'seq': seq, **NOTHING, **news})}\n\n"


def _news(workspace: Workspace, game_id: str, seen: int) -> str:
    ops = workspace.store.ops(game_id, after=seen, newest=LARGE_GAP + 1)
    if not ops:
        return ": nothing\n\n"
    if len(ops) > LARGE_GAP:
        return _said(workspace, ops[-1].seq, refetch=True)
    things = sorted(workspace.store.touched(seen, game_id))
    large = len(things) > LARGE_GAP
    return _said(
        workspace, ops[-1].seq, refetch=large, pages=sorted({op.page for op in ops}), ops=[[op.seq, op.page] for op in ops],
        label=ops[-1].label, things=[] if large else things,
    )  # fmt: skip
