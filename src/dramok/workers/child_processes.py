"""Start child processes, and end them with the parent."""

from __future__ import annotations

import os
import sys
import threading
import time

PARENT = "DRAMOK_PARENT"
"""The environment variable with the process id of the parent."""
LOOK = 0.5


def python(module: str, *arguments: str) -> list[str]:
    """The command that runs one of our modules. `-P`: imports nothing from the working folder."""
    return [sys.executable, "-P", "-m", module, *arguments]


def child_environment(more: dict[str, str] | None = None) -> dict[str, str]:
    """The environment for a child process: the id of the parent, and Python's safe path."""
    return {**os.environ, **(more or {}), PARENT: str(os.getpid()), "PYTHONSAFEPATH": "1"}


def end_with_parent() -> None:
    """End this process soon after its parent has ended, whatever it is doing. Call it once at the start."""
    parent = int(os.environ.get(PARENT, "0")) or os.getppid()
    threading.Thread(target=_watch, args=(parent,), name="parent", daemon=True).start()


def _watch(parent: int) -> None:
    while os.getppid() == parent:
        time.sleep(LOOK)
    os._exit(1)
