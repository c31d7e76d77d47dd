"""JSON as archives hold it: short things on a line, long ones laid out."""

from __future__ import annotations

import json
from typing import Any


def laid_out_json(document: Any) -> str:
    return _laid_out(document, 0) + "\n"


_DEEP = 3
"""So many levels stand on lines of their own; what is deeper, such as an effect's steps, stands in one line."""
_line = json.JSONEncoder(ensure_ascii=False, sort_keys=True).encode


def _laid_out(document: Any, deep: int) -> str:
    """JSON with sorted keys, one value a line: two versions of a game differ in the lines that differ."""
    if deep >= _DEEP or not document or not isinstance(document, dict | list):
        return _line(document)
    inner, outer = "\n" + " " * (deep + 1), "\n" + " " * deep
    if isinstance(document, list):
        return (
            "[" + inner + ("," + inner).join([_laid_out(each, deep + 1) for each in document]) + outer + "]"
        )
    parts = [f"{_line(key)}: {_laid_out(document[key], deep + 1)}" for key in sorted(document)]
    return "{" + inner + ("," + inner).join(parts) + outer + "}"
