"""The rules kernel compiled, in a process of its own: started for a batch of games, or once at set-up to fill the cache.

Run as a module it reads an order (JSON) from its input and writes the results to its output; with `--warm` it compiles and says so.
"""

from __future__ import annotations

import json
import subprocess
import sys
import time
from collections.abc import Sequence
from typing import Any

from dramok.outside.children import child_environment, end_with_parent, python
from dramok.outside.compilecache import cache_folder, can_compile, compiling, forget_old, is_warm
from dramok.outside.nest import NEST, STALE


class KernelFailed(RuntimeError):
    """The process ended without results; the message is the end of what it said."""


def play(order: dict[str, Any], compiled: bool = True, within: float | None = None) -> dict[str, Any]:
    """Plays a batch in a process of its own. `order` has numbers, defs, decks, pairs, seed, players, threads; see `games.play_games`.

    Raises KernelFailed, also for what takes more than `within` seconds.
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
    """The batch by a process that has the kernel at hand; None where there is none, or it came to an end without a word."""
    connection = NEST.player(environment())
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
    return subprocess.run(python("dramok.outside.kernelprocess"), input=json.dumps(asked).encode(), capture_output=True, env=environment(), timeout=within)  # fmt: skip


def environment() -> dict[str, str]:
    """Of a process that plays: where compiled code is kept, and how it is compiled."""
    return child_environment(
        {
            "NUMBA_CACHE_DIR": str(cache_folder()),
            "NUMBA_OPT": "1",
            "NUMBA_LOOP_VECTORIZE": "0",
            "NUMBA_SLP_VECTORIZE": "0",
            # Its threads wait by spinning: beside anything else that works, a fit by two takes ten times as long as by one.
            "OPENBLAS_NUM_THREADS": "1",
        }
    )


def batch_of(order: dict[str, Any]) -> dict[str, Any]:
    """What a batch comes to, played by this process."""
    from dramok.core.compiling import mode

    if order["compiled"] and not mode().compiled:
        with compiling(order.get("anew", False)) as warm:
            return _batch({**order, "warm": warm}, first=True)
    return _batch(order, first=order["compiled"])


def _batch(order: dict[str, Any], first: bool) -> dict[str, Any]:
    """`first`: a game is played before time is taken: what is compiled, or read from the cache, at the first call does not count as playing."""
    from dramok.core.engine.games import play_games

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
            # Taken for warm, all but the entry is left as it stands: where numba finds nothing that fits, it can't compile the rest.
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
            forget_old()
    else:
        end_with_parent()
        sys.stdout.write(json.dumps(batch_of(json.load(sys.stdin))))


def smallest() -> dict[str, Any]:
    """A game of one seat that ends at once: what there is to compile does not depend on it."""
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
