"""The fonts and symbols that set-up copied from the packages they come in."""

from __future__ import annotations

import re
from collections.abc import Mapping
from functools import cache, lru_cache
from pathlib import Path

from dramok.core.faces import Typefaces

ASSETS = Path(__file__).resolve().parent.parent / "assets"
FONTS = {
    "name": "name.ttf",
    "body": "body.ttf",
    "italic": "italic.ttf",
    "figures": "figures.ttf",
    "rest": "rest.ttf",
}
_PATH = re.compile(r'<path d="([^"]+)"')


RENAMED_SYMBOLS = {"reach": "height"}
"""Ids that symbols had in older versions, with their present ids: they are drawn, and offered nowhere."""


_OWN: dict[str, bytes] = {}
"""Fonts of games' own that faces are set in, by their name on a face: painters find them here."""


def remember_own(name: str, data: bytes) -> None:
    """Makes a font of a game's own known to the painters of this process."""
    _OWN[name] = data


def own_font(name: str) -> bytes | None:
    """The bytes of a font of a game's own by its name on a face; None for the built-in ones."""
    return _OWN.get(name)


class NotSetUp(RuntimeError):
    """Fonts or symbols are missing: set-up has not run."""


def font_files() -> dict[str, str]:
    """The path of each font by its name on a face."""
    return {name: str(ASSETS / "fonts" / file) for name, file in FONTS.items()}


@cache
def load_typefaces() -> Typefaces:
    """Reads every font and symbol once. Raises NotSetUp where set-up has not copied them."""
    try:
        fonts = {name: (ASSETS / "fonts" / file).read_bytes() for name, file in FONTS.items()}
    except FileNotFoundError as error:
        raise NotSetUp(f"{error.filename} is missing; run `make setup`") from error
    symbols = {}
    for file in sorted((ASSETS / "symbols").glob("*.svg")):
        found = _PATH.findall(file.read_text(encoding="utf-8"))
        symbols[file.stem] = " ".join(found)
    # Games of older versions name some symbols otherwise.
    symbols |= {old: symbols[new] for old, new in RENAMED_SYMBOLS.items() if new in symbols}
    return Typefaces(fonts, symbols)


@lru_cache(maxsize=64)
def _typefaces_with(own: tuple[tuple[str, str], ...]) -> Typefaces:
    return load_typefaces().with_own({use: (name, _OWN[name]) for use, name in own})


def typefaces_with(own: Mapping[str, tuple[str, bytes]]) -> Typefaces:
    """The typefaces of a game with fonts of its own: (name on the face, bytes) by their use. The same fonts give the same object."""
    if not own:
        return load_typefaces()
    for name, data in own.values():
        remember_own(name, data)
    return _typefaces_with(tuple(sorted((use, name) for use, (name, _) in own.items())))
