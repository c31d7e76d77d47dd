"""Deck reports: legality, curve, worth and words."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal

from dramok.core.balance import verdict
from dramok.core.decks import Deck, DeckProblem, Format
from dramok.core.wording import printed_text
from dramok.services.workspace.snapshot import GameSnapshot


@dataclass(frozen=True)
class DeckReport:
    """A deck with its legality under `format`.

    For the main section `curve` counts cards by cost; `factions`, `types` and `rarities` by id, `tags` by word.
    """

    deck: Deck
    format: Format
    problems: tuple[DeckProblem, ...]
    curve: dict[int, int]
    factions: dict[str, int]
    types: dict[str, int]
    rarities: dict[str, int]
    tags: dict[str, int]


def report(game: GameSnapshot, deck: Deck) -> DeckReport:
    """Compute the report of a deck."""
    roles = game.rulebook.roles
    curve: dict[int, int] = {}
    factions: dict[str, int] = {}
    types: dict[str, int] = {}
    rarities: dict[str, int] = {}
    tags: dict[str, int] = {}
    for ident, count in deck.cards.items():
        card = game.cards.get(ident)
        if card is None:
            continue
        card = game.rulebook.cards.seen(card)
        cost = card.number(roles.cost)
        if cost is not None:
            curve[cost] = curve.get(cost, 0) + count
        for held, value in ((factions, card.text(roles.faction)), (types, card.type), (rarities, card.text(roles.rarity))):  # fmt: skip
            held[value] = held.get(value, 0) + count
        for tag in card.tags(roles.tags):
            tags[tag] = tags.get(tag, 0) + count
    return DeckReport(
        deck, game.format_of(deck), game.legality(deck), dict(sorted(curve.items())), factions, types, rarities,
        dict(sorted(tags.items(), key=lambda item: (-item[1], item[0]))),
    )  # fmt: skip


@dataclass(frozen=True)
class DeckMeasure:
    """Totals of a deck. `worth` and `budget` are sums over the priced cards of the main section, in points;
    `unpriced` counts the others.

    `words` counts the printed words of the different cards, each card once. `cost` is the sum of costs.
    """

    worth: Decimal
    budget: Decimal
    unpriced: int
    cost: int
    words: int
    different: int


def measure(game: GameSnapshot, deck: Deck) -> DeckMeasure:
    """The worth of a deck and its number of words."""
    worth = budget = Decimal(0)
    unpriced = cost = words = different = 0
    for ident, count in deck.cards.items():
        card = game.cards.get(ident)
        if card is None:
            continue
        different += 1
        cost += count * (game.rulebook.cards.seen(card).number(game.rulebook.roles.cost) or 0)
        lines = printed_text(card, game.rulebook, game.vocabulary).lines
        words += sum(len(line.split()) for line in (game.title(card), *lines))
        judged = verdict(card, game.rulebook, game.prices)
        if judged.judgement == "open":
            unpriced += count
        else:
            worth += count * judged.worth
            budget += count * judged.budget
    return DeckMeasure(worth, budget, unpriced, cost, words, different)
