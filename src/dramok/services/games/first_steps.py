"""The first steps of a new game, computed from its content."""

from __future__ import annotations

from dataclasses import dataclass

from dramok.services.games.games import BEGUN
from dramok.services.workspace.ids import is_of_samples
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import Workspace


@dataclass(frozen=True)
class FirstSteps:
    """The progress of a new game, computed on each request. `own`: the game was created here and not restored."""

    own: bool
    fields: int
    cards: int
    priced: bool
    decks: int
    played: bool
    printed: bool


def first_steps(workspace: Workspace, game: GameSnapshot) -> FirstSteps:
    """Sample cards do not count as the user's own cards."""
    founding = workspace.store.first_op(game.id)
    return FirstSteps(
        own=founding is not None and founding.label.startswith(BEGUN),
        fields=len(game.rulebook.cards.fields),
        cards=sum(not is_of_samples(card.set) for card in game.cards.values()),
        priced=bool(game.prices.budgets) and bool(game.prices.stats or game.prices.rows),
        decks=sum(bool(each.cards) for each in game.decks.values()),
        played=bool(workspace.store.playtests(game.id, newest=1)),
        printed=bool(game.of_kind("run")),
    )
