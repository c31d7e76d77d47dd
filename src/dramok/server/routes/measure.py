"""Measured strength of cards: begun, looked at while it runs, stopped, gone on with."""

from __future__ import annotations

from fastapi import APIRouter

from dramok.server.asked import SoundRoute, TheGame
from dramok.server.schemas.measure import MeasureIn, MeasurementOut, MoreGamesIn
from dramok.studio.measuring import MEASUREMENTS, MeasureAsked, Measurement

router = APIRouter(route_class=SoundRoute, prefix="/games/{game_id}/measure", tags=["playtest and balance"])


def _out(found: Measurement) -> MeasurementOut:
    return MeasurementOut.model_validate(found)


@router.get("")
def measurement(game: TheGame) -> MeasurementOut:
    """What is known by now."""
    return _out(MEASUREMENTS.look(game))


@router.post("", status_code=202)
def begin_measuring(game: TheGame, asked: MeasureIn) -> MeasurementOut:
    """Begins anew, with random legal decks by the first deck rules; what ran for the game is stopped. Writes nothing."""
    return _out(MEASUREMENTS.start(game, MeasureAsked(asked.games, asked.seed, asked.player)))


@router.post("/more", status_code=202)
def more_games(game: TheGame, asked: MoreGamesIn) -> MeasurementOut:
    """Goes on to so many games, with the cards as they were."""
    return _out(MEASUREMENTS.go_on(game, asked.games))


@router.post("/stop")
def stop_measuring(game: TheGame) -> MeasurementOut:
    """Ends what runs; what is known stays."""
    return _out(MEASUREMENTS.stop(game))


def close() -> None:
    """The server ends: what is measured ends with it."""
    MEASUREMENTS.forget()
