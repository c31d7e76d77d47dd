"""The shape of a set: cards per cost against the wanted curve, gaps, totals, keywords, and words to read."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from itertools import product
from statistics import mean, median

from dramok.core.balance.declared.prices import PriceList
from dramok.core.cards import Card
from dramok.core.effects.model import Keyworded
from dramok.core.problem import fold
from dramok.core.rulebook import Rulebook

MOST_COSTS = 40
"""The number of separate costs; higher ones count with the last."""
MOST_GAPS = 400
LONGEST = 8


@dataclass(frozen=True)
class CostShape:
    """`wanted` is the planned number of cards of this cost, None without a plan; `stats` the mean total of the
    stats of those that have any, None if none has.
    """

    cost: int
    cards: int
    wanted: float | None
    stats: float | None


@dataclass(frozen=True)
class EmptyPlace:
    """A missing combination, although this type has cards at a lower and a higher cost. Names of choices are ids."""

    type: str
    cost: int
    faction: str
    rarity: str


@dataclass(frozen=True)
class KeywordCount:
    keyword: str
    cards: int


@dataclass(frozen=True)
class Load:
    """Words per card: over the cards with text, and the ids of the longest ones."""

    cards: int
    mean: float
    median: float
    most: int
    longest: tuple[tuple[str, int], ...]


def curve(cards: Iterable[Card], rulebook: Rulebook, prices: PriceList) -> tuple[CostShape, ...]:
    """By cost, from 0 to the highest; empty without costs."""
    roles = rulebook.roles
    if not roles.cost:
        return ()
    counts: Counter[int] = Counter()
    totals: dict[int, list[float]] = {}
    for card in map(rulebook.cards.seen, cards):
        cost = card.number(roles.cost)
        if cost is None:
            continue
        cost = min(max(cost, 0), MOST_COSTS)
        counts[cost] += 1
        stats = [number for ident in roles.stats if (number := card.amount(ident)) is not None]
        if stats:
            totals.setdefault(cost, []).append(float(sum(stats)))
    wanted = wanted_counts(prices.wanted, sum(counts.values()))
    last = max([*counts, len(wanted) - 1, -1])
    return tuple(
        CostShape(cost, counts[cost], wanted[cost] if cost < len(wanted) else 0.0 if wanted else None, mean(totals[cost]) if cost in totals else None)
        for cost in range(last + 1)
    )


def wanted_counts(wanted: Sequence[int], cards: int) -> list[float]:
    """The number of cards for each cost of a planned curve, whose values are proportions."""
    whole = sum(wanted)
    return [cards * each / whole for each in wanted] if whole else []


def gaps(cards: Sequence[Card], rulebook: Rulebook) -> tuple[EmptyPlace, ...]:
    """Cost x type x faction x rarity without a card, between costs that this type has in this faction."""
    roles = rulebook.roles
    if not roles.cost:
        return ()
    there: set[tuple[str, int, str, str]] = set()
    spans: dict[tuple[str, str], list[int]] = {}
    rarities: dict[str, set[str]] = {}
    for card in map(rulebook.cards.seen, cards):
        cost = card.number(roles.cost)
        if cost is None or not 0 <= cost <= MOST_COSTS:
            continue
        faction = card.text(roles.faction) if roles.faction else ""
        rarity = card.text(roles.rarity) if roles.rarity else ""
        there.add((card.type, cost, faction, rarity))
        spans.setdefault((card.type, faction), []).append(cost)
        rarities.setdefault(card.type, set()).add(rarity)
    found = [
        EmptyPlace(type_, cost, faction, rarity)
        for (type_, faction), costs in sorted(spans.items())
        for cost, rarity in product(range(min(costs), max(costs) + 1), sorted(rarities[type_]))
        if (type_, cost, faction, rarity) not in there
    ]
    return tuple(found[:MOST_GAPS])


def keyword_counts(cards: Iterable[Card], rulebook: Rulebook, texts: Mapping[str, Sequence[str]]) -> tuple[KeywordCount, ...]:
    """The number of cards with each keyword, or with it in their printed text (`texts` by card), most used
    first; unused ones included.
    """
    counts = Counter({each.name: 0 for each in rulebook.keywords})
    for card in map(rulebook.cards.seen, cards):
        held = {fold(name) for ability in card.script(rulebook.roles.effect).abilities if isinstance(ability, Keyworded) for name in ability.keywords}
        words = f" {' '.join(fold(word) for word in words_of(texts.get(card.id, ())))} "
        counts.update(each.name for each in rulebook.keywords if fold(each.name) in held or f" {fold(each.name)} " in words)
    return tuple(KeywordCount(name, count) for name, count in sorted(counts.items(), key=lambda item: (-item[1], fold(item[0]))))


_WORD = re.compile(r"[^\W\d_][\w'’-]*")
_SYMBOL = re.compile(r"\{[^{}]*\}")


def words_of(lines: Iterable[str]) -> list[str]:
    """The words of printed lines; symbols do not count."""
    return _WORD.findall(_SYMBOL.sub(" ", "\n".join(lines)))


def reading_load(texts: Mapping[str, Sequence[str]]) -> Load:
    """`texts`: the printed lines of each card, by id."""
    counts = {ident: len(words_of(lines)) for ident, lines in texts.items()}
    some = [number for number in counts.values() if number]
    if not some:
        return Load(0, 0.0, 0.0, 0, ())
    longest = sorted(((ident, number) for ident, number in counts.items() if number), key=lambda item: (-item[1], item[0]))
    return Load(len(some), mean(some), float(median(some)), max(some), tuple(longest[:LONGEST]))


GRAMMAR = frozenset({
    "a", "an", "and", "any", "are", "as", "at", "be", "been", "before", "but", "by", "can", "can't", "cannot", "do", "does", "doesn't",
    "each", "every", "for", "from", "had", "has", "have", "if", "in", "instead", "into", "is", "isn't", "it", "its", "may", "more", "most",
    "must", "no", "nor", "not", "of", "off", "on", "one", "only", "onto", "or", "other", "others", "out", "over", "own", "so", "than",
    "that", "the", "their", "them", "then", "there", "these", "they", "this", "those", "to", "under", "until", "up", "upon", "was", "were",
    "what", "when", "whenever", "where", "which", "while", "who", "whose", "will", "with", "without", "you", "your",
})  # fmt: skip
"""English function words, which are no sign of an unusual word."""


def lone_words(texts: Mapping[str, Sequence[str]]) -> tuple[tuple[str, str], ...]:
    """Folded words in the printed text of exactly one card, with that card's id. Function words are left out."""
    where: dict[str, set[str]] = {}
    for ident, lines in texts.items():
        for word in words_of(lines):
            if fold(word) not in GRAMMAR:
                where.setdefault(fold(word), set()).add(ident)
    return tuple(sorted((word, next(iter(held))) for word, held in where.items() if len(held) == 1))
