"""Weather: what falls, blows or shines over the far glasshouses."""

from __future__ import annotations

from collections.abc import Sequence
from random import Random

from dramok.core.faces.art.motif import Motif
from dramok.core.faces.art.palette import Palette
from dramok.core.faces.art.shapes import at, disc, hill, leaf, mix
from dramok.core.faces.elements import Circle, Path

SkyMark = Circle | Path


def rain(chance: Random, palette: Palette) -> Sequence[SkyMark]:
    drops = "".join(f"M{x} {y}l-{length // 3} {length}" for x, y, length in _strewn(chance, 70, 26, 54))
    rings = "".join(
        _ring(chance.randrange(20, 500), chance.randrange(338, 382), chance.randrange(12, 30))
        for _ in range(9)
    )
    return (
        *_land(palette),
        Path(rings, None, stroke=palette.glow, width=2.5, opacity=0.8),
        *_clouds(chance, palette, 5),
        Path(drops, None, stroke=mix(palette.glow, "#4f7f93", 0.5), width=3.4, opacity=0.85),
    )


def sun(chance: Random, palette: Palette) -> Sequence[SkyMark]:
    x, y = chance.randrange(170, 350), chance.randrange(120, 200)
    warm = mix(palette.heart, "#f2c14e", 0.6)
    rays = "".join(
        leaf(at((x, y), turn, 84), turn, 150 if turn % 40 else 240, 12) for turn in range(0, 360, 20)
    )
    return (
        Path(rays, warm, opacity=0.6),
        Circle(x, y, 78, mix(warm, "#ffffff", 0.25)),
        Circle(x, y, 60, mix(warm, "#ffffff", 0.55)),
        *_clouds(chance, palette, 2),
        *_land(palette),
    )


def wind(chance: Random, palette: Palette) -> Sequence[SkyMark]:
    lines, blown = "", ""
    for number in range(8):
        x, y, wide = (
            chance.randrange(-60, 120),
            40 + number * 34 + chance.randrange(-8, 9),
            chance.randrange(220, 420),
        )
        curl = chance.randrange(16, 34)
        lines += f"M{x} {y}q{wide // 2} -30 {wide} 0q{curl * 2} {curl // 2} {curl} {curl}q-{curl} 10 -{curl} -{curl // 2}"
        for _ in range(3):
            blown += leaf(
                (chance.randrange(20, 500), y + chance.randrange(-22, 22)),
                chance.randrange(-50, 30),
                chance.randrange(18, 34),
                9,
            )
    return (
        *_land(palette),
        Path(lines, None, stroke=mix(palette.glow, palette.far, 0.3), width=6),
        Path(blown, palette.bloom),
    )


def frost(chance: Random, palette: Palette) -> Sequence[SkyMark]:
    arms = ""
    for x, y, size in ((150, 130, 92), (372, 196, 74), (260, 300, 52), (430, 70, 44), (70, 280, 40)):
        x, y = x + chance.randrange(-26, 27), y + chance.randrange(-20, 21)
        turn = chance.randrange(60)
        for arm in range(6):
            angle = turn + arm * 60
            end = at((x, y), angle, size)
            arms += f"M{x} {y}L{end[0]:.0f} {end[1]:.0f}"
            for share in (0.42, 0.66, 0.85):
                node = at((x, y), angle, size * share)
                for side in (-52, 52):
                    tip = at(node, angle + side, size * 0.3 * (1.2 - share))
                    arms += f"M{node[0]:.0f} {node[1]:.0f}L{tip[0]:.0f} {tip[1]:.0f}"
    pale = mix(palette.glow, "#e8f4f6", 0.7)
    return (
        *_land(palette),
        Path(hill(-90, 640, 318, 20, 400), pale, opacity=0.6),
        Path(arms, None, stroke=pale, width=5),
    )


def fog(chance: Random, palette: Palette) -> Sequence[SkyMark]:
    elements: list[SkyMark] = [Circle(chance.randrange(120, 400), 110, 52, palette.glow, 0.85)]
    for number in range(5):
        y = 120 + number * 52
        band = f"M-20 {y}Q130 {y - chance.randrange(14, 50)} 260 {y}T560 {y}V{y + 62}Q390 {y + chance.randrange(20, 70)} 260 {y + 56}T-20 {y + 62}Z"
        elements.append(Path(band, mix(palette.far, palette.glow, 0.2 + number * 0.16), opacity=0.72))
        if number in (1, 3):
            trees = "".join(
                leaf((x + chance.randrange(-12, 12), y + 66), -90, chance.randrange(70, 130), 20)
                for x in range(20, 520, chance.randrange(52, 80))
            )
            elements.append(Path(trees, mix(palette.near, palette.glow, 0.42 - number * 0.1)))
    return elements


def storm(chance: Random, palette: Palette) -> Sequence[SkyMark]:
    x = chance.randrange(180, 330)
    bolt = f"M{x} 96l-46 104h40l-34 96l98 -124h-44l40 -76Z"
    drops = "".join(f"M{a} {b}l-{c // 2} {c}" for a, b, c in _strewn(chance, 44, 22, 44))
    dark = palette._replace(glow=mix(palette.near, "#2a3540", 0.4))
    return (
        *_land(palette),
        Path(drops, None, stroke=palette.glow, width=3, opacity=0.6),
        Path(bolt, mix(palette.heart, "#ffe08a", 0.6)),
        *_clouds(chance, dark, 6),
    )


def _land(palette: Palette) -> Sequence[SkyMark]:
    return (
        Path(hill(-160, 330, 262, 40, 400) + hill(180, 690, 268, 36, 400), palette.far),
        Path(hill(-220, 740, 326, 22, 400), palette.near),
    )


def _clouds(chance: Random, palette: Palette, count: int) -> Sequence[SkyMark]:
    elements: list[SkyMark] = []
    for number in range(count):
        x, y, size = chance.randrange(0, 440), chance.randrange(24, 120), chance.randrange(24, 46)
        lumps = "".join(
            disc(
                (x + k * size * 0.8, y - (size * 0.45 if 0 < k < 3 else 0)), size * (1 if 0 < k < 3 else 0.7)
            )
            for k in range(4)
        )
        lumps += f"M{x - size * 0.5:.0f} {y}h{size * 3.4:.0f}v{size * 0.66:.0f}h-{size * 3.4:.0f}Z"
        elements.append(Path(lumps, mix(palette.glow, palette.far, 0.12 + 0.1 * (number % 3)), opacity=0.94))
    return elements


def _ring(x: int, y: int, radius: int) -> str:
    return f"M{x - radius} {y}a{radius} {radius // 3} 0 1 0 {2 * radius} 0a{radius} {radius // 3} 0 1 0 -{2 * radius} 0"


def _strewn(chance: Random, count: int, least: int, most: int) -> list[tuple[int, int, int]]:
    return [
        (chance.randrange(0, 560), chance.randrange(60, 350), chance.randrange(least, most))
        for _ in range(count)
    ]


SKIES = (
    Motif("storm", ("thunder", "lightning", "hail", "broken", "gale"), storm),
    Motif("rain", ("drizzle", "soak", "shower", "dew", "wet", "spring", "downpour", "review"), rain),
    Motif("frost", ("ice", "snow", "winter", "cold", "freeze"), frost),
    Motif("fog", ("mist", "cloud", "haze", "steam", "smoke", "still"), fog),
    Motif("wind", ("breeze", "air", "draught", "blow"), wind),
    Motif("sun", ("clear", "noon", "swelter", "heat", "bright", "summer", "light", "warm"), sun),
)
