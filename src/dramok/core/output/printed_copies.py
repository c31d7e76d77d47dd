"""Printed copies: for each card the face that was printed last, for comparison with the current one."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Any, Literal, NamedTuple

PaperState = Literal["", "current", "stale"]
"""The print state of a card: never printed, up to date, or out of date."""


class OnPaper(NamedTuple):
    """The last printing of a card: the run's id, the digests of the printed faces (`back` empty if only the
    front was), the number of copies.
    """

    run: str
    front: str
    back: str
    copies: int


def last_printings(
    runs: Iterable[tuple[str, Mapping[str, Any]]], since: str | None = None
) -> dict[str, OnPaper]:
    """The last printing of each card, by card id. Runs are (id, document with `at` and `faces`), in any order.

    With `since`, only cards of that run, by that run and later ones.
    """
    held = sorted(runs, key=lambda run: (str(run[1]["at"]), run[0]))
    only: Mapping[str, Any] | None = None
    if since is not None:
        places = [place for place, (ident, _) in enumerate(held) if ident == since]
        held = held[places[0] :] if places else []
        only = held[0][1]["faces"] if held else {}
    found: dict[str, OnPaper] = {}
    for ident, doc in held:
        faces: Mapping[str, Sequence[Any]] = doc["faces"]
        for card, (front, back, copies) in faces.items():
            if only is None or card in only:
                found[card] = OnPaper(ident, front, back, copies)
    return found
