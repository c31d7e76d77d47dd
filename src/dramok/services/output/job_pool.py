"""The pool of processes that carry out jobs: started on demand, ended when idle."""

from __future__ import annotations

import contextlib
import json
import logging
import os
import signal
import subprocess
import threading
import time
from dataclasses import dataclass, field
from queue import Empty, SimpleQueue
from typing import Any

from dramok.core.problem import Problem
from dramok.services.output.job_steps import Made
from dramok.services.output.jobs import Outcome, end, failure, finish_job, now, recover_jobs, resolve
from dramok.services.workspace.workspace import Missing, Refused, Workspace
from dramok.store import JobRecord
from dramok.workers.child_processes import child_environment, python

AT_ONCE = 2
PATIENCE = 3.0
"""Seconds between a stop request and ending the job's process."""
IDLE = 300.0
_LOG = logging.getLogger(__name__)


class JobPool:
    """Runs waiting jobs, oldest first, at most AT_ONCE at a time.

    `close` ends all processes; unfinished jobs are resumed at the next start.
    """

    def __init__(self, workspace: Workspace, at_once: int = AT_ONCE) -> None:
        self._workspace = workspace
        self._at_once = at_once
        self._lock = threading.Condition()
        self._threads: list[threading.Thread] = []
        self._running: dict[str, _Making] = {}
        self._closed = False
        self._calls = 0
        """The number of calls of `wake`, so that a thread that finds no work can see whether a job was added since."""

    def resume(self) -> None:
        """Resume the jobs that a stop of the server interrupted. Call this first."""
        recover_jobs(self._workspace, self._workspace.store.jobs(states=("running",)))
        if self._workspace.store.jobs(states=("waiting",), newest=1):
            self.wake()

    def wake(self) -> None:
        """Signal that a job is waiting."""
        with self._lock:
            if self._closed:
                return
            self._calls += 1
            if len(self._threads) < self._at_once:
                thread = threading.Thread(target=self._work, name="works", daemon=True)
                self._threads.append(thread)
                thread.start()
            self._lock.notify_all()

    def progress(self, ident: str) -> tuple[int, int] | None:
        """(done, total) of a running job; None if it is not running."""
        making = self._running.get(ident)
        return making.at if making else None

    def stop(self, job: JobRecord) -> None:
        """Stop a job: at once if it waits, as soon as possible if it runs."""
        if self._workspace.store.set_job(job.id, "stopped", ("waiting",), ended=now()):
            return
        with self._lock:
            making = self._running.get(job.id)
            if making is not None:
                making.stop_by = making.stop_by or time.monotonic() + PATIENCE
                if making.process is not None:
                    making.process.say({"stop": job.id})
            elif job.state == "running":
                end(self._workspace, job, "stopped")

    def close(self) -> None:
        with self._lock:
            self._closed = True
            for making in self._running.values():
                if making.process is not None:
                    making.process.kill()
            self._lock.notify_all()
            threads = list(self._threads)
        for thread in threads:
            thread.join(5)

    def _work(self) -> None:
        process: _Process | None = None
        try:
            while not self._closed:
                calls = self._calls
                taken = self._next()
                if taken is None:
                    if not self._called_since(calls):
                        return
                    continue
                process = self._make(*taken, process)
        finally:
            with self._lock:
                if threading.current_thread() in self._threads:
                    self._threads.remove(threading.current_thread())
            if process is not None:
                process.kill()

    def _called_since(self, calls: int) -> bool:
        """Wait for the next `wake`; False after a long time without one, when the thread must end."""
        with self._lock:
            if self._calls == calls and not self._closed:
                self._lock.wait(IDLE)
            if self._calls == calls:
                self._threads.remove(threading.current_thread())
                return False
            return True

    def _next(self) -> tuple[JobRecord, _Making] | None:
        """Take the job that has waited longest and mark it as running.

        A stop request finds it either waiting or in `_running`.
        """
        with self._lock:
            if self._closed:
                return None
            for job in reversed(self._workspace.store.jobs(states=("waiting",))):
                if self._workspace.store.set_job(job.id, "running", ("waiting",)):
                    making = self._running[job.id] = _Making()
                    return job, making
        return None

    def _make(self, job: JobRecord, making: _Making, idle: _Process | None) -> _Process | None:
        """Run a job in an idle process or a new one; returns the process."""
        process = idle
        try:
            if process is None or not process.alive:
                process = _Process(self._workspace)
            with self._lock:
                making.process = process
                stopped = bool(making.stop_by)
                if self._closed:
                    return process
            if stopped:
                end(self._workspace, job, "stopped")
                return process
            process.say({"make": job.id, "cards": resolve(self._workspace, job)})
            said = self._followed(making, process)
            if self._closed:
                return process
            if "done" in said:
                done = said["done"]
                made = Made(**{**done["made"], "warnings": tuple(done["made"]["warnings"]), "guide": tuple(done["made"]["guide"])})  # fmt: skip
                finish_job(self._workspace, job, Outcome(made, done["bytes"], done["run"]))
            elif "failed" in said:
                end(self._workspace, job, "failed", Problem.model_validate(said["failed"]))
            elif "stopped" in said:
                end(self._workspace, job, "stopped")
            else:
                end(self._workspace, job, "failed", LOST)
        except (Refused, Missing) as error:
            end(self._workspace, job, "failed", failure(error))
        except Exception as error:
            _LOG.exception("job %s", job.id)
            end(self._workspace, job, "failed", failure(error))
        finally:
            with self._lock:
                self._running.pop(job.id, None)
        return process

    def _followed(self, making: _Making, process: _Process) -> dict[str, Any]:
        """Read the progress until the job ends; empty if the process died."""
        while True:
            said = process.heard(0.25)
            if said is None:
                if making.stop_by and time.monotonic() > making.stop_by:
                    process.kill()
                    return {"stopped": True}
                continue
            if "at" in said:
                making.at = (said["at"][0], said["at"][1])
                continue
            return {"stopped": True} if not said and making.stop_by else said


