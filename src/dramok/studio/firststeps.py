"""The first steps with a game of one's own, told from what is really there."""

from __future__ import annotations

from dataclasses import dataclass

from dramok.studio.desk import Desk
from dramok.studio.gamework import BEGUN
from dramok.studio.ids import is_of_samples
from dramok.studio.snapshot import GameSnapshot


@dataclass(frozen=True)
class FirstSteps:
    """How far a game of one's own has come: what is really there, asked anew each time. `own`: it was begun here, not brought in."""

    own: bool
    fields: int
    cards: int
    priced: bool
    decks: int
    played: bool
    printed: bool


def first_steps(desk: Desk, game: GameSnapshot) -> FirstSteps:
    """Sample cards do not count as cards of one's own."""
    founding = desk.store.first_op(game.id)
    return FirstSteps(
        own=founding is not None and founding.label.startswith(BEGUN),
        fields=len(game.rulebook.cards.fields),
        cards=sum(not is_of_samples(card.set) for card in game.cards.values()),
        priced=bool(game.prices.budgets) and bool(game.prices.stats or game.prices.rows),
        decks=sum(bool(each.cards) for each in game.decks.values()),
        played=bool(desk.store.playtests(game.id, newest=1)),
        printed=bool(game.of_kind("run")),
    )
