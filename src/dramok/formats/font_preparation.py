"""Prepare the built-in fonts for faces; run once by setup.

Removes ligatures and other substitutions and gives each font its own family, so that the page and the PNG and
PDF renderers use the same glyphs with the same widths.
"""

from __future__ import annotations

from fontTools.ttLib import TTFont

from dramok.formats.font_files import FONTS, font_files
from dramok.formats.svg import FAMILIES

NAMED = {1: "family", 2: "Regular", 4: "family", 6: "post", 16: None, 17: None}
"""Name entries that contain the font's name (OpenType, table `name`)."""


def prepare(name: str, path: str) -> None:
    """Strip and rename one font file in place."""
    font = TTFont(path)
    if "GSUB" in font:
        del font["GSUB"]
    family = FAMILIES[name]
    for record in list(font["name"].names):
        if record.nameID not in NAMED:
            continue
        said = {"family": family, "post": family.replace(" ", ""), "Regular": "Regular", None: None}[
            NAMED[record.nameID]
        ]
        if said is None:
            font["name"].names.remove(record)
        else:
            record.string = said
    font["OS/2"].usWeightClass = 400
    font["OS/2"].fsSelection = 0x40
    font["head"].macStyle = 0
    font.save(path)


def main() -> None:
    for name, path in font_files().items():
        prepare(name, path)
    print(f"{len(FONTS)} fonts made ready")


if __name__ == "__main__":
    main()
