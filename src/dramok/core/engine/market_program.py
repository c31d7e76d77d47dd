"""Compile markets, counters, ends and the score sheet to rows of the program."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from dramok.core.cards import Card
from dramok.core.effects.model import (
    Amount,
    Combined,
    Count,
    Group,
    Half,
    HeldTotal,
    Number,
    StatOf,
    SumOf,
    amounts_in,
)
from dramok.core.engine.group_rows import Groups, Unplayable
from dramok.core.engine.kernel import codes as k
from dramok.core.rulebook import Rulebook
from dramok.core.rulebook.market import Market
from dramok.core.rulebook.play_rules import PlayRules
from dramok.core.rulebook.scoring import End
from dramok.core.rulebook.starting_cards import matches, placed_cards

KINDS = {"pile": k.KIND_PILE, "row": k.KIND_ROW, "supply": k.KIND_SUPPLY}
REFILLS = {"at once": k.REFILL_AT_ONCE, "phase": k.REFILL_PHASE, "never": k.REFILL_NEVER}
GOES: Mapping[str, int] = {"discard": k.DISCARD_PILE, "hand": k.HAND, "draw": k.DRAW_PILE, "play": k.IN_PLAY}
ENDS = {"empty": k.END_EMPTY, "sold out": k.END_SOLD_OUT, "rounds": k.END_ROUNDS, "reached": k.END_REACHED}
WHENS = {"at once": k.WHEN_AT_ONCE, "round": k.WHEN_ROUND, "one more round": k.WHEN_ONE_MORE}


def market_rows(memory: Any, groups: Groups) -> None:
    """Write the rows. Raises ValueError for a score line that names what the game lacks."""
    play = memory.play
    markets = [number for each in play.markets for number in _market(memory, groups, each)]
    prices = [_price(memory, each, card) for card in memory.cards for each in play.markets]
    counters = [number for each in play.counters for number in (sum(1 << memory.zones.index(zone) for zone in set(each.zones)), each.price, _counter_score(play, each.id))]
    ends = [number for each in play.ends for number in _end(memory, each)]
    scores = [number for each in play.scoring for number in _line(groups, each.name, each.amount, -1 if each.minus else 1)]
    ties = [number for each in play.ties for number in _line(groups, each.name, each.amount, -1 if each.lowest else 1)]
    memory.head(
        H_MARKETS=len(play.markets), H_MARKET_ROWS=memory.add(markets), H_PRICES=memory.add(prices), H_COUNTERS=len(play.counters), H_COUNTER_ROWS=memory.add(counters),
        H_ENDS=len(play.ends), H_END_ROWS=memory.add(ends), H_SCORES=len(play.scoring), H_SCORE_ROWS=memory.add(scores), H_TIES=len(play.ties), H_TIE_ROWS=memory.add(ties),
    )  # fmt: skip


def _market(memory: Any, groups: Groups, market: Market) -> list[int]:
    passing = market.passing
    return [
        memory.zones.index(market.zone), memory.resource(market.pays), -1 if market.most is None else market.most, GOES[market.goes_to],
        memory.resource(passing.resource) if passing else -1, passing.number if passing else 0, len(market.by_place), memory.add(market.by_place),
        -1 if market.less is None else _words(groups, market.less, f"the lower price of {memory.rulebook.zone_name(market.zone)}"),
    ]  # fmt: skip


def _price(memory: Any, market: Market, card: Card) -> int:
    field = market.price or memory.rulebook.roles.cost
    has = field is not None and memory.rulebook.cards.has_field(card.type, field)
    number = card.number(field) if has else None
    return -1 if number is None else max(0, number)


def _end(memory: Any, end: End) -> list[int]:
    zones = [memory.zones.index(each) for each in end.zones]
    return [
        ENDS[end.kind], end.number, memory.resource(end.total) if end.total else -1, WHENS[end.when], len(zones), memory.add(zones),
        sum(_kinds(memory, each) for each in end.zones) if end.kind == "sold out" else 0,
    ]  # fmt: skip


def _kinds(memory: Any, zone: str) -> int:
    """The number of kinds of cards in a zone at the start."""
    found: set[str] = set()
    for placed in memory.play.set_up.placed:
        if placed.zone == zone:
            found |= placed_cards(memory.rulebook, memory.cards, placed).keys()
    return len(found)


def _line(groups: Groups, name: str, amount: Amount, sign: int) -> list[int]:
    return [_words(groups, amount, f"the score line {name}"), sign]


def _words(groups: Groups, amount: Amount, of: str) -> int:
    """The address of an amount that belongs to no card. Raises ValueError for one that does."""
    if any(isinstance(part, StatOf) for part in amounts_in(amount)):
        raise ValueError(f"{of} is about a card, and there is none: it can count cards and add up their numbers")
    try:
        return groups.words(amount)
    except Unplayable as error:
        raise ValueError(f"{of}: {error}") from error


def _counter_score(play: PlayRules, counter: str) -> int:
    """The points for each of a counter on a card that a seat owns, by the score lines that only add up this counter."""
    return sum(-1 if each.minus else 1 for each in play.scoring if isinstance(each.amount, SumOf) and each.amount.field == counter)


def owned_score(rulebook: Rulebook, card: Card) -> int:
    """The score of a seat whose only card is this one. Automatic players use it as the points that one more copy brings."""
    total = sum(_alone(rulebook, card, each.amount) * (-1 if each.minus else 1) for each in rulebook.played.scoring)
    return max(-k.MOST_NUMBER, min(k.MOST_NUMBER, total))


def _alone(rulebook: Rulebook, card: Card, amount: Amount) -> int:
    match amount:
        case Number():
            return 0
        case Count():
            return int(_counts(rulebook, card, amount.group))
        case SumOf():
            number = card.number(amount.field) if rulebook.cards.has_field(card.type, amount.field) else None
            return max(0, number or 0) if _counts(rulebook, card, amount.group) else 0
        case StatOf() | HeldTotal():
            return 0
        case Half():
            return _alone(rulebook, card, amount.of) // 2
        case Combined():
            left, right = _alone(rulebook, card, amount.left), _alone(rulebook, card, amount.right)
            if amount.how == "x":
                # A factor that does not depend on the card counts as it is written.
                left, right = (each.value if isinstance(each, Number) else value for each, value in ((amount.left, left), (amount.right, right)))
                return left * right
            return {"+": left + right, "-": max(0, left - right), "least": min(left, right), "most": max(left, right)}[amount.how]


def _counts(rulebook: Rulebook, card: Card, group: Group) -> bool:
    return group.side != "rival" and matches(rulebook, card, group)
