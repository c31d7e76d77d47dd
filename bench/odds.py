"""Exact odds against seeded sampling of the same precision and against the engine's shuffles; validation of a thousand decks; a key in a deck."""

from __future__ import annotations

import random
import tempfile
import time
from pathlib import Path

from bench.large_game import GAME, large_game
from bench.served import page_on, watch_keys
from dramok.core.decks import Deck
from dramok.core.odds import Condition, Draws, Event, atoms_of, chances
from dramok.services.decks.edits import add_deck, fill_at_random
from dramok.services.decks.odds import DeckOdds, GroupAsked, OddsAsked
from dramok.services.decks.opening_hands import Dealing

TURNS, GROUPS, DECK = 12, (8, 10, 12), 60
EVENT = Event(tuple(Condition(place, "at least", 2) for place in range(3)))
PRECISION = 1e-3
"""Standard error that the sampling is given time for."""
ROUNDS = 4_000
SHUFFLES = 20_000
KEYS = 60


def against_sampling() -> None:
    draws = Draws(5, 1)
    atoms = atoms_of(GROUPS, DECK)
    begun = time.perf_counter()
    for _ in range(20):
        exact = chances(atoms, EVENT, draws, range(1, TURNS + 1))
    took = (time.perf_counter() - begun) / 20
    chance = random.Random(1)
    cards = [group for group, count in enumerate((*GROUPS, DECK - sum(GROUPS))) for _ in range(count)]
    found = [0] * TURNS
    begun = time.perf_counter()
    for _ in range(ROUNDS):
        drawn = chance.sample(cards, draws.seen(TURNS))
        for turn in range(1, TURNS + 1):
            seen = drawn[: draws.seen(turn)]
            found[turn - 1] += all(seen.count(group) >= 2 for group in range(3))
    each = (time.perf_counter() - begun) / ROUNDS
    wanted = max(one * (1 - one) for one in exact) / PRECISION**2
    apart = max(abs(count / ROUNDS - one) for count, one in zip(found, exact, strict=True))
    print(
        f"odds of {DECK} cards, three groups, {TURNS} turns: {1000 * took:.2f} ms; sampling to {100 * PRECISION:.1f} points takes {wanted * each:.1f} s, "
        f"{wanted * each / took:,.0f} x as long (wanted 1,000); {ROUNDS:,} samples are apart by {100 * apart:.1f} points"
    )


def against_the_engine(folder: Path) -> None:
    workspace = large_game(folder / "engine.db", 96)
    game = workspace.game(GAME)
    deck = fill_at_random(game, Deck("d", "Bench", {}), 3)
    odds = DeckOdds(workspace, game, deck, OddsAsked((GroupAsked("cost <= 2", count=2),), turns=4))
    dealing, seen = Dealing(game, odds), odds.draws.seen(4)
    held = 0
    for seed in range(SHUFFLES):
        hand, pile = dealing.dealt(seed)
        held += sum(card in odds.members[0] for card in (hand + pile)[:seen]) >= 2
    exact = odds.look().groups[0].curve[4]
    print(
        f"{SHUFFLES:,} of the engine's shuffles: {100 * held / SHUFFLES:.2f} %, exactly {100 * exact:.2f} % "
        f"({abs(held / SHUFFLES - exact) / max(1e-9, (exact * (1 - exact) / SHUFFLES) ** 0.5):.1f} standard errors)"
    )
    workspace.close()


def thousand_decks(folder: Path) -> None:
    workspace = large_game(folder / "decks.db", 1_000)
    game = workspace.game(GAME)
    decks = [fill_at_random(game, Deck(str(seed), "B", {}), seed) for seed in range(100)] * 10
    begun = time.perf_counter()
    for deck in decks:
        game.legality(deck)
    print(f"legality of {len(decks):,} decks: {1000 * (time.perf_counter() - begun):.0f} ms (wanted 200)")
    add_deck(workspace, GAME, "Bench", "bench", decks[0].cards)
    workspace.close()


def a_key(folder: Path) -> None:
    with page_on(folder / "decks.db") as (server, page):
        page.goto(f"{server.url}/{GAME}/decks")
        page.wait_for_selector(".wall-card svg.face")
        page.wait_for_timeout(6_000)
        page.locator(".wall").focus()
        watch_keys(page, ".legality")
        for number in range(KEYS):
            page.keyboard.press("-" if number % 2 else "+")
            page.wait_for_timeout(250)
        spent, bare = sorted(page.evaluate("spent")), sorted(page.evaluate("bare"))
    p95 = spent[int(len(spent) * 0.95)]
    print(
        f"key in a deck of a game of 1,000 cards to painted legality: p50 {spent[len(spent) // 2]:.0f} ms, p95 {p95:.0f} ms of {len(spent)} (wanted 50); "
        f"{p95 / bare[int(len(bare) * 0.95)]:.1f} x a bare key"
    )


def run() -> None:
    against_sampling()
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        against_the_engine(folder)
        thousand_decks(folder)
        a_key(folder)
