"""A process that has the compiled kernel loaded and forks a player for each order.

Loading the libraries takes about half a second; this is done once for all orders, and in advance when a request
is likely.
"""

from __future__ import annotations

import os
import socket
import subprocess
import threading
from collections.abc import Mapping

from dramok.workers.child_processes import python

_CAN_FORK = hasattr(os, "fork") and hasattr(socket, "send_fds")


class WorkerPool:
    """One fork server, started on first use.

    It ends with this program; its players end when their connection closes.
    """

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._process: subprocess.Popen[bytes] | None = None
        self._control: socket.socket | None = None
        self._owner = 0

    @property
    def process(self) -> subprocess.Popen[bytes] | None:
        """The server process, if it runs."""
        return self._process if self._process is not None and self._process.poll() is None else None

    def make_ready(self, environment: Mapping[str, str]) -> None:
        """Start the server if it does not run; does not wait."""
        if not _CAN_FORK:
            return
        with self._lock:
            self._start(environment)

    def player(self, environment: Mapping[str, str]) -> socket.socket | None:
        """A connection to a player that waits for its order (a JSON line).

        None if the system can't fork.
        """
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
        # A forked process has its own pool.
        if self._owner == os.getpid() and self._process is not None and self._process.poll() is None:
            return
        if self._owner == os.getpid():
            self._end()
        ours, theirs = socket.socketpair()
        with theirs:
            self._process = subprocess.Popen(
                python("dramok.workers.fork_server", str(theirs.fileno())),
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


WORKER_POOL = WorkerPool()
"""The pool of this program."""
