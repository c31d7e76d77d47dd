"""Games, their history, and the stream of what changes in them."""

from __future__ import annotations

import asyncio
import json
import re
from collections.abc import AsyncIterator
from typing import Annotated

from fastapi import APIRouter, Header, Path, Query, Request, Response
from fastapi.responses import StreamingResponse

from dramok.core.soundtext import Ident
from dramok.server.answers import edit_out, game_out
from dramok.server.asked import Key, LivePages, Page, SoundRoute, TheDesk, TheGame
from dramok.server.schemas.base import DamageBrief, DamageOut, GameBrief, RepairIn
from dramok.server.schemas.cards import EditOut, HistoryOut, StepIn
from dramok.server.schemas.game import GameOut
from dramok.studio import Damaged, Desk, GameSnapshot, Missing
from dramok.studio.repair import damage_of, repair, rescue
from dramok.studio.undoing import next_steps, redo, undo

router = APIRouter(route_class=SoundRoute, prefix="/games", tags=["games"])
AnyGame = Annotated[Ident, Path()]
LOOK_EVERY = 0.25
BEAT_EVERY = 15
LARGE_GAP = 100


@router.get("")
def games(desk: TheDesk) -> list[GameBrief]:
    """Every game that is not put away; one that cannot be read says why, and hides none of the others."""
    return [_brief(each) for each in desk.shelf() if isinstance(each, Damaged) or not each.away]


def _brief(found: GameSnapshot | Damaged) -> GameBrief:
    if isinstance(found, Damaged):
        damage = DamageBrief(what=found.problem.what, mend=found.problem.mend)
        return GameBrief(id=found.ident, name=found.name, cards=0, decks=0, damage=damage)
    return GameBrief(id=found.id, name=found.name, cards=len(found.cards), decks=len(found.decks))


@router.get("/{game_id}")
def game(found: TheGame) -> GameOut:
    """A game's card types, fields, choice lists, sets and format."""
    return game_out(found)


@router.get("/{game_id}/damage")
def damage(desk: TheDesk, game_id: AnyGame) -> DamageOut:
    """What is wrong with a game, of one that cannot be read too, and the way back."""
    return DamageOut.model_validate(damage_of(desk, game_id))


@router.post("/{game_id}/repair")
def walk_back(desk: TheDesk, game_id: AnyGame, asked: RepairIn) -> GameBrief:
    """Walks a damaged game back to its last sound moment; its journal keeps what that takes back."""
    return _brief(repair(desk, game_id, asked.to))


@router.get("/{game_id}/rescue", response_class=Response)
def rescued(desk: TheDesk, game_id: AnyGame) -> Response:
    """The backup of a damaged game: its rows as they stand, and the game at its last sound moment."""
    headers = {"Content-Disposition": f'attachment; filename="{game_id}.rescued.dramok"'}
    return Response(rescue(desk, game_id), media_type="application/zip", headers=headers)


@router.get("/{game_id}/history")
def history(desk: TheDesk, found: TheGame, page: Page, live: LivePages) -> HistoryOut:
    """What undo and redo would do next for this page."""
    steps = next_steps(desk, found.id, page, set(live))
    return HistoryOut(
        undo=steps.undo.label if steps.undo else None, redo=steps.redo.label if steps.redo else None
    )


@router.post("/{game_id}/undo")
def undo_last(
    desk: TheDesk, found: TheGame, page: Page, key: Key, live: LivePages, asked: StepIn | None = None
) -> EditOut:
    """Undoes the page's latest edit. A conflict (409) names the edit as `op`: send it back with how to go on."""
    asked = asked or StepIn()
    return edit_out(undo(desk, found.id, page, set(live), key, asked.how, asked.op))


@router.post("/{game_id}/redo")
def redo_last(
    desk: TheDesk, found: TheGame, page: Page, key: Key, live: LivePages, asked: StepIn | None = None
) -> EditOut:
    """Takes the page's latest undo back; conflicts as with undo."""
    asked = asked or StepIn()
    return edit_out(redo(desk, found.id, page, set(live), key, asked.how, asked.op))


@router.get("/{game_id}/events", response_class=StreamingResponse)
async def events(
    request: Request, desk: TheDesk, found: TheGame, live: LivePages, page: Annotated[str, Query(max_length=80)],
    last_event_id: Annotated[str | None, Header()] = None,
) -> StreamingResponse:  # fmt: skip
    """Server-sent events: one for each op, with its number as id; a large gap says `refetch`."""
    seen = _number(last_event_id) or found.seq

    async def stream() -> AsyncIterator[str]:
        nonlocal seen
        live[page] += 1
        quiet = 0.0
        try:
            yield f": open\nretry: 1000\nid: {seen}\n\n"
            while not await request.is_disconnected():
                try:
                    now = (await asyncio.to_thread(desk.game, found.id)).seq
                except (Missing, Damaged):
                    # Nobody can go on in it: the page asks for the game, and hears why.
                    yield f"data: {json.dumps({'seq': seen, 'refetch': True, 'pages': [], 'ops': []})}\n\n"
                    return
                if now > seen:
                    yield await asyncio.to_thread(_news, desk, found.id, seen)
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


def _number(text: str | None) -> int | None:
    """The number of an op, None for anything else."""
    return int(text) if text and re.fullmatch(r"[0-9]{1,15}", text) else None


def _news(desk: Desk, game_id: str, seen: int) -> str:
    ops = desk.store.ops(game_id, after=seen, newest=LARGE_GAP + 1)
    if not ops:
        return ": nothing\n\n"
    if len(ops) > LARGE_GAP:
        return f"id: {ops[-1].seq}\ndata: {json.dumps({'seq': ops[-1].seq, 'refetch': True, 'pages': [], 'ops': []})}\n\n"
    pages = sorted({op.page for op in ops})
    things = sorted(desk.store.touched(seen, game_id))
    large = len(things) > LARGE_GAP
    news = {
        "seq": ops[-1].seq,
        "refetch": large,
        "pages": pages,
        "ops": [[op.seq, op.page] for op in ops],
        "label": ops[-1].label,
        "things": [] if large else things,
    }
    return f"id: {ops[-1].seq}\ndata: {json.dumps(news)}\n\n"
