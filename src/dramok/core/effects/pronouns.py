"""The meaning of `it`, used by prices and wording and consistent with the engine."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from decimal import Decimal
from typing import TypeVar

from dramok.core.effects.model import (
    All,
    Amount,
    Combined,
    Group,
    Half,
    It,
    Number,
    Pick,
    StatOf,
    Step,
    Target,
    This,
)

N = TypeVar("N", int, Decimal)


def aimed(steps: Iterable[Step], latest: Target | None = None) -> Iterator[tuple[Step, Target | None, Target]]:
    """Each step of one ability with its target: `it` is replaced by the latest pick or the cards looked at;
    None for a step without a target. The third item is the `it` for nested steps, except in a loop (see
    `inside`).

    An `it` before any pick, which no readable line has, is the card itself. Nested steps are not visited: see
    `inside`.
    """
    latest = latest or This()
    for step in steps:
        target = step.target
        if isinstance(target, It):
            target = latest
        elif isinstance(target, Pick):
            target = latest = target if not target.of_it else _of(target, latest)
        elif step.verb == "look":
            latest = _looked_at(step)
        yield step, target, latest


def folded(amount: Amount, printed: Mapping[str, int]) -> Amount:
    """Simplify an amount with everything known in advance: numbers, and the printed stats of its own card (by
    field id).
    """
    known = _known(amount, printed)
    return amount if known is None else Number.model_construct(kind="number", value=known)


def _known(amount: Amount, printed: Mapping[str, int]) -> int | None:
    if isinstance(amount, Number):
        return amount.value
    if isinstance(amount, StatOf):
        return max(0, printed[amount.field]) if amount.of == "this" and amount.field in printed else None
    if isinstance(amount, Half):
        whole = _known(amount.of, printed)
        return None if whole is None else (whole + amount.up) // 2
    if isinstance(amount, Combined):
        left, right = _known(amount.left, printed), _known(amount.right, printed)
        return None if left is None or right is None else _combined(amount.how, left, right)
    return None


def expected(amount: Amount, count: Decimal, printed: Mapping[str, int]) -> Decimal:
    """The average of an amount if each count of cards in play is `count`. Never below 0."""
    known = _known(amount, printed)
    if known is not None:
        return Decimal(known)
    if isinstance(amount, Half):
        return expected(amount.of, count, printed) / 2
    if isinstance(amount, Combined):
        return _combined(amount.how, expected(amount.left, count, printed), expected(amount.right, count, printed))
    return count


def _combined(how: str, left: N, right: N) -> N:
    found = {"+": left + right, "-": left - right, "x": left * right, "least": min(left, right), "most": max(left, right)}[how]
    return max(found, type(found)(0))


def inside(step: Step, latest: Target) -> Target:
    """The `it` for the steps nested in a step: the card of its loop, otherwise unchanged."""
    return All(group=step.group) if step.verb == "each" and step.group else latest


def _looked_at(step: Step) -> Pick:
    """The `it` after looking at cards: that number of cards of the zone."""
    number, zone = getattr(step.amount, "value", None), step.zone
    most = 99 if number is None else max(1, min(99, number))
    return Pick(least=0, most=most, group=Group(side="own" if zone is None else zone.side, zone="draw" if zone is None else zone.zone))


def _of(pick: Pick, latest: Target) -> Target:
    return pick if isinstance(latest, This) else pick.model_copy(update={"group": getattr(latest, "group", pick.group)})
