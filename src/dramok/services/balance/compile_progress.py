"""Report progress while the rules kernel compiles, which happens once for each version on a machine."""

from __future__ import annotations

import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager

from dramok.workers.compiled_kernel import compile_share

EVERY = 2.0
"""Seconds between two messages."""


@contextmanager
def report_compile_progress(say: Callable[[str], object]) -> Iterator[None]:
    """Call `say` with the progress every few seconds while the kernel compiles."""
    over = threading.Event()

    def watch() -> None:
        begun = False
        while not over.wait(0.2 if not begun else EVERY):
            share = compile_share()
            if share is None:
                begun = False
                continue
            say(f"compiling the rules for this machine, once: {share:.0%}" + ("" if begun else "; this takes some seconds"))
            begun = True

    thread = threading.Thread(target=watch, name="compiling", daemon=True)
    thread.start()
    try:
        yield
    finally:
        over.set()
        thread.join()


__all__ = ["compile_share", "report_compile_progress"]
