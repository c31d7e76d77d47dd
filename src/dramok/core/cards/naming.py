"""Lasting ids made from names."""

from __future__ import annotations

import re
from collections.abc import Collection
from unicodedata import normalize

MOST = 40


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
