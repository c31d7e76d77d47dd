"""Card sizes and outlines, in mm."""

from __future__ import annotations

from math import atan2, degrees, hypot
from typing import Literal

from pydantic import Field, model_validator

from dramok.core.problem import Frozen

Outline = Literal["rectangle", "hexagon", "round"]
Box = tuple[float, float, float, float]
NAMED: dict[str, tuple[float, float, Outline]] = {
    "Poker": (63.5, 88.9, "rectangle"), "Bridge": (57.15, 88.9, "rectangle"), "Mini": (44.45, 63.5, "rectangle"),
    "Tarot": (69.85, 120.65, "rectangle"), "Square": (63.5, 63.5, "rectangle"), "Hexagon": (70.0, 60.62, "hexagon"), "Round": (63.5, 63.5, "round"),
}  # fmt: skip
"""Standard sizes, upright: width, height, outline."""
INCH = 25.4
HAIR = 0.01


class Size(Frozen):
    """The dimensions of a card in mm.

    `corner` is the radius of a rectangle's corners; `bleed` is outside the cut, `safe` inside it.
    """

    width: float = Field(default=63.5, ge=12, le=400, allow_inf_nan=False)
    height: float = Field(default=88.9, ge=12, le=400, allow_inf_nan=False)
    outline: Outline = "rectangle"
    corner: float = Field(default=3.2, ge=0, le=100, allow_inf_nan=False)
    bleed: float = Field(default=3.0, ge=0, le=15, allow_inf_nan=False)
    safe: float = Field(default=2.0, ge=0, le=50, allow_inf_nan=False)
    unit: Literal["mm", "in"] = "mm"

    @model_validator(mode="after")
    def _sound(self) -> Size:
        least = min(self.width, self.height)
        if self.corner > least / 2:
            raise ValueError(f"a corner of {self.corner:g} mm is more than half of {least:g} mm")
        if self.safe >= least / 2:
            raise ValueError(f"a safe edge of {self.safe:g} mm leaves nothing of {least:g} mm")
        return self

    @property
    def name(self) -> str:
        """The standard name of the size, in either orientation; `Own` for another."""
        mine = sorted((self.width, self.height))
        return next(
            (
                name
                for name, (wide, high, outline) in NAMED.items()
                if outline == self.outline
                and all(abs(a - b) < 0.06 for a, b in zip(mine, sorted((wide, high)), strict=True))
            ),
            "Own",
        )

    def corners(self, inset: float = 0) -> list[tuple[float, float]]:
        """A hexagon's corners, moved inwards by `inset`: points at the sides if it is wider than high."""
        wide, high = self.width, self.height
        cx, cy = wide / 2, high / 2
        if wide >= high:
            points = [(wide, cy), (wide * 0.75, high), (wide * 0.25, high), (0, cy), (wide * 0.25, 0), (wide * 0.75, 0)]  # fmt: skip
        else:
            points = [(cx, 0), (wide, high * 0.25), (wide, high * 0.75), (cx, high), (0, high * 0.75), (0, high * 0.25)]  # fmt: skip
        share = max(0.0, 1 - inset / (min(wide, high) / 2))
        return [(cx + (x - cx) * share, cy + (y - cy) * share) for x, y in points]

    def path(self, grow: float = 0) -> str:
        """The outline as an SVG path, `grow` mm larger on every side."""
        return _path(self, grow)

    def straight(self) -> str:
        """The outline for straight cuts, as an SVG path: a rectangle's corners are rounded afterwards."""
        return rounded(0, 0, self.width, self.height, 0) if self.outline == "rectangle" else self.path()

    def css(self) -> str:
        """The outline as a CSS declaration for a box of the card's shape: border-radius keeps the shadow, a
        clip-path does not.
        """
        if self.outline == "round":
            return "clip-path:ellipse(50% 50%)"
        if self.outline == "hexagon":
            said = ", ".join(
                f"{x / self.width * 100:.2f}% {y / self.height * 100:.2f}%" for x, y in self.corners()
            )
            return f"clip-path:polygon({said})"
        across, down = self.corner / self.width * 100, self.corner / self.height * 100
        return f"border-radius:{across:.2f}% / {down:.2f}%"

    def beyond_safe(self, box: Box) -> bool:
        """Whether any corner of a box is outside the safe edge."""
        x, y, wide, high = box
        if self.outline == "rectangle":
            safe = self.safe - HAIR
            return x < safe or y < safe or x + wide > self.width - safe or y + high > self.height - safe
        points = [(x, y), (x + wide, y), (x, y + high), (x + wide, y + high)]
        if self.outline == "round":
            rx, ry = self.width / 2 - self.safe + HAIR, self.height / 2 - self.safe + HAIR
            return any(
                hypot((px - self.width / 2) / rx, (py - self.height / 2) / ry) > 1 for px, py in points
            )
        edge = self.corners(self.safe - HAIR)
        return any(not _inside(point, edge) for point in points)


