"""Batches of games: the same results for any runner and any split; processes that wait, end and crash; the workers of a cluster."""

from __future__ import annotations

import dataclasses
import json
import os
import signal
import subprocess
import sys
import threading
import time
from contextlib import contextmanager
from pathlib import Path
from random import Random

import pytest

np = pytest.importorskip("numpy")

from dramok.core.decks import Share  # noqa: E402
from dramok.core.engine.match_batch import RESULT, TALLY  # noqa: E402
from dramok.services.balance.batch_orders import Playing  # noqa: E402
from dramok.services.balance.duels import DuelsAsked  # noqa: E402
from dramok.services.balance.measurement import order_of  # noqa: E402
from dramok.services.balance.session import BalanceSession  # noqa: E402
from dramok.services.balance.sweeps import SweepAsked, WorthAsked  # noqa: E402
from dramok.services.play.simulation import SimulationAsked, ordered  # noqa: E402
from dramok.workers import batch_process as process  # noqa: E402
from dramok.workers.aggregate import KINDS, stretches  # noqa: E402
from dramok.workers.batch_process import Player, _Started, make_ready  # noqa: E402
from dramok.workers.batches import BLOCK, Stretch, counted, decks_of, made_pairs, pairs_of, play  # noqa: E402
from dramok.workers.cluster_worker import missing  # noqa: E402
from dramok.workers.compiled_kernel import can_compile  # noqa: E402
from dramok.workers.executors import LocalExecutor  # noqa: E402
from dramok.workers.kernel_process import KernelFailed, environment  # noqa: E402
from dramok.workers.worker_pool import WORKER_POOL, WorkerPool  # noqa: E402
from tests.conftest import A_BUSY_MACHINES, SEED  # noqa: E402

compiled = pytest.mark.skipif(not can_compile(), reason="needs llvmlite")
GAME = "ribbon-season"


@pytest.fixture
def order(workspace):
    return order_of(workspace.game(GAME), Playing(800, SEED, threads=1))[0]


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


def test_the_figures_of_games_are_consistent(order):
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


def test_results_of_a_few_games_by_the_plain_kernel_are_summed(order):
    *_, told = KINDS["measure"](order).lines(LocalExecutor(1), 12)
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


def playing(nest: WorkerPool = WORKER_POOL) -> list[int]:
    """The processes forked from one, by number."""
    process = nest.process
    return [] if process is None else [int(each) for each in Path(f"/proc/{process.pid}/task/{process.pid}/children").read_text().split()]


def until(found, many: int = 0) -> None:
    for _ in range(A_BUSY_MACHINES * 20):
        if len(found()) == many:
            return
        time.sleep(0.05)
    raise AssertionError(found())


@compiled
def test_those_that_play_are_forked_from_one_that_waits_and_end_when_nobody_asks_more(order):
    make_ready()
    nest = WORKER_POOL.process
    until(playing)
    one, two = Player(order), Player(order)
    *_, first = one.lines(900)
    *_, second = two.lines(900)
    assert first["digest"] == second["digest"] and WORKER_POOL.process is nest and len(playing()) == 2
    one.end()
    until(playing, 1)
    # In the middle of its games as well; a caller that waits for a line gets an error.
    lines = two.lines(1_000_000)
    next(lines)
    two.end()
    with pytest.raises((KernelFailed, ValueError, OSError)):
        list(lines)
    until(playing)
    alone = _Started("cold")
    alone.say(order)
    alone.say(900)
    told = iter(alone.heard, b"")
    assert next(line["digest"] for line in map(json.loads, told) if line["done"]) == first["digest"]
    alone.end()
    assert alone.process.poll() is not None


@compiled
def test_a_process_that_is_killed_says_so_and_another_plays_the_same(order):
    until(playing)
    player = Player(order)
    first = next(player.lines(100_000))
    os.kill(playing()[0], signal.SIGKILL)
    with pytest.raises(KernelFailed):
        list(player.lines(200_000))
    player.end()
    # The one that waits is killed as well: another takes its place.
    lost = WORKER_POOL.process
    lost.kill()
    lost.wait()
    again = Player(order)
    assert next(again.lines(400))["digest"] == first["digest"] and WORKER_POOL.process not in (None, lost)
    again.end()


