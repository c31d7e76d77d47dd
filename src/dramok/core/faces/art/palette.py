"""The colours of one picture."""

from __future__ import annotations

from typing import NamedTuple


class Palette(NamedTuple):
    """The colours of one picture.

    `leaf` comes from the faction; `bloom` is its contrast; `sky` and `far` from the time of day.
    """

    sky: str
    glow: str
    far: str
    near: str
    dark: str
    leaf: str
    light: str
    bloom: str
    heart: str
    night: bool
