"""Exchanges of resources by actions of the rules, and those that never end."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from fractions import Fraction

from dramok.core.effects.model import Number, Offered
from dramok.core.rulebook.rule_actions import RuleAction

Exchange = tuple[str, str, str, Fraction]
"""The action (its name), the resource that is paid, the one that is gained, and how many are gained for each paid."""


def exchanges(actions: Iterable[RuleAction]) -> Iterator[Exchange]:
    """What can be exchanged as often as a seat can pay: lines without a limit that cost one resource and give another."""
    for action in actions:
        for ability in action.effect.abilities:
            if not isinstance(ability, Offered) or ability.limit is not None or len(ability.cost) != 1:
                continue
            (part,) = ability.cost
            if part.how != "pay" or not part.number or part.resource is None:
                continue
            given: dict[str, int] = {}
            for step in ability.steps:
                if step.verb == "gain" and step.seats is None and step.resource and isinstance(step.amount, Number):
                    given[step.resource] = given.get(step.resource, 0) + step.amount.value
            for resource, number in given.items():
                yield action.name, part.resource, resource, Fraction(number, part.number)


def endless(actions: Iterable[RuleAction]) -> tuple[str, ...]:
    """The names of actions that give more than they take when they are repeated in a circle; empty if there are none."""
    every = list(exchanges(actions))
    resources = dict.fromkeys(resource for each in every for resource in each[1:3])
    for first in resources:
        # The most that one of the first resource becomes by a number of exchanges, and by which actions.
        best: dict[str, tuple[Fraction, tuple[str, ...]]] = {first: (Fraction(1), ())}
        for _ in resources:
            after: dict[str, tuple[Fraction, tuple[str, ...]]] = {}
            for name, paid, gained, rate in every:
                if paid in best:
                    had, names = best[paid]
                    if gained not in after or had * rate > after[gained][0]:
                        after[gained] = had * rate, (*names, name)
            if first in after and after[first][0] > 1:
                return tuple(dict.fromkeys(after[first][1]))
            best = after
    return ()
