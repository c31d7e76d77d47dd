"""Work on what somebody brought (pictures, archives, sheets): in a queue of its own, so that reads never wait behind it."""

from __future__ import annotations

import asyncio
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from typing import TypeVar

Found = TypeVar("Found")
AT_ONCE = 1
"""So many uploads are worked on at once: what they draw runs in processes beside the server, which has other things to do."""
_workers = ThreadPoolExecutor(AT_ONCE, thread_name_prefix="uploads")


async def in_turn(work: Callable[[], Found]) -> Found:
    """What `work` gives, once the uploads before it are done; raises what it raises."""
    return await asyncio.get_running_loop().run_in_executor(_workers, work)
