"""Games played and added up in a process of its own: stretch after stretch, each followed by a line of JSON with what is known by then.

Its order (JSON) is the first line that it is told; each further line is a number of games to go on to. It ends with whoever asks: forked from one
that has the kernel at hand (see `outside.nest`), or, where there is none, started by itself.
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

from dramok.outside.children import end_with_parent, python
from dramok.outside.compilecache import can_compile, compiling, is_warm
from dramok.outside.games.makers import Cluster, Here, Maker
from dramok.outside.kernelprocess import KernelFailed, batch_of, environment, smallest
from dramok.outside.nest import NEST, STALE


class NobodyPlays(Exception):
    """An order that nobody can play; the message says why."""


class Player:
    """A process that plays; `lines` gives what it says. Stopping it is its end."""

    def __init__(self, order: dict[str, Any], compiled: bool = True) -> None:
        """`compiled` False: where the kernel is not compiled yet, it is played as it is instead of waiting for that."""
        self._order, self._ended = order, False
        self._process: _Forked | _Started = _forked() or _Started(_COLD if compiled else _PLAIN)
        self._process.say(order)

    def lines(self, games: int = 0) -> Iterator[dict[str, Any]]:
        """What is known after each stretch, up to so many games in all. Raises KernelFailed."""
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
    """A process forked for one order: it ends when nobody is at the other end of the connection. Its first word is that it is there."""

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
        """Who plays where the process from which it was to be forked could not begin."""
        return None if self._there else _Started(_COLD)

    def why(self) -> str:
        return "the process that played has ended"

    def end(self) -> None:
        with contextlib.suppress(OSError):
            self._connection.shutdown(socket.SHUT_RDWR)
        with contextlib.suppress(OSError, ValueError):
            self._talk.close()
        self._connection.close()


_COLD, _ANEW, _PLAIN = "cold", "anew", "plain"
"""How a process that plays begins: from the cache or, where nothing is there, compiling; compiling anew; uncompiled."""


class _Started:
    """A process started for one order."""

    def __init__(self, how: str) -> None:
        words = python("dramok.outside.games.process", how)
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
        """Who plays where what was compiled is of another processor: it is compiled anew."""
        return _Started(_ANEW) if self.process.wait() == STALE else None

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
    connection = NEST.player(environment()) if is_warm() else None
    return None if connection is None else _Forked(connection)


def make_ready() -> None:
    """Has the kernel at hand for whoever asks soon, where nothing need be compiled."""
    if is_warm():
        NEST.make_ready(environment())


def compiled_at_hand(anew: bool = False) -> None:
    """Makes the kernel compiled in this process, and reads all that is compiled, by a game that ends at once. Exits where what is in the cache is
    of another processor."""
    os.environ.update(environment())
    with compiling(anew) as warm:
        import dramok.outside.games.adding  # noqa: F401
        from dramok.core.engine.games import play_games

        order = smallest()
        try:
            play_games(order["numbers"], order["defs"], order["decks"], order["pairs"], order["seed"], order["players"])
        except Exception as error:
            if warm and type(error).__name__ == "TypingError":
                sys.exit(STALE)
            raise


def play_for(lines: Iterator[str], tell: Callable[[str], object]) -> None:
    """Plays the order that is the first of the lines, and tells what is known as lines of JSON. Raises NobodyPlays."""
    order = json.loads(next(lines, "null"))
    if order is None:
        return
    if order["what"] == "batch":
        tell(json.dumps(batch_of(order)))
        return
    from dramok.outside.games.adding import KINDS

    try:
        maker: Maker = Cluster(order["cluster"]) if order.get("cluster") else Here(order["threads"])
    except (OSError, ValueError, ImportError) as error:
        raise NobodyPlays(f"no scheduler answers at {order['cluster'][:80]} ({type(error).__name__})") from error
    kind = KINDS[order["what"]](order)
    begun = time.perf_counter()
    for line in lines:
        for known in kind.lines(maker, int(line)):
            tell(json.dumps({**known, "seconds": time.perf_counter() - begun}))


def main() -> None:
    end_with_parent()
    # Whoever types goes first.
    os.nice(5)
    if sys.argv[1:] != [_PLAIN] and can_compile():
        compiled_at_hand(sys.argv[1:] == [_ANEW])
    try:
        play_for(iter(sys.stdin), lambda line: print(line, flush=True))
    except NobodyPlays as error:
        sys.exit(str(error))


if __name__ == "__main__":
    main()
