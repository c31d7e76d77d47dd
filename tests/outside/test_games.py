"""Stretches of games: the same whoever plays them and however they are cut; processes that wait, end and are lost; a cluster's workers."""

from __future__ import annotations

import subprocess
import sys
import time
from contextlib import contextmanager
from random import Random

import pytest

np = pytest.importorskip("numpy")

from dramok.core.engine.games import RESULT, TALLY  # noqa: E402
from dramok.outside.games.adding import KINDS, stretches  # noqa: E402
from dramok.outside.games.batches import BLOCK, Stretch, counted, decks_of, pairs_of, play  # noqa: E402
from dramok.outside.games.makers import Here  # noqa: E402
from dramok.outside.games.process import Player, Spares  # noqa: E402
from dramok.outside.games.workers import missing  # noqa: E402
from dramok.outside.kernelprocess import KernelFailed, can_compile, environment  # noqa: E402
from dramok.studio.balance.asking import BalanceDesk  # noqa: E402
from dramok.studio.balance.duelling import DuelsAsked  # noqa: E402
from dramok.studio.balance.measuring import order_of  # noqa: E402
from dramok.studio.balance.orders import Playing  # noqa: E402
from dramok.studio.balance.sweeping import SweepAsked, WorthAsked  # noqa: E402
from tests.conftest import A_BUSY_MACHINES, SEED  # noqa: E402

compiled = pytest.mark.skipif(not can_compile(), reason="needs numba")
GAME = "ribbon-season"


@pytest.fixture
def order(desk):
    return order_of(desk.game(GAME), Playing(800, SEED, threads=1))[0]


def test_decks_are_the_same_however_games_are_cut(order):
    dice = Random(f"{SEED} cuts")
    whole = decks_of(order, Stretch(0, 2 * BLOCK + 50))
    at = 0
    while at < 2 * BLOCK + 50:
        number = min(dice.randint(1, BLOCK + 30), 2 * BLOCK + 50 - at)
        assert (decks_of(order, Stretch(at, number)) == whole[2 * at : 2 * (at + number)]).all(), (at, number, SEED)
        at += number


def test_stretches_cover_every_game_once():
    for there, wanted in ((0, 1), (0, 399), (0, 20_000), (400, 401), (5_000, 5_000), (7_123, 31_000)):
        at = there
        for each in stretches(there, wanted, 3):
            assert each.first == at and 0 < each.number <= 2_000 and each.told == 3
            at += each.number
        assert at == max(there, wanted)


def test_counted_by_hand():
    assert counted(np.array([[0, 2, 2], [-1, 1, -1]]), 4).tolist() == [[1, 0, 2, 0], [0, 1, 0, 0]]
    assert counted(np.zeros((2, 0), int), 3).tolist() == [[0, 0, 0]] * 2


def test_duels_go_round_the_pairs_and_each_goes_first_as_often():
    assert pairs_of(3, 0, 7) == [(0, 1), (0, 2), (1, 0), (1, 2), (2, 0), (2, 1), (0, 1)]
    assert pairs_of(3, 4, 2) == [(2, 0), (2, 1)] and pairs_of(1, 0, 2) == [(0, 0), (0, 0)]


def test_what_is_told_of_games_agrees_with_itself(order):
    """Uncompiled: the first cards of each pile are cards of the deck, and winners, piles and hands add up."""
    played = play(order, Stretch(2, 3, 0, 36))
    decks = decks_of(order, Stretch(2, 3))
    assert played.results.shape == (3, len(RESULT)) and played.tally.shape == (96, len(TALLY)) and played.firsts.shape == (3, 2, 36)
    for game in range(3):
        for seat in range(2):
            assert sorted(played.firsts[game, seat].tolist()) == sorted(decks[2 * game + seat].tolist())
    assert int(played.tally[:, 0].sum()) == 6 * 36 and (played.tally[:, 6] <= played.tally[:, 0]).all()
    assert (played.counts.sum(axis=2) == 36).all() and set(played.won.tolist()) <= {0.0, 0.5, 1.0}
    few = play(order, Stretch(2, 3, 0, 5))
    assert (few.firsts == played.firsts[:, :, :5]).all() and (few.results == played.results).all()


def test_a_few_games_as_the_kernel_stands_are_added_up(order):
    *_, told = KINDS["measure"](order).lines(Here(1), 12)
    assert told["done"] and told["games"] == 12 and len(told["lifts"]) == 96 and 5 <= told["near"] <= 36 and told["turns"] > 3


