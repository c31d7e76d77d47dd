"""Empty cards, to be written by hand."""

from __future__ import annotations

from functools import lru_cache

from dramok.core.faces import Face, Path, Rect, Size

BLANK = ""
"""Stands for an empty card where cards are named by id."""
EDGE = "#9a9a9a"
HAIR = 0.15


@lru_cache(maxsize=16)
def blank_face(size: Size) -> Face:
    """White paper with a thin line at the cut, and one at the safe edge."""
    bleed = size.bleed
    ground = Rect(-bleed, -bleed, size.width + 2 * bleed, size.height + 2 * bleed, "#ffffff")
    lines = [
        Path(size.path(-grow), None, stroke=EDGE, width=HAIR, opacity=opacity)
        for grow, opacity in ((HAIR / 2, 1.0), (size.safe, 0.35))
    ]
    return Face(size, (ground, *lines), ())
