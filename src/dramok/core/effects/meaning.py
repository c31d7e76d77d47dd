"""What `it` means: the one place that says so, asked by prices and wording, and true of the table."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from dramok.core.effects.model import All, It, Pick, Step, Target, This


def aimed(steps: Iterable[Step], latest: Target | None = None) -> Iterator[tuple[Step, Target | None]]:
    """Each step of one ability with what it is done to: `it` as the latest pick before it, None where a step is done to nothing.

    An `it` before any pick, which no readable line has, is the card itself. What is inside a step is not gone into: see `inside`.
    """
    latest = latest or This()
    for step in steps:
        target = step.target
        if isinstance(target, It):
            target = latest
        elif isinstance(target, Pick):
            target = latest = target if not target.of_it else _of(target, latest)
        yield step, target


def inside(step: Step, latest: Target | None) -> Target | None:
    """What `it` is for the steps within a step: the card of its loop, else what it was before."""
    return All(group=step.group) if step.verb == "each" and step.group else latest


def _of(pick: Pick, latest: Target) -> Target:
    return pick if isinstance(latest, This) else pick.model_copy(update={"group": getattr(latest, "group", pick.group)})
