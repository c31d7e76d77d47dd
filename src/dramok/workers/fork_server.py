"""The process that forks players (see `worker_pool`).

Its argument is the number of a socket, which delivers the connections of callers. It ends when that socket is
closed.
"""

from __future__ import annotations

import contextlib
import gc
import json
import os
import queue
import signal
import socket
import sys
import threading
import traceback
from collections.abc import Iterator
from typing import IO

from dramok.workers.batch_process import CannotPlay, play_for
from dramok.workers.child_processes import end_with_parent
from dramok.workers.compiled_kernel import load


def main() -> None:
    end_with_parent()
    # Lower priority than interactive work.
    os.nice(5)
    import dramok.workers.aggregate  # noqa: F401

    load()
    control = socket.socket(fileno=int(sys.argv[1]))
    # Reap finished players automatically.
    signal.signal(signal.SIGCHLD, signal.SIG_IGN)
    gc.collect()
    gc.freeze()
    while True:
        told, handed, _, _ = socket.recv_fds(control, 1, 1)
        if not told:
            return
        for number in handed:
            if os.fork() == 0:
                try:
                    control.close()
                    signal.signal(signal.SIGCHLD, signal.SIG_DFL)
                    _play(socket.socket(fileno=number))
                finally:
                    os._exit(0)
            os.close(number)


def _play(asked: socket.socket) -> None:
    """Play the order of a connection; errors are reported there."""
    lines: queue.SimpleQueue[str] = queue.SimpleQueue()
    said, heard = asked.makefile("w", encoding="utf-8"), asked.makefile("r", encoding="utf-8")
    threading.Thread(target=_listen, args=(heard, lines), daemon=True).start()

    def tell(line: str) -> None:
        said.write(line + "\n")
        said.flush()

    try:
        tell("there")
        play_for(_asked(lines), tell)
    except Exception as error:
        why = str(error) if isinstance(error, CannotPlay) else traceback.format_exc()
        with contextlib.suppress(OSError):
            tell(json.dumps({"failed": why.strip()[-400:]}))


def _listen(heard: IO[str], lines: queue.SimpleQueue[str]) -> None:
    """Serve requests; when the parent closes the socket or it breaks, end all players at once."""
    try:
        for line in heard:
            lines.put(line)
    finally:
        os._exit(0)


def _asked(lines: queue.SimpleQueue[str]) -> Iterator[str]:
    while True:
        yield lines.get()


if __name__ == "__main__":
    main()
