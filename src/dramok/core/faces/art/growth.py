"""The forms of growth of plants: fronds, canes, spikes, cushions."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from random import Random

from dramok.core.faces.art.palette import Palette
from dramok.core.faces.art.shapes import Point, along, at, curve, disc, half_leaf, leaf, mix, petal, spiral
from dramok.core.faces.elements import Path

FLOOR = 340


def frond(chance: Random, palette: Palette, thorned: bool) -> Sequence[Path]:
    """Arching fronds of paired leaflets, with young coils between them."""
    base: Point = (260 + chance.randrange(-26, 27), FLOOR)
    back, front, shade, stems, coils = "", "", "", "", ""
    count = chance.randrange(5, 9)
    for number in range(count):
        lean = -1 + 2 * (number + 0.5) / count + chance.uniform(-0.12, 0.12)
        reach = chance.uniform(200, 292) * (1 - 0.25 * abs(lean))
        end = (base[0] + lean * 235, base[1] - reach * (1.02 - 0.45 * abs(lean)))
        bend = (base[0] + lean * 70, base[1] - reach * 1.12)
        stems += curve(base, bend, end)
        pairs = chance.randrange(10, 15)
        for pair in range(1, pairs + 1):
            share = 0.16 + 0.84 * pair / pairs
            point, way = along(base, bend, end, min(1, share))
            size = (58 - 40 * abs(share - 0.42) * 1.5) * (1.08 - share * 0.55)
            for side in (-1, 1):
                angle = way + side * (66 - 18 * share)
                if number % 2:
                    back += leaf(point, angle, size, size * 0.24)
                else:
                    front += leaf(point, angle, size, size * 0.24)
                    shade += half_leaf(point, angle, size, size * 0.24)
    for _ in range(chance.randrange(1, 4)):
        x, high = base[0] + chance.randrange(-90, 91), chance.randrange(70, 130)
        coils += curve((x, FLOOR), (x - 12, FLOOR - high / 2), (x + 14, FLOOR - high)) + spiral(
            (x + 2, FLOOR - high), 14, 1.7, 0
        )
    elements = [
        Path(back, palette.dark),
        Path(stems, None, stroke=mix(palette.dark, palette.light, 0.25), width=4),
        Path(front, palette.leaf),
    ]
    elements += [Path(shade, palette.light, opacity=0.55), Path(coils, None, stroke=palette.light, width=6)]
    return [*elements, *_thorns_on(thorned, palette, base)]


def cane(chance: Random, palette: Palette, thorned: bool) -> Sequence[Path]:
    """Long thorny canes that arch over, with open flowers and fruit."""
    stems, thorns, leaves, shade = "", "", "", ""
    blooms: list[Point] = []
    fruit = ""
    for number in range(chance.randrange(3, 6)):
        way = 1 if (number + chance.randrange(2)) % 2 else -1
        base: Point = (260 - way * chance.randrange(20, 150), FLOOR + 4)
        end = (260 + way * chance.randrange(40, 215), chance.randrange(70, 220))
        bend = (base[0] + way * chance.randrange(-30, 60), end[1] - chance.randrange(20, 130))
        stems += curve(base, bend, end)
        for step in range(2, 15):
            share = step / 15
            point, angle = along(base, bend, end, share)
            side = 1 if step % 2 else -1
            thorns += leaf(at(point, angle + 90 * side, 2), angle + side * 112, 17 if thorned else 13, 5)
            if step % 2 and share > 0.25:
                stalk = at(point, angle + side * 58, 16)
                for turn in (-42, 0, 42):
                    leaves += leaf(stalk, angle + side * 58 + turn, 36, 12)
                    shade += half_leaf(stalk, angle + side * 58 + turn, 36, 12)
            if step in (6, 9) and chance.random() < 0.55:
                fruit += disc(at(point, angle - side * 80, 17), 8)
        blooms.append(end)
        if chance.random() < 0.6:
            blooms.append(along(base, bend, end, 0.62)[0])
    elements = [
        Path(stems, None, stroke=palette.dark, width=8),
        Path(thorns, palette.dark),
        Path(leaves, palette.leaf),
        Path(shade, palette.light, opacity=0.5),
    ]
    elements.append(Path(fruit, mix(palette.heart, "#a33a22", 0.55)))
    return [*elements, *_open_flowers(chance, palette, blooms, chance.randrange(28, 42), 5)]


def spike(chance: Random, palette: Palette, thorned: bool) -> Sequence[Path]:
    """Strap leaves and arching stems hung with lipped flowers."""
    base: Point = (260 + chance.randrange(-60, 61), FLOOR + 2)
    straps, shade, stems = "", "", ""
    for number in range(chance.randrange(5, 8)):
        lean = -90 + (number - 3) * chance.randrange(20, 27)
        straps += leaf(base, lean, chance.randrange(120, 190), 24)
        shade += half_leaf(base, lean, chance.randrange(110, 150), 20)
    blooms: list[tuple[Point, float, float]] = []
    buds = ""
    for number in range(chance.randrange(2, 4)):
        way = -1 if number % 2 else 1
        end = (base[0] + way * chance.randrange(110, 225), float(chance.randrange(96, 190)))
        bend = (base[0] + way * chance.randrange(0, 50), float(chance.randrange(0, 50)))
        stems += curve(base, bend, end)
        flowers = chance.randrange(4, 7)
        for flower in range(flowers):
            hung, angle = along(base, bend, end, 0.5 + 0.42 * flower / flowers)
            side = 1 if flower % 2 else -1
            blooms.append((at(hung, angle + side * 74, 25), angle + side * 74, 35 - 13 * flower / flowers))
        buds += "".join(disc(along(base, bend, end, share)[0], size) for share, size in ((0.95, 8), (1.0, 6)))
    petals, inner, lips = "", "", ""
    for point, _, size in blooms:
        turn = chance.randrange(-18, 19)
        petals += "".join(petal(point, -90 + turn + k * 72, size, size * 0.5) for k in (0, 1, 4))
        inner += "".join(petal(point, -90 + turn + k * 72, size * 0.9, size * 0.34) for k in (2, 3))
        lips += petal(point, 90 + turn, size * 0.62, size * 0.4) + disc(point, size * 0.16)
    pale = mix(palette.bloom, "#fff6e8", 0.45)
    return [
        Path(straps, palette.leaf), Path(shade, palette.dark, opacity=0.45), Path(stems, None, stroke=palette.dark, width=6),
        Path(buds, palette.light), Path(inner, mix(palette.bloom, "#3a1c2c", 0.25)), Path(petals, pale),
        Path(lips, palette.heart), *_thorns_on(thorned, palette, base),
    ]  # fmt: skip


def cushion(chance: Random, palette: Palette, thorned: bool) -> Sequence[Path]:
    """Low cushions, thin stalks with capsules, a stone or a cap among them."""
    elements: list[Path] = []
    stone = mix("#8d8c84", palette.near, 0.35)
    for _ in range(chance.randrange(1, 3)):
        x, wide = chance.randrange(60, 420), chance.randrange(70, 130)
        high = chance.randrange(50, 96)
        d = f"M{x} {FLOOR + 10}q{wide * 0.05:.0f} -{high} {wide * 0.45:.0f} -{high}t{wide * 0.55:.0f} {high}Z"
        elements += [
            Path(d, stone),
            Path(
                f"M{x + wide * 0.2:.0f} {FLOOR - high * 0.45:.0f}q{wide * 0.2:.0f} -{high * 0.4:.0f} {wide * 0.42:.0f} -{high * 0.1:.0f}",
                None,
                stroke=mix(stone, "#ffffff", 0.35),
                width=4,
            ),
        ]
    rows = ((palette.dark, 5, 96, 300), (palette.leaf, 6, 82, 326), (palette.light, 5, 56, 352))
    for colour, count, size, floor in rows:
        domes, tufts, stalks, caps = "", "", "", ""
        for number in range(count):
            centre = -20 + 560 * (number + chance.uniform(0.1, 0.9)) / count
            radius = size * chance.uniform(0.65, 1.15)
            domes += f"M{centre - radius:.0f} {floor + 70}V{floor + 18}Q{centre - radius:.0f} {floor - radius * 0.75:.0f} {centre:.0f} {floor - radius * 0.75:.0f}T{centre + radius:.0f} {floor + 18}V{floor + 70}Z"
            for step in range(15):
                angle = -172 + step * 11.7
                edge = (centre + radius * 0.93 * _cos(angle), floor + 12 + radius * 0.82 * _sin(angle))
                tufts += leaf(edge, angle + chance.randrange(-16, 17), 17, 5)
            for _ in range(chance.randrange(1, 5)):
                foot = (centre + chance.uniform(-0.6, 0.6) * radius, floor - radius * 0.42)
                head = (foot[0] + chance.randrange(-16, 17), foot[1] - chance.randrange(50, 132))
                stalks += curve(foot, (foot[0], head[1] + 20), head)
                caps += leaf((head[0] - 2, head[1] + 5), chance.randrange(-70, -20), 24, 8)
        elements += [
            Path(stalks, None, stroke=mix(palette.heart, palette.dark, 0.45), width=3),
            Path(caps, palette.bloom),
            Path(tufts, colour),
            Path(domes, colour),
        ]
    if chance.random() < 0.75:
        elements += _caps(chance, palette)
    return [*elements, *_thorns_on(thorned, palette, (260, FLOOR))]


def _caps(chance: Random, palette: Palette) -> Sequence[Path]:
    """Small mushrooms in front."""
    stems, tops, spots = "", "", ""
    x = chance.randrange(90, 400)
    for number in range(chance.randrange(2, 5)):
        left, high, wide = x + number * 34, chance.randrange(38, 92), chance.randrange(20, 36)
        stems += f"M{left - 6} {FLOOR + 20}L{left - 4} {FLOOR - high}h8L{left + 7} {FLOOR + 20}Z"
        tops += f"M{left - wide} {FLOOR - high + 4}Q{left - wide} {FLOOR - high - wide} {left} {FLOOR - high - wide}T{left + wide} {FLOOR - high + 4}Q{left} {FLOOR - high + 12} {left - wide} {FLOOR - high + 4}Z"
        spots += disc((left - wide * 0.35, FLOOR - high - wide * 0.4), 4) + disc(
            (left + wide * 0.3, FLOOR - high - wide * 0.25), 3
        )
    return [
        Path(stems, mix(palette.glow, "#d8cbb0", 0.5)),
        Path(tops, mix(palette.bloom, "#7c2f22", 0.15)),
        Path(spots, palette.glow),
    ]


def _open_flowers(
    chance: Random, palette: Palette, places: Sequence[Point], size: int, petals: int
) -> Sequence[Path]:
    back, front, hearts = "", "", ""
    for place in places:
        turn, scale = chance.randrange(360), chance.uniform(0.75, 1.1)
        for number in range(petals):
            back += petal(place, turn + number * 360 / petals, size * scale, size * 0.52 * scale)
            front += petal(place, turn + 36 + number * 360 / petals, size * 0.66 * scale, size * 0.36 * scale)
        hearts += disc(place, size * 0.22 * scale)
    return [
        Path(back, mix(palette.bloom, "#401826", 0.18)),
        Path(front, mix(palette.bloom, "#fff2e2", 0.35)),
        Path(hearts, palette.heart),
    ]


def _thorns_on(thorned: bool, palette: Palette, base: Point) -> Sequence[Path]:
    if not thorned:
        return ()
    spikes = "".join(
        leaf((base[0] + x, FLOOR + 8), -90 + x * 0.42, 74 - abs(x) * 0.25, 6) for x in range(-150, 151, 30)
    )
    return (Path(spikes, mix(palette.dark, "#2b1a14", 0.4)),)


def _cos(angle: float) -> float:
    return at((0, 0), angle, 1)[0]


def _sin(angle: float) -> float:
    return at((0, 0), angle, 1)[1]


GROWTHS: dict[str, Callable[[Random, Palette, bool], Sequence[Path]]] = {
    "frond": frond,
    "cane": cane,
    "spike": spike,
    "cushion": cushion,
}

WORDS: dict[str, tuple[str, ...]] = {
    "frond": ("fern", "bracken", "treefern", "maidenhair", "fronds"),
    "cane": ("rose", "bramble", "briar", "thorn", "hedge", "vine"),
    "spike": ("orchid", "lily", "iris", "vanilla", "foxglove"),
    "cushion": ("moss", "sedum", "houseleek", "lichen", "mushroom"),
}
"""The words that choose a form of growth."""
