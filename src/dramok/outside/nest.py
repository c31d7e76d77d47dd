"""A process that has the compiled kernel at hand and waits: for each order it forks one that plays. Reading numba and what it compiled, which takes
seconds, is done once for all orders of a program, and beforehand where somebody is likely to ask soon."""

from __future__ import annotations

import os
import socket
import subprocess
import threading
from collections.abc import Mapping

from dramok.outside.children import python

STALE = 3
"""The exit of a process to whose processor what is in the cache does not belong."""
_CAN_FORK = hasattr(os, "fork") and hasattr(socket, "send_fds")


class Nest:
    """One process, started when it is first wanted. It ends with the program that started it, and each that plays when its connection is closed."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._process: subprocess.Popen[bytes] | None = None
        self._control: socket.socket | None = None
        self._owner = 0

    @property
    def process(self) -> subprocess.Popen[bytes] | None:
        """The process, where it was started and has not ended."""
        return self._process if self._process is not None and self._process.poll() is None else None

    def make_ready(self, environment: Mapping[str, str]) -> None:
        """Starts the process where it is not there; it waits for nobody."""
        if not _CAN_FORK:
            return
        with self._lock:
            self._start(environment)

    def player(self, environment: Mapping[str, str]) -> socket.socket | None:
        """A connection to a process that waits for its order, a line of JSON. None where it can't be had: what was compiled is of another
        processor, or this system forks no processes."""
        if not _CAN_FORK:
            return None
        with self._lock:
            self._start(environment)
            if self._control is None:
                return None
            mine, theirs = socket.socketpair()
            with theirs:
                try:
                    socket.send_fds(self._control, [b"\0"], [theirs.fileno()])
                except OSError:
                    mine.close()
                    return None
            return mine

    def close(self) -> None:
        with self._lock:
            self._end()

    def _start(self, environment: Mapping[str, str]) -> None:
        # A process that was forked from the one that started it has a nest of its own.
        if self._owner == os.getpid() and self._process is not None and self._process.poll() in (None, STALE):
            if self._process.poll() == STALE:
                self._control = None
            return
        if self._owner == os.getpid():
            self._end()
        ours, theirs = socket.socketpair()
        with theirs:
            self._process = subprocess.Popen(
                python("dramok.outside.games.nested", str(theirs.fileno())),
                stdin=subprocess.DEVNULL, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL, env=dict(environment), pass_fds=[theirs.fileno()],
            )  # fmt: skip
        self._control, self._owner = ours, os.getpid()

    def _end(self) -> None:
        if self._control is not None:
            self._control.close()
        if self._process is not None:
            self._process.kill()
            self._process.wait()
        self._process = self._control = None


NEST = Nest()
"""That of this program."""
