"""Measured strength of cards: begun, looked at while it runs, stopped, gone on with; numbers swept, edits measured."""

from __future__ import annotations

import threading
from typing import Annotated, Literal

from fastapi import APIRouter, Depends, FastAPI, Query, Request

from dramok.server.asked import SoundRoute, TheDesk, TheGame
from dramok.server.schemas.measure import (
    CutOut,
    DuelsIn,
    DuelsOut,
    EditMeasuredOut,
    MeasureIn,
    MeasurementOut,
    MoreGamesIn,
    PlayerWord,
    ProgressOut,
    SweepIn,
    SweepOut,
    WhatIfIn,
    WorthSweepIn,
)
from dramok.studio.balance.asking import BalanceDesk
from dramok.studio.balance.duelling import DuelsAsked
from dramok.studio.balance.measuring import Measurement
from dramok.studio.balance.preparing import compile_share
from dramok.studio.balance.sweeping import SweepAsked, WorthAsked

router = APIRouter(route_class=SoundRoute, prefix="/games/{game_id}/measure", tags=["playtest and balance"])
_LOCK = threading.Lock()


def _of_server(request: Request) -> BalanceDesk:
    """That of this server, made when it is first asked for."""
    state = request.app.state
    with _LOCK:
        if not hasattr(state, "balance"):
            state.balance = BalanceDesk(state.cluster)
    found: BalanceDesk = state.balance
    return found


TheBalance = Annotated[BalanceDesk, Depends(_of_server)]
PlayerAsked = Annotated[PlayerWord | None, Query()]


def _out(found: Measurement, players: tuple[str, ...]) -> MeasurementOut:
    known = {key: getattr(found, key) for key in MeasurementOut.model_fields if hasattr(found, key)}
    return MeasurementOut.model_validate({**known, "players": list(players), "compiled": compile_share() if found.state == "compiling" else None})


@router.get("")
def measurement(held: TheBalance, game: TheGame, player: PlayerAsked = None) -> MeasurementOut:
    """What is known by now, by the latest measurement or the latest of a player. A process is made ready for what may be asked next."""
    held.make_ready()
    return _out(held.measurements.look(game, player), held.measurements.players(game))


@router.post("", status_code=202)
def begin_measuring(held: TheBalance, game: TheGame, asked: MeasureIn) -> MeasurementOut:
    """Begins anew, with random legal decks by the first deck rules; what ran for the game is stopped. Writes nothing."""
    return _out(held.measurements.start(game, held.playing(asked.games, asked.seed, asked.player)), held.measurements.players(game))


@router.post("/more", status_code=202)
def more_games(held: TheBalance, game: TheGame, asked: MoreGamesIn) -> MeasurementOut:
    """Goes on to so many games, with the cards as they were."""
    return _out(held.measurements.go_on(game, asked.games), held.measurements.players(game))


@router.post("/stop")
def stop_measuring(held: TheBalance, game: TheGame) -> MeasurementOut:
    """Ends what runs; what is known stays."""
    return _out(held.measurements.stop(game), held.measurements.players(game))


@router.post("/sweep")
def sweep(held: TheBalance, game: TheGame, asked: SweepIn) -> SweepOut:
    """One number of a card over a range, by the same games for each value. What was asked of the kind before is ended. Writes nothing."""
    return SweepOut.model_validate(held.sweep(game, SweepAsked(asked.card, asked.field, asked.start, asked.end, held.playing(asked.games, asked.seed, asked.player))))


@router.post("/sweep-worth")
def sweep_worth(held: TheBalance, game: TheGame, asked: WorthSweepIn) -> SweepOut:
    """A worth over a range, with the cards that have the effect costing what it asks for. What was swept before is ended. Writes nothing."""
    playing = held.playing(asked.games, asked.seed, asked.player)
    return SweepOut.model_validate(held.sweep_worth(game, WorthAsked(asked.worth, asked.start, asked.end, asked.values, playing)))


@router.post("/what-if")
def what_if(held: TheBalance, game: TheGame, asked: WhatIfIn) -> EditMeasuredOut:
    """What an edit that is not saved would do to the win rate of the side that holds the card. Writes nothing."""
    return EditMeasuredOut.model_validate(held.what_if(game, asked.card, asked.values, held.playing(asked.games, asked.seed, asked.player)))


@router.get("/edit")
def edit_measured(
    desk: TheDesk, held: TheBalance, game: TheGame, card: Annotated[str, Query(max_length=80)], after: Annotated[int, Query(ge=0)], games: Annotated[int, Query(ge=100, le=20_000)] = 4_000,
    player: PlayerWord = "plain",
) -> EditMeasuredOut:  # fmt: skip
    """What the edits after op `after` did to the win rate of the side that holds a card. What was asked of the kind before is ended."""
    return EditMeasuredOut.model_validate(held.edit(desk, game, card, after, held.playing(games, 1, player)))


@router.post("/duels")
def duels(held: TheBalance, game: TheGame, asked: DuelsIn) -> DuelsOut:
    """Decks against each other. What was asked of the kind before is ended. Writes nothing."""
    found = held.duels(game, DuelsAsked(tuple(asked.decks), held.playing(asked.games, asked.seed, asked.player)))
    return DuelsOut.model_validate(
        {
            **{key: getattr(found, key) for key in DuelsOut.model_fields}, "lengths": [list(each) for each in found.lengths],
            "quantiles": {str(key): value for key, value in found.quantiles.items()}, "cut": [CutOut(cards=list(each.cards), games=each.games, why=each.why) for each in found.cut],
        }
    )  # fmt: skip


@router.get("/progress/{kind}")
def progress(held: TheBalance, game: TheGame, kind: Literal["sweep", "edit", "duels", "ends"]) -> ProgressOut:
    """How far the games are that answer a kind of question now; and how much of the rules is compiled, while that is done."""
    done, of = held.progress(game, kind)
    return ProgressOut(done=done, of=of, compiled=compile_share())


@router.post("/stop/{kind}", status_code=204)
def stop_asking(held: TheBalance, game: TheGame, kind: Literal["sweep", "edit", "duels", "ends"]) -> None:
    """Ends what answers a kind of question."""
    held.stop(game, kind)


def close(app: FastAPI) -> None:
    """The server ends: what is measured ends with it."""
    if hasattr(app.state, "balance"):
        app.state.balance.close()
