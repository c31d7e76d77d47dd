"""When the memory's garbage is not looked for."""

from __future__ import annotations

import gc
from collections.abc import Iterator
from contextlib import contextmanager


@contextmanager
def no_collection() -> Iterator[None]:
    """Work on a large game makes ten thousands of lasting objects and no rings of them: looking for rings costs a third of it."""
    was_on = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        if was_on:
            gc.enable()
