"""The table."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from dramok.server.schemas.base import Out, SeatWord, like


class SaleOut(Out):
    """The price of a card now, with its reasons, and what its buyer puts on the cards before it."""

    market: int
    price: int
    pays: str
    reasons: list[str]
    passing: int
    passing_resource: str


class TableCardOut(Out):
    """`counters` on the card by id; `tokens` that buyers left on it, of the resource `token`; `sale`: if it is for sale."""

    instance: int
    card: str
    damage: int
    stats: dict[str, int]
    tilted: bool
    keywords: list[str]
    host: int
    clashing: bool
    answers: int
    printed: dict[str, int]
    changes: list[str]
    counters: dict[str, int]
    tokens: int
    token: str
    sale: SaleOut | None


class ZoneOut(Out):
    """`cards` is null if the zone is hidden."""

    zone: str
    name: str
    count: int
    cards: list[TableCardOut] | None


class SeatOut(Out):
    seat: int
    zones: list[ZoneOut]
    resources: dict[str, int]
    out: bool


class TableOut(Out):
    """`seats` begin with the person's own; `winner` is -1 during the game, -2 for a draw. `left`: the cards of the
    own draw pile as counts by id.
    """

    draw_count: int
    hand: list[TableCardOut]
    discard: list[TableCardOut]
    in_play: list[TableCardOut]
    resolving: list[TableCardOut]
    resources: dict[str, int]
    turn: int
    hand_limit: int | None
    seats: list[SeatOut]
    shared: list[ZoneOut]
    looked: list[TableCardOut]
    active: int
    round: int
    phase: str
    deciding: int
    winner: int
    left: dict[str, int]


class OptionOut(Out):
    do: str
    card: int
    other: int


class LogOut(Out):
    decision: int
    text: str
    card: str | None
    inner: bool
    kind: int
    seat: int
    happening: Literal["", "drawn", "played", "harm", "moved", "clash", "totals", "end"]


class PrintedStatOut(Out):
    """A stat of a card as printed."""

    name: str
    value: str


class CardWordsOut(Out):
    """The printed text and numbers of a card; `written` false: it is resolved by hand."""

    cost: str
    kind: str
    lines: list[str]
    written: bool
    stats: list[PrintedStatOut] = []


class PlaytestOut(Out):
    """`scores`: for each seat the lines of the score sheet, empty before the match is scored; `counters`: names by id; `actions`:
    the numbers at the table of the actions of the rules that this seat can take."""

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
    seat: int
    rival: str
    rival_deck: str
    player: SeatWord | Literal[""]
    broken: str
    notes: list[str]
    asking: str
    choices: list[str]
    words: dict[str, CardWordsOut]
    players: list[str]
    whose: int
    at: int
    name: str
    sat: list[str]
    unplayed: list[str]
    hands_free: bool
    unwritten: list[str]
    asker: int
    scores: list[dict[str, int]]
    counters: dict[str, str]
    actions: list[int]


class PlaytestBrief(Out):
    """`name` of a branch; `rival`: the deck across the table, empty for a game played alone."""

    id: str
    name: str
    rival: str
    deck_name: str
    seed: int
    taken: int
    at: str


class NewPlaytestIn(Out):
    """`deck` empty: one is chosen or built; `card` (an id) is in it, and without a seed in the opening hand.

    `rival_deck` empty: the same deck; `player` is its automatic player, or a second person; `second`: the other
    seat goes first; `mine`: an automatic player in the person's seat, to be watched. `seats`: 0 for the usual
    number; `players`: who has each of the other seats, in the order of play; the rest are played by `player`.
    """

    deck: str = Field(default="", max_length=80)
    card: str = Field(default="", max_length=120)
    mine: SeatWord = "person"
    seed: int | None = None
    rival_deck: str = Field(default="", max_length=80)
    player: SeatWord = "plain"
    second: bool = False
    seats: int = Field(default=0, ge=0, le=4)
    players: list[SeatWord] = Field(default=[], max_length=3)

    model_config = like({"deck": "d849e0133df5f921", "seed": 21})


class DecisionIn(Out):
    """`taken`: the number of decisions that the page has seen."""

    do: str
    card: int = Field(default=-1, ge=-1, le=100_000)
    other: int = Field(default=-1, ge=-1, le=100_000)
    taken: int = Field(ge=0)

    model_config = like({"do": "draw", "card": -1, "taken": 4})


class ByHandIn(Out):
    """A manual move: a card moved, the top card of a `pile` moved, a zone searched or shuffled; a total, damage
    or tilt set to `number`, or a stat (`what`) changed by it. Zones and numbers are named by id; `taken` as
    in a decision.
    """

    do: Literal["move", "top", "look", "shuffle", "total", "damage", "tilt", "stat"]
    card: int = Field(default=-1, ge=-1, le=100_000)
    zone: str = Field(default="", max_length=80)
    seat: int = Field(default=0, ge=0, le=3)
    pile: str = Field(default="", max_length=80)
    pile_seat: int = Field(default=0, ge=0, le=3)
    under: bool = False
    what: str = Field(default="", max_length=80)
    number: int = Field(default=0, ge=-999_999, le=999_999)
    taken: int = Field(ge=0)

    model_config = like({"do": "move", "card": 3, "zone": "discard", "taken": 4})


class TakeBackIn(Out):
    taken: int = Field(ge=0)

    model_config = like({"taken": 4})


class AgainIn(Out):
    """`seed` null: a new one."""

    seed: int | None = None

    model_config = like({"seed": 21})


class BranchIn(Out):
    """`at`: the number of decisions before it."""

    at: int = Field(ge=0, le=1_000_000)
    name: str = Field(default="", max_length=200)

    model_config = like({"at": 4, "name": "had I kept it"})
