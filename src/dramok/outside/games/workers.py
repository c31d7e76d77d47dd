"""Workers of a cluster: processes that play stretches of games for whoever asks its scheduler."""

from __future__ import annotations

import asyncio
import os
from collections.abc import Callable
from importlib.util import find_spec
from typing import Any

from dramok.outside.kernelprocess import environment

STOPPED = 5.0


def missing() -> bool:
    """Whether the package that schedules is not installed."""
    return find_spec("distributed") is None


def lend(number: int, join: str, listen: str, port: int, say: Callable[[str], None]) -> None:
    """Runs until it is interrupted. `number` 0: one worker a core. `join`: the address of a scheduler; else one is started here."""
    try:
        asyncio.run(_lend(number or os.cpu_count() or 1, join, listen, port, say))
    except KeyboardInterrupt:
        say("stopped")


async def _lend(number: int, join: str, listen: str, port: int, say: Callable[[str], None]) -> None:
    # What is compiled is found by the environment of the process: set before the first worker starts, and theirs too.
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
