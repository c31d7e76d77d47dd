"""What came of drawing one placement: its elements, and what the proof wants to know of it."""

from __future__ import annotations

from typing import NamedTuple

from dramok.core.faces.elements import Element
from dramok.core.faces.plan.sizes import Box


class Drawn(NamedTuple):
    """`ink` is the box of what can be read or seen as content, None for furniture; `inks` are the boxes where they are several. Sizes in mm.

    `ground` is the colour of an opaque box, under what is drawn later and under its own text; `colour` that of the text.
    `size` is the em it came to and `least` the plan's; `whole`: nothing was cut; `lost`: characters its font lacks;
    `art`: a picture and the width and height at which its whole would be printed; `wants`: the file a picture waits for, or "-".
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
