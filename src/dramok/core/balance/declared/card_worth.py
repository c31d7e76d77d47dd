"""The parts of a card that prices apply to, independent of the prices; cached per card, because prices change often."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal
from itertools import count

from dramok.core.balance.declared.effect_aspects import Aspect, aspects_of
from dramok.core.cards import Card, NumberField
from dramok.core.rulebook import Rulebook


@dataclass(frozen=True, slots=True)
class PricedParts:
    """`stats`: (field id, its name, the card's number); `unwritten`: text without effect lines; `cost` None: no
    cost.
    """

    stats: tuple[tuple[str, str, Decimal], ...]
    aspects: tuple[Aspect, ...]
    unwritten: bool
    cost: int | None
    rarity: str


MOST_KNOWN = 20_000
_KNOWN: dict[int, tuple[Card, Rulebook, PricedParts]] = {}


def priced_parts(card: Card, rulebook: Rulebook) -> PricedParts:
    """The priced parts of a card, cached while card and rules stay the same."""
    known = _KNOWN.get(id(card))
    if known is not None and known[0] is card and known[1] is rulebook:
        return known[2]
    found = _reckon(card, rulebook)
    if len(_KNOWN) >= MOST_KNOWN:
        _KNOWN.clear()
    _KNOWN[id(card)] = (card, rulebook, found)
    return found


def _reckon(card: Card, rulebook: Rulebook) -> PricedParts:
    roles, schema = rulebook.roles, rulebook.cards
    card = schema.seen(card)
    stats = []
    for ident in roles.stats:
        number, stat = card.amount(ident), schema.field(ident)
        if number is not None and isinstance(stat, NumberField) and schema.has_field(card.type, ident):
            stats.append((ident, stat.name, Decimal(str(number))))
    script = card.script(roles.effect)
    blocks, host = count(), rulebook.host_side(card.type)
    printed = {ident: int(number) for ident, _, number in stats if number == int(number)}
    return PricedParts(
        stats=tuple(stats),
        aspects=tuple(aspect for ability in script.abilities for aspect in aspects_of(ability, blocks, host, printed)),
        unwritten=script.has_draft or bool(card.text(roles.printed) and not script.lines),
        cost=card.number(roles.cost) if roles.cost else 0,
        rarity=card.text(roles.rarity),
    )
