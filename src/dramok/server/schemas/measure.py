"""Measured strength."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from dramok.core.balance.declared.prices import MOST_POINTS
from dramok.core.engine.loop_detection import Why
from dramok.server.schemas.base import Out, PlayerWord, like

Ident = Annotated[str, Field(min_length=1, max_length=80)]


class LiftOut(Out):
    """Percentage points of win rate from one more copy of the card in place of an average one; null: it was in
    no deck.
    """

    card: str
    lift: float | None
    low: float | None
    high: float | None
    named: bool
    decks: int


class MeasurementOut(Out):
    """`seq`: the edit up to which the cards were measured; `provisional`: games are still running; `repeated`:
    decks play several games; `edited`: cards changed since; `players`: those with a measurement, the latest
    last.
    """

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
    players: list[str] = []
    compiled: float | None = None


class _Played(Out):
    seed: int = Field(default=1, ge=0, le=2**53)
    player: PlayerWord = "plain"


class MeasureIn(_Played):
    games: int = Field(default=20_000, ge=1, le=500_000)

    model_config = like({"games": 20_000, "seed": 1, "player": "plain"})


class MoreGamesIn(Out):
    """`games`: the new total."""

    games: int = Field(ge=1, le=500_000)

    model_config = like({"games": 40_000})


class SweepIn(_Played):
    """`games` for each value."""

    card: Ident
    field: Ident
    start: int = Field(ge=-1_000, le=100_000)
    end: int = Field(ge=-1_000, le=100_000)
    games: int = Field(default=2_000, ge=100, le=50_000)

    model_config = like({"card": "c1", "field": "cost", "start": 0, "end": 6, "games": 2_000})


class WorthSweepIn(_Played):
    """`worth`: a price row, or `stat:` and a field. `games` for each of the `values`."""

    worth: Ident
    start: Annotated[float, Field(ge=-MOST_POINTS, le=MOST_POINTS, allow_inf_nan=False)]
    end: Annotated[float, Field(ge=-MOST_POINTS, le=MOST_POINTS, allow_inf_nan=False)]
    values: int = Field(default=7, ge=2, le=40)
    games: int = Field(default=2_000, ge=100, le=50_000)

    model_config = like({"worth": "stat:height", "start": 0.5, "end": 2, "values": 7, "games": 2_000})


class SweepPointOut(Out):
    """The win rate in percent of the side with the card; `more`: percentage points above the current value, in
    the same games.
    """

    value: float
    rate: float
    low: float
    high: float
    more: float
    more_low: float
    more_high: float


class FairOut(Out):
    """The value at which the side with the card wins half of its games; null: outside the range."""

    value: float
    low: float | None
    high: float | None


class SweepOut(Out):
    """`now`: null for an undecided worth.

    `asked`: for a worth, the cost of each card by value. `repeated`: decks play several games.
    """

    points: list[SweepPointOut]
    now: float | None
    fair: FairOut | None
    asked: list[dict[str, int]]
    repeated: bool


class WhatIfIn(_Played):
    """`values`: the unsaved text of fields of the card."""

    card: Ident
    values: dict[Ident, Annotated[str, Field(max_length=20_000)]] = Field(max_length=100)
    games: int = Field(default=4_000, ge=100, le=20_000)

    model_config = like({"card": "c1", "values": {"cost": "3"}, "games": 4_000})


class EditMeasuredOut(Out):
    """Percentage points of win rate that the side with the card gains; `same`: the edit changes nothing in
    play. `worths`: for an edit of worths, the edited ones; the games then use cards at the costs that the
    worths suggest, and `same` means that no cost changes.
    """

    card: str
    more: float
    low: float
    high: float
    rate: float
    games: int
    same: bool
    worths: list[str]


class DuelsIn(_Played):
    """`decks`: ids; empty: all of the game, up to 16. `games` in total."""

    decks: list[Ident] = Field(default=[], max_length=16)
    games: int = Field(default=4_000, ge=1, le=200_000)

    model_config = like({"decks": [], "games": 4_000})


class WinShareOut(Out):
    """In percent, with its 95 % interval."""

    games: int
    rate: float
    low: float
    high: float


class DuelCardOut(Out):
    """Percent of its copies drawn and played; of those drawn, percent still in hand at the end."""

    card: str
    copies: int
    drawn: float
    played: float
    held: float


class CutOut(Out):
    """Games cut off. `why`: a loop, the turn limit, or no possible decision; `cards` are those of the loop."""

    cards: list[str]
    games: int
    why: Why


class DuelsOut(Out):
    """`matrix[one][other]`: how often one wins against the other.

    `emptied`: how often a deck's draw pile ran out. `lengths`: [turns, games].
    """

    decks: list[str]
    games: int
    matrix: list[list[WinShareOut | None]]
    overall: list[WinShareOut]
    emptied: list[WinShareOut]
    first: WinShareOut
    draws: int
    lengths: list[list[int]]
    quantiles: dict[str, int]
    cards: list[DuelCardOut]
    never_played: list[str]
    cut: list[CutOut]
    digest: str
    seconds: float


class ProgressOut(Out):
    """`done` games of `of`; both 0 if nothing runs.

    `compiled`: the compiled part of the rules, 0 to 1, while they are being compiled; otherwise null.
    """

    done: int
    of: int
    compiled: float | None = None