@compiled
def test_measured_in_one_go_and_in_two(order):
    """A run that is gone on with knows what one in one go knows, to the last digit of its digest."""
    one, two = Player(order), Player(order)
    *_, whole = one.lines(1_700)
    *_, part = two.lines(500)
    *_, rest = two.lines(1_700)
    assert part["done"] and part["games"] == 500 and whole["digest"] == rest["digest"] and whole["lifts"] == rest["lifts"]
    one.end()
    two.end()


@compiled
def test_a_process_that_waits_is_taken_once_and_all_end_with_their_input(order):
    spares = Spares()
    try:
        spares.make_ready()
        waiting = spares._waiting
        player = Player(order, spares)
        assert player._process is waiting and spares.take() is None
        *_, last = player.lines(900)
        assert last["done"] and last["games"] == 900
        player.end()
        assert waiting.poll() is not None and spares._waiting.poll() is None
        left = spares._waiting
        left.stdin.close()
        assert left.wait(A_BUSY_MACHINES) == 0, "without an order it ends with its input"
    finally:
        spares.close()
    spares.make_ready()
    assert spares._waiting is None, "nothing is started once it is closed"


@compiled
def test_a_process_that_is_killed_says_so_and_another_plays_the_same(order):
    player = Player(order)
    first = next(player.lines(100_000))
    player._process.kill()
    with pytest.raises(KernelFailed):
        list(player.lines(200_000))
    player.end()
    again = Player(order)
    assert next(again.lines(400))["digest"] == first["digest"]
    again.end()


@contextmanager
def lent(number: int):
    """A scheduler with so many workers of this machine: its address, and the process."""
    process = subprocess.Popen(
        [sys.executable, "-m", "dramok", "workers", "--number", str(number), "--port", "0"], stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True, env=environment(),
    )  # fmt: skip
    try:
        line = process.stdout.readline()
        assert line.startswith(f"{number} workers at tcp://127.0.0.1:"), line
        yield line.split()[-1]
    finally:
        process.terminate()
        process.wait(A_BUSY_MACHINES)


@compiled
@pytest.mark.skipif(missing(), reason="needs distributed")
def test_workers_of_a_cluster_give_the_same_though_one_is_lost(order, desk):
    from distributed import Client

    player = Player({**order, "what": "measure"})
    *_, here = player.lines(5_000)
    player.end()
    with lent(2) as address:
        there = Player({**order, "cluster": address})
        lines = there.lines(5_000)
        found = [next(lines)]
        with Client(address, set_as_default=False) as client:
            workers = list(client.scheduler_info(n_workers=-1)["workers"])
            assert len(workers) == 2
            # One is lost in the middle of its work: it goes without saying goodbye.
            client.submit(_die, workers=workers[:1], pure=False, retries=0)
            found += list(lines)
        there.end()
        # What a server is asked is played by them, too, to the same numbers.
        game = desk.game(GAME)
        told = []
        for held in (BalanceDesk(address), BalanceDesk()):
            swept = held.sweep(game, SweepAsked("c-ribbon-season-rs-006", "height", 1, 3, held.playing(400, SEED)))
            worth = held.sweep_worth(game, WorthAsked("stat:height", 0.5, 3, 2, held.playing(400, SEED)))
            told.append((swept, worth, held.duels(game, DuelsAsked((), held.playing(400, SEED))).digest))
            held.close()
        assert told[0] == told[1]
        assert found[-1]["done"] and found[-1]["digest"] == here["digest"] and found[-1]["lifts"] == here["lifts"]
    nobody = Player({**order, "cluster": "tcp://127.0.0.1:9"})
    with pytest.raises(KernelFailed, match="no scheduler answers at tcp://127.0.0.1:9"):
        list(nobody.lines(400))
    nobody.end()


def _die() -> None:
    import os

    time.sleep(0.05)
    os._exit(1)


@compiled
def test_an_order_that_is_no_json_ends_the_process_with_a_word():
    process = subprocess.run([sys.executable, "-m", "dramok.outside.games.process", "warm"], input="{\n", capture_output=True, text=True, env=environment(), timeout=A_BUSY_MACHINES, check=False)
    assert process.returncode and "JSONDecodeError" in process.stderr
