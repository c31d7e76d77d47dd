"""The table."""

from __future__ import annotations

from pydantic import Field

from dramok.server.schemas.base import Out, like


class TableCardOut(Out):
    instance: int
    card: str
    damage: int
    stats: dict[str, int]


class TableOut(Out):
    draw_count: int
    hand: list[TableCardOut]
    discard: list[TableCardOut]
    in_play: list[TableCardOut]
    resolving: list[TableCardOut]
    resources: dict[str, int]
    turn: int
    hand_limit: int | None


class OptionOut(Out):
    do: str
    card: int


class LogOut(Out):
    decision: int
    text: str
    card: str | None
    inner: bool


class PlaytestOut(Out):
    id: str
    deck: str
    deck_name: str
    seed: int
    taken: int
    asked: str
    options: list[OptionOut]
    view: TableOut
    log: list[LogOut]
    titles: dict[str, str]
    outdated: list[str]


class PlaytestBrief(Out):
    id: str
    deck_name: str
    seed: int
    taken: int
    at: str


class NewPlaytestIn(Out):
    deck: str
    seed: int | None = None

    model_config = like({"deck": "d849e0133df5f921", "seed": 21})


class DecisionIn(Out):
    """`taken`: how many decisions the page has seen."""

    do: str
    card: int = -1
    taken: int = Field(ge=0)

    model_config = like({"do": "draw", "card": -1, "taken": 4})


class TakeBackIn(Out):
    taken: int = Field(ge=0)

    model_config = like({"taken": 4})
