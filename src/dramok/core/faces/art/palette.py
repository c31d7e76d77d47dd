"""The colours of one picture."""

from __future__ import annotations

from typing import NamedTuple


class Palette(NamedTuple):
    """Colours of one picture. `leaf` comes from the bed; `bloom` is its contrast; `sky` and `far` from the hour."""

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
