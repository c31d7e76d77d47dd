"""Lasting ids made from names."""

from __future__ import annotations

import re
from collections.abc import Collection
from unicodedata import normalize

from dramok.core.problem import fold

MOST = 40


def name_apart(name: str, taken: Collection[str], most: int = 60) -> str:
    """A name that none of `taken` is, whatever its case; with a number behind it where it has to be. Up to `most` characters."""
    names = {fold(each) for each in taken}
    found, number = name[:most], 2
    while fold(found) in names:
        found, number = f"{name[: most - 5].strip()} {number}", number + 1
    return found


def id_from(name: str, used: Collection[str], fallback: str) -> str:
    """A lower case id that begins with a letter and that none of `used` is; from the name as far as it has letters."""
    plain = normalize("NFKD", name).encode("ascii", "ignore").decode().lower()
    stem = re.sub(r"[^a-z0-9]+", "-", plain).strip("-")[:MOST].strip("-")
    if not stem or not stem[0].isalpha():
        stem = f"{fallback}-{stem}".strip("-")
    ident, number = stem, 2
    while ident in used:
        ident, number = f"{stem}-{number}", number + 1
    return ident
