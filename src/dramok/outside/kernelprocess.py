"""The rules kernel compiled, in a process of its own: started for a batch of games, or once at set-up to fill the cache.

Run as a module it reads an order (JSON) from its input and writes the results to its output; with `--warm` it compiles and says so.
"""

from __future__ import annotations

import hashlib
import json
import os
import platform
import shutil
import subprocess
import sys
import tempfile
import time
from collections.abc import Sequence
from importlib.metadata import PackageNotFoundError, version
from importlib.util import find_spec
from pathlib import Path
from typing import Any

from dramok.outside.children import child_environment, end_with_parent, python
from dramok.outside.nest import NEST, STALE

ENGINE = Path(__file__).parent.parent / "core" / "engine"
KEPT_DAYS = 30


class KernelFailed(RuntimeError):
    """The process ended without results; the message is the end of what it said."""


def cache_folder() -> Path:
    """Where compiled code is kept: named by a hash of all that it depends on, so that nothing old is ever taken for new.

    numba files it under the place and the time of the module that is entered: both are in the name too.
    """
    parts = [path.read_bytes() for path in sorted(ENGINE.rglob("*.py"))]
    parts += [str(ENGINE).encode(), str((ENGINE / "games.py").stat().st_mtime_ns).encode()]
    parts += [
        platform.python_version().encode(),
        platform.machine().encode(),
        _version("numba").encode(),
        _version("numpy").encode(),
    ]
    name = f"kernel-{hashlib.sha256(b'|'.join(parts)).hexdigest()[:16]}"
    home = Path(os.environ.get("XDG_CACHE_HOME") or Path.home() / ".cache") / "dramok"
    try:
        home.mkdir(parents=True, exist_ok=True)
    except OSError:
        home = Path(tempfile.gettempdir()) / "dramok"
        home.mkdir(parents=True, exist_ok=True)
    return home / name


def _version(package: str) -> str:
    try:
        return version(package)
    except PackageNotFoundError:
        return ""


def can_compile() -> bool:
    """Whether numba is installed."""
    return find_spec("numba") is not None


def is_warm() -> bool:
    """Whether the compiled kernel is in the cache."""
    return can_compile() and any(cache_folder().glob("**/*.nbc"))


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
            done = _process({**asked, "warm": False}, None)
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
    from dramok.core.compiling import compile_kernel, mode

    if order["compiled"] and not mode().compiled:
        compile_kernel(order["warm"])
    from dramok.core.engine.games import play_games

    arguments = (
        order["numbers"],
        order["defs"],
        order["decks"],
        order["pairs"],
        order["seed"],
        order["players"],
    )
    if order["compiled"]:
        # What is compiled, or read from the cache, at the first call is not counted as playing.
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
            _forget_old()
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


def _forget_old() -> None:
    """Removes what was compiled of other texts of the kernel and not begun anew for a month."""
    for folder in cache_folder().parent.glob("kernel-*"):
        if folder != cache_folder() and folder.stat().st_mtime < time.time() - KEPT_DAYS * 86_400:
            shutil.rmtree(folder, ignore_errors=True)


if __name__ == "__main__":
    main()
