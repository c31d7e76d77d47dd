"""The compiled kernel compared with the object engine and with the plain kernel; one core against two; the log; a larger pool; a decision."""

from __future__ import annotations

import tempfile
import time
from dataclasses import replace
from importlib import import_module
from pathlib import Path
from random import Random
from typing import Any

import httpx

from bench.served import Server
from dramok.core.engine import Program, compile_program, start
from dramok.core.engine.match_batch import seed_of
from dramok.services import open_workspace
from dramok.services.games.demo_world import fill
from dramok.services.play.simulation import SimulationAsked, simulate
from dramok.workers.compiled_kernel import can_compile, is_warm
from dramok.workers.kernel_process import play

GAME = "ribbon-season"
GAMES = 20_000
SLOW = 40


def run() -> None:
    with tempfile.TemporaryDirectory() as folder:
        workspace = open_workspace(Path(folder) / "engine.db")
        fill(workspace, (GAME,))
        game = workspace.game(GAME)
        workspace.close()
    print("cold" if can_compile() and not is_warm() else "warm")
    one = simulate(game, SimulationAsked(GAMES, 7, threads=1))
    two = simulate(game, SimulationAsked(GAMES, 7, threads=2))
    print(
        f"{GAMES:,} plain games: {one.seconds:.2f} s on one core, {two.seconds:.2f} s on two (wanted 2): x {one.seconds / two.seconds:.2f} (wanted 1.8); "
        f"digests {'agree' if one.digest == two.digest else 'DIFFER'}; first seat {one.share(0)[0]:.1%}, {one.mean_turns:.1f} turns, {one.runaways} runaways"
    )
    for better, worse, games in (("plain", "random", 2_000), ("ahead", "plain", 600)):
        for seat, players in ((0, (better, worse)), (1, (worse, better))):
            share, low, high = simulate(game, SimulationAsked(games, 11, (), players)).share(seat)
            print(f"{better} beats {worse} from seat {seat + 1} in {share:.1%} of {games:,} games, 95 % between {low:.1%} and {high:.1%} (wanted more than half)")
    cards = list(game.cards.values())
    program = compile_program(game.rulebook, cards)
    dice = Random(3)
    decks = [[dice.randrange(64) for _ in range(36)] for _ in range(8)]
    pairs = [[dice.randrange(8), dice.randrange(8)] for _ in range(4_000)]
    order = {"numbers": program.numbers, "decks": decks, "pairs": pairs, "seed": 5, "players": ["plain", "plain"], "threads": 1}
    fast = play(order)["seconds"] / len(pairs)
    slow = play({**order, "pairs": pairs[:SLOW]}, compiled=False)["seconds"] / SLOW
    logged = min(play({**order, "logged": True})["seconds"] for _ in range(3)) / min(play(order)["seconds"] for _ in range(3))
    print(f"writing the events out: x {logged:.2f} (wanted 1.10)")
    begun = time.perf_counter()
    play({**order, "pairs": pairs[:1]})
    print(f"a process of its own, from its start to a game's end: {time.perf_counter() - begun:.1f} s warm (wanted 1.5)")
    objects = object_seconds(program, decks, pairs[:SLOW])
    print(f"a game: compiled {1e6 * fast:.0f} us, as it stands x {slow / fast:.0f}, objects x {objects / fast:.0f} (wanted 90)")
    many = [replace(card, id=f"{card.id}-{copy}", code=f"{card.code}-{copy}") for copy in range(10) for card in cards]
    wide = compile_program(game.rulebook, many)
    larger = play({**order, "numbers": wide.numbers, "decks": [[card * 10 % len(many) for card in deck] for deck in decks]})["seconds"] / len(pairs)
    same = play({**order, "decks": [[card * 10 % len(cards) for card in deck] for deck in decks]})["seconds"] / len(pairs)
    print(f"a pool of ten times the cards: x {larger / same:.2f} a game (wanted 1.2)")
    match = start(program, [[cards[each].id for each in decks[0]], [cards[each].id for each in decks[1]]], 5)
    thought = {"plain": 0.0, "ahead": 0.0}
    for _ in range(60):
        if match.asked == "over":
            break
        for name in thought:
            begun = time.perf_counter()
            row = match.choose(name)
            thought[name] = max(thought[name], time.perf_counter() - begun)
        match.take(row)
    print(f"uncompiled the slowest thought of 60: plain {1000 * thought['plain']:.1f} ms (wanted 1), ahead {1000 * thought['ahead']:.0f} ms (wanted 20)")
    _served()


def object_seconds(program: Program, decks: list[list[int]], pairs: list[list[int]]) -> float:
    """Seconds a game of the object engine, with the decisions of the plain player, which are not counted."""
    # Tests are no part of what is type-checked.
    reference: Any = import_module("tests.core.reference_engine").Reference
    took = 0.0
    for number, pair in enumerate(pairs):
        lists = [[program.cards[card].id for card in decks[each]] for each in pair]
        match = start(program, lists, seed_of(5, number))
        begun = time.perf_counter()
        turns = reference(program.rulebook, program.cards, lists, seed_of(5, number)).play()
        next(turns, None)
        took += time.perf_counter() - begun
        while match.asked != "over":
            row = match.choose("plain")
            option = match.options[row]
            match.take(row)
            begun = time.perf_counter()
            try:
                turns.send(tuple(option))
            except StopIteration:
                break
            finally:
                took += time.perf_counter() - begun
    return took / len(pairs)


def _served() -> None:
    """A duel against the plain player, over HTTP: what a decision takes until its answer is read."""
    with tempfile.TemporaryDirectory() as folder:
        workspace = open_workspace(Path(folder) / "served.db")
        fill(workspace, (GAME,))
        workspace.close()
        server = Server(Path(folder) / "served.db")
        try:
            took: list[float] = []
            with httpx.Client(base_url=f"{server.url}/api/games/{GAME}", headers={"x-page": "playtest"}, timeout=60) as client:
                decks = [each["id"] for each in client.get("/decks").json()]
                for seed in range(3):
                    table = client.post("/playtests", json={"deck": decks[0], "rival_deck": decks[1], "seed": seed, "player": "plain"}).json()
                    dice = Random(seed)
                    while table["options"] and table["asked"] != "over" and len(took) < 100 * (seed + 1):
                        option = dice.choice(table["options"])
                        begun = time.perf_counter()
                        table = client.post(f"/playtests/{table['id']}/decisions", json={**option, "taken": table["taken"]}).json()
                        took.append(time.perf_counter() - begun)
        finally:
            server.kill()
    took.sort()
    print(f"a decision over HTTP, {len(took)} of them: median {1000 * took[len(took) // 2]:.0f} ms, p95 {1000 * took[len(took) * 95 // 100]:.0f} ms (wanted 20)")
