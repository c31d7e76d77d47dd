"""The dealing rule shared by engine and exact odds: the odds call the kernel's function, so that they can't differ."""

from __future__ import annotations

from typing import cast

from dramok.core.engine.kernel.kernel_function import kernel
from dramok.core.engine.kernel.state import Numbers, State


@kernel
def drawn_at_once(p: Numbers, s: State, number: int, pile: int) -> int:
    """The number of redrawn cards that a draw pile of `pile` cards gives before returned cards are added.

    The rest is drawn afterwards.
    """
    return number if number < pile else pile


def at_once(number: int, pile: int) -> int:
    """The same for the odds, which have no table: it reads neither program nor state."""
    return drawn_at_once((), cast(State, None), number, pile)
