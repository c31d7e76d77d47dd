"""The rules of play as data: seats, zones, setup, turn, played cards, clash, goals.

The engine interprets every part and has no built-in zone, phase or total. Incomplete rules can be stored;
`play_checks` reports what they lack.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from dramok.core.effects.model import Group
from dramok.core.problem import Frozen, fold
from dramok.core.rulebook.market import MOST_COUNTERS, MOST_MARKETS, MOST_ROW, Counter, Market
from dramok.core.rulebook.phase_actions import (
    Amount,
    Doing,
    DrawsCards,
    Few,
    GrowResources,
    PlayCards,
    RevealTop,
    Scheduled,
)
from dramok.core.rulebook.rule_actions import MOST_ACTIONS, RuleAction
from dramok.core.rulebook.scoring import MOST_ENDS, MOST_SCORES, MOST_TIES, End, ScoreLine, TieBreaker
from dramok.core.rulebook.sparse import Sparse

MOST_SEATS, MOST_OWN_ZONES, MOST_PHASES, MOST_DOINGS, MOST_ROUND = 4, 8, 12, 16, 200
MOST_PLACED = 400
Ident = Annotated[str, Field(pattern=r"^[a-z][a-z0-9-]*$", max_length=60)]
Name = Annotated[str, Field(min_length=1, max_length=60)]
ZONES = {"draw": "draw pile", "hand": "hand", "discard": "discard pile", "play": "in play", "removed": "removed"}
"""The zones of every game, with their default names."""


class OwnZone(Sparse):
    """A user-defined zone. `limit`: the largest number of cards. `shuffled`: at the start.

    `kind`: a pile; a row of face-up cards with a number of `places`; or a supply, where equal cards are kept
    together. A row is refilled from the top of the zone `source`: as soon as nothing resolves, by a phase action,
    or never after the start.
    """

    added = ("kind", "places", "source", "refill")
    id: Ident
    name: Name
    shared: bool = False
    seen: Literal["owner", "all", "none"] = "all"
    limit: int | None = Field(default=None, ge=1, le=400)
    shuffled: bool = False
    kind: Literal["pile", "row", "supply"] = "pile"
    places: int | None = Field(default=None, ge=1, le=MOST_ROW)
    source: str | None = None
    refill: Literal["at once", "phase", "never"] = "at once"

    @model_validator(mode="after")
    def _of_its_kind(self) -> OwnZone:
        if self.kind != "pile" and not (self.shared and self.seen == "all"):
            raise ValueError(f"{self.name} is a {self.kind}: it belongs to all and is open to all")
        if (self.kind == "row") != (self.places is not None):
            raise ValueError(f"{self.name}: a row has a number of places, and no other zone does")
        if self.source is not None and self.kind != "row":
            raise ValueError(f"{self.name} is no row: nothing refills it")
        if self.kind != "pile" and (self.shuffled or self.limit is not None):
            raise ValueError(f"{self.name} is a {self.kind}: it is neither shuffled nor limited")
        return self


class StartingCards(Sparse):
    """Cards placed at the start of a match, in each seat's zone, or the shared one.

    `cards` by id or code with their number; `group`: also every card of the game that matches it, as often as
    its number of copies says.
    """

    added = ("group",)
    zone: str
    cards: dict[str, Annotated[int, Field(ge=1, le=99)]]
    group: Group | None = None


class RedrawRule(Frozen):
    """The redraw of an opening hand, once, whole or chosen cards; `returned` before or after the new ones are drawn."""

    kind: Literal["none", "hand", "cards"] = "none"
    returned: Literal["before", "after"] = "before"


class SetUp(Sparse):
    """`second`: compensation for each seat but the first: cards drawn, and resources by id.

    `start`: the deck with which every seat begins, by card id or code; `start_group`: also every card of the game
    that matches it, as often as its number of copies says. With neither, each seat brings a deck.
    """

    added = ("start", "start_group")
    placed: tuple[StartingCards, ...] = Field(default=(), max_length=20)
    redraw: RedrawRule = RedrawRule()
    second_draws: Few = 0
    second_gains: dict[str, Amount] = {}
    start: dict[str, Annotated[int, Field(ge=1, le=99)]] = {}
    start_group: Group | None = None

    @property
    def starts_alike(self) -> bool:
        """Whether every seat begins with the same deck."""
        return bool(self.start) or self.start_group is not None


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
    """What happens to played cards of a type. `hosts`: what a card can be attached to.

    `cleared`: the card stays in play until the phase action *clear away*.
    """

    type: str
    becomes: Literal["discarded", "stays", "tilted", "attached", "figure", "cleared"]
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


class PlayRules(Sparse):
    """The rules of play. `free`: cards are also drawn, discarded and put away manually.

    `seats`: the usual number; a match can have `least_seats` to `most_seats` (None: as usual). `ends`: the
    match is over and scored; `scoring`: the lines of the score sheet.
    """

    added = ("least_seats", "most_seats", "markets", "counters", "ends", "scoring", "ties", "actions")
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
    least_seats: int | None = Field(default=None, ge=1, le=MOST_SEATS)
    most_seats: int | None = Field(default=None, ge=1, le=MOST_SEATS)
    markets: tuple[Market, ...] = Field(default=(), max_length=MOST_MARKETS)
    counters: tuple[Counter, ...] = Field(default=(), max_length=MOST_COUNTERS)
    ends: tuple[End, ...] = Field(default=(), max_length=MOST_ENDS)
    scoring: tuple[ScoreLine, ...] = Field(default=(), max_length=MOST_SCORES)
    ties: tuple[TieBreaker, ...] = Field(default=(), max_length=MOST_TIES)
    actions: tuple[RuleAction, ...] = Field(default=(), max_length=MOST_ACTIONS)

    @property
    def fewest(self) -> int:
        """The smallest number of seats of a match."""
        return self.seats if self.least_seats is None else self.least_seats

    @property
    def greatest(self) -> int:
        """The largest number of seats of a match."""
        return self.seats if self.most_seats is None else self.most_seats

    def zone(self, ident: str) -> OwnZone | None:
        """A user-defined zone by id."""
        return next((each for each in self.zones if each.id == ident), None)

    @model_validator(mode="after")
    def _sound(self) -> PlayRules:
        for what, held in (("zones", self.zones), ("phases", self.phases), ("actions", self.actions)):
            idents = [each.id for each in held]
            names = [fold(each.name) for each in held]
            if len(set(idents)) < len(idents) or len(set(names)) < len(names):
                raise ValueError(f"two {what} have one name")
        if any(zone.id in ZONES for zone in self.zones):
            raise ValueError("every game has a draw pile, a hand, a discard pile, what is in play and what is removed: take another id")
        doings = [doing for phase in self.phases for doing in phase.does]
        known = {*ZONES, *(zone.id for zone in self.zones)}
        used = [doing.zone for doing in doings if isinstance(doing, RevealTop | Scheduled)]
        for zone in (*used, *(placed.zone for placed in self.set_up.placed)):
            if zone not in known:
                raise ValueError(f"there is no zone {zone[:40]}")
        if sum(sum(each.cards.values()) for each in self.set_up.placed) > MOST_PLACED:
            raise ValueError(f"more than {MOST_PLACED} cards are placed when a match starts")
        if not self.fewest <= self.seats <= self.greatest:
            raise ValueError(f"the usual number of seats, {self.seats}, is not from {self.fewest} to {self.greatest}")
        self._sells(known)
        return self

    def _sells(self, known: set[str]) -> None:
        """Raises ValueError for a row, market, counter or end with a zone that it can't have."""
        for row in self.zones:
            source = self.zone(row.source) if row.source else None
            if row.source is not None and (source is None or source.kind != "pile" or not source.shared):
                raise ValueError(f"{row.name} is refilled from {row.source[:40]}, which is not a pile of all seats")
        for market in self.markets:
            sold = self.zone(market.zone)
            if sold is None or not sold.shared:
                raise ValueError(f"cards are bought from {market.zone[:40]}, which is not a zone of all seats")
            if (market.by_place or market.passing) and sold.kind != "row":
                raise ValueError(f"{sold.name} is no row: its prices can't depend on places")
        if len({market.zone for market in self.markets}) < len(self.markets):
            raise ValueError("two markets sell the cards of one zone")
        if len({fold(each.name) for each in self.counters}) < len(self.counters) or len({each.id for each in self.counters}) < len(self.counters):
            raise ValueError("two counters have one name")
        for zone in (*(zone for each in self.counters for zone in each.zones), *(zone for each in self.ends for zone in each.zones)):
            if zone not in known:
                raise ValueError(f"there is no zone {zone[:40]}")
        for end in self.ends:
            supplies = [zone for zone in end.zones if (own := self.zone(zone)) is not None and own.kind == "supply"]
            if end.kind == "sold out" and len(supplies) < len(end.zones):
                raise ValueError("kinds of cards are sold out in a supply only")


def alone() -> PlayRules:
    """The rules for a game without rules of play: one seat that draws, plays, discards and puts away freely,
    turn by turn.
    """
    does = (GrowResources(first="none"), DrawsCards(first="none"), PlayCards())
    return PlayRules(seats=1, free=True, phases=(Phase(id="turn", name="Turn", does=does),))
