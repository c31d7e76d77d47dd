"""The income of a seat turn by turn while nothing is played: cards drawn, and resources when cards can be
played.

Used by the odds. Tests compare it with thousands of openings dealt by the engine.
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterable, Mapping
from dataclasses import dataclass

from dramok.core.rulebook.phase_actions import (
    Doing,
    DrawsCards,
    GainResource,
    GrowResources,
    PlayCards,
    Refills,
)
from dramok.core.rulebook.rulebook import Resource, Rulebook

MOST_STEPS = 400_000
"""The limit of amounts times outcomes for one random gain."""
Amounts = Mapping[int, float]
_State = tuple[int, ...]


class Uncountable(ValueError):
    """Random gains have too many outcomes to enumerate."""


@dataclass(frozen=True)
class PlayTime:
    """A moment at which the seat can play cards of `types` (empty: any).

    `drawn`: cards drawn since the opening hand; `amounts`: the chance of each amount of the paying resource.
    """

    types: tuple[str, ...]
    drawn: int
    amounts: Amounts


@dataclass(frozen=True)
class OpeningTurn:
    """One turn of the seat. `drawn`: cards drawn since the opening hand, at the end of the turn; `plays` in order."""

    drawn: int
    plays: tuple[PlayTime, ...]

    def play_of(self, types: Collection[frozenset[str]]) -> PlayTime | None:
        """The last moment at which cards of all these types (each with those it extends) can be played; None if
        the turn has none.
        """
        fitting = [each for each in self.plays if not each.types or all(kinds & set(each.types) for kinds in types)]
        return fitting[-1] if fitting else None


def opening_turns(rulebook: Rulebook, turns: int, seat: int = 0) -> tuple[OpeningTurn, ...]:
    """The first turns of a seat (0 begins) in which nobody plays a card: turn 1 first. Raises Uncountable."""
    return _Opening(rulebook, seat).turns(turns)


class _Opening:
    def __init__(self, rulebook: Rulebook, seat: int) -> None:
        self.rulebook, self.play, self.table, self.seat = rulebook, rulebook.played, rulebook.table, seat
        pays = self.table.pays
        self.common = next((each for each in self.play.common if pays in each.resources), None)
        counted = [pays, *(each for each in (self.common.resources if self.common else ()) if each != pays)] if pays else []
        self.resources: list[Resource] = [rulebook.resource(each) for each in counted if each is not None]
        self.states: dict[_State, float] = {tuple(each.start for each in self.resources): 1.0}
        self.hand, self.drawn, self.turn, self.round = self.table.opening_hand, 0, 0, 1
        self.plays: list[PlayTime] = []

    def turns(self, number: int) -> tuple[OpeningTurn, ...]:
        set_up = self.play.set_up
        for other in range(1, self.play.seats):
            if other == self.seat:
                self._draw(set_up.second_draws)
            for what, amount in sorted(set_up.second_gains.items()):
                self._gain(what, amount, amount, other)
        found: list[OpeningTurn] = []
        for self.round in range(1, number + 1):
            drawn = self.drawn
            for active in range(self.play.seats):
                self.turn += 1
                self._one_turn(active)
                drawn = self.drawn if active == self.seat else drawn
            found.append(OpeningTurn(drawn, tuple(self.plays)))
            self.plays = []
        return tuple(found)

    def _one_turn(self, active: int) -> None:
        seats = self.play.seats
        for phase in self.play.phases:
            for other in [active] if phase.whose == "active" else [(active + step) % seats for step in range(seats)]:
                for doing in phase.does:
                    self._does(doing, other)

    def _does(self, doing: Doing, seat: int) -> None:
        first = getattr(doing, "first", "all")
        if first == "later seats" and self.turn == 1 or first == "none" and self.round == 1:
            return
        mine = seat == self.seat
        if isinstance(doing, GrowResources):
            for resource in self.resources:
                self._grow(resource, seat)
        elif isinstance(doing, GainResource):
            self._gain(doing.resource, doing.number, max(doing.number, doing.most or 0), seat)
        elif mine and isinstance(doing, DrawsCards):
            self._draw(self.table.turn_draw if doing.number is None else doing.number)
        elif mine and isinstance(doing, Refills):
            self._draw((self.table.opening_hand if doing.number is None else doing.number) - self.hand)
        elif mine and isinstance(doing, PlayCards):
            amounts: dict[int, float] = {}
            for state, chance in self.states.items():
                held = state[0] if state else 0
                amounts[held] = amounts.get(held, 0.0) + chance
            self.plays.append(PlayTime(doing.types, self.drawn, amounts))
        elif mine and doing.do == "hand limit" and self.table.hand_limit is not None:
            self.hand = min(self.hand, self.table.hand_limit)

    def _draw(self, number: int) -> None:
        self.drawn += max(0, number)
        self.hand += max(0, number)

    def _grow(self, resource: Resource, seat: int) -> None:
        place = self.resources.index(resource)
        full = resource.start + resource.each_turn * (self.round - 1)
        full = full if resource.cap is None else min(full, resource.cap)
        if seat == self.seat or resource.shared:
            self._spread(lambda state: [(self._with(state, place, full - state[place] if resource.refill else resource.each_turn), 1.0)])

    def _gain(self, what: str, least: int, most: int, seat: int) -> None:
        place = next((place for place, each in enumerate(self.resources) if each.id == what), None)
        if place is None or seat != self.seat and not self.resources[place].shared:
            return
        span = most - least + 1
        if len(self.states) * span > MOST_STEPS:
            raise Uncountable(f"{span} amounts by chance, turn after turn")
        self._spread(lambda state: [(self._with(state, place, number), 1 / span) for number in range(least, most + 1)])

    def _spread(self, outcomes: Callable[[_State], Iterable[tuple[_State, float]]]) -> None:
        after: dict[_State, float] = {}
        for state, chance in self.states.items():
            for other, likely in outcomes(state):
                after[other] = after.get(other, 0.0) + chance * likely
        self.states = after

    def _with(self, state: _State, place: int, number: int) -> _State:
        """The amounts after a gain, within the caps. Over a shared cap, the seat first returns what does not pay."""
        resource, common = self.resources[place], self.common
        more = max(0, number)
        if resource.cap is not None:
            more = min(more, max(0, resource.cap - state[place]))
        if common is not None and common.over == "lost":
            more = min(more, max(0, common.cap - sum(state)))
        after = [*state]
        after[place] += more
        if common is not None and common.over == "choice":
            over = max(0, sum(after) - common.cap) if more else 0
            for other in range(len(after) - 1, -1, -1):
                given = min(over, after[other])
                after[other] -= given
                over -= given
        return tuple(after)
