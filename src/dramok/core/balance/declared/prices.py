"""The price list: worths of stats and effects, and the budget of a cost. All in points."""

from __future__ import annotations

from decimal import Decimal
from typing import Annotated, Literal

from pydantic import Field, field_validator, model_validator

from dramok.core.effects.verbs import VERBS, verb_as_now
from dramok.core.problem import Frozen, fold

Affects = Literal["self", "rival", "anyone"]
Reach = Literal["this", "one", "all"]
Qualifier = Literal["condition", "limit", "until", "may", "offer"]
"""Qualifiers of an effect: conditional, limited, temporary, optional, at a price."""
COUNTS_AS: dict[Qualifier, Decimal] = {"condition": Decimal("0.5")}
"""Default factors relative to an unconditional, lasting effect, such as one half under a condition."""
MOST_POINTS = 1_000_000
MOST_NAME = 120
DRAWN, LONG = 6, 60
Worth = Annotated[Decimal, Field(ge=-MOST_POINTS, le=MOST_POINTS, decimal_places=6)]
"""Points: finite, bounded, to a millionth."""


def shown(number: Decimal, signed: bool = False) -> str:
    """Points as text without trailing zeros."""
    return f"{number.normalize():{'+' if signed else ''}f}"


class Curve(Frozen):
    """The worth of an amount: each point at `each` up to `until`, then at `further` (both equal if `until` is
    None).

    With `flat`, any amount from 1 to `until` is worth `flat`, and each further point `further`. With `table`,
    the amounts 1, 2, 3 … have the listed total worths, and each amount beyond adds `further`.
    """

    each: Worth = Decimal(0)
    flat: Worth | None = None
    until: int | None = Field(default=None, ge=0, le=MOST_POINTS)
    further: Worth = Decimal(0)
    table: tuple[Worth, ...] = Field(default=(), max_length=100)

    def at(self, amount: Decimal) -> Decimal:
        """Points for an amount (0 or more; fractions are expected counts and are interpolated)."""
        if amount <= 0:
            return Decimal(0)
        if self.table:
            return self._of_table(amount)
        base = amount if self.until is None else min(amount, Decimal(self.until))
        beyond = amount - base
        return (self.flat if self.flat is not None else base * self.each) + beyond * self.further

    def line(self) -> tuple[tuple[Decimal, Decimal], ...]:
        """(amount, points) for drawing the curve: each amount past its bends; for a long one, the bends only."""
        bend = len(self.table) or self.until or 0
        end = max(DRAWN, bend + 3)
        amounts = range(end + 1) if end <= LONG else sorted({0, 1, *range(len(self.table) + 1), bend, end})
        return tuple((Decimal(each), self.at(Decimal(each))) for each in amounts)

    def _of_table(self, amount: Decimal) -> Decimal:
        last = len(self.table)
        if amount >= last:
            return self.table[-1] + (amount - last) * self.further
        below = int(amount)
        low = self.table[below - 1] if below else Decimal(0)
        return low + (self.table[below] - low) * (amount - below)

    @model_validator(mode="after")
    def _whole(self) -> Curve:
        if self.table and (self.flat is not None or self.until is not None or self.each):
            raise ValueError("a worth is a list by amount or a value per point, not both")
        if self.flat is not None and self.until is None:
            raise ValueError("a flat worth needs the amount up to which it holds")
        return self


class PriceRow(Frozen):
    """One kind of effect. A row matches a step if everything it names agrees; the most specific row wins.

    `curve` is for a benefit to the card's player and always positive; the sign follows from who is affected.
    None is *undecided*. A `private` row counts like any other but is left out of shared copies.
    """

    id: str
    verb: str
    resource: str | None = None
    stat: str | None = None
    affects: Affects | None = None
    reach: Reach | None = None
    cue: str | None = None
    qualifier: Qualifier | None = None
    curve: Curve | None = None
    private: bool = False

    @field_validator("verb")
    @classmethod
    def _as_now(cls, verb: str) -> str:
        verb = verb_as_now(verb)
        if verb not in VERBS and verb != "has":
            raise ValueError(f"there is no verb {verb[:40]}")
        return verb

    @property
    def specificity(self) -> int:
        return sum(
            part is not None for part in (self.resource, self.stat, self.affects, self.reach, self.cue, self.qualifier)
        )


class Budget(Frozen):
    """The points of a cost: a table by cost from 0, continued by `further` points per cost, and an allowance by
    rarity. Below cost 0 the first step of the table continues.
    """

    by_cost: tuple[Worth, ...] = Field(min_length=1, max_length=1_000)
    further: Worth = Decimal(0)
    rarity: dict[str, Worth] = {}

    def falls(self) -> tuple[int, ...]:
        """The costs of the table that buy less than the one before, and the first beyond it if it keeps falling."""
        table = self.by_cost
        found = [cost for cost in range(1, len(table)) if table[cost] < table[cost - 1]]
        return (*found, *([len(table)] if self.further < 0 else []))

    def at(self, cost: int) -> Decimal:
        """Points for a cost, without the allowance of a rarity."""
        last = len(self.by_cost) - 1
        if cost < 0:
            return self.by_cost[0] + (self.by_cost[1] - self.by_cost[0] if last else self.further) * cost
        return self.by_cost[cost] if cost <= last else self.by_cost[last] + self.further * (cost - last)


class PriceList(Frozen):
    """`stats`: the worth of one point of each number field. `cues` and `qualifiers` are factors (see
    `COUNTS_AS`). `expected_count` replaces a count in play.

    A verdict within `tolerance` of zero is fair. `wanted`: the planned number of cards of cost 0, 1, 2 …, in
    proportion.
    """

    stats: dict[str, Worth] = {}
    rows: tuple[PriceRow, ...] = Field(default=(), max_length=2_000)
    cues: dict[str, Worth] = {}
    qualifiers: dict[Qualifier, Worth] = {}
    all_counts_as: Worth = Decimal(2)
    expected_count: Worth = Decimal(2)
    budgets: dict[str, Budget] = {}
    tolerance: Worth = Decimal("0.75")
    wanted: tuple[Annotated[int, Field(ge=0, le=10_000)], ...] = Field(default=(), max_length=41)

    @field_validator("rows")
    @classmethod
    def _told_apart(cls, rows: tuple[PriceRow, ...]) -> tuple[PriceRow, ...]:
        """Every row has a unique name: duplicates get a number."""
        taken: set[str] = set()
        named = []
        for row in rows:
            name = free = row.id.strip()[:MOST_NAME] or row.verb
            number = 2
            while fold(free) in taken:
                free, number = f"{name} {number}", number + 1
            taken.add(fold(free))
            named.append(row if free == row.id else row.model_copy(update={"id": free}))
        return tuple(named)

    def counts_as(self, qualifier: Qualifier) -> Decimal:
        """The factor of a qualifier."""
        return self.qualifiers.get(qualifier, COUNTS_AS.get(qualifier, Decimal(1)))

    def budget_of(self, card_type: str) -> Budget | None:
        """The budget of a type: its own, or the common one."""
        return self.budgets.get(card_type) or self.budgets.get("")

    def shared(self) -> PriceList:
        """The list without private rows, for shared copies."""
        return self.model_copy(update={"rows": tuple(row for row in self.rows if not row.private)})
