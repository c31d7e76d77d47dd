"""A card as what can be held against another's: numbers of which more is better, and the shapes of its lines with their amounts.

A line's shape is all that it says but its amounts: cue, targets, conditions, order. Lines of one shape differ by their amounts alone, so
that one is better than the other where each amount is, whatever the line does.
"""

from __future__ import annotations

import json
from collections.abc import Iterable
from dataclasses import dataclass
from decimal import Decimal
from functools import lru_cache
from typing import Any, Literal

from dramok.core.balance.aspects import aspects_of, said
from dramok.core.balance.prices import PriceList
from dramok.core.balance.reckoned import reckoned
from dramok.core.cards import Card
from dramok.core.effects.model import Ability, Keyworded, Step
from dramok.core.effects.verbs import VERBS
from dramok.core.rulebook import Rulebook

Kind = Literal["benefit", "drawback", "mixed"]


@dataclass(frozen=True, slots=True)
class Effect:
    """`shape` without its amounts, and those amounts so that more is better; `kind`: whether having it helps, harms, or can't be said."""

    shape: str
    kind: Kind
    amounts: tuple[float, ...]
    said: str


@dataclass(frozen=True, slots=True)
class Comparable:
    """`cost` None: the game has no costs. `stats` by the order of the rulebook's, more is better; None where the card has none."""

    card: str
    type: str
    faction: str
    rarity: str
    cost: int | None
    stats: tuple[float | None, ...]
    effects: tuple[Effect, ...]

    @property
    def shapes(self) -> tuple[str, ...]:
        return tuple(each.shape for each in self.effects)


def comparables(cards: Iterable[Card], rulebook: Rulebook, prices: PriceList) -> list[Comparable]:
    """Those of the cards that can be compared: with a cost where the game has costs, and with all that they do written."""
    roles = rulebook.roles
    falling = {stat for stat, each in prices.stats.items() if each < 0}
    harmful = {row.stat for row in prices.rows if row.verb == "has" and row.curve is not None and row.curve.at(Decimal(1)) < 0}
    found = []
    for card in cards:
        facts, card = reckoned(card, rulebook), rulebook.cards.seen(card)
        if facts.unwritten or facts.cost is None:
            continue
        there = {ident: float(-number if ident in falling else number) for ident, _, number in facts.stats}
        effects = [effect for ability in card.script(roles.effect).abilities for effect in _effects(ability, rulebook, harmful)]
        found.append(
            Comparable(
                card.id, card.type, card.text(roles.faction) if roles.faction else "", facts.rarity, facts.cost if roles.cost else None,
                tuple([there.get(ident) for ident in roles.stats]), tuple(sorted(effects, key=_order)),
            )
        )  # fmt: skip
    return found


def _order(effect: Effect) -> tuple[str, tuple[float, ...]]:
    return effect.shape, effect.amounts


def _effects(ability: Ability, rulebook: Rulebook, harmful: set[str | None]) -> list[Effect]:
    if isinstance(ability, Keyworded):
        return [Effect(f"has {each}", "drawback" if each in harmful else "benefit", (), each) for each in ability.keywords]
    helps = [each.benefit for each in aspects_of(ability)]
    kind: Kind = "mixed" if any(helps) and not all(helps) or not helps else "benefit" if helps[0] else "drawback"
    shape, amounts = _shape(ability)
    return [Effect(shape, kind, amounts, "; ".join(said(each, rulebook) for each in aspects_of(ability)))]


@lru_cache(maxsize=20_000)
def _shape(ability: Ability) -> tuple[str, tuple[float, ...]]:
    document = ability.model_dump(mode="json")
    amounts: list[float] = []
    for name in ("steps", "lasting"):
        for step, plain in zip(getattr(ability, name, ()), document.get(name) or (), strict=True):
            _lift(step, plain, amounts)
    for part in document.get("cost") or ():
        amounts.append(-float(part.get("number") or 0))
        part["number"] = None
    return json.dumps(document, sort_keys=True), tuple(amounts)


def _lift(step: Step, plain: dict[str, Any], amounts: list[float]) -> None:
    """Takes the plain amounts out of a step's document, signed by whether more of it helps who has the card; others stay in the shape."""
    for name in ("steps", "otherwise"):
        for inner, document in zip(getattr(step, name) or (), plain.get(name) or (), strict=True):
            _lift(inner, document, amounts)
    for option, documents in zip(step.options or (), plain.get("options") or (), strict=True):
        for inner, document in zip(option, documents, strict=True):
            _lift(inner, document, amounts)
    for part in plain.get("cost") or ():
        amounts.append(-float(part.get("number") or 0))
        part["number"] = None
    if step.amount is None or step.amount.kind != "number":
        return
    sign = _sign(step)
    if sign:
        amounts.append(sign * step.amount.value)
        plain["amount"] = None


def _sign(step: Step) -> int:
    """1 where more of a step helps, -1 where it harms, 0 where that depends on whom it meets (an `it`, or everybody alike)."""
    helps = VERBS[step.verb].helps
    if helps is None or step.seats == "all":
        return 0
    if step.target is None:
        return 1 if helps == (step.seats is None) else -1
    group = getattr(step.target, "group", None)
    if group is None:
        return (1 if helps else -1) if step.target.kind == "this" else 0
    if group.side == "any":
        return 1 if step.target.kind == "pick" else 0
    return 1 if helps == (group.side == "own") else -1
