"""Games played and added up in a process of its own: stretch after stretch, each followed by a line of JSON with what is known by then.

Its order (JSON) is the first line of its input; each further line is a number of games to go on to. It ends with its input. Started without
an order it makes itself ready and waits: whoever asks then need not wait for it.
"""

from __future__ import annotations

import json
import os
import subprocess
import sys
import threading
import time
from collections.abc import Iterator
from typing import Any

from dramok.outside.games.makers import Cluster, Here, Maker, compile_here
from dramok.outside.kernelprocess import STALE, KernelFailed, environment, is_warm


class Player:
    """A process that plays; `lines` gives what it says. Stopping it is its end."""

    def __init__(self, order: dict[str, Any], spares: Spares | None = None) -> None:
        self._order, self._spares = order, spares
        self._process = (spares.take() if spares else None) or _started(is_warm())
        self._say(order)

    def _say(self, said: object) -> None:
        assert self._process.stdin is not None
        try:
            self._process.stdin.write(json.dumps(said).encode() + b"\n")
            self._process.stdin.flush()
        except BrokenPipeError as error:
            if self._process.wait() != STALE:
                raise KernelFailed(self._why()) from error

    def lines(self, games: int = 0) -> Iterator[dict[str, Any]]:
        """What is known after each stretch, up to so many games in all. Raises KernelFailed."""
        self._say(games)
        while True:
            assert self._process.stdout is not None
            line = self._process.stdout.readline()
            if not line and self._process.wait() == STALE:
                # What was compiled is of another processor: it is compiled anew.
                self.end()
                self._process = _started(False)
                self._say(self._order)
                self._say(games)
                continue
            if not line:
                raise KernelFailed(self._why())
            found: dict[str, Any] = json.loads(line)
            yield found
            if found["done"]:
                return

    def _why(self) -> str:
        self._process.wait()
        assert self._process.stderr is not None
        return self._process.stderr.read().decode(errors="replace").strip()[-400:] or f"it ended with {self._process.returncode}"

    def end(self) -> None:
        _end(self._process)
        if self._spares is not None:
            self._spares.make_ready()


class Spares:
    """One process that waits for its order. The first is made ready when somebody is likely to ask soon."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._waiting: subprocess.Popen[bytes] | None = None
        self._closed = False

    def make_ready(self) -> None:
        """Starts one where none waits, and where nothing need be compiled."""
        with self._lock:
            there = self._waiting is not None and self._waiting.poll() is None
            if not there and not self._closed and is_warm():
                self._waiting = _started(True)

    def take(self) -> subprocess.Popen[bytes] | None:
        with self._lock:
            found, self._waiting = self._waiting, None
        return found if found is not None and found.poll() is None else None

    def close(self) -> None:
        with self._lock:
            found, self._waiting, self._closed = self._waiting, None, True
        if found is not None:
            _end(found)


def _started(warm: bool) -> subprocess.Popen[bytes]:
    return subprocess.Popen(
        [sys.executable, "-m", "dramok.outside.games.process", "warm" if warm else "cold"], stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.PIPE, env=environment(),
    )  # fmt: skip


def _end(process: subprocess.Popen[bytes]) -> None:
    process.kill()
    process.wait()
    for stream in (process.stdin, process.stdout, process.stderr):
        if stream is not None:
            stream.close()


def _tell(line: dict[str, Any]) -> None:
    sys.stdout.write(json.dumps(line) + "\n")
    sys.stdout.flush()


def _warm_up() -> None:
    """Reads all that is compiled, by a game that ends at once. Exits where what is in the cache is of another processor."""
    from dramok.core.engine.games import play_games
    from dramok.outside.kernelprocess import smallest

    order = smallest()
    try:
        play_games(order["numbers"], order["defs"], order["decks"], order["pairs"], order["seed"], order["players"])
    except Exception as error:
        if sys.argv[1:] == ["warm"] and type(error).__name__ == "TypingError":
            sys.exit(STALE)
        raise


def main() -> None:
    # Whoever types goes first.
    os.nice(5)
    compile_here(sys.argv[1:] == ["warm"])
    from dramok.outside.games.adding import KINDS

    _warm_up()
    first = sys.stdin.readline()
    if not first:
        return
    order = json.loads(first)
    try:
        maker: Maker = Cluster(order["cluster"]) if order.get("cluster") else Here(order["threads"])
    except (OSError, ValueError, ImportError) as error:
        sys.exit(f"no scheduler answers at {order['cluster'][:80]} ({type(error).__name__})")
    kind = KINDS[order["what"]](order)
    begun = time.perf_counter()
    for line in sys.stdin:
        for known in kind.lines(maker, int(line)):
            _tell({**known, "seconds": time.perf_counter() - begun})


if __name__ == "__main__":
    main()
