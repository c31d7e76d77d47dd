"""What `it` means: the one place that says so, asked by prices and wording, and true of the table."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from dramok.core.effects.model import It, Pick, Step, Target, This, target_of


def aimed(steps: Iterable[Step]) -> Iterator[tuple[Step, Target | None]]:
    """Each step of one ability with what it is done to: `it` as the latest pick before it, None where a step is done to nothing.

    An `it` before any pick, which no readable line has, is the card itself.
    """
    latest: Target = This()
    for step in steps:
        target = target_of(step)
        if isinstance(target, It):
            target = latest
        elif isinstance(target, Pick):
            latest = target
        yield step, target
