"""Translate kernel functions with everything that they call to one LLVM module."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from graphlib import CycleError, TopologicalSorter

from dramok.core.engine.lowering.function import Function
from dramok.core.engine.lowering.module import Module
from dramok.core.engine.lowering.subset import Field, LoweringError


@dataclass(frozen=True)
class Lowered:
    """`text` is the LLVM module; `sites` are the places of its checks, as `file:line`, by number."""

    text: str
    sites: tuple[str, ...]


def lower(
    entries: Sequence[Callable[..., int]], fields: Sequence[Field],
    replaced: Mapping[Callable[..., int], Callable[..., int]] | None = None, checked: bool = False,
) -> Lowered:  # fmt: skip
    """Translate functions with everything that they call.

    `fields` are (name, length) of a state in order, length 0 for a single number; `replaced` maps functions to the
    ones that are compiled in their place. Raises LoweringError.
    """
    module = Module(fields, replaced or {}, checked)
    names = {module.name_of(each) for each in entries}
    bodies = []
    while module.waiting:
        name, function = module.waiting.pop()
        bodies.append(Function(module, name, function, name not in names).text())
    try:
        TopologicalSorter(module.calls).prepare()
    except CycleError as error:
        raise LoweringError(f"kernel functions call each other in a cycle: {' -> '.join(error.args[1])}") from error
    return Lowered("\n\n".join([*module.head(), *bodies, ""]), tuple(module.sites))