LOST = Problem(
    where="job",
    what="the process that made it ended before it was done",
    mend="try again; if it happens again, make fewer cards at once",
)


@dataclass
class _Making:
    """A running job; `process` is None until one is assigned.

    `stop_by`: when to end the process after a stop request.
    """

    process: _Process | None = None
    at: tuple[int, int] = (0, 0)
    stop_by: float = field(default=0.0)


class _Process:
    """A worker process in its own process group, so that its children end with it."""

    def __init__(self, workspace: Workspace) -> None:
        self._process = subprocess.Popen(
            python("dramok.services.output.job_worker", str(workspace.store.path)),
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            text=True,
            env=child_environment(),
            start_new_session=True,
        )
        self._said: SimpleQueue[dict[str, Any]] = SimpleQueue()
        threading.Thread(target=self._listen, name="works hear", daemon=True).start()

    @property
    def alive(self) -> bool:
        return self._process.poll() is None

    def say(self, said: dict[str, Any]) -> None:
        assert self._process.stdin is not None
        with contextlib.suppress(BrokenPipeError, ValueError):
            self._process.stdin.write(json.dumps(said) + "\n")
            self._process.stdin.flush()

    def heard(self, wait: float) -> dict[str, Any] | None:
        """The next message; empty if the process ended; None after a number of seconds without one."""
        try:
            return self._said.get(timeout=wait)
        except Empty:
            return None

    def kill(self) -> None:
        with contextlib.suppress(ProcessLookupError, PermissionError):
            os.killpg(self._process.pid, signal.SIGKILL)
        self._process.wait()

    def _listen(self) -> None:
        assert self._process.stdout is not None
        for line in self._process.stdout:
            self._said.put(json.loads(line))
        self._said.put({})
