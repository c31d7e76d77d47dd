"""Who plays stretches of games: this process, by threads, or the workers of a cluster. Each gives the same for the same order."""

from __future__ import annotations

import json
import os
import socket
from collections.abc import Iterable, Iterator
from typing import TYPE_CHECKING, Any, Protocol
from urllib.parse import urlsplit

from dramok.outside.compilecache import can_compile, compiling
from dramok.outside.kernelprocess import environment, smallest

if TYPE_CHECKING:
    from dramok.outside.games.batches import Order, Played, Stretch


class Maker(Protocol):
    """`played` gives what each stretch came to, in the order in which they were asked for."""

    def played(self, order: Order, stretches: Iterable[Stretch]) -> Iterator[Played]: ...


class Here:
    """This process: each stretch by several threads."""

    def __init__(self, threads: int) -> None:
        self.threads = threads

    def played(self, order: Order, stretches: Iterable[Stretch]) -> Iterator[Played]:
        from dramok.outside.games.batches import play

        for stretch in stretches:
            yield play(order, stretch, self.threads)


CONNECTED = 10
"""Seconds within which a scheduler answers."""
TRIES = 5
PLAYS_AT = 10
"""The niceness of the thread of a worker that plays."""
AHEAD = 2
"""Stretches asked for beforehand, for each worker: one that is played and one that waits."""


class Cluster:
    """The workers of a Dask scheduler at an address (see `dramok workers`). A stretch whose worker is lost is played again by another."""

    def __init__(self, address: str) -> None:
        from distributed import Client

        # Where nobody listens it is known at once: the client would go on trying until its time is over.
        there = urlsplit(address)
        if there.scheme == "tcp" and there.hostname:
            socket.create_connection((there.hostname, there.port or 8786), CONNECTED).close()
        self.client: Any = Client(address, timeout=f"{CONNECTED}s", set_as_default=False)  # type: ignore[no-untyped-call]

    def played(self, order: Order, stretches: Iterable[Stretch]) -> Iterator[Played]:
        # The order goes with each stretch, as text: what is held by workers alone is lost with them, and whatever has parts is looked through each time.
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

    def _result(self, order: str, stretch: Stretch, asked: Any) -> Played:
        """What a stretch came to; asked for anew where the cluster gave it up with the workers that it lost."""
        from concurrent.futures import CancelledError

        from distributed import KilledWorker

        for _ in range(TRIES):
            try:
                found: Played = asked.result()
                return found
            except (CancelledError, KilledWorker):
                asked = self._asked(order, stretch)
        last: Played = asked.result()
        return last

    def close(self) -> None:
        self.client.close()


def _play_there(order: str, stretch: tuple[int, int, int, int]) -> Played:
    """On a worker: the kernel is compiled there the first time."""
    compile_here()
    # Who hands out and who adds up go first, where they are on the same machine: else the workers wait for them.
    os.setpriority(os.PRIO_PROCESS, 0, max(PLAYS_AT, os.getpriority(os.PRIO_PROCESS, 0)))
    from dramok.outside.games.batches import Stretch, play

    return play(json.loads(order), Stretch(*stretch))


def compile_here() -> None:
    """Makes the kernel compiled in this process, from the cache where it is there. Before the engine is imported."""
    from dramok.core.compiling import mode

    if can_compile() and not mode().compiled:
        os.environ.update(environment())
        with compiling():
            from dramok.core.engine.games import play_games

            order = smallest()
            play_games(order["numbers"], order["defs"], order["decks"], order["pairs"], order["seed"], order["players"])
