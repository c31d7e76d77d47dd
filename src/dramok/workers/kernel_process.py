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
from dramok.workers.compile_cache import cache_folder, can_compile, compiling, is_warm, remove_old
from dramok.workers.worker_pool import STALE, WORKER_POOL


class KernelFailed(RuntimeError):
    """The process ended without a result; the message is the end of its output."""


def play(order: dict[str, Any], compiled: bool = True, within: float | None = None) -> dict[str, Any]:
    """Play a batch in a separate process. `order` has numbers, defs, decks, pairs, seed, players, threads; see
    `match_batch.play_games`.

    Raises KernelFailed, also after `within` seconds.
    """
    asked = {**order, "compiled": compiled and can_compile(), "warm": is_warm()}
    try:
        found = _nested(asked, within) if asked["compiled"] and asked["warm"] else None
        if found is not None:
            return found
        done = _process(asked, within)
        if done.returncode == STALE:
            done = _process({**asked, "warm": False, "anew": True}, None)
    except (subprocess.TimeoutExpired, TimeoutError) as error:
        raise KernelFailed(f"they took more than {within:.0f} seconds") from error
    if done.returncode:
        raise KernelFailed(
            done.stderr.decode(errors="replace").strip()[-600:] or f"it ended with {done.returncode}"
        )
    found = json.loads(done.stdout)
    return dict(found)


def _nested(asked: dict[str, Any], within: float | None) -> dict[str, Any] | None:
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
    """The environment of a playing process: the cache folder and compile options."""
    return child_environment(
        {
            "NUMBA_CACHE_DIR": str(cache_folder()),
            "NUMBA_OPT": "1",
            "NUMBA_LOOP_VECTORIZE": "0",
            "NUMBA_SLP_VECTORIZE": "0",
            # Its threads wait by spinning: with other work on the machine, a fit with two threads is ten times slower than with one.
            "OPENBLAS_NUM_THREADS": "1",
        }
    )


def batch_of(order: dict[str, Any]) -> dict[str, Any]:
    """The result of a batch played in this process."""
    from dramok.core.compile_switch import mode

    if order["compiled"] and not mode().compiled:
        with compiling(order.get("anew", False)) as warm:
            return _batch({**order, "warm": warm}, first=True)
    return _batch(order, first=order["compiled"])


def _batch(order: dict[str, Any], first: bool) -> dict[str, Any]:
    """`first`: play one game before timing starts, because the first call compiles or loads from the cache."""
    from dramok.core.engine.match_batch import play_games

    arguments = (
        order["numbers"],
        order["defs"],
        order["decks"],
        order["pairs"],
        order["seed"],
        order["players"],
    )
    if first:
        try:
            play_games(*arguments[:3], order["pairs"][:1], *arguments[4:])
        except Exception as error:
            # If the cache is taken as warm, only the entry is compiled lazily: when numba finds no matching file, it can't compile the rest.
            if order["warm"] and type(error).__name__ == "TypingError":
                sys.exit(STALE)
            raise
    begun = time.perf_counter()
    batch = play_games(*arguments, first=order.get("first", 0), threads=order["threads"], logged=order.get("logged", False))
    seconds = time.perf_counter() - begun
    return {
        "results": _rows(batch.results),
        "tally": _rows(batch.tally),
        "seconds": seconds,
        "compiled": order["compiled"],
    }


def _rows(rows: Sequence[Sequence[int]]) -> list[list[int]]:
    return [[int(number) for number in row] for row in rows]


def main() -> None:
    if "--warm" in sys.argv:
        if not can_compile():
            print("numba is not installed: simulations run uncompiled, about fifty times slower")
        elif not is_warm():
            begun = time.perf_counter()
            play(smallest())
            print(f"the rules kernel is compiled ({time.perf_counter() - begun:.0f} s)")
            remove_old()
    else:
        end_with_parent()
        sys.stdout.write(json.dumps(batch_of(json.load(sys.stdin))))


def smallest() -> dict[str, Any]:
    """A game of one seat that ends at once: the compiled code does not depend on the game."""
    from dramok.core.cards import Card
    from dramok.core.engine.program import compile_program
    from dramok.core.rulebook import Rulebook

    field = {"id": "name", "name": "Name", "kind": "text"}
    document = {"id": "x", "name": "X", "cards": {"types": [{"id": "card", "name": "Card", "fields": [field]}]}, "roles": {"cost": None, "effect": None, "rarity": None, "printed": None, "tags": None, "copies": None}}  # fmt: skip
    program = compile_program(
        Rulebook.model_validate(document), [Card("a", "A", "x", "card", {"name": "A"}, 0)]
    )
    return {
        "numbers": program.numbers,
        "defs": 1,
        "decks": [[0] * 3],
        "pairs": [[0]],
        "seed": 1,
        "players": ["plain"],
        "threads": 1,
    }


if __name__ == "__main__":
    main()
