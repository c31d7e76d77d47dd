"""Measured strength, as the page gets it."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from dramok.server.schemas.base import Out, like

Player = Literal["random", "plain", "ahead"]


class LiftOut(Out):
    """Points of win rate that a copy more of the card brings instead of an average one; null: it was in no deck."""

    card: str
    lift: float | None
    low: float | None
    high: float | None
    named: bool
    decks: int


class MeasurementOut(Out):
    """`seq`: the edit up to which the cards were measured; `provisional`: looked at before the games were over; `repeated`: decks had to
    be used again; `edited`: cards that have changed since."""

    state: Literal["none", "compiling", "running", "stopped", "done", "failed"]
    games: int
    wanted: int
    seed: int
    player: str
    seq: int
    cards: list[LiftOut]
    first: list[float]
    spread: float
    turns: float
    draws: int
    runaways: int
    seconds: float
    digest: str
    provisional: bool
    repeated: bool
    edited: list[str]
    rules_edited: bool
    problem: str


class MeasureIn(Out):
    games: int = Field(default=20_000, ge=1, le=500_000)
    seed: int = Field(default=1, ge=0, le=2**53)
    player: Player = "plain"

    model_config = like({"games": 20_000, "seed": 1, "player": "plain"})


class MoreGamesIn(Out):
    """`games`: how many in all."""

    games: int = Field(ge=1, le=500_000)

    model_config = like({"games": 40_000})
