"""English lists and forms for generated sentences."""

from __future__ import annotations

from collections.abc import Sequence


def and_list(parts: Sequence[str]) -> str:
    """`a, b and c`; without parts, `nothing`."""
    return parts[0] if len(parts) == 1 else f"{', '.join(parts[:-1])} and {parts[-1]}" if parts else "nothing"


def or_list(parts: Sequence[str]) -> str:
    """`a, b or c`; without parts, `card`."""
    return parts[0] if len(parts) == 1 else f"{', '.join(parts[:-1])} or {parts[-1]}" if parts else "card"


def plural_noun(noun: str) -> str:
    return noun if noun.endswith("s") else f"{noun[:-1]}ies" if noun.endswith("y") and noun[-2:-1] not in "aeiou" else f"{noun}s"


def upper_first(text: str) -> str:
    return text[:1].upper() + text[1:]


def lower_first(text: str) -> str:
    return text[:1].lower() + text[1:]
