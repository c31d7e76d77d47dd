"""How a match ends by the state of the table, and how it is then scored."""

from __future__ import annotations

from typing import Literal

from pydantic import Field, model_validator

from dramok.core.effects.model import Amount
from dramok.core.problem import Frozen

MOST_ENDS, MOST_SCORES, MOST_TIES = 6, 12, 4


class End(Frozen):
    """What ends a match.

    `empty`: all of `zones` are empty. `sold out`: `number` kinds of the supplies in `zones` are gone. `rounds`:
    a number of rounds is over. `reached`: the total of a seat reaches `number`. `when`: at once, after the
    current round, or after one more round; rounds always end after their last turn.
    """

    kind: Literal["empty", "sold out", "rounds", "reached"]
    zones: tuple[str, ...] = Field(default=(), max_length=8)
    number: int = Field(default=1, ge=1, le=9_999)
    total: str | None = None
    when: Literal["at once", "round", "one more round"] = "round"

    @model_validator(mode="after")
    def _complete(self) -> End:
        if (self.kind in ("empty", "sold out")) != bool(self.zones):
            raise ValueError("an end by empty zones names them, and no other end does")
        if (self.kind == "reached") != (self.total is not None):
            raise ValueError("an end by a total names it, and no other end does")
        return self


class ScoreLine(Frozen):
    """A line of the score sheet: an amount in the effect language, for each seat as its own; `minus`: subtracted."""

    name: str = Field(min_length=1, max_length=60)
    amount: Amount
    minus: bool = False


class TieBreaker(Frozen):
    """Among equal scores the highest amount wins; with `lowest` the lowest."""

    name: str = Field(min_length=1, max_length=60)
    amount: Amount
    lowest: bool = False
