"""Executors of game batches: threads in this process, or workers of a cluster. The result of an order is the same."""

from __future__ import annotations

import json
import os
import socket
from collections.abc import Iterable, Iterator
from typing import TYPE_CHECKING, Any, Protocol
from urllib.parse import urlsplit

from dramok.workers.compiled_kernel import can_compile, load

if TYPE_CHECKING:
    from dramok.workers.batches import BatchResult, Order, Stretch


class Executor(Protocol):
    """Runs batches; `played` yields the result of each in the order of the requests."""

    def played(self, order: Order, stretches: Iterable[Stretch]) -> Iterator[BatchResult]: ...


class LocalExecutor:
    """Local execution: each batch by several threads."""

    def __init__(self, threads: int) -> None:
        self.threads = threads

    def played(self, order: Order, stretches: Iterable[Stretch]) -> Iterator[BatchResult]:
        from dramok.workers.batches import play

        for stretch in stretches:
            yield play(order, stretch, self.threads)


CONNECTED = 10
"""Seconds to wait for an answer of the scheduler."""
TRIES = 5
PLAYS_AT = 10
"""The niceness of a worker's playing thread."""
AHEAD = 2
"""Batches queued for each worker: one that runs and one that waits."""


class ClusterExecutor:
    """The workers of a Dask scheduler at an address (see `dramok workers`).

    A batch of a lost worker is run again by another.
    """

    def __init__(self, address: str) -> None:
        from distributed import Client

        # Fail at once if nothing listens: the client would retry until its timeout.
        there = urlsplit(address)
        if there.scheme == "tcp" and there.hostname:
            socket.create_connection((there.hostname, there.port or 8786), CONNECTED).close()
        self.client: Any = Client(address, timeout=f"{CONNECTED}s", set_as_default=False)  # type: ignore[no-untyped-call]

    def played(self, order: Order, stretches: Iterable[Stretch]) -> Iterator[BatchResult]:
        # Send the order with each batch, as text: data held by workers is lost with them, and nested data is scanned each time.
        told = json.dumps(dict(order))
        waiting: list[tuple[Stretch, Any]] = []
        source = iter(stretches)
        left = True
        while left or waiting:
            workers = max(1, len(self.client.scheduler_info(n_workers=-1)["workers"]))
            while left and len(waiting) < AHEAD * workers:
                stretch = next(source, None)
                if stretch is None:
                    left = False
                else:
                    waiting.append((stretch, self._asked(told, stretch)))
            if waiting:
                yield self._result(told, *waiting.pop(0))

    def _asked(self, order: str, stretch: Stretch) -> Any:
        return self.client.submit(_play_there, order, tuple(stretch), pure=False)

    def _result(self, order: str, stretch: Stretch, asked: Any) -> BatchResult:
        """The result of a batch; requested again if the cluster lost it with its workers."""
        from concurrent.futures import CancelledError

        from distributed import KilledWorker

        for _ in range(TRIES):
            try:
                found: BatchResult = asked.result()
                return found
            except (CancelledError, KilledWorker):
                asked = self._asked(order, stretch)
        last: BatchResult = asked.result()
        return last

    def close(self) -> None:
        self.client.close()


def _play_there(order: str, stretch: tuple[int, int, int, int]) -> BatchResult:
    """Runs on a worker; the first call compiles the kernel."""
    if can_compile():
        load()
    # Scheduler and aggregator have priority on the same machine: otherwise the workers wait for them.
    os.setpriority(os.PRIO_PROCESS, 0, max(PLAYS_AT, os.getpriority(os.PRIO_PROCESS, 0)))
    from dramok.workers.batches import Stretch, play

    return play(json.loads(order), Stretch(*stretch))
