"""Measured strength of cards: begun, looked at while it runs, stopped, gone on with."""

from __future__ import annotations

import threading
from typing import Annotated

from fastapi import APIRouter, Depends, FastAPI, Request

from dramok.server.asked import SoundRoute, TheGame
from dramok.server.schemas.measure import MeasureIn, MeasurementOut, MoreGamesIn
from dramok.studio.measuring import MeasureAsked, Measurement, Measurements

router = APIRouter(route_class=SoundRoute, prefix="/games/{game_id}/measure", tags=["playtest and balance"])
_LOCK = threading.Lock()


def _of_server(request: Request) -> Measurements:
    """Those of this server, made when the first is asked for."""
    state = request.app.state
    with _LOCK:
        if not hasattr(state, "measurements"):
            state.measurements = Measurements()
    found: Measurements = state.measurements
    return found


TheMeasurements = Annotated[Measurements, Depends(_of_server)]


def _out(found: Measurement) -> MeasurementOut:
    return MeasurementOut.model_validate(found)


@router.get("")
def measurement(held: TheMeasurements, game: TheGame) -> MeasurementOut:
    """What is known by now."""
    return _out(held.look(game))


@router.post("", status_code=202)
def begin_measuring(held: TheMeasurements, game: TheGame, asked: MeasureIn) -> MeasurementOut:
    """Begins anew, with random legal decks by the first deck rules; what ran for the game is stopped. Writes nothing."""
    return _out(held.start(game, MeasureAsked(asked.games, asked.seed, asked.player)))


@router.post("/more", status_code=202)
def more_games(held: TheMeasurements, game: TheGame, asked: MoreGamesIn) -> MeasurementOut:
    """Goes on to so many games, with the cards as they were."""
    return _out(held.go_on(game, asked.games))


@router.post("/stop")
def stop_measuring(held: TheMeasurements, game: TheGame) -> MeasurementOut:
    """Ends what runs; what is known stays."""
    return _out(held.stop(game))


def close(app: FastAPI) -> None:
    """The server ends: what is measured ends with it."""
    if hasattr(app.state, "measurements"):
        app.state.measurements.close()
