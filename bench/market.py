"""Deck-building games: compiled against the object engine, many four-seat games, the options of a purchase, and who wins against whom."""

from __future__ import annotations

import tempfile
import time
from pathlib import Path
from statistics import median

from bench.engine import object_seconds
from dramok.core.engine import compile_program, needed, start
from dramok.core.engine.kernel.decisions import list_options
from dramok.core.rulebook.starting_cards import starting_deck
from dramok.services.games.demo_world import fill
from dramok.services.games.open_database import open_workspace
from dramok.services.play.simulation import SimulationAsked, simulate
from dramok.workers.kernel_process import play

GAME = "potting-shed"
GAMES = 20_000
SLOW = 20


def run() -> None:
    with tempfile.TemporaryDirectory() as folder:
        workspace = open_workspace(Path(folder) / "market.db", demo=False)
        fill(workspace, (GAME,))
        game = workspace.game(GAME)
        workspace.close()
    simulate(game, SimulationAsked(100, 7, seats=4))
    four = simulate(game, SimulationAsked(GAMES, 7, seats=4, threads=2))
    print(f"{GAMES:,} games of four seats on two cores: {four.seconds:.2f} s (wanted 8); wins by seat {four.wins}")
    for better, worse, wanted in (("plain", "random", "95 %"), ("ahead", "plain", "half")):
        shares = [simulate(game, SimulationAsked(2_000, 11, (), players)).share(seat)[0] for seat, players in ((0, (better, worse)), (1, (worse, better)))]
        print(f"{better} beats {worse}: {shares[0]:.1%} as first and {shares[1]:.1%} as second seat (wanted more than {wanted})")
    deck = starting_deck(game.rulebook, game.cards.values())
    program = compile_program(game.rulebook, [game.cards[ident] for ident in needed(game.rulebook, game.cards, deck)])
    rows = [program.definition(ident) for ident, count in deck.items() for _ in range(count)]
    order = {"numbers": program.numbers, "decks": [rows], "pairs": [[0, 0]] * 4_000, "seed": 5, "players": ["plain", "plain"], "threads": 1}
    fast = play(order)["seconds"] / 4_000
    objects = object_seconds(program, [rows], [[0, 0]] * SLOW)
    print(f"a game of two seats: compiled {1e6 * fast:.0f} us, objects x {objects / fast:.0f} (wanted 40)")
    match, took = start(program, [dict(deck)] * 2, 5), []
    while match.asked != "over":
        begun = time.perf_counter()
        list_options(program.numbers, match.state)
        if any(option.do == "buy" for option in match.options):
            took.append(time.perf_counter() - begun)
        match.take(match.choose("plain"))
    print(f"the options of a decision with purchases, not compiled: median {1000 * median(took):.2f} ms, at most {1000 * max(took):.2f} ms (wanted 1)")
