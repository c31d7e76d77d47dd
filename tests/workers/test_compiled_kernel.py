"""The cache of the compiled kernel: private, verified by checksum, and rebuilt when it does not match."""

from __future__ import annotations

import json
import os
import stat
import subprocess
import sys
import threading
import time
from random import Random

import pytest

from dramok.core.engine.match_batch import play_games
from dramok.workers import compiled_kernel
from dramok.workers.compiled_kernel import cache_folder, can_compile, compile_share, is_warm, load
from dramok.workers.kernel_process import KernelFailed, play
from tests.conftest import SEED
from tests.core import generated
from tests.workers.smallest import smallest

pytestmark = pytest.mark.skipif(not can_compile(), reason="needs llvmlite")

PLAY = """
import json, sys
from dramok.workers.kernel_process import batch_of
print(json.dumps(batch_of({**json.loads(sys.stdin.readline()), "compiled": True})["results"]))
"""


@pytest.fixture
def home(tmp_path, monkeypatch):
    """A cache of its own, with the object file of the common one."""
    code = compiled_kernel._cached() or (load() and compiled_kernel._cached())
    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path))
    compiled_kernel._store(code)
    assert is_warm()
    return cache_folder()


def played() -> list[list[int]]:
    done = subprocess.run([sys.executable, "-c", PLAY], input=json.dumps(smallest()), capture_output=True, text=True, env=os.environ)
    assert done.returncode == 0, done.stderr[-600:]
    return json.loads(done.stdout)


def expected() -> list[list[int]]:
    order = smallest()
    return [list(row) for row in play_games(order["numbers"], order["decks"], order["pairs"], order["seed"], order["players"]).results]


@pytest.mark.parametrize("player", ["random", "plain"])
def test_generated_games_stay_within_the_bounds_of_every_array(player):
    """The checked build stops at an index out of bounds, such as that of a card that acts for no seat."""
    if not compiled_kernel.checked():
        pytest.fail("tests use the checked build")
    dice, done = Random(f"bounds {SEED}"), 0
    for _ in range(12):
        program = generated.program(dice)
        defs = len(program.cards)
        decks = [[dice.randrange(defs) for _ in range(10)] for _ in range(3)]
        pairs = [[dice.randrange(3) for _ in range(program.seats)] for _ in range(8)]
        order = {"numbers": program.numbers, "decks": decks, "pairs": pairs, "first": 0, "seed": SEED, "players": [player] * program.seats, "threads": 1}
        try:
            done += play(order, within=10)["compiled"]
        except KernelFailed as failed:
            # Some generated games go on for thousands of decisions.
            assert "took more than" in str(failed), f"seed {SEED}: {failed}"
    assert done >= 6, f"seed {SEED}"


def test_another_processor_library_or_source_has_another_folder(monkeypatch):
    names = {cache_folder().name}
    monkeypatch.setattr(compiled_kernel, "_processor", lambda: "another processor")
    names.add(cache_folder().name)
    monkeypatch.setattr(compiled_kernel, "version", lambda package: "0.0.1")
    names.add(cache_folder().name)
    monkeypatch.setattr(compiled_kernel, "_sources", lambda: b"other rules")
    names.add(cache_folder().name)
    monkeypatch.setenv("DRAMOK_CHECKED_KERNEL", "0" if compiled_kernel.checked() else "1")
    names.add(cache_folder().name)
    assert len(names) == 5


@pytest.mark.skipif(os.name != "posix", reason="modes of folders")
def test_the_folder_is_the_users_own_and_one_that_others_can_write_to_is_not_used(home):
    assert stat.S_IMODE(home.stat().st_mode) == 0o700
    home.chmod(0o777)
    assert not is_warm() and compiled_kernel._cached() is None
    assert compile_share() is None
    home.chmod(0o700)
    assert is_warm()


@pytest.mark.parametrize("damage", [lambda code: code[:-1], lambda code: code[:100] + bytes([code[100] ^ 1]) + code[101:], lambda code: b"", lambda code: code + b"x"])
def test_a_damaged_object_file_is_not_linked_but_compiled_again(home, damage):
    file = home / compiled_kernel.OBJECT
    file.write_bytes(damage(file.read_bytes()))
    assert not is_warm()


def test_a_cache_that_cannot_be_written_is_not_needed(tmp_path, monkeypatch):
    """Its place is a file: the kernel is compiled in memory all the same."""
    (tmp_path / "dramok").write_text("in the way")
    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path))
    assert not is_warm() and compile_share() is None
    assert played() == expected()


def test_a_warm_start_links_without_compiling(home, monkeypatch):
    before = (home / compiled_kernel.OBJECT).stat().st_mtime_ns
    assert played() == expected()
    assert (home / compiled_kernel.OBJECT).stat().st_mtime_ns == before


def test_one_compiles_while_another_waits_and_its_progress_is_known(tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path))
    shares: list[float] = []
    over = threading.Event()

    def watch() -> None:
        while not over.is_set():
            share = compile_share()
            if share is not None:
                shares.append(share)
            time.sleep(0.02)

    thread = threading.Thread(target=watch)
    thread.start()
    both = [subprocess.Popen([sys.executable, "-c", PLAY], stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True) for _ in range(2)]
    found = [each.communicate(json.dumps(smallest()))[0] for each in both]
    over.set()
    thread.join()
    assert [json.loads(each) for each in found] == [expected()] * 2
    assert shares and all(0 <= share < 1 for share in shares) and max(shares) > 0
    assert compile_share() is None and is_warm()


def test_a_compiler_that_is_killed_leaves_nothing_in_the_way(tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path))
    begun = subprocess.Popen([sys.executable, "-c", PLAY], stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True)
    begun.stdin.write(json.dumps(smallest()) + "\n")
    begun.stdin.flush()
    while compile_share() is None:
        time.sleep(0.02)
    begun.kill()
    begun.wait()
    assert compile_share() is None and not is_warm()
    assert played() == expected() and is_warm()


def test_threads_share_one_kernel_and_any_number_gives_the_same():
    order = smallest()
    runner = load()
    pairs = [[0]] * 40
    one, four = (
        play_games(order["numbers"], order["decks"], pairs, 7, order["players"], threads=threads, told=2, runner=runner) for threads in (1, 4)
    )
    plain = play_games(order["numbers"], order["decks"], pairs, 7, order["players"], told=2)
    for each in (one, four):
        assert each.results.tolist() == [list(row) for row in plain.results]
        assert each.tally.tolist() == [list(row) for row in plain.tally]
        assert each.firsts.tolist() == [list(row) for row in plain.firsts]
