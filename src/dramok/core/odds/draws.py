"""The number of cards seen by a turn, and redraw rules for the opening hand."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal

from dramok.core.odds.groups import BadOdds, Event

MOST_TURNS = 60
MOST_DRAWN = 200
Returned = Literal["before", "after"]


@dataclass(frozen=True)
class Draws:
    """`hand`: the opening hand. `each`: cards drawn in every turn, from turn 1 on. `first_draw` False: no draw
    in the first turn.

    `extra`: further cards drawn in a turn, by turn.
    """

    hand: int = 5
    each: int = 1
    first_draw: bool = True
    extra: Mapping[int, int] = field(default_factory=dict)

    def __post_init__(self) -> None:
        for where, count in (("hand", self.hand), ("draws", self.each), *((f"turn {turn}", more) for turn, more in self.extra.items())):  # fmt: skip
            if not 0 <= count <= MOST_DRAWN:
                raise BadOdds(where, f"{count:,} cards", f"write 0 to {MOST_DRAWN}")

    def later(self, turn: int) -> int:
        """Cards drawn from turn 1 until the end of a turn's draws; 0 at turn 0, the opening hand."""
        if not 0 <= turn <= MOST_TURNS:
            raise BadOdds("turn", f"turn {turn}", f"write 0 to {MOST_TURNS}")
        missed = self.each if turn and not self.first_draw else 0
        return self.each * turn - missed + sum(more for at, more in self.extra.items() if at <= turn)

    def seen(self, turn: int) -> int:
        """Cards seen by a turn, including the opening hand."""
        return self.hand + self.later(turn)


@dataclass(frozen=True)
class WholeHand:
    """A hand for which `keep` is false is replaced once, as a whole; the next is kept.

    `returned`: before the new one is drawn, or after.
    """

    keep: Event
    returned: Returned = "before"


@dataclass(frozen=True)
class ChosenCards:
    """Once, every card of the opening hand that is not in group `kept` is replaced.

    `returned`: before the new ones are drawn, or after.
    """

    kept: int
    returned: Returned = "before"


Redraw = WholeHand | ChosenCards | None
