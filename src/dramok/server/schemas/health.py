"""The lenses, stored measurements and the health of a set."""

from __future__ import annotations

from pydantic import Field

from dramok.server.schemas.base import Out, like
from dramok.server.schemas.measure import LiftOut


class CardLensesOut(Out):
    """Points over budget by each lens; null without data.

    `surely`: the part of the disagreement that chance does not explain.
    """

    card: str
    declared: float | None
    implied: float | None
    measured: float | None
    error: float | None
    apart: float
    surely: float
    which: str


class RowLensesOut(Out):
    """Points of one unit of a price row by each lens, with [value, low, high]; with a share below 0.3 there is
    too little data.
    """

    row: str
    name: str
    declared: float | None
    implied: list[float] | None
    implied_share: float
    flips: bool
    measured: list[float] | None
    measured_share: float
    cards: int


class LensesOut(Out):
    """`echo`: the costs were probably set from the declared worths.

    `scale`: [percentage points of win rate for one point of worth, low, high].
    """

    cards: list[CardLensesOut]
    rows: list[RowLensesOut]
    left_out: int
    echo: bool
    spread: float
    scale: list[float] | None
    source: str


class KeepIn(Out):
    """`name` empty: a name from its games and player."""

    name: str = Field(default="", max_length=60)
    player: str | None = Field(default=None, max_length=40)

    model_config = like({"name": "before the second playtest"})


class RenameIn(Out):
    name: str = Field(max_length=60)

    model_config = like({"name": "after the second playtest"})


class KeptOut(Out):
    id: str
    name: str
    at: str
    games: int
    player: str
    seed: int
    seq: int
    digest: str
    first: list[float]
    turns: float
    cards: list[LiftOut]
    edited: list[str]


class CostShapeOut(Out):
    """`wanted`: the planned number of cards of this cost; `stats`: the mean total of the stats."""

    cost: int
    cards: int
    wanted: float | None
    stats: float | None


class EmptyPlaceOut(Out):
    type: str
    cost: int
    faction: str
    rarity: str


class DominatedOut(Out):
    card: str
    better: list[str]
    reason: str


class TwinsOut(Out):
    one: str
    other: str
    differs: str


class CountedOut(Out):
    """`what`: an id of a choice or card type, a keyword, or a card."""

    what: str
    count: float


class LoadOut(Out):
    """The number of words on a card."""

    cards: int
    mean: float
    median: float
    most: int
    longest: list[CountedOut]


class LoneOut(Out):
    word: str
    card: str


class HealthOut(Out):
    """Cards by id. Lists are cut at 200; their counts cover all, up to 400 gaps and 500 twins."""

    cards: int
    verdicts: dict[str, int]
    outliers: list[CountedOut]
    curve: list[CostShapeOut]
    types: list[CountedOut]
    factions: list[CountedOut]
    rarities: list[CountedOut]
    gaps: list[EmptyPlaceOut]
    gap_count: int
    dominated: list[DominatedOut]
    dominated_count: int
    twins: list[TwinsOut]
    twin_count: int
    left_out: int
    keywords: list[CountedOut]
    load: LoadOut
    lone: list[LoneOut]
    lone_count: int
    stale: list[str]
    unfinished: list[str]
    unseen: int
    changed: list[str] | None
