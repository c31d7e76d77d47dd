"""The subset of Python that the kernel uses: its pointers, its names in the module, and the error for anything else."""

from __future__ import annotations

from collections.abc import Callable

STATES = ("s", "q")
"""The pointers to a state, whose fields have names."""
ROWS = ("p", "deals", "results", "tally", "firsts")
"""The pointers to plain rows of integers: the program, and the input and output of a batch."""
POINTERS = (*STATES, *ROWS)
READ_ONLY = "p"
FAULT = "kernel.fault"
"""The global that holds the address of the handler for failed checks: (site, index, length)."""
MOST_RANGE = 3

Field = tuple[str, int]
class LoweringError(TypeError):
    """The source is outside the subset; the message has file, line and reason."""


def length_of(pointer: str) -> str:
    """The global of a checked build with the length of a row."""
    return f"kernel.length.{pointer}"


def symbol(function: Callable[..., int]) -> str:
    """The name of a function in the module."""
    return f"{function.__module__.rsplit('.', 1)[-1]}.{function.__name__}"
