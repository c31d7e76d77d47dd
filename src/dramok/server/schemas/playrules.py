"""Preview of rules of play, and how matches by them end."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel, Field

from dramok.core.problem import Problem
from dramok.core.text_checks import Ident
from dramok.server.schemas.base import Out, like


class PlayLookIn(BaseModel):
    """`value`: the rules of play, null for free play alone; `sender`, `answer`: cards (ids) that clash for an
    example.
    """

    model_config = like({"value": None})

    value: Any
    sender: Ident | None = None
    answer: Ident | None = None


class EndsIn(BaseModel):
    """`seed`: for all games."""

    model_config = like({"value": None, "seed": 1})

    value: Any
    seed: int = Field(default=1, ge=0, le=2**53)


class GapOut(Out):
    """`part`: of the rules of play; `stops`: no match can start."""

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


class AmountTextOut(Out):
    """`text` as typed, `words` as printed in the rules."""

    text: str
    words: str


class PlayLookOut(Out):
    """`problem`: why these rules can't be written; everything else then describes the stored ones.

    `short`: the turn in one line; `scoring` and `ties`: the amounts of the score sheet; `markets`: for each the amount by which its
    prices are lower; `actions`: the effect of each.
    """

    problem: Problem | None
    gaps: list[GapOut]
    short: str
    parts: list[ReadPartOut]
    clash: ClashToldOut | None
    scoring: list[AmountTextOut]
    ties: list[AmountTextOut]
    markets: list[AmountTextOut]
    actions: list[AmountTextOut]


class EndsOut(Out):
    """Results of quick games: wins by seat, draws, games cut off, numbers of turns by quantile in percent; and
    the decks used.
    """

    games: int
    wins: list[int]
    draws: int
    cut: int
    turns: dict[str, int]
    decks: str
    seconds: float
