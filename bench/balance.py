"""Balance: planted cards found and how fast, coverage of intervals, fits, sweeps, edits, implied worths, dominance, a cluster's workers."""

from __future__ import annotations

import os
import random
import subprocess
import sys
import tempfile
import time
from dataclasses import replace
from pathlib import Path

import numpy as np

from bench.large_game import GAME as LARGE
from bench.large_game import large_game
from dramok.core.balance.comparable import comparables
from dramok.core.balance.dominance import dominated
from dramok.core.balance.implied.implied_worths import implied
from dramok.core.balance.measured.lift import measured
from dramok.services import open_workspace
from dramok.services.balance.batch_orders import Playing
from dramok.services.balance.measurement import measure, order_of
from dramok.services.balance.sweeps import SweepAsked, WorthAsked, sweep, sweep_worth, what_if
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.workers.batch_process import Player, make_ready
from dramok.workers.kernel_process import environment

SEASON = "ribbon-season"
GAMES = 20_000
TRUTH = 200_000
RUNS, CARDS, SIZE, ROWS = 200, 40, 20, 4_000


def planted(game: GameSnapshot) -> None:
    """Three plants made stronger. What others are truly worth is known from many more games: a card that is named, and is by these no point
    from the average, is named wrongly."""
    seed = random.randrange(10**6)
    plants = sorted(card.id for card in game.cards.values() if card.type == "plant" and card.text("rarity") == "garden")
    three = random.Random(seed).sample(plants, 3)
    cards = dict(game.cards)
    for ident in three:
        card = cards[ident]
        cards[ident] = card.with_value("height", (card.number("height") or 0) + 2).with_value("root", (card.number("root") or 0) + 1)
    stronger = replace(game, cards=cards)
    *_, long = measure(stronger, Playing(TRUTH, seed + 1))
    true = {each.card: each.lift or 0.0 for each in long.cards}
    make_ready()
    time.sleep(2.5)
    begun = time.perf_counter()
    *_, found = measure(stronger, Playing(GAMES, seed))
    took = time.perf_counter() - begun
    named = {each.card for each in found.cards if each.named}
    wrong = sum(abs(true[card]) < 1 for card in named)
    print(
        f"planted, seed {seed}: three plants truly {', '.join(f'{true[each]:+.1f}' for each in three)} points; {len(named & set(three))} of 3 named, {wrong} of {len(named)} named wrongly "
        f"(truth from {TRUTH:,} games), from {GAMES:,} games in {took:.1f} s (wanted 3 s, all three, at most one in twenty)"
    )


def coverage() -> None:
    """Decks and winners from a known truth, by shuffled piles as in games: how often the interval contains the truth."""
    chance = np.random.default_rng(random.randrange(10**6))
    slots = np.repeat(np.arange(CARDS), 3)
    inside = pooled = told = 0
    spent = 0.0
    for _ in range(RUNS):
        truth = chance.normal(0, 0.08, CARDS)
        decks = np.stack([chance.permutation(slots)[:SIZE] for _ in range(2 * ROWS)])
        counts, firsts = np.zeros((2 * ROWS, CARDS), np.int8), np.zeros((2 * ROWS, CARDS), np.int8)
        for place in range(SIZE):
            np.add.at(counts, (np.arange(2 * ROWS), decks[:, place]), 1)
            if place < SIZE // 2:
                np.add.at(firsts, (np.arange(2 * ROWS), decks[:, place]), 1)
        both, near = counts.reshape(ROWS, 2, CARDS), firsts.reshape(ROWS, 2, CARDS)
        whole = near + 0.2 * (both - near)
        chances = 1 / (1 + np.exp(-((whole[:, 0] - whole[:, 1]) @ truth + 0.2)))
        real = 100 * float(np.mean(chances * (1 - chances))) * (truth - truth.mean()) * 0.6
        begun = time.perf_counter()
        found = measured(both, (chance.random(ROWS) < chances).astype(float), near)
        spent += time.perf_counter() - begun
        inside += int((np.abs(found.raw - real) <= 1.96 * np.sqrt(np.diag(found.covariance))).sum())
        pooled += sum(each is not None and each.low <= one <= each.high for each, one in zip(found.lifts, real, strict=True))
        told += CARDS
    print(
        f"coverage of 95 % intervals over {RUNS} runs of {ROWS:,} games and {CARDS} cards: {100 * inside / told:.1f} % before pooling, {100 * pooled / told:.1f} % after (wanted 93 to 97); "
        f"{1000 * spent / RUNS:.0f} ms a fit"
    )


