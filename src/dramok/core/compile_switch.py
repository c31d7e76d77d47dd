"""Whether the rules kernel is compiled in this process: said once, by who starts the process, before the engine is imported."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple


class Compiling(NamedTuple):
    """`compiled`: numba compiles the kernel; `warm`: what was compiled before is at hand, so that nothing else need be."""

    compiled: bool = False
    warm: bool = False


_mode = Compiling()
_notice: Callable[[], None] | None = None


def mode() -> Compiling:
    return _mode


def compile_kernel(warm: bool, notice: Callable[[], None] | None = None) -> None:
    """From here on the kernel's functions are compiled as they are imported. Only in a process of its own: never in the server's. `notice` is called
    after each function."""
    global _mode, _notice
    _mode, _notice = Compiling(True, warm), notice


def compiled_one() -> None:
    """A function of the kernel is compiled."""
    if _notice is not None:
        _notice()
