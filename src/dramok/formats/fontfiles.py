"""The fonts and symbols that set-up copied from the packages they come in."""

from __future__ import annotations

import re
from functools import cache
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
