"""The process that carries out jobs, so that the server stays responsive. It reads and writes JSON lines.

In: {"make": job, "cards": resolved or null}, {"stop": job}. Out: {"at": [done, total]}, and finally one of
{"done": outcome}, {"stopped": true}, {"failed": problem}. When its reader is gone, it ends with all its
children.
"""

from __future__ import annotations

import json
import os
import signal
import sys
import threading
import time
from dataclasses import asdict
from pathlib import Path
from queue import SimpleQueue
from typing import Any, TextIO

from dramok.services.games.open_database import open_workspace
from dramok.services.output.job_steps import Stopped
from dramok.services.output.jobs import failure, make
from dramok.services.workspace.workspace import Workspace
from dramok.workers.child_processes import end_with_parent

EVERY = 0.1
"""Seconds between two progress messages."""


class Worker:
    """Carries out one job after another."""

    def __init__(self, workspace: Workspace, out: TextIO) -> None:
        self.workspace, self.out = workspace, out
        self.asked: SimpleQueue[dict[str, Any]] = SimpleQueue()
        self.stopped: set[str] = set()

    def listen(self, coming: TextIO) -> None:
        """Read requests in a thread. Never returns."""
        for line in coming:
            said = json.loads(line)
            if "stop" in said:
                self.stopped.add(said["stop"])
            else:
                self.asked.put(said)
        os.killpg(0, signal.SIGKILL)

    def run(self) -> None:
        while True:
            self._make(self.asked.get())

    def _make(self, asked: dict[str, Any]) -> None:
        ident = asked["make"]
        last = 0.0

        def tick(done: int, total: int) -> None:
            nonlocal last
            if ident in self.stopped:
                raise Stopped
            now = time.monotonic()
            if now - last >= EVERY or done == total:
                last = now
                self._say({"at": [done, total]})

        try:
            job = self.workspace.store.job(ident)
            if job is None:
                raise Stopped
            outcome = make(self.workspace, job, asked["cards"], tick)
        except Stopped:
            self._say({"stopped": True})
        except Exception as error:
            self._say({"failed": failure(error).model_dump(mode="json", exclude_none=True)})
        else:
            self._say({"done": asdict(outcome)})

    def _say(self, said: dict[str, Any]) -> None:
        self.out.write(json.dumps(said) + "\n")
        self.out.flush()


def main() -> None:
    """Run a worker on the database at the given path. Prints go to standard error; standard output is for messages."""
    end_with_parent()
    out = os.fdopen(os.dup(1), "w", encoding="utf-8")
    os.dup2(2, 1)
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    worker = Worker(open_workspace(Path(sys.argv[1]), demo=False), out)
    threading.Thread(target=worker.listen, args=(sys.stdin,), daemon=True).start()
    worker.run()


if __name__ == "__main__":
    main()
