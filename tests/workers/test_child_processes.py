"""Child processes: none outlives its parent, and none imports from the folder it is started in."""

from __future__ import annotations

import json
import os
import signal
import subprocess
import sys
import time
from collections.abc import Iterator
from pathlib import Path

import pytest

from dramok.workers.child_processes import PARENT, child_environment, end_with_parent, python
from dramok.workers.compiled_kernel import can_compile, is_warm
from tests.conftest import A_BUSY_MACHINES
from tests.workers.smallest import smallest

MARK = "DRAMOK_TEST_MARK"
needs_proc = pytest.mark.skipif(not Path("/proc/self/environ").exists(), reason="counts processes in /proc")


def marked(mark: str) -> list[int]:
    """The processes that were started with a mark in their environment, by whomever."""
    found = []
    for each in Path("/proc").iterdir():
        try:
            if each.name.isdigit() and f"{MARK}={mark}".encode() in (each / "environ").read_bytes().split(b"\0"):
                state = (each / "stat").read_text().rpartition(")")[2].split()[0]
                found += [int(each.name)] if state != "Z" else []
        except OSError:
            continue
    return found


def gone(mark: str) -> bool:
    """Waits until no process has the mark."""
    until = time.monotonic() + A_BUSY_MACHINES
    while marked(mark):
        if time.monotonic() > until:
            return False
        time.sleep(0.05)
    return True


PLAYING = """
import json, sys
from dramok.workers.batch_process import Player
player = Player(json.loads(sys.stdin.readline()))
lines = player.lines(400_000)
print(json.dumps(next(lines)["done"]), flush=True)
{then}
"""
UNCOMPILED = """
import json, sys, time
import subprocess
from dramok.workers.child_processes import child_environment, python
order = json.loads(sys.stdin.readline())
subprocess.Popen(python("dramok.workers.kernel_process"), stdin=subprocess.PIPE, env=child_environment()).stdin.write(json.dumps(order).encode())
print("begun", flush=True)
time.sleep(600)
"""


@pytest.fixture
def started(tmp_path: Path) -> Iterator[list[subprocess.Popen[str]]]:
    made: list[subprocess.Popen[str]] = []
    yield made
    for each in made:
        each.kill()
        each.wait()


def begin(started: list[subprocess.Popen[str]], text: str, mark: str, given: str = "") -> subprocess.Popen[str]:
    program = subprocess.Popen([sys.executable, "-c", text], stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True, env={**os.environ, MARK: mark})
    started.append(program)
    assert program.stdin is not None and program.stdout is not None
    program.stdin.write(given + "\n")
    program.stdin.flush()
    assert program.stdout.readline(), "it has begun"
    return program


@needs_proc
@pytest.mark.skipif(not can_compile() or not is_warm(), reason="needs the compiled kernel")
@pytest.mark.parametrize(("how", "then"), [
    ("killed", "input()"), ("ended", "player.end()"), ("left with a line unread", "next(lines); sys.exit()"), ("failed", "raise RuntimeError"),
])  # fmt: skip
def test_a_caller_of_games_leaves_no_process(started, workspace, how, then):
    """Killed, ended, left in the middle of what it was told, or failed: the players, and what forks them, are gone."""
    from dramok.services.balance.batch_orders import Playing
    from dramok.services.balance.measurement import order_of

    mark = f"{how} {os.getpid()}".replace(" ", "-")
    order = order_of(workspace.game("ribbon-season"), Playing(400_000, 3, threads=1))[0]
    program = begin(started, PLAYING.format(then=then), mark, json.dumps(order))
    if how == "killed":
        assert len(marked(mark)) >= 3, "the program, the process that forks, and the one that plays"
        program.send_signal(signal.SIGKILL)
    program.wait(A_BUSY_MACHINES)
    assert gone(mark), [Path(f"/proc/{each}/cmdline").read_bytes() for each in marked(mark)]


@needs_proc
def test_a_child_process_ends_with_its_parent(started):
    """In the middle of a batch that would take minutes."""
    mark = f"batch-{os.getpid()}"
    program = begin(started, UNCOMPILED, mark, json.dumps({**smallest(), "compiled": False, "pairs": [[0]] * 1_000_000}))
    assert len(marked(mark)) == 2
    program.send_signal(signal.SIGKILL)
    program.wait(A_BUSY_MACHINES)
    assert gone(mark)


@needs_proc
def test_a_program_whose_parent_is_gone_before_it_begins_ends_too(started):
    mark = f"orphan-{os.getpid()}"
    text = f"import os, sys, time\nsys.stdin.readline()\nos.environ['{PARENT}'] = '1234567'\nprint('there', flush=True)\nfrom dramok.workers.child_processes import end_with_parent\nend_with_parent()\ntime.sleep(600)"
    program = begin(started, text, mark)
    assert program.wait(A_BUSY_MACHINES) == 1 and gone(mark)


def test_a_connection_that_breaks_ends_the_player():
    """The thread that listens is the only one that hears of it."""
    text = "import queue, time\nfrom dramok.workers.fork_server import _listen\nclass Broken:\n    def __iter__(self):\n        raise ConnectionResetError\nimport threading\nthreading.Thread(target=_listen, args=(Broken(), queue.SimpleQueue())).start()\ntime.sleep(600)"
    done = subprocess.run([sys.executable, "-c", text], timeout=A_BUSY_MACHINES, capture_output=True)
    assert done.returncode == 0


def test_files_of_the_folder_it_is_started_from_are_not_run(tmp_path):
    """Whatever they are called: `python -m` would import them, and run what they hold."""
    for name in ("json", "numpy", "coverage", "pydantic", "dramok", "threading", "sitecustomize"):
        (tmp_path / f"{name}.py").write_text(f"open({str(tmp_path / 'ran')!r}, 'a').write({name!r})\nraise SystemExit('the wrong {name}')\n")
    order = {**smallest(), "compiled": False}
    done = subprocess.run(python("dramok.workers.kernel_process"), input=json.dumps(order).encode(), cwd=tmp_path, env=child_environment(), capture_output=True)
    assert done.returncode == 0, done.stderr[-300:]
    assert json.loads(done.stdout)["compiled"] is False and not (tmp_path / "ran").exists()
    # What it starts in its turn does the same.
    again = subprocess.run([sys.executable, "-m", "json.tool"], input=b"[1]", cwd=tmp_path, env=child_environment(), capture_output=True)
    assert again.returncode == 0 and not (tmp_path / "ran").exists()


@pytest.mark.parametrize("module", ["dramok.workers.kernel_process", "dramok.workers.batch_process", "dramok.workers.fork_server", "dramok.services.output.job_worker"])
def test_every_child_is_started_safely_and_ends_with_its_parent(module):
    source = Path(__file__).parent.parent.parent / "src"
    starts = [path for path in source.rglob("*.py") if f'"{module}"' in path.read_text(encoding="utf-8")]
    assert starts and all(f'python("{module}"' in path.read_text(encoding="utf-8") for path in starts)
    text = (source / f"{module.replace('.', '/')}.py").read_text(encoding="utf-8")
    assert f"{end_with_parent.__name__}()" in text
    assert [path for path in source.rglob("*.py") if '"-m"' in path.read_text(encoding="utf-8")] == [source / "dramok" / "workers" / "child_processes.py"]
