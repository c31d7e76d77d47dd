"""Colours and outlines shared by all pictures. Whole units; y grows downward; angles in degrees, 0 is right."""

from __future__ import annotations

from functools import lru_cache
from math import atan2, cos, degrees, pi, radians, sin

Point = tuple[float, float]


@lru_cache(maxsize=8192)
def mix(one: str, other: str, share: float) -> str:
    """`one` mixed with a `share` of `other`, all #rrggbb."""
    pairs = [(int(one[i : i + 2], 16), int(other[i : i + 2], 16)) for i in (1, 3, 5)]
    return "#" + "".join(f"{round(a + (b - a) * share):02x}" for a, b in pairs)


def at(origin: Point, angle: float, length: float) -> Point:
    return origin[0] + cos(radians(angle)) * length, origin[1] + sin(radians(angle)) * length


def leaf(base: Point, angle: float, length: float, width: float) -> str:
    """A pointed leaf from its base."""
    tip, middle = at(base, angle, length), at(base, angle, length * 0.42)
    left, right = at(middle, angle - 90, width), at(middle, angle + 90, width)
    return f"M{base[0]:.0f} {base[1]:.0f}Q{left[0]:.0f} {left[1]:.0f} {tip[0]:.0f} {tip[1]:.0f}Q{right[0]:.0f} {right[1]:.0f} {base[0]:.0f} {base[1]:.0f}Z"


def half_leaf(base: Point, angle: float, length: float, width: float) -> str:
    """The lower half of a leaf, for its shaded side."""
    tip, middle = at(base, angle, length), at(base, angle, length * 0.42)
    side = at(middle, angle + 90, width)
    return f"M{base[0]:.0f} {base[1]:.0f}Q{side[0]:.0f} {side[1]:.0f} {tip[0]:.0f} {tip[1]:.0f}Z"


def petal(base: Point, angle: float, length: float, width: float) -> str:
    """A rounded petal: widest near its end."""
    tip = at(base, angle, length)
    left, right = (
        at(at(base, angle, length * 0.75), angle - 90, width),
        at(at(base, angle, length * 0.75), angle + 90, width),
    )
    far_left, far_right = at(tip, angle - 90, width * 0.55), at(tip, angle + 90, width * 0.55)
    return (
        f"M{base[0]:.0f} {base[1]:.0f}C{left[0]:.0f} {left[1]:.0f} {far_left[0]:.0f} {far_left[1]:.0f} {tip[0]:.0f} {tip[1]:.0f}"
        f"C{far_right[0]:.0f} {far_right[1]:.0f} {right[0]:.0f} {right[1]:.0f} {base[0]:.0f} {base[1]:.0f}Z"
    )


def disc(centre: Point, radius: float) -> str:
    x, y = centre
    return f"M{x - radius:.0f} {y:.0f}a{radius:.0f} {radius:.0f} 0 1 0 {2 * radius:.0f} 0a{radius:.0f} {radius:.0f} 0 1 0 {-2 * radius:.0f} 0Z"


def polygon(points: list[Point]) -> str:
    return "M" + "L".join(f"{x:.0f} {y:.0f}" for x, y in points) + "Z"


def curve(start: Point, control: Point, end: Point) -> str:
    return f"M{start[0]:.0f} {start[1]:.0f}Q{control[0]:.0f} {control[1]:.0f} {end[0]:.0f} {end[1]:.0f}"


def along(start: Point, control: Point, end: Point, share: float) -> tuple[Point, float]:
    """The point and direction (degrees) at `share` of a quadratic curve."""
    a, b, c = (1 - share) ** 2, 2 * share * (1 - share), share**2
    x, y = a * start[0] + b * control[0] + c * end[0], a * start[1] + b * control[1] + c * end[1]
    dx = 2 * (1 - share) * (control[0] - start[0]) + 2 * share * (end[0] - control[0])
    dy = 2 * (1 - share) * (control[1] - start[1]) + 2 * share * (end[1] - control[1])
    return (x, y), degrees(atan2(dy, dx))


def spiral(centre: Point, radius: float, turns: float, angle: float) -> str:
    """A coil wound inward from `radius`, beginning at `angle`."""
    steps = max(6, int(turns * 12))
    points = []
    for step in range(steps + 1):
        share = step / steps
        turn = radians(angle) + share * turns * 2 * pi
        reach = radius * (1 - share * 0.86)
        points.append((centre[0] + cos(turn) * reach, centre[1] + sin(turn) * reach))
    return "M" + "L".join(f"{x:.0f} {y:.0f}" for x, y in points)


def hill(left: float, right: float, top: float, height: float, floor: float) -> str:
    """A low rise across the picture."""
    middle = (left + right) / 2
    return f"M{left:.0f} {floor:.0f}V{top + height:.0f}Q{middle:.0f} {top - height:.0f} {right:.0f} {top + height:.0f}V{floor:.0f}Z"


def turned(way: int, across: int) -> int:
    """A horizontal position measured from the middle; `way` -1 mirrors it."""
    return 260 + way * across
