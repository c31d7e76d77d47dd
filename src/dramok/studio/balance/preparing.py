"""The progress of compiling the rules, which happens once for each version on a machine, for those who wait for games."""

from __future__ import annotations

import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager

from dramok.outside.compilecache import compile_share

EVERY = 10.0
"""Seconds between two messages."""


@contextmanager
def saying_how_far(say: Callable[[str], object]) -> Iterator[None]:
    """Calls `say` with the progress every few seconds while the rules are being compiled."""
    over = threading.Event()

    def watch() -> None:
        begun = False
        while not over.wait(0.2 if not begun else EVERY):
            share = compile_share()
            if share is None:
                begun = False
                continue
            say(f"compiling the rules for this machine, once: {share:.0%}" + ("" if begun else "; this takes one to two minutes"))
            begun = True

    thread = threading.Thread(target=watch, name="compiling", daemon=True)
    thread.start()
    try:
        yield
    finally:
        over.set()
        thread.join()


__all__ = ["compile_share", "saying_how_far"]
