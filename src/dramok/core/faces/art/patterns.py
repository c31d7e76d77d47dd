"""Abstract patterns for cards of any game, in the card's colour."""

from __future__ import annotations

from collections.abc import Sequence
from math import cos, pi, sin
from random import Random

from dramok.core.faces.art.motif import ArtMark, Motif
from dramok.core.faces.art.palette import Palette
from dramok.core.faces.art.shapes import disc, mix, polygon
from dramok.core.faces.elements import Circle, Path, Rect

WIDE, HIGH = 520, 390


def _ground(palette: Palette) -> Rect:
    return Rect(0, 0, WIDE, HIGH, mix(palette.sky, palette.leaf, 0.3))


def bands(chance: Random, palette: Palette) -> Sequence[ArtMark]:
    """Slanting bands of uneven width."""
    lean, x = chance.choice([-150, -90, 90, 150]), -200
    elements: list[ArtMark] = [_ground(palette)]
    while x < WIDE + 200:
        wide = chance.randrange(22, 96)
        ink = mix(
            palette.leaf, chance.choice([palette.dark, palette.light, palette.glow]), chance.uniform(0.2, 0.8)
        )
        elements.append(
            Path(
                polygon([(x, 0), (x + wide, 0), (x + wide + lean, HIGH), (x + lean, HIGH)]), ink, opacity=0.9
            )
        )
        x += wide + chance.randrange(4, 40)
    return elements


def discs(chance: Random, palette: Palette) -> Sequence[ArtMark]:
    """Discs that overlap, the largest behind."""
    sizes = sorted((chance.randrange(18, 150) for _ in range(11)), reverse=True)
    elements: list[ArtMark] = [_ground(palette)]
    for number, size in enumerate(sizes):
        ink = mix(
            palette.leaf, (palette.dark, palette.light, palette.bloom)[number % 3], chance.uniform(0.15, 0.75)
        )
        elements.append(Circle(chance.randrange(WIDE), chance.randrange(HIGH), size, ink, 0.72))
    return elements


def rings(chance: Random, palette: Palette) -> Sequence[ArtMark]:
    """Rings about one point, broken here and there."""
    x, y = chance.randrange(130, 390), chance.randrange(100, 290)
    elements: list[ArtMark] = [_ground(palette), Circle(x, y, 20, palette.bloom)]
    for number in range(1, 12):
        radius, turn, gap = 20 + number * 32, chance.uniform(0, 2 * pi), chance.uniform(0.3, 1.6)
        start = (x + radius * cos(turn + gap), y + radius * sin(turn + gap))
        end = (x + radius * cos(turn), y + radius * sin(turn))
        d = f"M{start[0]:.0f} {start[1]:.0f}A{radius} {radius} 0 {int(2 * pi - gap > pi)} 1 {end[0]:.0f} {end[1]:.0f}"
        ink = mix(palette.leaf, palette.dark if number % 2 else palette.light, 0.45)
        elements.append(Path(d, None, stroke=ink, width=chance.randrange(6, 22)))
    return elements


def facets(chance: Random, palette: Palette) -> Sequence[ArtMark]:
    """A net of triangles in light and shade."""
    columns, rows = 5, 4
    points = {
        (a, b): (
            a * WIDE / columns + (chance.randrange(-34, 35) if 0 < a < columns else 0),
            b * HIGH / rows + (chance.randrange(-30, 31) if 0 < b < rows else 0),
        )
        for a in range(columns + 1)
        for b in range(rows + 1)
    }
    elements: list[ArtMark] = [_ground(palette)]
    for a in range(columns):
        for b in range(rows):
            one, two, three, four = points[a, b], points[a + 1, b], points[a + 1, b + 1], points[a, b + 1]
            for corner in ([one, two, three], [one, three, four]):
                shade = chance.choice([palette.dark, palette.light, palette.glow])
                elements.append(Path(polygon(corner), mix(palette.leaf, shade, chance.uniform(0.05, 0.7))))
    return elements


def waves(chance: Random, palette: Palette) -> Sequence[ArtMark]:
    """Waves over each other, darker towards the front."""
    elements: list[ArtMark] = [
        _ground(palette),
        Circle(chance.randrange(80, 440), chance.randrange(50, 120), 44, palette.glow, 0.9),
    ]
    for number in range(6):
        y, swing = 120 + number * 48, chance.randrange(16, 44)
        d = f"M-20 {y}Q{chance.randrange(60, 170)} {y - swing} 250 {y}T560 {y}V420H-20Z"
        elements.append(
            Path(
                d,
                mix(
                    palette.leaf, palette.dark if number > 2 else palette.light, 0.15 + 0.12 * abs(number - 2)
                ),
            )
        )
    return elements


def blocks(chance: Random, palette: Palette) -> Sequence[ArtMark]:
    """A skyline of blocks with some windows lit."""
    elements: list[ArtMark] = [_ground(palette)]
    x, windows = -10, ""
    while x < WIDE:
        wide, high = chance.randrange(34, 92), chance.randrange(90, 330)
        elements.append(
            Rect(x, HIGH - high, wide, high, mix(palette.leaf, palette.dark, chance.uniform(0.2, 0.9)))
        )
        for _ in range(chance.randrange(0, 5)):
            windows += disc((x + chance.randrange(8, wide - 6), HIGH - chance.randrange(12, high - 8)), 4)
        x += wide + chance.choice([0, 0, 8])
    return (*elements, Path(windows, palette.heart))


PATTERNS = (
    Motif("waves", ("wave", "water", "sea", "river", "tide", "flow", "flood", "lake"), waves),
    Motif("facets", ("stone", "crystal", "rock", "iron", "metal", "ice", "glass", "edge", "armour"), facets),
    Motif("discs", ("coin", "moon", "sun", "seed", "crowd", "swarm", "bubble", "many"), discs),
    Motif("rings", ("ring", "spell", "call", "echo", "sound", "signal", "circle", "gate", "eye"), rings),
    Motif(
        "blocks", ("town", "city", "tower", "house", "wall", "market", "street", "fort", "harbour"), blocks
    ),
    Motif("bands", ("band", "road", "wind", "march", "run", "charge", "path", "banner"), bands),
)
