"""Permanent ids made from names."""

from __future__ import annotations

import re
from collections.abc import Collection
from unicodedata import normalize

from dramok.core.problem import fold

MOST = 40


def name_apart(name: str, taken: Collection[str], most: int = 60) -> str:
    """A name that differs from all of `taken` ignoring case, with a number appended if needed.

    Up to `most` characters.
    """
    names = {fold(each) for each in taken}
    found, number = name[:most], 2
    while fold(found) in names:
        found, number = f"{name[: most - 5].strip()} {number}", number + 1
    return found


def id_from(name: str, used: Collection[str], fallback: str) -> str:
    """A lower-case id that begins with a letter and is not in `used`, made from the letters of the name."""
    plain = normalize("NFKD", name).encode("ascii", "ignore").decode().lower()
    stem = re.sub(r"[^a-z0-9]+", "-", plain).strip("-")[:MOST].strip("-")
    if not stem or not stem[0].isalpha():
        stem = f"{fallback}-{stem}".strip("-")
    ident, number = stem, 2
    while ident in used:
        ident, number = f"{stem}-{number}", number + 1
    return ident
