"""Cards whose printed text or worth differs between two states of a game."""

from __future__ import annotations

from decimal import Decimal

from dramok.core.balance import Pricing
from dramok.core.cards import Card
from dramok.core.wording import printed_text
from dramok.services.workspace.snapshot import GameSnapshot


def reworded(before: GameSnapshot, after: GameSnapshot) -> list[str]:
    """The cards whose printed text differs."""
    if after.rulebook == before.rulebook:
        return []
    return [card.id for card in after.cards.values() if text_lines(before, card) != text_lines(after, card)]


def text_lines(game: GameSnapshot, card: Card) -> tuple[str, ...]:
    return printed_text(card, game.rulebook, game.vocabulary).lines


def moved(before: Pricing, after: Pricing) -> dict[str, tuple[int, Decimal]]:
    """The cards whose worth, verdict or distance to the budget differs, with their (cost, worth) before."""
    if before is after:
        return {}
    old = {each.card: each for each in before.map.cards}
    return {
        each.card: (was.cost, was.worth)
        for each in after.map.cards
        if (was := old.get(each.card)) is not None
        and (was.worth, was.difference, was.judgement) != (each.worth, each.difference, each.judgement)
    }
