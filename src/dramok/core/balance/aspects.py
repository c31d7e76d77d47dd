"""Effects as prices see them: for each step what is done, to whom, to how many, when, and whether that helps."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from decimal import Decimal

from dramok.core.balance.prices import Affects, PriceRow, Reach
from dramok.core.effects.meaning import aimed
from dramok.core.effects.model import (
    Ability,
    All,
    Amount,
    Continuous,
    Number,
    Pick,
    Raise,
    Random,
    Step,
    Target,
    resource_of,
)
from dramok.core.effects.verbs import VERBS
from dramok.core.rulebook import Rulebook


@dataclass(frozen=True, slots=True)
class Aspect:
    """What price rows are matched against. `benefit`: it helps the card's player; `many`: so many are chosen at once."""

    verb: str
    amount: Amount
    affects: Affects
    reach: Reach
    cue: str
    benefit: bool
    resource: str | None = None
    stat: str | None = None
    many: Decimal = Decimal(1)

    @property
    def named(self) -> Named:
        """What a price row may name of it."""
        return (self.verb, self.resource, self.stat, self.affects, self.reach, self.cue)


Named = tuple[str, str | None, str | None, Affects, Reach, str]


def aspects_of(ability: Ability) -> Iterator[Aspect]:
    """One for each step of an ability, or each raise of a lasting one."""
    if isinstance(ability, Continuous):
        for each in ability.raises:
            yield _raised(each)
        return
    for step, target in aimed(ability.steps):
        yield _stepped(step, target, ability.cue)


def _raised(each: Raise) -> Aspect:
    return Aspect("raise", each.amount, "self", "this", "always", benefit=True, stat=each.stat)


def _stepped(step: Step, target: Target | None, cue: str) -> Aspect:
    helps = VERBS[step.verb].helps
    if target is None:
        return Aspect(step.verb, step.amount, "self", "this", cue, benefit=helps, resource=resource_of(step))
    affects: Affects = "self"
    reach: Reach = "this"
    many = Decimal(1)
    if isinstance(target, Pick | All | Random):
        affects = {"own": "self", "rival": "rival", "any": "anyone"}[target.group.side]  # type: ignore[assignment]
        reach = "all" if isinstance(target, All) else "one"
        many = Decimal(
            target.most if isinstance(target, Pick) else target.number if isinstance(target, Random) else 1
        )
    # A pick of anyone's is used where it helps; hitting everyone alike, or by lot, cuts both ways.
    chosen = affects == "anyone" and isinstance(target, Pick)
    benefit = chosen or (not helps) == (affects == "rival")
    return Aspect(step.verb, step.amount, affects, reach, cue, benefit=benefit, many=many)


MOST_LISTS = 16
_MATCHED: dict[int, tuple[tuple[PriceRow, ...], dict[Named, tuple[PriceRow, ...]]]] = {}


def best_rows(aspect: Aspect, rows: tuple[PriceRow, ...]) -> tuple[PriceRow, ...]:
    """The rows that match and name most: none, the one that prices it, or several that match equally well.

    What was found is kept for the latest lists of rows: many effects of a game name the same.
    """
    known = _MATCHED.get(id(rows))
    if known is None or known[0] is not rows:
        if len(_MATCHED) >= MOST_LISTS:
            _MATCHED.clear()
        known = _MATCHED[id(rows)] = (rows, {})
    found = known[1].get(aspect.named)
    if found is None:
        found = known[1][aspect.named] = _best(aspect, rows)
    return found


def _best(aspect: Aspect, rows: tuple[PriceRow, ...]) -> tuple[PriceRow, ...]:
    matching = [row for row in rows if row.verb == aspect.verb and _matches(row, aspect)]
    if len(matching) < 2:
        return tuple(matching)
    best = max(row.specificity for row in matching)
    return tuple(row for row in matching if row.specificity == best)


def _matches(row: PriceRow, aspect: Aspect) -> bool:
    pairs = (
        (row.resource, aspect.resource), (row.stat, aspect.stat), (row.affects, aspect.affects),
        (row.reach, aspect.reach), (row.cue, aspect.cue),
    )  # fmt: skip
    return all(wanted is None or wanted == found for wanted, found in pairs)


def said(aspect: Aspect, rulebook: Rulebook) -> str:
    """The effect in a few words of a ledger."""
    amount = str(aspect.amount.value) if isinstance(aspect.amount, Number) else "a count"
    if aspect.resource is not None:
        return f"{aspect.verb} {amount} {rulebook.resource(aspect.resource).name.lower()}"
    if aspect.stat is not None:
        field = rulebook.cards.field(aspect.stat)
        return f"always {aspect.verb} {field.name.lower() if field else aspect.stat} by {amount}"
    if VERBS[aspect.verb].form == "amount":
        return f"{aspect.verb} {amount}"
    whom = {"self": "own", "rival": "rival", "anyone": "any"}[aspect.affects]
    aim = {"this": "this card", "one": f"one {whom}", "all": f"all {whom}"}[aspect.reach]
    return f"{aspect.verb} {amount} to {aim}"
