"""The process in which jobs are made, so that the server answers meanwhile. Lines of JSON come in and go out.

In: {"make": job, "cards": resolved or null}, {"stop": job}. Out: {"at": [done, total]}, and at the end one of
{"done": outcome}, {"stopped": true}, {"failed": problem}. When nobody is there any more to read it, it ends with all that it began.
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

from dramok.outside.children import end_with_parent
from dramok.studio.desk import Desk
from dramok.studio.opening import open_desk
from dramok.studio.output.jobs import failure, make
from dramok.studio.output.making import Stopped

EVERY = 0.1
"""Seconds between two tellings of how far it is."""


class Worker:
    """Makes one job after another."""

    def __init__(self, desk: Desk, out: TextIO) -> None:
        self.desk, self.out = desk, out
        self.asked: SimpleQueue[dict[str, Any]] = SimpleQueue()
        self.stopped: set[str] = set()

    def listen(self, coming: TextIO) -> None:
        """Reads what is asked, in a thread of its own. Never comes back."""
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
            job = self.desk.store.job(ident)
            if job is None:
                raise Stopped
            outcome = make(self.desk, job, asked["cards"], tick)
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
    """The worker over the database whose path it is given. Whatever is printed goes to the error stream: the other one is for answers."""
    end_with_parent()
    out = os.fdopen(os.dup(1), "w", encoding="utf-8")
    os.dup2(2, 1)
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    worker = Worker(open_desk(Path(sys.argv[1]), demo=False), out)
    threading.Thread(target=worker.listen, args=(sys.stdin,), daemon=True).start()
    worker.run()


if __name__ == "__main__":
    main()
