"""Deck duels: decks of a game against each other, thousands of games."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from dramok.core.balance.measured.deck_duels import DuelResults, duel_results
from dramok.core.engine import Program
from dramok.core.engine.loop_detection import Cut, explained
from dramok.core.problem import plural
from dramok.services.balance import batch_orders
from dramok.services.balance.batch_orders import LARGEST_DECK, Playing, refused
from dramok.services.play.game_processes import GameProcesses
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import Refused

MOST_DECKS = 16


@dataclass(frozen=True)
class DuelsAsked:
    """`decks` are ids; empty: the first playable decks of the game. `playing.games` is divided among all pairs."""

    decks: tuple[str, ...]
    playing: Playing


def duels(
    game: GameSnapshot, asked: DuelsAsked, say: Callable[[int, int], None] = lambda done, of: None, running: GameProcesses | None = None
) -> DuelResults:
    """Play each deck against every other, each going first in half of the games.

    Raises Refused; if stopped, returns the results so far.
    """
    order = batch_orders.base(game, "duels", asked.playing)
    counts = {ident: {card: count for card, count in deck.cards.items() if card in game.cards} for ident, deck in game.decks.items()}
    fits = [ident for ident, held in counts.items() if 1 <= sum(held.values()) <= LARGEST_DECK]
    decks = list(dict.fromkeys(asked.decks)) or fits[:MOST_DECKS]
    for ident in decks:
        if ident not in counts:
            raise refused("deck", f"there is no deck {ident[:60]}", "name some of the game's decks")
        if ident not in fits:
            raise refused(game.decks[ident].name, f"a deck of {sum(counts[ident].values())} cards can't be played", f"take from 1 to {LARGEST_DECK}")
    if not 2 <= len(decks) <= MOST_DECKS:
        raise refused("decks", f"{plural(len(decks), 'deck')} can't be played against each other", f"choose 2 to {MOST_DECKS}")
    ids = sorted({card for ident in decks for card in counts[ident]})
    place = {card: number for number, card in enumerate(ids)}
    program = batch_orders.program_of(game, ids)
    made = [[place[card] for card, count in sorted(counts[ident].items()) for _ in range(count)] for ident in decks]
    order |= {**batch_orders.programs([program], ids), "made": made, "duelling": len(decks)}
    line = None
    try:
        for line in batch_orders.lines_of(order, asked.playing.games, running):
            say(line["games"], asked.playing.games)
    except Refused:
        if line is None:
            raise
    assert line is not None
    cut = {last: Cut(**its) for last, its in line["cut"]}
    return duel_results(decks, ids, explained(program, cut, lambda number: _decks(order, program, ids, number), asked.playing.seed, order["players"]), line)


def _decks(order: dict[str, Any], program: Program, cards: list[str], game: int) -> list[list[int]]:
    """The decks of one game as definitions of their cards."""
    from dramok.workers.batches import Stretch, decks_of

    return [[program.definition(cards[place]) for place in deck] for deck in decks_of(order, Stretch(game, 1))]
