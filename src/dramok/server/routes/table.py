"""Playtests."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query

from dramok.core.engine import ByHand, Option
from dramok.server.request_context import Key, TheGame, TheWorkspace, ValidatingRoute
from dramok.server.responses import playtest_out
from dramok.server.schemas.play import (
    AgainIn,
    BranchIn,
    ByHandIn,
    DecisionIn,
    NewPlaytestIn,
    PlaytestBrief,
    PlaytestOut,
    TakeBackIn,
)
from dramok.services.play.playtests import (
    Against,
    again,
    begin,
    branch,
    by_hand,
    decide,
    playtest,
    recent,
    step,
    take_back,
)

router = APIRouter(route_class=ValidatingRoute, prefix="/games/{game_id}", tags=["playtest and balance"])


@router.get("/playtests")
def playtests(workspace: TheWorkspace, game: TheGame, most: Annotated[int, Query(ge=1, le=1_000)] = 20) -> list[PlaytestBrief]:
    """The latest playtests, up to a number."""
    return [
        PlaytestBrief(
            id=each.id, deck_name=each.deck_name, seed=each.seed, taken=len(each.decisions), at=each.at, name=name, rival=rival,
        )  # fmt: skip
        for each, name, rival in recent(workspace, game.id, most)
    ]


@router.post("/playtests", status_code=201)
def new_playtest(workspace: TheWorkspace, game: TheGame, asked: NewPlaytestIn, key: Key) -> PlaytestOut:
    """Shuffle a deck by a seed and draw the opening hand."""
    return playtest_out(
        begin(workspace, game.id, asked.deck, asked.seed, key, Against(asked.rival_deck, asked.player, asked.second, asked.mine, asked.seats, tuple(asked.players)), asked.card)
    )


@router.get("/playtests/{playtest_id}")
def one_playtest(workspace: TheWorkspace, game: TheGame, playtest_id: str, at: Annotated[int, Query(ge=-1, le=1_000_000)] = -1) -> PlaytestOut:
    """`at`: the moment after this number of decisions."""
    return playtest_out(playtest(workspace, game.id, playtest_id, at))


@router.post("/playtests/{playtest_id}/again", status_code=201)
def play_again(workspace: TheWorkspace, game: TheGame, playtest_id: str, asked: AgainIn, key: Key) -> PlaytestOut:
    """Start again with the same decks and players and the current cards and rules."""
    return playtest_out(again(workspace, game.id, playtest_id, asked.seed, key))


@router.post("/playtests/{playtest_id}/branch", status_code=201)
def branch_off(workspace: TheWorkspace, game: TheGame, playtest_id: str, asked: BranchIn, key: Key) -> PlaytestOut:
    """Start a new match from an earlier moment."""
    return playtest_out(branch(workspace, game.id, playtest_id, asked.at, asked.name, key))


@router.post("/playtests/{playtest_id}/step")
def watch_a_step(workspace: TheWorkspace, game: TheGame, playtest_id: str, asked: TakeBackIn, key: Key) -> PlaytestOut:
    """One decision of an automatic player, in a match that is watched."""
    return playtest_out(step(workspace, game.id, playtest_id, asked.taken, key))


@router.post("/playtests/{playtest_id}/decisions")
def decision(workspace: TheWorkspace, game: TheGame, playtest_id: str, asked: DecisionIn, key: Key) -> PlaytestOut:
    """Take one of the options."""
    return playtest_out(decide(workspace, game.id, playtest_id, Option(asked.do, asked.card, asked.other), asked.taken, key))


@router.post("/playtests/{playtest_id}/by-hand")
def done_by_hand(workspace: TheWorkspace, game: TheGame, playtest_id: str, asked: ByHandIn, key: Key) -> PlaytestOut:
    """Move a card or a number by hand, for text without written behaviour; the log marks it."""
    hand = ByHand(asked.do, asked.card, asked.zone, asked.seat, asked.pile, asked.pile_seat, asked.under, asked.what, asked.number)
    return playtest_out(by_hand(workspace, game.id, playtest_id, hand, asked.taken, key))


@router.post("/playtests/{playtest_id}/undo")
def undo_decision(workspace: TheWorkspace, game: TheGame, playtest_id: str, asked: TakeBackIn, key: Key) -> PlaytestOut:
    """Take the last decision back."""
    return playtest_out(take_back(workspace, game.id, playtest_id, asked.taken, key))
