"""Validation of text, numbers and nesting, applied once to all input.

Text has no NUL (databases and C libraries stop there) and no lone surrogate (it has no UTF-8 form); a number
fits in 64 bits and is finite; a document is nested at most `MOST_DEPTH` levels. HTTP, archives, imports and the
command line use it, and so does the last check before a change is written.
"""

from __future__ import annotations

import re
from math import isfinite
from typing import Annotated, Any

from pydantic import AfterValidator, Field
from pydantic_core import from_json

MOST_DEPTH = 60
MOST_NUMBER = 2**63 - 1
_SURROGATE = re.compile("[\ud800-\udfff]")
_CONTROLS = re.compile("[\x00-\x08\x0b\x0c\x0e-\x1f\x7f]")
_SUSPECT = re.compile(r"\\u0000|\\u[dD][89a-fA-F]|[\x00\ud800-\udfff]")


class InvalidInput(ValueError):
    """An invalid document: `where` is the place in it, such as `fields.0.name`; `what` is wrong; `mend` is the fix."""

    def __init__(self, where: str, what: str, mend: str) -> None:
        super().__init__(f"{where}: {what}" if where else what)
        self.where, self.what, self.mend = where, what, mend


def text_fault(text: str) -> str | None:
    """What is wrong with a text, or None."""
    if "\x00" in text:
        return "a text holds a NUL character"
    if not text.isascii() and _SURROGATE.search(text):
        return "a text holds half of a surrogate pair"
    return None


def without_controls(text: str) -> str:
    """The text with uniform line ends, without control characters other than tab and line feed."""
    return _CONTROLS.sub("", text.replace("\r\n", "\n").replace("\r", "\n"))


def check_text(text: str, where: str = "") -> str:
    """Raises Unsound."""
    fault = text_fault(text)
    if fault is not None:
        raise InvalidInput(where, fault, "remove that character")
    return text


def check_document(document: Any, where: str = "", most_depth: int = MOST_DEPTH) -> None:
    """Check plain data (dict, list, text, number). Raises Unsound with the place of the first fault."""
    waiting: list[tuple[Any, tuple[str | int, ...]]] = [(document, ())]
    while waiting:
        each, path = waiting.pop()
        if isinstance(each, str):
            fault = text_fault(each)
        elif isinstance(each, dict):
            fault = next((found for key in each if (found := text_fault(str(key)))), None)
            waiting += [(value, (*path, key)) for key, value in each.items()]
        elif isinstance(each, list | tuple):
            fault = None
            waiting += [(value, (*path, number)) for number, value in enumerate(each)]
        else:
            fault = number_fault(each)
        if fault is None and len(path) > most_depth:
            fault = f"it is nested over {most_depth} deep"
        if fault is not None:
            place = ".".join(str(part)[:40] for part in path[:8]).replace("\x00", "")
            place = _SURROGATE.sub("", place)
            mend = "nest it less" if "nested" in fault else "correct that place"
            raise InvalidInput(".".join(part for part in (where, place) if part), fault, mend)


def number_fault(number: Any) -> str | None:
    """What is wrong with a number, or None; other values are accepted."""
    if isinstance(number, bool):
        return None
    if isinstance(number, int) and abs(number) > MOST_NUMBER:
        return "a number has over 64 bits"
    if isinstance(number, float) and not isfinite(number):
        return "a number is not finite"
    return None


def read_json(data: bytes | str, where: str = "", most_depth: int = MOST_DEPTH) -> Any:
    """Parse JSON to plain data. Raises Unsound for invalid JSON or content."""
    try:
        document = from_json(data, allow_inf_nan=False)
    except ValueError as error:
        raise InvalidInput(where, f"this is not JSON: {str(error)[:120]}", "correct that place") from error
    check_document(document, where, most_depth)
    return document


def check_json_text(text: str, where: str = "") -> None:
    """Raises Unsound for JSON text with invalid content. Fast for ordinary text."""
    if ("\\u" in text or not text.isascii() or "\x00" in text) and _SUSPECT.search(text):
        read_json(text, where)


def _sound(text: str) -> str:
    fault = text_fault(text)
    if fault is not None:
        raise ValueError(fault)
    return text


Text = Annotated[str, AfterValidator(_sound)]
"""Text without NUL and lone surrogates."""
Ident = Annotated[str, Field(pattern=r"^[A-Za-z0-9~_.-]+$", min_length=1, max_length=80)]
"""An id: letters, digits and `~_.-`."""
Place = Annotated[int, Field(ge=0, le=2**53)]
"""The number of an op, a row, a page."""
