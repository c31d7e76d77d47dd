"""Colours of a face plan: paper, and tints that follow a choice field, such as `@bed-30`."""

from __future__ import annotations

import re
from functools import lru_cache

PAPER = "#f7f1e3"
_TINT = re.compile(r"@([a-z][a-z0-9-]*?)(?:([+-])(\d{1,2}))?$")


def followed(colour: str) -> str:
    """The choice field of a plan's colour; empty for a fixed colour."""
    field = tint_of(colour)[0] if colour.startswith("@") else ""
    return "" if field == "back" else field


@lru_cache(maxsize=4096)
def tint_of(said: str) -> tuple[str, str, int]:
    """The field, sign and percentage of a colour such as `@bed-30`."""
    match = _TINT.match(said)
    if match is None:
        return "", "", 0
    field, sign, amount = match.groups()
    return field, sign or "", int(amount or 0)
