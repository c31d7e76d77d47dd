"""Cards in a form that can be compared: numbers of which more is better, and the shapes of their lines with
amounts.

The shape of a line is everything but its amounts: cue, targets, conditions, order. Lines with the same shape
differ by amounts only, so that one is better if each of its amounts is, whatever the line does.
"""

from __future__ import annotations

import json
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from decimal import Decimal
from functools import lru_cache
from typing import Any, Literal

from dramok.core.balance.declared.card_worth import priced_parts
from dramok.core.balance.declared.effect_aspects import aspects_of, said
from dramok.core.balance.declared.prices import PriceList
from dramok.core.cards import Card
from dramok.core.effects.model import Ability, Keyworded, Side, Step, Target
from dramok.core.effects.pronouns import aimed, inside
from dramok.core.effects.signs import Referents, more_helps, referents_of
from dramok.core.rulebook import Rulebook

Kind = Literal["benefit", "drawback", "mixed"]


@dataclass(frozen=True, slots=True)
class Effect:
    """`shape` without amounts, and the amounts so that more is better; `kind`: whether it helps, harms, or is
    unknown.
    """

    shape: str
    kind: Kind
    amounts: tuple[float, ...]
    said: str


@dataclass(frozen=True, slots=True)
class Comparable:
    """`cost` None: the game has no costs.

    `stats` in the rulebook's order, more is better; None if the card has none.
    """

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
    """The cards that can be compared: with a cost if the game has costs, and with all behaviour written."""
    roles = rulebook.roles
    falling = {stat for stat, each in prices.stats.items() if each < 0}
    harmful = {row.stat for row in prices.rows if row.verb == "has" and row.curve is not None and row.curve.at(Decimal(1)) < 0}
    found = []
    for card in cards:
        facts, card = priced_parts(card, rulebook), rulebook.cards.seen(card)
        if facts.unwritten or facts.cost is None:
            continue
        there = {ident: float(-number if ident in falling else number) for ident, _, number in facts.stats}
        host = rulebook.host_side(card.type)
        effects = [effect for ability in card.script(roles.effect).abilities for effect in _effects(ability, rulebook, harmful, host)]
        found.append(
            Comparable(
                card.id, card.type, card.text(roles.faction) if roles.faction else "", facts.rarity, facts.cost if roles.cost else None,
                tuple([there.get(ident) for ident in roles.stats]), tuple(sorted(effects, key=_order)),
            )
        )  # fmt: skip
    return found


def _order(effect: Effect) -> tuple[str, tuple[float, ...]]:
    return effect.shape, effect.amounts


def _effects(ability: Ability, rulebook: Rulebook, harmful: set[str | None], host: Side) -> list[Effect]:
    if isinstance(ability, Keyworded):
        return [Effect(f"has {each}", "drawback" if each in harmful else "benefit", (), each) for each in ability.keywords]
    aspects = [*aspects_of(ability, host=host)]
    signs = {each.sign for each in aspects}
    kind: Kind = "benefit" if signs == {1} else "drawback" if signs == {-1} else "mixed"
    shape, amounts = _shape(ability, host)
    return [Effect(shape, kind, amounts, "; ".join(said(each, rulebook) for each in aspects))]


@lru_cache(maxsize=20_000)
def _shape(ability: Ability, host: Side) -> tuple[str, tuple[float, ...]]:
    document = ability.model_dump(mode="json")
    amounts: list[float] = []
    moment = referents_of(ability, host)
    for name in ("steps", "lasting"):
        _lift(getattr(ability, name, ()), document.get(name) or (), None, moment, amounts)
    for part in document.get("cost") or ():
        amounts.append(-float(part.get("number") or 0))
        part["number"] = None
    return json.dumps(document, sort_keys=True), tuple(amounts)


def _lift(steps: Iterable[Step], plain: Sequence[dict[str, Any]], latest: Target | None, moment: Referents, amounts: list[float]) -> None:
    """Extract the plain amounts from some steps, with the sign of whether more of them helps the holder; others
    stay in the shape.
    """
    for (step, target, it), document in zip(aimed(steps, latest), plain, strict=True):
        within = inside(step, it)
        for name in ("steps", "otherwise"):
            _lift(getattr(step, name) or (), document.get(name) or (), within, moment, amounts)
        for option, documents in zip(step.options or (), document.get("options") or (), strict=True):
            _lift(option, documents, within, moment, amounts)
        for part in document.get("cost") or ():
            amounts.append(-float(part.get("number") or 0))
            part["number"] = None
        sign = more_helps(step, target, moment)
        if step.amount is not None and step.amount.kind == "number" and sign:
            amounts.append(float(sign * step.amount.value))
            document["amount"] = None