def _inside(point: tuple[float, float], corners: list[tuple[float, float]]) -> bool:
    """Whether a point is inside a convex outline with clockwise corners."""
    px, py = point
    for (ax, ay), (bx, by) in zip(corners, [*corners[1:], corners[0]], strict=True):
        if (bx - ax) * (py - ay) - (by - ay) * (px - ax) < -1e-9:
            return False
    return True


def _path(size: Size, grow: float) -> str:
    wide, high = size.width, size.height
    if size.outline == "round":
        rx, ry = wide / 2 + grow, high / 2 + grow
        left, middle = wide / 2 - rx, high / 2
        return f"M{left:g} {middle:g}a{rx:g} {ry:g} 0 1 1 {2 * rx:g} 0a{rx:g} {ry:g} 0 1 1 {-2 * rx:g} 0Z"
    if size.outline == "hexagon":
        return "M" + "L".join(f"{x:.3f} {y:.3f}" for x, y in size.corners(-grow)) + "Z"
    return rounded(-grow, -grow, wide + 2 * grow, high + 2 * grow, size.corner if not grow else 0)


def rounded(x: float, y: float, wide: float, high: float, corner: float) -> str:
    """A rectangle with rounded corners as an SVG path."""
    r = min(corner, wide / 2, high / 2)
    if r <= 0:
        return f"M{x:g} {y:g}h{wide:g}v{high:g}h{-wide:g}Z"
    return (
        f"M{x + r:g} {y:g}H{x + wide - r:g}A{r:g} {r:g} 0 0 1 {x + wide:g} {y + r:g}V{y + high - r:g}"
        f"A{r:g} {r:g} 0 0 1 {x + wide - r:g} {y + high:g}H{x + r:g}A{r:g} {r:g} 0 0 1 {x:g} {y + high - r:g}"
        f"V{y + r:g}A{r:g} {r:g} 0 0 1 {x + r:g} {y:g}Z"
    )


def hexagon_in(x: float, y: float, wide: float, high: float) -> str:
    """A hexagon that fills a box, pointing up and down."""
    points = [(x + wide / 2, y), (x + wide, y + high / 4), (x + wide, y + high * 3 / 4), (x + wide / 2, y + high), (x, y + high * 3 / 4), (x, y + high / 4)]  # fmt: skip
    return "M" + "L".join(f"{px:.3f} {py:.3f}" for px, py in points) + "Z"


def edges_of(size: Size) -> list[tuple[float, float, float]]:
    """Each edge of the outline clockwise from the top: its middle (x, y), and the turn in degrees of what is
    placed there.
    """
    wide, high = size.width, size.height
    if size.outline != "hexagon":
        return [(wide / 2, 0, 0), (wide, high / 2, 90), (wide / 2, high, 180), (0, high / 2, 270)]
    points = size.corners()
    found = []
    for (ax, ay), (bx, by) in zip(points, [*points[1:], points[0]], strict=True):
        found.append(((ax + bx) / 2, (ay + by) / 2))
    cx, cy = wide / 2, high / 2
    turned = [(x, y, _turn(x - cx, y - cy)) for x, y in found]
    return sorted(turned, key=lambda each: each[2])


def _turn(dx: float, dy: float) -> float:
    """The angle of a direction clockwise from up, in degrees from 0 to below 360."""
    return round(degrees(atan2(dx, -dy)) % 360, 3) % 360
