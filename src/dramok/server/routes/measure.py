"""Measured strength of cards: start, read, stop, continue a measurement; sweeps, measured edits, duels."""

from __future__ import annotations

import threading
from typing import Annotated, Literal

from fastapi import APIRouter, Depends, FastAPI, Query, Request

from dramok.server.request_context import TheGame, TheWorkspace, ValidatingRoute
from dramok.server.schemas.base import PlayerWord
from dramok.server.schemas.measure import (
    CutOut,
    DuelsIn,
    DuelsOut,
    EditMeasuredOut,
    MeasureIn,
    MeasurementOut,
    MoreGamesIn,
    ProgressOut,
    SweepIn,
    SweepOut,
    WhatIfIn,
    WorthSweepIn,
)
from dramok.services.balance.compile_progress import compile_share
from dramok.services.balance.duels import DuelsAsked
from dramok.services.balance.measurement import Measurement
from dramok.services.balance.session import BalanceSession
from dramok.services.balance.sweeps import SweepAsked, WorthAsked

router = APIRouter(route_class=ValidatingRoute, prefix="/games/{game_id}/measure", tags=["playtest and balance"])
_LOCK = threading.Lock()


def _of_server(request: Request) -> BalanceSession:
    """The balance session of this server, created on first use."""
    state = request.app.state
    with _LOCK:
        if not hasattr(state, "balance"):
            state.balance = BalanceSession(state.cluster)
    found: BalanceSession = state.balance
    return found


TheBalance = Annotated[BalanceSession, Depends(_of_server)]
PlayerAsked = Annotated[PlayerWord | None, Query()]


def _out(found: Measurement, players: tuple[str, ...]) -> MeasurementOut:
    known = {key: getattr(found, key) for key in MeasurementOut.model_fields if hasattr(found, key)}
    return MeasurementOut.model_validate({**known, "players": list(players), "compiled": compile_share() if found.state == "compiling" else None})


@router.get("")
def measurement(held: TheBalance, game: TheGame, player: PlayerAsked = None) -> MeasurementOut:
    """The state of the latest measurement, or the latest of a player.

    Also prepares a process for requests that may follow.
    """
    held.make_ready()
    return _out(held.measurements.look(game, player), held.measurements.players(game))


@router.post("", status_code=202)
def begin_measuring(held: TheBalance, game: TheGame, asked: MeasureIn) -> MeasurementOut:
    """Start a measurement with random legal decks by the first deck rules; a running one of the game is
    stopped. Writes nothing.
    """
    return _out(held.measurements.start(game, held.playing(asked.games, asked.seed, asked.player)), held.measurements.players(game))


@router.post("/more", status_code=202)
def more_games(held: TheBalance, game: TheGame, asked: MoreGamesIn) -> MeasurementOut:
    """Continue to a larger number of games, with the same cards."""
    return _out(held.measurements.go_on(game, asked.games), held.measurements.players(game))


@router.post("/stop")
def stop_measuring(held: TheBalance, game: TheGame) -> MeasurementOut:
    """Stop the measurement; its results stay."""
    return _out(held.measurements.stop(game), held.measurements.players(game))


@router.post("/sweep")
def sweep(held: TheBalance, game: TheGame, asked: SweepIn) -> SweepOut:
    """Sweep a number of a card over a range, with the same games for each value.

    Ends a previous sweep. Writes nothing.
    """
    return SweepOut.model_validate(held.sweep(game, SweepAsked(asked.card, asked.field, asked.start, asked.end, held.playing(asked.games, asked.seed, asked.player))))


@router.post("/sweep-worth")
def sweep_worth(held: TheBalance, game: TheGame, asked: WorthSweepIn) -> SweepOut:
    """Sweep a worth over a range, with cards at the costs that it suggests. Ends a previous sweep. Writes nothing."""
    playing = held.playing(asked.games, asked.seed, asked.player)
    return SweepOut.model_validate(held.sweep_worth(game, WorthAsked(asked.worth, asked.start, asked.end, asked.values, playing)))


@router.post("/what-if")
def what_if(held: TheBalance, game: TheGame, asked: WhatIfIn) -> EditMeasuredOut:
    """The change of win rate that an unsaved edit would make for the side with the card. Writes nothing."""
    return EditMeasuredOut.model_validate(held.what_if(game, asked.card, asked.values, held.playing(asked.games, asked.seed, asked.player)))


@router.get("/edit")
def edit_measured(
    workspace: TheWorkspace, held: TheBalance, game: TheGame, card: Annotated[str, Query(max_length=80)], after: Annotated[int, Query(ge=0)], games: Annotated[int, Query(ge=100, le=20_000)] = 4_000,
    player: PlayerWord = "plain",
) -> EditMeasuredOut:  # fmt: skip
    """The change of win rate that the edits after op `after` made for the side with a card.

    Ends a previous request of this kind.
    """
    return EditMeasuredOut.model_validate(held.edit(workspace, game, card, after, held.playing(games, 1, player)))


@router.post("/duels")
def duels(held: TheBalance, game: TheGame, asked: DuelsIn) -> DuelsOut:
    """Play decks against each other. Ends a previous request of this kind. Writes nothing."""
    found = held.duels(game, DuelsAsked(tuple(asked.decks), held.playing(asked.games, asked.seed, asked.player)))
    return DuelsOut.model_validate(
        {
            **{key: getattr(found, key) for key in DuelsOut.model_fields}, "lengths": [list(each) for each in found.lengths],
            "quantiles": {str(key): value for key, value in found.quantiles.items()}, "cut": [CutOut(cards=list(each.cards), games=each.games, why=each.why) for each in found.cut],
        }
    )  # fmt: skip


@router.get("/progress/{kind}")
def progress(held: TheBalance, game: TheGame, kind: Literal["sweep", "edit", "duels", "ends"]) -> ProgressOut:
    """The progress of the running request of a kind; and of compiling the rules, while that runs."""
    done, of = held.progress(game, kind)
    return ProgressOut(done=done, of=of, compiled=compile_share())


@router.post("/stop/{kind}", status_code=204)
def stop_asking(held: TheBalance, game: TheGame, kind: Literal["sweep", "edit", "duels", "ends"]) -> None:
    """Stop the running request of a kind."""
    held.stop(game, kind)


def close(app: FastAPI) -> None:
    """Stop all measurements when the server stops."""
    if hasattr(app.state, "balance"):
        app.state.balance.close()
