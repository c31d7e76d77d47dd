"""The compiled rules kernel in a separate process: started for a batch of games, or once during setup to fill
the cache.

As a module it reads an order (JSON) from standard input and writes the results to standard output; with
`--warm` it compiles and reports that.
"""

from __future__ import annotations

import json
import subprocess
import sys
import time
from collections.abc import Sequence
from typing import Any

from dramok.workers.child_processes import child_environment, end_with_parent, python
from dramok.workers.compiled_kernel import can_compile, is_warm, load, remove_old
from dramok.workers.worker_pool import WORKER_POOL


class KernelFailed(RuntimeError):
    """The process ended without a result; the message is the end of its output."""


def play(order: dict[str, Any], compiled: bool = True, within: float | None = None) -> dict[str, Any]:
    """Play a batch in a separate process. `order` has numbers, decks, pairs, seed, players, threads; see
    `match_batch.play_games`.

    Raises KernelFailed, also after `within` seconds.
    """
    asked = {**order, "compiled": compiled and can_compile()}
    try:
        found = _forked(asked, within) if asked["compiled"] and is_warm() else None
        if found is not None:
            return found
        done = _process(asked, within)
    except (subprocess.TimeoutExpired, TimeoutError) as error:
        raise KernelFailed(f"they took more than {within:.0f} seconds") from error
    if done.returncode:
        raise KernelFailed(
            done.stderr.decode(errors="replace").strip()[-600:] or f"it ended with {done.returncode}"
        )
    found = json.loads(done.stdout)
    return dict(found)


def _forked(asked: dict[str, Any], within: float | None) -> dict[str, Any] | None:
    """Play the batch through the worker pool; None if there is no pool or its process died."""
    connection = WORKER_POOL.player(environment())
    if connection is None:
        return None
    connection.settimeout(within)
    with connection, connection.makefile("rwb") as talk:
        try:
            talk.write(json.dumps({**asked, "what": "batch"}).encode() + b"\n")
            talk.flush()
            there = talk.readline()
            line = there and talk.readline()
        except ConnectionError:
            return None
    found = json.loads(line) if line else None
    if found and "failed" in found:
        raise KernelFailed(found["failed"])
    return found


def _process(asked: dict[str, Any], within: float | None = None) -> subprocess.CompletedProcess[bytes]:
    return subprocess.run(python("dramok.workers.kernel_process"), input=json.dumps(asked).encode(), capture_output=True, env=environment(), timeout=within)  # fmt: skip


def environment() -> dict[str, str]:
    """The environment of a playing process."""
    # The threads of OpenBLAS wait by spinning: with other work on the machine, a fit with two is ten times slower than with one.
    return child_environment({"OPENBLAS_NUM_THREADS": "1"})


def batch_of(order: dict[str, Any]) -> dict[str, Any]:
    """The result of a batch played in this process; `seconds` is the time of playing alone."""
    from dramok.core.engine.match_batch import play_games

    runner = load() if order["compiled"] else None
    begun = time.perf_counter()
    batch = play_games(
        order["numbers"], order["decks"], order["pairs"], order["seed"], order["players"], first=order.get("first", 0), threads=order["threads"],
        logged=order.get("logged", False), runner=runner,
    )  # fmt: skip
    seconds = time.perf_counter() - begun
    return {"results": _rows(batch.results), "tally": _rows(batch.tally), "seconds": seconds, "compiled": order["compiled"]}


def _rows(rows: Sequence[Sequence[int]]) -> list[list[int]]:
    return [[int(number) for number in row] for row in rows]


def main() -> None:
    if "--warm" in sys.argv:
        if not can_compile():
            print("llvmlite is not installed: simulations are interpreted, about fifty times slower")
        elif not is_warm():
            begun = time.perf_counter()
            load()
            print(f"the rules kernel is compiled ({time.perf_counter() - begun:.0f} s)")
            remove_old()
    else:
        end_with_parent()
        sys.stdout.write(json.dumps(batch_of(json.load(sys.stdin))))


if __name__ == "__main__":
    main()