def fits(game: GameSnapshot) -> None:
    chance = np.random.default_rng(1)
    counts = chance.binomial(3, 0.125, (GAMES, 2, 96)).astype(np.int8)
    firsts = chance.binomial(counts, 0.5).astype(np.int8)
    mixes, won = chance.integers(0, 6, (GAMES, 2)), chance.integers(0, 2, GAMES).astype(float)
    begun = time.perf_counter()
    measured(counts, won, firsts, mixes)
    print(f"fit of {GAMES:,} games and 96 cards: {1000 * (time.perf_counter() - begun):.0f} ms (wanted 300)")


def questions(game: GameSnapshot) -> None:
    """With the kernel at hand, as the server has it."""
    card = next(each for each in game.cards.values() if each.code == "RS-006")
    make_ready()
    time.sleep(2.5)
    begun = time.perf_counter()
    order, _ = order_of(game, Playing(GAMES, 3))
    player = Player(order)
    next(player.lines(GAMES))
    print(f"first intervals {time.perf_counter() - begun:.2f} s after they are asked for (wanted 1)")
    player.end()
    begun = time.perf_counter()
    sweep(game, SweepAsked(card.id, "height", 1, 7, Playing(2_000)))
    print(f"sweep of 7 values x 2,000 games: {time.perf_counter() - begun:.2f} s (wanted 2)")
    begun = time.perf_counter()
    worth = sweep_worth(game, WorthAsked("stat:height", 0.25, 4, 7, Playing(2_000)))
    print(f"sweep of a worth, {len(worth.points)} values x 2,000 games: {time.perf_counter() - begun:.2f} s")
    begun = time.perf_counter()
    found = what_if(game, card.with_value("height", (card.number("height") or 0) + 1), Playing(4_000))
    print(f"an edit answered by 2 x 4,000 games: {time.perf_counter() - begun:.2f} s (wanted 3), {found.more:+.2f} ({found.low:+.2f} to {found.high:+.2f}) points")


def without_playing(folder: Path) -> None:
    took = {}
    for number in (1_000, 10_000):
        workspace = large_game(folder / f"{number}.db", number)
        game = workspace.game(LARGE)
        cards = list(game.cards.values())
        times = []
        for _ in range(3):
            comparables(cards[:1], game.rulebook, game.prices)
            begun = time.perf_counter()
            dominated(comparables(cards, game.rulebook, game.prices), ["" for _ in game.rulebook.roles.stats])
            times.append(time.perf_counter() - begun)
        took[number] = min(times)
        if number == 1_000:
            begun = time.perf_counter()
            implied(cards, game.rulebook, game.prices)
            print(f"implied worths of 1,000 cards: {1000 * (time.perf_counter() - begun):.0f} ms (wanted 300)")
        workspace.close()
    print(f"dominance of 1,000 cards: {1000 * took[1_000]:.0f} ms (wanted 300); of 10,000 {took[10_000] / took[1_000]:.1f} x as long (wanted 11)")


def cluster(game: GameSnapshot) -> None:
    """The same games by one worker of a cluster and by two."""
    order, _ = order_of(game, Playing(24_000, 5))
    took, digests = {}, set()
    for number in (1, 2):
        lent = subprocess.Popen(
            [sys.executable, "-m", "dramok", "workers", "--number", str(number), "--port", "0"], stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True, env={**os.environ, **environment()},
        )  # fmt: skip
        assert lent.stdout is not None
        address = lent.stdout.readline().split()[-1]
        seconds = []
        # The first time each worker reads what is compiled; of the others the best, for a machine that has other things to do now and then.
        for games in (4_000, *[24_000] * 4):
            player = Player({**order, "cluster": address})
            *_, last = player.lines(games)
            player.end()
            seconds.append(last["seconds"])
        took[number] = min(seconds[1:])
        digests.add(last["digest"])
        lent.terminate()
        lent.wait()
    print(f"two workers of a cluster {took[1] / took[2]:.2f} x one (wanted 1.5), {'the same digest' if len(digests) == 1 else 'ANOTHER DIGEST'}")


def run() -> None:
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        workspace = open_workspace(folder / "demo.db")
        game = workspace.game(SEASON)
        planted(game)
        coverage()
        fits(game)
        questions(game)
        without_playing(folder)
        cluster(game)
        workspace.close()


if __name__ == "__main__":
    run()
