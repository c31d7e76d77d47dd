"""The designer's price list: what stats and effects are worth, and what a cost buys. All in points."""

from __future__ import annotations

from decimal import Decimal
from typing import Annotated, Literal

from pydantic import Field, field_validator, model_validator

from dramok.core.effects.verbs import VERBS, verb_as_now
from dramok.core.problem import Frozen

Affects = Literal["self", "rival", "anyone"]
MOST_POINTS = 1_000_000
Worth = Annotated[Decimal, Field(ge=-MOST_POINTS, le=MOST_POINTS, decimal_places=6)]
"""Points that can be reckoned with and shown: finite, bounded, to a millionth."""


def shown(number: Decimal, signed: bool = False) -> str:
    """Points in words of a ledger: no trailing zeros."""
    return f"{number.normalize():{'+' if signed else ''}f}"


class Curve(Frozen):
    """Worth of an amount: each point at `each` up to `until`, then at `further` (both equal when `until` is None).

    With `flat`, any amount from 1 to `until` is worth `flat`, and each further point `further`.
    """

    each: Worth = Decimal(0)
    flat: Worth | None = None
    until: int | None = Field(default=None, ge=0, le=MOST_POINTS)
    further: Worth = Decimal(0)

    def at(self, amount: Decimal) -> Decimal:
        """Points for an amount (0 or more; fractions stand for an expected count)."""
        if amount <= 0:
            return Decimal(0)
        base = amount if self.until is None else min(amount, Decimal(self.until))
        beyond = amount - base
        return (self.flat if self.flat is not None else base * self.each) + beyond * self.further

    @model_validator(mode="after")
    def _whole(self) -> Curve:
        if self.flat is not None and self.until is None:
            raise ValueError("a flat worth needs the amount up to which it holds")
        return self


class PriceRow(Frozen):
    """One kind of effect. A row matches a step when everything it names agrees; the row that names most wins.

    `curve` is for a benefit to the card's player and always positive; the sign follows from who is affected.
    None is *open*: not decided yet.
    """

    id: str
    verb: str
    resource: str | None = None
    stat: str | None = None
    affects: Affects | None = None
    reach: Literal["this", "one", "all"] | None = None
    cue: str | None = None
    curve: Curve | None = None

    @field_validator("verb")
    @classmethod
    def _as_now(cls, verb: str) -> str:
        verb = verb_as_now(verb)
        if verb not in VERBS:
            raise ValueError(f"there is no verb {verb[:40]}")
        return verb

    @property
    def specificity(self) -> int:
        return sum(
            part is not None for part in (self.resource, self.stat, self.affects, self.reach, self.cue)
        )


class Budget(Frozen):
    """Points that a cost buys: a table by cost, carried on by `further` a point of cost, and an allowance by rarity."""

    by_cost: tuple[Worth, ...] = Field(min_length=1, max_length=1_000)
    further: Worth = Decimal(0)
    rarity: dict[str, Worth] = {}

    def at(self, cost: int) -> Decimal:
        """Points for a cost of 0 or more, without the rarity's allowance."""
        last = len(self.by_cost) - 1
        return self.by_cost[cost] if cost <= last else self.by_cost[last] + self.further * (cost - last)


class PriceList(Frozen):
    """`stats`: worth of one point of each number field. `cues` multiply. `expected_count` stands for a count in play.

    A verdict within `tolerance` of zero is fair.
    """

    stats: dict[str, Worth] = {}
    rows: tuple[PriceRow, ...] = ()
    cues: dict[str, Worth] = {}
    all_counts_as: Worth = Decimal(2)
    expected_count: Worth = Decimal(2)
    budgets: dict[str, Budget] = {}
    tolerance: Worth = Decimal("0.75")
