"""The rule of dealing that the table and the exact odds share: the odds call the kernel's own function, so that the two can't differ."""

from __future__ import annotations

from typing import cast

from dramok.core.engine.kernel.compile_mode import kernel
from dramok.core.engine.kernel.state import Numbers, State


@kernel
def drawn_at_once(p: Numbers, s: State, number: int, pile: int) -> int:
    """The number of a redraw's cards that a draw pile of `pile` cards gives before returned cards are in it. The rest is drawn after that."""
    return number if number < pile else pile


def at_once(number: int, pile: int) -> int:
    """The same for the odds, which have no table: it reads neither program nor state."""
    return drawn_at_once((), cast(State, None), number, pile)
