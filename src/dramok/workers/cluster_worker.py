"""Cluster workers: processes that play batches of games for a scheduler."""

from __future__ import annotations

import asyncio
import os
from collections.abc import Callable
from importlib.util import find_spec
from typing import Any

from dramok.workers.kernel_process import environment

STOPPED = 5.0


def missing() -> bool:
    """Whether the scheduling package is missing."""
    return find_spec("distributed") is None


def run_workers(number: int, join: str, listen: str, port: int, say: Callable[[str], None]) -> None:
    """Run workers until interrupted.

    `number` 0: one for each core. `join`: the address of a scheduler; otherwise one is started here.
    """
    try:
        asyncio.run(_lend(number or os.cpu_count() or 1, join, listen, port, say))
    except KeyboardInterrupt:
        say("stopped")


async def _lend(number: int, join: str, listen: str, port: int, say: Callable[[str], None]) -> None:
    # Compiled code is found through the environment: set it before the first worker starts.
    os.environ.update(environment())
    import dask

    dask.config.set({"logging.distributed": "warning"})
    from distributed import Nanny, Scheduler

    scheduler: Any = None
    if not join:
        scheduler = await Scheduler(host=listen, port=port, dashboard=False, dashboard_address=f"{listen}:0")
    address = join or scheduler.address
    workers: list[Any] = []
    try:
        for _ in range(number):
            workers.append(await Nanny(address, nthreads=1, host=listen if not join else None, env=environment(), dashboard=False))
        say(f"{number} workers at {address}")
        say(f"on other machines: dramok workers --join {address}")
        say(f"to use them: dramok measure --game GAME --cluster {address}")
        await (scheduler.finished() if scheduler else asyncio.gather(*[each.finished() for each in workers]))
    finally:
        for each in workers:
            await each.close(timeout=STOPPED)
        if scheduler is not None:
            await scheduler.close()
