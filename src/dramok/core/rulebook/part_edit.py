"""Replace one part of a rulebook document: the form of edits of the rules in the journal."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from dramok.core.rulebook.rulebook import Rulebook

PARTS = ("types", "lists")
WHOLE = ("name", "roles", "resources", "tags", "table", "play", "phrases", "keywords", "symbols", "fonts")
"""Parts of a rulebook that are replaced as a whole."""
BESIDE = ("prices", "formats", "away")
"""Parts of the rules document outside the rulebook."""


def part_of(rulebook: Rulebook, part: str) -> Any:
    """The document of `types/ID`, `lists/ID` or a whole part, without default values; None if it does not exist."""
    room, _, ident = part.partition("/")
    if room in WHOLE:
        return rulebook.model_dump(mode="json")[room]
    if room == "types":
        held = rulebook.cards.type(ident) if rulebook.cards.has_type(ident) else None
        return held.model_dump(mode="json", exclude_none=True) if held else None
    found = rulebook.cards.list(ident) if rulebook.cards.has_list(ident) else None
    return found.model_dump(mode="json", exclude_defaults=True) if found else None


def amended(document: dict[str, Any], part: str, value: Any) -> dict[str, Any]:
    """The document with `types/ID` or `lists/ID` (or a whole top-level part) set to `value`; None removes it.

    A new type or list is appended. Raises KeyError for an unknown part.
    """
    room, _, ident = part.partition("/")
    if not ident:
        if room not in WHOLE + BESIDE:
            raise KeyError(part)
        return {**document, room: value}
    if room not in PARTS:
        raise KeyError(part)
    cards = document["cards"]
    held = list(cards.get(room, ()))
    place = next((index for index, each in enumerate(held) if each["id"] == ident), len(held))
    held[place : place + 1] = [] if value is None else [value]
    return {**document, "cards": {**cards, room: held}}


def part_in(document: Mapping[str, Any], part: str) -> Any:
    """A part of a rulebook document, unchanged; None if it does not exist."""
    room, _, ident = part.partition("/")
    if not ident:
        return document.get(room)
    return next((each for each in document["cards"].get(room, ()) if each["id"] == ident), None)
