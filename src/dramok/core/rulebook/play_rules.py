"""How a game is played, as data: seats, zones, set-up, the turn, what becomes of played cards, the clash, the goal.

The engine plays every part of it and knows no zone, phase or total by name. What is laid out half may be kept; what it lacks to be
played is told by `playable`.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from dramok.core.effects.model import Group
from dramok.core.problem import Frozen, fold

MOST_SEATS, MOST_OWN_ZONES, MOST_PHASES, MOST_DOINGS, MOST_ROUND = 4, 8, 12, 16, 200
MOST_PLACED = 200
Ident = Annotated[str, Field(pattern=r"^[a-z][a-z0-9-]*$", max_length=60)]
Name = Annotated[str, Field(min_length=1, max_length=60)]
Amount = Annotated[int, Field(ge=0, le=9_999)]
Few = Annotated[int, Field(ge=0, le=60)]
ZONES = {"draw": "draw pile", "hand": "hand", "discard": "discard pile", "play": "in play", "removed": "removed"}
"""The zones that every game has, under the names they have where a game has none of its own for them."""


class OwnZone(Frozen):
    """A zone of the designer's own. `limit`: so many cards at most. `shuffled`: at the start."""

    id: Ident
    name: Name
    shared: bool = False
    seen: Literal["owner", "all", "none"] = "all"
    limit: int | None = Field(default=None, ge=1, le=400)
    shuffled: bool = False


class LaidOut(Frozen):
    """Cards that lie somewhere when the match begins: `cards` by id or code with how many; in each seat's zone, or the shared one."""

    zone: str
    cards: dict[str, Annotated[int, Field(ge=1, le=99)]]


class RedrawRule(Frozen):
    """Whether an opening hand may be given back once, whole or in chosen cards; `returned` before or after the new ones are drawn."""

    kind: Literal["none", "hand", "cards"] = "none"
    returned: Literal["before", "after"] = "before"


class SetUp(Frozen):
    """`second` is what each seat but the first gets to make up for it: cards drawn, and resources by id."""

    placed: tuple[LaidOut, ...] = Field(default=(), max_length=20)
    redraw: RedrawRule = RedrawRule()
    second_draws: Few = 0
    second_gains: dict[str, Amount] = {}


class DrawsCards(Frozen):
    """So many cards; None: as many as the table says for a turn. `first`: whether the very first turn has it, too."""

    do: Literal["draw"] = "draw"
    number: Few | None = None
    first: Literal["all", "later seats", "none"] = "all"


class Refills(Frozen):
    """DrawsCards up to so many in hand; None: as many as an opening hand has."""

    do: Literal["refill"] = "refill"
    number: Few | None = None


class Grows(Frozen):
    """Every resource grows by what a turn gives, or is filled up."""

    do: Literal["grow"] = "grow"
    first: Literal["all", "later seats", "none"] = "all"


class Gains(Frozen):
    """A resource by a number; where `most` is above it, by chance between the two."""

    do: Literal["gain"] = "gain"
    resource: str
    number: Amount
    most: Amount | None = None


class Plays(Frozen):
    """Cards are played and effects used: of these card types (none: any), at most so many (None: as many as can be paid)."""

    do: Literal["play"] = "play"
    types: tuple[str, ...] = ()
    most: Annotated[int, Field(ge=1, le=99)] | None = None


class TurnsOver(Frozen):
    """The top card of a zone is turned over, does what it does when played, and goes under the zone."""

    do: Literal["turn over"] = "turn over"
    zone: str


class Simply(Frozen):
    """What needs nothing said: cards straighten; the clash; cards over the hand limit go; damage is cleared; tilted cards come back."""

    do: Literal["straighten", "clash", "hand limit", "clear damage", "recall"]


Doing = Annotated[DrawsCards | Refills | Grows | Gains | Plays | TurnsOver | Simply, Field(discriminator="do")]


class Phase(Frozen):
    """A part of the turn. `whose`: the active seat's, or each seat's in turn from the active one on."""

    id: Ident
    name: Name
    whose: Literal["active", "each"] = "active"
    does: tuple[Doing, ...] = Field(default=(), max_length=MOST_DOINGS)


class PlaysAnswered(Frozen):
    """Other seats may answer a played card, before it does anything, with one card each of these types."""

    types: tuple[str, ...] = Field(min_length=1)


class AfterPlay(Frozen):
    """What becomes of played cards of a type. `hosts`: what a card can be attached to."""

    type: str
    becomes: Literal["discarded", "stays", "tilted", "attached", "figure"]
    hosts: Group | None = None

    @model_validator(mode="after")
    def _attached(self) -> AfterPlay:
        if (self.becomes == "attached") != (self.hosts is not None):
            raise ValueError("a card that is attached says to what, and no other does")
        return self


class ClashRule(Frozen):
    """Who clashes with what stat, who answers, and what comes of it.

    `hurts`: a card and those that answer it deal their stat to one another as damage; else the answers' stat is taken off.
    `excess`: what is left over is lost, or counts as unanswered. `unanswered`: the sender gains the total, or its rival loses it, by the
    stat or by 1.
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
    """`reach`: a total reaches a number and wins. `drop`: it falls to it and is out. `most`: the most of it wins after a round."""

    kind: Literal["reach", "drop", "most"]
    total: str
    number: int = Field(ge=0, le=9_999)


class Common(Frozen):
    """Resources that are capped together: what is over is lost, or the seat chooses what to give back."""

    resources: tuple[str, ...] = Field(min_length=2)
    cap: int = Field(ge=0, le=9_999)
    over: Literal["lost", "choice"] = "lost"


class Evaluation(Frozen):
    """What an automatic player reckons with, in points: one of a resource, one of a stat in play, a card in hand."""

    resources: dict[str, Annotated[int, Field(ge=-100, le=100)]] = {}
    stats: dict[str, Annotated[int, Field(ge=-100, le=100)]] = {}
    hand: int = Field(default=2, ge=0, le=100)


class PlayRules(Frozen):
    """How a game is played; `free`: cards are also drawn, discarded and put away by hand, as the player likes."""

    seats: int = Field(default=2, ge=1, le=MOST_SEATS)
    free: bool = False
    zones: tuple[OwnZone, ...] = Field(default=(), max_length=MOST_OWN_ZONES)
    set_up: SetUp = SetUp()
    phases: tuple[Phase, ...] = Field(default=(), max_length=MOST_PHASES)
    answers: PlaysAnswered | None = None
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
        used = [doing.zone for doing in doings if isinstance(doing, TurnsOver)]
        for zone in (*used, *(placed.zone for placed in self.set_up.placed)):
            if zone not in known:
                raise ValueError(f"there is no zone {zone[:40]}")
        if sum(sum(each.cards.values()) for each in self.set_up.placed) > MOST_PLACED:
            raise ValueError(f"more than {MOST_PLACED} cards are placed when a match starts")
        return self


def alone() -> PlayRules:
    """How a game is played that says nothing of it: one seat that draws, plays, discards and puts away as it likes, turn by turn."""
    does = (Grows(first="none"), DrawsCards(first="none"), Plays())
    return PlayRules(seats=1, free=True, phases=(Phase(id="turn", name="Turn", does=does),))
