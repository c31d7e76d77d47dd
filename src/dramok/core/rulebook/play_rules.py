"""The rules of play as data: seats, zones, setup, turn, played cards, clash, goals.

The engine interprets every part and has no built-in zone, phase or total. Incomplete rules can be stored;
`play_checks` reports what they lack.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from dramok.core.effects.model import Group
from dramok.core.problem import Frozen, fold
from dramok.core.rulebook.phase_actions import (
    Amount,
    Doing,
    DrawsCards,
    Few,
    GrowResources,
    PlayCards,
    RevealTop,
)

MOST_SEATS, MOST_OWN_ZONES, MOST_PHASES, MOST_DOINGS, MOST_ROUND = 4, 8, 12, 16, 200
MOST_PLACED = 200
Ident = Annotated[str, Field(pattern=r"^[a-z][a-z0-9-]*$", max_length=60)]
Name = Annotated[str, Field(min_length=1, max_length=60)]
ZONES = {"draw": "draw pile", "hand": "hand", "discard": "discard pile", "play": "in play", "removed": "removed"}
"""The zones of every game, with their default names."""


class OwnZone(Frozen):
    """A user-defined zone. `limit`: the largest number of cards. `shuffled`: at the start."""

    id: Ident
    name: Name
    shared: bool = False
    seen: Literal["owner", "all", "none"] = "all"
    limit: int | None = Field(default=None, ge=1, le=400)
    shuffled: bool = False


class StartingCards(Frozen):
    """Cards placed at the start of a match:

    `cards` by id or code with their number; in each seat's zone, or the shared one.
    """

    zone: str
    cards: dict[str, Annotated[int, Field(ge=1, le=99)]]


class RedrawRule(Frozen):
    """The redraw of an opening hand, once, whole or chosen cards; `returned` before or after the new ones are drawn."""

    kind: Literal["none", "hand", "cards"] = "none"
    returned: Literal["before", "after"] = "before"


class SetUp(Frozen):
    """`second`: compensation for each seat but the first: cards drawn, and resources by id."""

    placed: tuple[StartingCards, ...] = Field(default=(), max_length=20)
    redraw: RedrawRule = RedrawRule()
    second_draws: Few = 0
    second_gains: dict[str, Amount] = {}


class Phase(Frozen):
    """A part of the turn. `whose`: the active seat's, or each seat's in turn starting with the active one."""

    id: Ident
    name: Name
    whose: Literal["active", "each"] = "active"
    does: tuple[Doing, ...] = Field(default=(), max_length=MOST_DOINGS)


class AnswerPlays(Frozen):
    """Other seats can answer a played card before it takes effect, with one card each of these types."""

    types: tuple[str, ...] = Field(min_length=1)


class AfterPlay(Frozen):
    """What happens to played cards of a type. `hosts`: what a card can be attached to."""

    type: str
    becomes: Literal["discarded", "stays", "tilted", "attached", "figure"]
    hosts: Group | None = None

    @model_validator(mode="after")
    def _attached(self) -> AfterPlay:
        if (self.becomes == "attached") != (self.hosts is not None):
            raise ValueError("a card that is attached says to what, and no other does")
        return self


class ClashRule(Frozen):
    """Who clashes with which stat, who answers, and the result.

    `hurts`: a card and its answers deal their stat to each other as damage; otherwise the stat of the answers
    is subtracted. `excess`: the rest is lost, or counts as unanswered. `unanswered`: the sender gains the
    total, or the rival loses it, by the stat or by 1.
    """

    types: tuple[str, ...] = Field(min_length=1)
    stat: str
    answers: Literal["one", "many", "none"] = "one"
    answer_types: tuple[str, ...] = ()
    hurts: bool = True
    excess: Literal["lost", "through"] = "lost"
    unanswered: Literal["nothing", "gains", "loses"] = "loses"
    total: str | None = None
    points: Literal["stat", "one"] = "stat"
    in_order: bool = False
    on_arrival: bool = False
    tilts: bool = True
    answer_tilts: bool = False

    @model_validator(mode="after")
    def _counted(self) -> ClashRule:
        if (self.unanswered == "nothing") == (self.total is not None):
            raise ValueError("a clash says which total an unanswered card counts for, or that it counts for nothing")
        return self


class Goal(Frozen):
    """`reach`: a total reaches a number and wins.

    `drop`: it falls to the number and the seat is out. `most`: the highest total wins after a round.
    """

    kind: Literal["reach", "drop", "most"]
    total: str
    number: int = Field(ge=0, le=9_999)


class Common(Frozen):
    """Resources with a shared cap: the excess is lost, or the seat chooses what to return."""

    resources: tuple[str, ...] = Field(min_length=2)
    cap: int = Field(ge=0, le=9_999)
    over: Literal["lost", "choice"] = "lost"


class Evaluation(Frozen):
    """The values an automatic player uses, in points: one unit of a resource, one of a stat in play, a card in hand."""

    resources: dict[str, Annotated[int, Field(ge=-100, le=100)]] = {}
    stats: dict[str, Annotated[int, Field(ge=-100, le=100)]] = {}
    hand: int = Field(default=2, ge=0, le=100)


class PlayRules(Frozen):
    """The rules of play. `free`: cards are also drawn, discarded and put away manually."""

    seats: int = Field(default=2, ge=1, le=MOST_SEATS)
    free: bool = False
    zones: tuple[OwnZone, ...] = Field(default=(), max_length=MOST_OWN_ZONES)
    set_up: SetUp = SetUp()
    phases: tuple[Phase, ...] = Field(default=(), max_length=MOST_PHASES)
    answers: AnswerPlays | None = None
    reshuffles: Annotated[int, Field(ge=0, le=99)] | None = None
    after_play: tuple[AfterPlay, ...] = ()
    common: tuple[Common, ...] = Field(default=(), max_length=4)
    clash: ClashRule | None = None
    goals: tuple[Goal, ...] = Field(default=(), max_length=6)
    tie: Literal["draw", "active"] = "draw"
    evaluation: Evaluation = Evaluation()

    @model_validator(mode="after")
    def _sound(self) -> PlayRules:
        for what, held in (("zones", self.zones), ("phases", self.phases)):
            idents = [each.id for each in held]
            names = [fold(each.name) for each in held]
            if len(set(idents)) < len(idents) or len(set(names)) < len(names):
                raise ValueError(f"two {what} have one name")
        if any(zone.id in ZONES for zone in self.zones):
            raise ValueError("every game has a draw pile, a hand, a discard pile, what is in play and what is removed: take another id")
        doings = [doing for phase in self.phases for doing in phase.does]
        known = {*ZONES, *(zone.id for zone in self.zones)}
        used = [doing.zone for doing in doings if isinstance(doing, RevealTop)]
        for zone in (*used, *(placed.zone for placed in self.set_up.placed)):
            if zone not in known:
                raise ValueError(f"there is no zone {zone[:40]}")
        if sum(sum(each.cards.values()) for each in self.set_up.placed) > MOST_PLACED:
            raise ValueError(f"more than {MOST_PLACED} cards are placed when a match starts")
        return self


def alone() -> PlayRules:
    """The rules for a game without rules of play: one seat that draws, plays, discards and puts away freely,
    turn by turn.
    """
    does = (GrowResources(first="none"), DrawsCards(first="none"), PlayCards())
    return PlayRules(seats=1, free=True, phases=(Phase(id="turn", name="Turn", does=does),))
