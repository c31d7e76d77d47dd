"""The rules of play while they are laid out, and how matches by them end."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel, Field

from dramok.core.problem import Problem
from dramok.core.soundtext import Ident
from dramok.server.schemas.base import Out, like


class PlayLookIn(BaseModel):
    """`value`: the rules of play, null for a game played alone and freely; `sender`, `answer`: cards (ids) that clash for an example."""

    model_config = like({"value": None})

    value: Any
    sender: Ident | None = None
    answer: Ident | None = None


class EndsIn(BaseModel):
    """`seed`: of all games."""

    model_config = like({"value": None, "seed": 1})

    value: Any
    seed: int = Field(default=1, ge=0, le=2**53)


class GapOut(Out):
    """`part`: of the rules of play; `stops`: no match begins with it."""

    part: str
    what: str
    mend: str
    stops: bool


class ReadPartOut(Out):
    part: str
    title: str
    lines: list[str]
    cards: list[str]


class ClashToldOut(Out):
    sender: str
    answer: str
    lines: list[str]


class PlayLookOut(Out):
    """`problem`: why these rules can't be written; all else is then of those that stand. `short`: the turn in a line."""

    problem: Problem | None
    gaps: list[GapOut]
    short: str
    parts: list[ReadPartOut]
    clash: ClashToldOut | None


class EndsOut(Out):
    """Of so many quick games: wins by seat, draws, those cut off, how many turns by quantile in percent; with which decks."""

    games: int
    wins: list[int]
    draws: int
    cut: int
    turns: dict[str, int]
    decks: str
    seconds: float
