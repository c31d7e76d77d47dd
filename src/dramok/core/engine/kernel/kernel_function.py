"""The mark of a kernel function.

Every kernel function takes the program `p`, the state `s` (a second state is `q`), then rows and integers, and
returns an integer. It runs as plain Python at the table; `engine.lowering` translates it for simulations.
"""

from __future__ import annotations

from collections.abc import Callable
from inspect import Parameter, signature
from typing import TypeVar

F = TypeVar("F", bound=Callable[..., int])


def kernel(function: F) -> F:
    """Mark a kernel function.

    Raises TypeError for one that can't be translated: defaults, star arguments, closures, other first parameters.
    """
    parameters = list(signature(function).parameters.values())
    names = [each.name for each in parameters]
    plain = all(each.kind is Parameter.POSITIONAL_OR_KEYWORD and each.default is Parameter.empty for each in parameters)
    if names[:2] != ["p", "s"] or "q" in names[3:] or not plain or function.__code__.co_freevars:
        raise TypeError(f"{function.__name__} is not a kernel function: it takes p, s, then rows and integers")
    return function
