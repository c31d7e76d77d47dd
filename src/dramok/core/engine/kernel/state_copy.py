"""Copy a match at any moment: only the used part of each list, without the log."""

from __future__ import annotations

from dramok.core.engine.kernel import codes as k
from dramok.core.engine.kernel.state import PER_CARD, ROWS, SINGLE, Numbers, State

FIXED = ("chance", "res", "zhead", "ztail", "zcount", "out", "reshuffled", "watch", "bought")
"""Short lists that are copied completely."""


HEAD = '''"""Generated from the list of the state's fields by `state_copy` (`make api`), for the compiled kernel. Do not edit."""

from __future__ import annotations

from dramok.core.engine.kernel.kernel_function import kernel
from dramok.core.engine.kernel.state import Numbers, State


@kernel
def copy(p: Numbers, s: State, q: State) -> int:
    """Copy the match `s` into `q`."""'''


def written() -> str:
    """The copy function as kernel source, generated from the list of fields."""
    lines = [HEAD]
    lines += [f"    q.{name} = s.{name}" for name in SINGLE if name not in ("logs", "digests", "nlog")]
    lines += [f"    q.{name} = 0" for name in ("logs", "digests", "nlog")]
    for name in FIXED:
        lines += [f"    for at in range({dict(ROWS)[name]}):", f"        q.{name}[at] = s.{name}[at]"]
    for count, names in (
        (f"s.top * {k.FRAME}", ("fr",)), ("s.nset", ("sets", "seti")), ("s.nmod", ("modc", "modi", "modk", "modw", "moda", "modu", "mods", "modf")),
        ("s.nlater * 16", ("later",)), ("s.npend * 6", ("pend",)), ("s.npick", ("pick",)), ("s.cards", PER_CARD),
        (f"s.cards * {k.MOST_STATS}", ("stat",)), (f"s.cards * {k.MOST_COUNTERS} if p[{k.H_COUNTERS}] else 0", ("counter",)),
    ):  # fmt: skip
        lines += [f"    for at in range({count}):", *(f"        q.{name}[at] = s.{name}[at]" for name in names)]
    return "\n".join([*lines, "    return 0", ""])


def copy(p: Numbers, s: State, q: State) -> int:
    """Copy the match `s` into `q`, field by field. Compiled code uses `state_copy_generated` instead."""
    for name in SINGLE:
        setattr(q, name, getattr(s, name))
    for name, _ in ROWS:
        getattr(q, name)[:] = getattr(s, name)
    for name in (*PER_CARD, "stat", "counter"):
        held = getattr(s, name)
        count = s.cards * {"stat": k.MOST_STATS, "counter": k.MOST_COUNTERS}.get(name, 1)
        getattr(q, name)[:count] = held[:count]
    q.logs = q.digests = q.nlog = 0
    return 0


__all__ = ["copy", "written"]
