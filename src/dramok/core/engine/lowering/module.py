"""What the functions of an LLVM module share: offsets of fields, names, the call graph, and the sites of checks."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from types import FunctionType

from dramok.core.engine.lowering.subset import FAULT, ROWS, Field, LoweringError, length_of, symbol


@dataclass
class Module:
    """What the functions of a module share: offsets of fields, names, the call graph, and the sites of checks."""

    fields: Sequence[Field]
    replaced: Mapping[Callable[..., int], Callable[..., int]]
    checked: bool
    waiting: list[tuple[str, FunctionType]] = field(default_factory=list)
    known: dict[str, FunctionType] = field(default_factory=dict)
    calls: dict[str, set[str]] = field(default_factory=dict)
    sites: list[str] = field(default_factory=list)

    def __post_init__(self) -> None:
        self.offsets: dict[str, tuple[int, int]] = {}
        at = 0
        for name, length in self.fields:
            self.offsets[name] = (at, length)
            at += length or 1

    def name_of(self, function: Callable[..., int]) -> str:
        """The name of a function; it is translated if it is new."""
        function = self.replaced.get(function, function)
        assert isinstance(function, FunctionType)
        name = symbol(function)
        if name not in self.known:
            self.known[name] = function
            self.calls[name] = set()
            self.waiting.append((name, function))
        elif self.known[name] is not function:
            raise LoweringError(f"two kernel functions have the name {name}")
        return name

    def head(self) -> list[str]:
        if not self.checked:
            return []
        lengths = "\n".join(f"@{length_of(each)} = global i64 0" for each in ROWS)
        return [
            f"@{FAULT} = global ptr null",
            lengths,
            "define internal void @kernel.check(i64 %index, i64 %length, i64 %site) nounwind alwaysinline {\n"
            "  %inside = icmp ult i64 %index, %length\n"
            "  br i1 %inside, label %well, label %fault\n"
            "fault:\n"
            f"  %handler = load ptr, ptr @{FAULT}\n"
            "  call void %handler(i64 %site, i64 %index, i64 %length)\n"
            "  unreachable\n"
            "well:\n"
            "  ret void\n"
            "}",
        ]
