"""The result of drawing one placement: its elements, and facts for the proof."""

from __future__ import annotations

from typing import NamedTuple

from dramok.core.faces.elements import Element
from dramok.core.faces.plan.sizes import Box


class DrawingResult(NamedTuple):
    """`ink` is the box of readable content, None for panels; `inks` are the boxes if there are several. Sizes
    in mm.

    `ground` is the colour of an opaque box below later elements and its own text; `colour` that of the text.
    `size` is the resulting em and `least` the plan's minimum; `whole`: nothing was cut; `lost`: characters
    missing from its font; `art`: a picture with its full printed width and height; `wants`: the file a picture
    waits for, or "-".
    """

    elements: tuple[Element, ...]
    ink: Box | None = None
    ground: str = ""
    ground_box: Box | None = None
    colour: str = ""
    size: float = 0.0
    least: float = 0.0
    whole: bool = True
    lost: str = ""
    art: tuple[str, float, float] | None = None
    wants: str = ""
    field: str | None = None
    inks: tuple[Box, ...] = ()
