"""A process that plays and aggregates games batch by batch, and writes a JSON line with the result after each
batch.

The first input line is its order (JSON); each further line is a new total number of games. It ends with its
caller. It is forked from the worker pool, or started by itself if there is no pool.
"""

from __future__ import annotations

import contextlib
import json
import os
import socket
import subprocess
import sys
import time
from collections.abc import Callable, Iterator
from typing import Any

from dramok.workers.child_processes import end_with_parent, python
from dramok.workers.compiled_kernel import can_compile, is_warm, load
from dramok.workers.executors import ClusterExecutor, Executor, LocalExecutor
from dramok.workers.kernel_process import KernelFailed, batch_of, environment
from dramok.workers.worker_pool import WORKER_POOL


class CannotPlay(Exception):
    """The order can't be played; the message has the reason."""


class Player:
    """A playing process; `lines` yields its output. `stop` ends it."""

    def __init__(self, order: dict[str, Any], compiled: bool = True) -> None:
        """`compiled` False: if the kernel is not compiled yet, play interpreted instead of waiting."""
        self._order, self._ended = order, False
        self._process: _Forked | _Started = _forked() or _Started(_COLD if compiled else _PLAIN)
        self._process.say(order)

    def lines(self, games: int = 0) -> Iterator[dict[str, Any]]:
        """The results after each batch, up to a number of games. Raises KernelFailed."""
        self._process.say(games)
        while True:
            line = self._process.heard()
            if not line and not self._ended and (other := self._process.instead()) is not None:
                self._process.end()
                self._process = other
                if self._ended:
                    other.end()
                self._process.say(self._order)
                self._process.say(games)
                continue
            if not line:
                raise KernelFailed(self._process.why())
            found: dict[str, Any] = json.loads(line)
            if "failed" in found:
                raise KernelFailed(found["failed"])
            yield found
            if found["done"]:
                return

    def end(self) -> None:
        self._ended = True
        self._process.end()


class _Forked:
    """A process forked for one order; it ends when the connection closes. Its first message is a greeting."""

    def __init__(self, connection: socket.socket) -> None:
        self._connection, self._talk, self._there = connection, connection.makefile("rwb"), False

    def say(self, said: object) -> None:
        with contextlib.suppress(ConnectionError):
            self._talk.write(json.dumps(said).encode() + b"\n")
            self._talk.flush()

    def heard(self) -> bytes:
        try:
            if not self._there:
                self._there = bool(self._talk.readline())
            return self._talk.readline()
        except (ConnectionError, ValueError):
            return b""

    def instead(self) -> _Started | None:
        """The fallback player if the pool could not start."""
        return None if self._there else _Started(_COLD)

    def why(self) -> str:
        return "the process that played has ended"

    def end(self) -> None:
        with contextlib.suppress(OSError):
            self._connection.shutdown(socket.SHUT_RDWR)
        with contextlib.suppress(OSError, ValueError):
            self._talk.close()
        self._connection.close()


_COLD, _PLAIN = "cold", "plain"
"""How a process gets its kernel: from the cache, or compiled if missing; interpreted."""


class _Started:
    """A process started for one order."""

    def __init__(self, how: str) -> None:
        words = python("dramok.workers.batch_process", how)
        self.process = subprocess.Popen(words, stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.PIPE, env=environment())

    def say(self, said: object) -> None:
        assert self.process.stdin is not None
        with contextlib.suppress(BrokenPipeError):
            self.process.stdin.write(json.dumps(said).encode() + b"\n")
            self.process.stdin.flush()

    def heard(self) -> bytes:
        assert self.process.stdout is not None
        return self.process.stdout.readline()

    def instead(self) -> _Started | None:
        """A started process has no fallback."""
        return None

    def why(self) -> str:
        self.process.wait()
        assert self.process.stderr is not None
        return self.process.stderr.read().decode(errors="replace").strip()[-400:] or f"it ended with {self.process.returncode}"

    def end(self) -> None:
        self.process.kill()
        self.process.wait()
        for stream in (self.process.stdin, self.process.stdout, self.process.stderr):
            if stream is not None:
                stream.close()


def _forked() -> _Forked | None:
    connection = WORKER_POOL.player(environment()) if is_warm() else None
    return None if connection is None else _Forked(connection)


def make_ready() -> None:
    """Start the worker pool if the kernel is already compiled."""
    if is_warm():
        WORKER_POOL.make_ready(environment())


def play_for(lines: Iterator[str], tell: Callable[[str], object]) -> None:
    """Play the order in the first input line, and write JSON lines with the results. Raises NobodyPlays."""
    order = json.loads(next(lines, "null"))
    if order is None:
        return
    if order["what"] == "batch":
        tell(json.dumps(batch_of(order)))
        return
    from dramok.workers.aggregate import KINDS

    try:
        maker: Executor = ClusterExecutor(order["cluster"]) if order.get("cluster") else LocalExecutor(order["threads"])
    except (OSError, ValueError, ImportError) as error:
        raise CannotPlay(f"no scheduler answers at {order['cluster'][:80]} ({type(error).__name__})") from error
    kind = KINDS[order["what"]](order)
    begun = time.perf_counter()
    for line in lines:
        for known in kind.lines(maker, int(line)):
            tell(json.dumps({**known, "seconds": time.perf_counter() - begun}))


def main() -> None:
    end_with_parent()
    # Lower priority than interactive work.
    os.nice(5)
    if sys.argv[1:] != [_PLAIN] and can_compile():
        load()
    try:
        play_for(iter(sys.stdin), lambda line: print(line, flush=True))
    except CannotPlay as error:
        sys.exit(str(error))


if __name__ == "__main__":
    main()
