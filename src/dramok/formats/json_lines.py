"""JSON layout of archives: short items on one line, long ones indented."""

from __future__ import annotations

import json
from typing import Any


def laid_out_json(document: Any) -> str:
    return _laid_out(document, 0) + "\n"


_DEEP = 3
"""Nesting levels with lines of their own; deeper data, such as the steps of an effect, stays on one line."""
_line = json.JSONEncoder(ensure_ascii=False, sort_keys=True).encode


def _laid_out(document: Any, deep: int) -> str:
    """JSON with sorted keys, one value per line, so that versions of a game differ only in changed lines."""
    if deep >= _DEEP or not document or not isinstance(document, dict | list):
        return _line(document)
    inner, outer = "\n" + " " * (deep + 1), "\n" + " " * deep
    if isinstance(document, list):
        return (
            "[" + inner + ("," + inner).join([_laid_out(each, deep + 1) for each in document]) + outer + "]"
        )
    parts = [f"{_line(key)}: {_laid_out(document[key], deep + 1)}" for key in sorted(document)]
    return "{" + inner + ("," + inner).join(parts) + outer + "}"
