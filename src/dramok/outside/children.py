"""How this program starts other processes, and ends them with itself."""

from __future__ import annotations

import os
import sys
import threading
import time

PARENT = "DRAMOK_PARENT"
"""The environment variable with the process id of the parent."""
LOOK = 0.5


def python(module: str, *arguments: str) -> list[str]:
    """The command that runs a module of ours. `-P`: nothing is imported from the working folder, whatever its files are named."""
    return [sys.executable, "-P", "-m", module, *arguments]


def child_environment(more: dict[str, str] | None = None) -> dict[str, str]:
    """The environment of a process that is started now: with the id of the parent, and Python's safe path for processes of its own."""
    return {**os.environ, **(more or {}), PARENT: str(os.getpid()), "PYTHONSAFEPATH": "1"}


def end_with_parent() -> None:
    """Ends this process, whatever it is in the middle of, soon after the one that started it is gone. Called once, as it begins."""
    parent = int(os.environ.get(PARENT, "0")) or os.getppid()
    threading.Thread(target=_watch, args=(parent,), name="parent", daemon=True).start()


def _watch(parent: int) -> None:
    while os.getppid() == parent:
        time.sleep(LOOK)
    os._exit(1)
