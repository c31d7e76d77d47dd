"""The switch between interpreted and compiled kernel functions.

Every kernel function takes the program `p`, the state `s` (a second state is `q`), then integers, and returns
an integer. Normally the decorator returns the function unchanged; in a process started for it
(`core.compile_switch`), numba compiles it. Only entry functions are cached, with everything they call: if they
are in the cache, nothing else is compiled.
"""

from __future__ import annotations

from collections.abc import Callable
from inspect import Parameter, signature
from typing import Any, TypeVar

from dramok.core.compile_switch import compiled_one, mode

F = TypeVar("F", bound=Callable[..., int])

COMPILED, WARM = mode()

if COMPILED:
    import numpy as np
    from numba import from_dtype, int64, njit
    from numba.core import cgutils
    from numba.extending import intrinsic
    from numba.types import CPointer

    from dramok.core.engine.kernel.state import fields

    DTYPE = np.dtype([(name, np.int64, (length,)) if length else (name, np.int64) for name, length in fields()])

    _KINDS: dict[str, Any] = {"p": CPointer(int64), "s": from_dtype(DTYPE), "q": from_dtype(DTYPE)}

    @intrinsic  # type: ignore[untyped-decorator]
    def pointer(context: Any, address: Any) -> Any:
        """A program's address as the bare pointer that the kernel takes: an array, handed down the calls, would halve their speed."""
        made = CPointer(int64)

        def code(context: Any, builder: Any, signature: Any, args: Any) -> Any:
            return builder.inttoptr(args[0], cgutils.intp_t.as_pointer())

        return made(int64), code


def kernel(function: F) -> F:
    """Mark a kernel function.

    Raises TypeError for one that can't be compiled: defaults, star arguments, closures, other parameter names.
    """
    parameters = list(signature(function).parameters.values())
    names = [each.name for each in parameters]
    plain = all(each.kind is Parameter.POSITIONAL_OR_KEYWORD and each.default is Parameter.empty for each in parameters)
    if names[:2] != ["p", "s"] or "q" in names[3:] or not plain or function.__code__.co_freevars:
        raise TypeError(f"{function.__name__} is not a kernel function: it takes p, s, then whole numbers")
    if not COMPILED or WARM:
        return function
    # With explicit types it is compiled once; a wrapper for Python would take a third longer.
    given = int64(*(_KINDS.get(name, int64) for name in names))
    made = njit(given, nogil=True, no_cpython_wrapper=True, no_cfunc_wrapper=True)(function)
    compiled_one()
    return made
