"""The fonts and symbols that setup copied from their packages."""

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
"""Current ids of symbols by their old ids; the old ones are still drawn but not offered."""


_OWN: dict[str, bytes] = {}
"""Own fonts in use on faces, by their name on a face, for the renderers."""


def remember_own(name: str, data: bytes) -> None:
    """Register a font of a game for the renderers of this process."""
    _OWN[name] = data


def own_font(name: str) -> bytes | None:
    """The bytes of an own font by its name on a face; None for built-in fonts."""
    return _OWN.get(name)


class NotSetUp(RuntimeError):
    """Fonts or symbols are missing: setup has not run."""


def font_files() -> dict[str, str]:
    """The path of each font by its name on a face."""
    return {name: str(ASSETS / "fonts" / file) for name, file in FONTS.items()}


@cache
def load_typefaces() -> Typefaces:
    """Read every font and symbol once. Raises NotSetUp if setup has not copied them."""
    try:
        fonts = {name: (ASSETS / "fonts" / file).read_bytes() for name, file in FONTS.items()}
    except FileNotFoundError as error:
        raise NotSetUp(f"{error.filename} is missing; run `make setup`") from error
    symbols = {}
    for file in sorted((ASSETS / "symbols").glob("*.svg")):
        found = _PATH.findall(file.read_text(encoding="utf-8"))
        symbols[file.stem] = " ".join(found)
    # Older versions used other names for some symbols.
    symbols |= {old: symbols[new] for old, new in RENAMED_SYMBOLS.items() if new in symbols}
    return Typefaces(fonts, symbols)


@lru_cache(maxsize=64)
def _typefaces_with(own: tuple[tuple[str, str], ...]) -> Typefaces:
    return load_typefaces().with_own({use: (name, _OWN[name]) for use, name in own})


def typefaces_with(own: Mapping[str, tuple[str, bytes]]) -> Typefaces:
    """The typefaces of a game with its own fonts: (name on the face, bytes) by use.

    Equal input returns the same object.
    """
    if not own:
        return load_typefaces()
    for name, data in own.values():
        remember_own(name, data)
    return _typefaces_with(tuple(sorted((use, name) for use, (name, _) in own.items())))
