"""Corrected cells of a table file, parsed from requests."""

from __future__ import annotations

from collections.abc import Mapping


def corrections_of(said: Mapping[str, str]) -> dict[tuple[int, int], str]:
    """Corrected cells by row (from 1) and column (from 0), from keys such as `row:column`."""
    corrections = {}
    for place, text in said.items():
        row, _, column = place.partition(":")
        if row.isdecimal() and column.isdecimal() and len(place) < 20:
            corrections[int(row), int(column)] = text
    return corrections
