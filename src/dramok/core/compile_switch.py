"""Whether the rules kernel is compiled in this process: set once at the start of the process, before the engine
is imported.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple


class Compiling(NamedTuple):
    """`compiled`: numba compiles the kernel; `warm`: compiled code is in the cache, so that nothing else is
    compiled.
    """

    compiled: bool = False
    warm: bool = False


_mode = Compiling()
_notice: Callable[[], None] | None = None


def mode() -> Compiling:
    return _mode


def compile_kernel(warm: bool, notice: Callable[[], None] | None = None) -> None:
    """Compile the kernel's functions when they are imported.

    Only for separate processes, never for the server. `notice` is called after each function.
    """
    global _mode, _notice
    _mode, _notice = Compiling(True, warm), notice


def compiled_one() -> None:
    """Report that a function of the kernel is compiled."""
    if _notice is not None:
        _notice()
