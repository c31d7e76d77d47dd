"""What lies on the table in print: for each card the face that was printed last, to be compared with the face as it is."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Any, Literal, NamedTuple

PaperState = Literal["", "current", "stale"]
"""How a card is on paper: never printed, as it is now, or otherwise."""


class OnPaper(NamedTuple):
    """A card's last printing: the run's id, the digests of the faces that were printed (`back` empty where only the front was), how many copies."""

    run: str
    front: str
    back: str
    copies: int


def last_printings(
    runs: Iterable[tuple[str, Mapping[str, Any]]], since: str | None = None
) -> dict[str, OnPaper]:
    """Each card's last printing, by card id. Runs are given as (id, document with `at` and `faces`), in any order.

    With `since`, only cards of that run, by that run and those after it.
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
