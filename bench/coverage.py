"""How often intervals of 95 % hold the truth, on games whose lifts are known: fresh decks, and decks made beforehand that play again and again."""

from __future__ import annotations

import tempfile
import time
from pathlib import Path
from typing import Any

import numpy as np

from dramok.core.balance.measured.lift import Measured, measured
from dramok.core.decks.sampling import DeckKind, dealt, deck_kind
from dramok.services import open_workspace
from dramok.services.balance.batch_orders import pool
from dramok.services.play.simulation import MADE
from dramok.workers.batches import counted, made_pairs

TRIALS = 60
CARDS_SPREAD, DECK_SPREAD, FIRST = 0.12, 0.35, 0.6
"""Standard deviations of what a copy and a deck as a whole are worth, and what going first is, as logits."""


def run() -> None:
    with tempfile.TemporaryDirectory() as folder:
        workspace = open_workspace(Path(folder) / "coverage.db")
        game = workspace.game("ribbon-season")
        cards = pool(game)
        kind = deck_kind(cards, game.rulebook, game.formats[0])
        workspace.close()
    assert kind is not None
    for made in (False, True):
        for games in (5_000, 20_000):
            held, first, begun = [], [], time.perf_counter()
            for trial in range(TRIALS):
                found, truth, going_first = trial_of(kind, len(cards), games, made, trial)
                held += [each.low <= lift <= each.high for each, lift in zip(found.lifts, truth, strict=True) if each is not None]
                first.append(found.first[1] <= going_first <= found.first[2])
            seconds = (time.perf_counter() - begun) / TRIALS
            print(
                f"{'decks made beforehand' if made else 'fresh decks'}, {games:,} games: {np.mean(held):.1%} of the cards' intervals hold the truth (wanted 93 to 97 %), "
                f"{np.mean(first):.0%} of those of going first; {seconds:.2f} s a trial"
            )


def trial_of(kind: DeckKind, cards: int, games: int, made: bool, trial: int) -> tuple[Measured, Any, float]:
    """One set of games, and its true lifts: those of a copy in points of win rate, relative to the average card, over these games."""
    chance = np.random.Generator(np.random.PCG64([5, trial]))
    if made:
        all_decks = dealt(kind, trial, 0, MADE)
        order = {"made": all_decks.tolist(), "seed": trial}
        pairs = made_pairs(order, 0, games)
    else:
        all_decks = np.concatenate([dealt(kind, trial, block, 800) for block in range(-(-games // 400))])
        pairs = np.arange(2 * games).reshape(-1, 2)
    counts = counted(all_decks, cards)
    worth = chance.normal(0, CARDS_SPREAD, cards)
    peculiar = chance.normal(0, DECK_SPREAD, len(all_decks))
    strength = counts @ worth + peculiar
    eta = FIRST + strength[pairs[:, 0]] - strength[pairs[:, 1]]
    likely = 1 / (1 + np.exp(-eta))
    won = (chance.random(games) < likely).astype(float)
    found = measured(counts[pairs], won, decks=pairs if made else None)
    # The share of games that one more copy turns, averaged over the decks, because each deck differs.
    truth = 100 * float((likely * (1 - likely)).mean()) * (worth - worth.mean())
    return found, truth, 100 * (float(likely.mean()) - 0.5)


if __name__ == "__main__":
    run()