@compiled
def test_where_none_can_be_forked_one_is_started(order, monkeypatch):
    """The process that forks has died: a process is started for the order instead."""
    other = WorkerPool()
    monkeypatch.setattr(process, "WORKER_POOL", other)
    player = Player(order)
    assert isinstance(player._process, process._Forked)
    other.process.kill()
    *_, last = player.lines(400)
    assert isinstance(player._process, _Started) and last["games"] == 400
    player.end()
    other.close()


@compiled
def test_what_is_stopped_before_it_could_begin_is_begun_by_nobody_else(order, monkeypatch):
    other = WorkerPool()
    monkeypatch.setattr(process, "WORKER_POOL", other)
    player = Player(order)
    stopping = threading.Timer(0.1, player.end)
    stopping.start()
    with pytest.raises((KernelFailed, ValueError, OSError)):
        list(player.lines(400))
    stopping.join()
    assert isinstance(player._process, process._Forked)
    other.close()


@compiled
def test_the_one_that_waits_ends_with_its_program():
    code = "from dramok.workers.batch_process import make_ready, WORKER_POOL; make_ready(); print(WORKER_POOL.process.pid)"
    number = int(subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True).stdout)
    until(lambda: [number] if Path(f"/proc/{number}/exe").exists() else [])


@contextmanager
def lent(number: int):
    """A scheduler with the given number of local workers: its address, and the process."""
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
def test_workers_of_a_cluster_give_the_same_though_one_is_lost(order, workspace):
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
        game = workspace.game(GAME)
        told = []
        for held in (BalanceSession(address), BalanceSession()):
            sweep_points = held.sweep(game, SweepAsked("c-ribbon-season-rs-006", "height", 1, 3, held.playing(400, SEED)))
            worth = held.sweep_worth(game, WorthAsked("stat:height", 0.5, 3, 2, held.playing(400, SEED)))
            told.append((sweep_points, worth, held.duels(game, DuelsAsked((), held.playing(400, SEED))).digest))
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
    done = subprocess.run([sys.executable, "-m", "dramok.workers.batch_process", "warm"], input="{\n", capture_output=True, text=True, env=environment(), timeout=A_BUSY_MACHINES, check=False)
    assert done.returncode and "JSONDecodeError" in done.stderr
    with WORKER_POOL.player(environment()) as connection, connection.makefile("rwb") as talk:
        talk.write(b"{\n")
        talk.flush()
        assert talk.readline() == b"there\n"
        assert "JSONDecodeError" in json.loads(talk.readline())["failed"] and talk.readline() == b""


def test_decks_made_beforehand_meet_by_chance():
    """Each plays once in a round through all of them; the same two hardly ever meet again; however the games are cut."""
    order = {"made": [[0]] * 600, "seed": SEED}
    pairs = made_pairs(order, 0, 6_000)
    for round_ in range(20):
        assert sorted(pairs[300 * round_ : 300 * (round_ + 1)].reshape(-1)) == list(range(600))
    met = {tuple(sorted(pair)) for pair in pairs.tolist()}
    assert len(met) > 5_800, "by chance a hundred of them meet again"
    dice = Random(f"{SEED} made")
    at = dice.randrange(5_000)
    assert (made_pairs(order, at, 700) == pairs[at : at + 700]).all()
    assert (made_pairs({"made": [[0]] * 7, "seed": 1}, 3, 5) == made_pairs({"made": [[0]] * 7, "seed": 1}, 0, 8)[3:]).all()


def test_simulated_and_measured_games_have_one_population_of_decks(workspace):
    """The same kind of decks is dealt for both; shares of types are no reason to make decks in another way."""
    game = workspace.game(GAME)
    rules = game.formats[0].model_copy(update={"types": {"plant": Share(least=14, most=22)}})
    bound = dataclasses.replace(game, formats=(rules, *game.formats[1:]))
    order, program = ordered(bound, SimulationAsked(800, 5))
    assert len(order["decks"]) == 1_600 and order["pairs"] == [[2 * each, 2 * each + 1] for each in range(800)], "fresh decks for every game"
    measuring, cards = order_of(bound, Playing(800, 5, threads=1))
    mine = decks_of(measuring, Stretch(0, 800))
    there = [[program.cards[each].id for each in deck] for deck in order["decks"]]
    assert [sorted(cards[place] for place in deck) for deck in mine.tolist()] == [sorted(deck) for deck in there]
