"""Makes the fonts that set-up copied ready for faces: run once by set-up.

Ligatures and other substitutions are removed, and each font has a family of its own: the page, the PNG painter and
the PDF painter then set the very same glyphs at the very same widths.
"""

from __future__ import annotations

from fontTools.ttLib import TTFont

from dramok.formats.font_files import FONTS, font_files
from dramok.formats.svg import FAMILIES

NAMED = {1: "family", 2: "Regular", 4: "family", 6: "post", 16: None, 17: None}
"""Entries of a font's name table that say what it is called (OpenType, table `name`)."""


def prepare(name: str, path: str) -> None:
    """Strips and renames one font, in place."""
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
