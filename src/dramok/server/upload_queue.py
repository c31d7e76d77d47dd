"""A separate queue for uploads (pictures, archives, table files), so that reads are not delayed."""

from __future__ import annotations

import asyncio
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from typing import TypeVar

Found = TypeVar("Found")
AT_ONCE = 1
"""The number of concurrent uploads: they render in child processes, and the server needs the rest of the machine."""
_workers = ThreadPoolExecutor(AT_ONCE, thread_name_prefix="uploads")


async def run_queued(work: Callable[[], Found]) -> Found:
    """Run `work` after the uploads before it; returns or raises what it does."""
    return await asyncio.get_running_loop().run_in_executor(_workers, work)
