"""Compose a picture: time of day, background, and motif."""

from __future__ import annotations

from collections.abc import Sequence
from random import Random
from typing import NamedTuple, assert_never

from dramok.core.cards.schema.picture_packs import Pack
from dramok.core.faces.art.creatures import CREATURES
from dramok.core.faces.art.figures import FIGURES, ground_for_figures
from dramok.core.faces.art.growth import GROWTHS, WORDS
from dramok.core.faces.art.motif import ArtMark, called_for, chosen
from dramok.core.faces.art.objects import OBJECTS, ground_for_objects
from dramok.core.faces.art.palette import Palette
from dramok.core.faces.art.patterns import PATTERNS
from dramok.core.faces.art.shapes import disc, hill, leaf, mix
from dramok.core.faces.art.skies import SKIES
from dramok.core.faces.art.tools import TOOLS
from dramok.core.faces.elements import Circle, Path, Rect

UNITS_WIDE = 520
UNITS_HIGH = 390
GROUND = 322

_PLAIN = ("pattern", "figure", "creature", "object")


_HOURS = {
    "dawn": ("#f3dcc4", "#fbeee0", "#dcb79b"),
    "noon": ("#dbe6da", "#f6f3df", "#b4c8b0"),
    "dusk": ("#e5c7a4", "#f7e2b8", "#b98f78"),
    "rain": ("#c9d3d2", "#e4eae6", "#9aaeac"),
    "night": ("#20343b", "#e9e2c4", "#18282d"),
}
_BLOOMS = ("#c8553d", "#d98e32", "#b8476b", "#e0b03f", "#8a5aa0", "#f0e6d2", "#5d7fa8", "#d9776a")


HOURS: dict[str, tuple[str, ...]] = {
    "night": ("moon", "midnight", "dark"),
    "dusk": ("evening", "sunset"),
    "dawn": ("morning", "sunrise"),
    "noon": ("midday", "midsummer"),
    "rain": ("rainy",),
}
"""The times of day, and the words that choose one."""


class Scene(NamedTuple):
    """The recipe of one picture: the card's permanent id, its pack, the form of growth and #rrggbb of its
    faction.

    `hint` describes the picture (see `motif.called_for`).
    """

    seed: str
    subject: Pack
    form: str
    colour: str
    hint: str = ""

    def draw(self) -> tuple[ArtMark, ...]:
        """Its elements in a UNITS_WIDE x UNITS_HIGH box."""
        seed, subject, form, colour, hint = self
        chance = Random(f"{seed}/{subject}")
        by_lot = chance.choice(["dawn", "noon", "noon", "dusk", "rain"])
        hour = called_for(hint, HOURS) or by_lot
        palette = _palette(hour, colour, chance, plain=subject in _PLAIN)
        paper = Rect(0, 0, UNITS_WIDE, UNITS_HIGH, palette.sky)
        match subject:
            case "pattern":
                return (paper, *chosen(PATTERNS, hint, chance).draw(chance, palette))
            case "figure" | "creature":
                pack = FIGURES if subject == "figure" else CREATURES
                return (
                    paper,
                    *ground_for_figures(chance, palette),
                    *chosen(pack, hint, chance).draw(chance, palette),
                )
            case "object":
                return (
                    paper,
                    *ground_for_objects(chance, palette),
                    *chosen(OBJECTS, hint, chance).draw(chance, palette),
                )
            case "sky":
                return (paper, *chosen(SKIES, hint, chance).draw(chance, palette))
            case "tool":
                return (
                    paper,
                    *_backdrop(chance, palette),
                    *_table(palette),
                    *chosen(TOOLS, hint, chance).draw(chance, palette),
                )
            case "growth":
                return (paper, *_backdrop(chance, palette), *_grown(chance, palette, form, hint))
            case _:
                assert_never(subject)


def _grown(chance: Random, palette: Palette, form: str, hint: str) -> Sequence[ArtMark]:
    lot = sorted(GROWTHS)[chance.randrange(len(GROWTHS))]
    draw = GROWTHS.get(form) or GROWTHS[called_for(hint, WORDS) or lot]
    words = hint.lower()
    climbs = [_trellis(palette)] if "climb" in words or "twin" in words else []
    return (*climbs, *draw(chance, palette, "thorn" in words), *_foreground(chance, palette))


def _palette(hour: str, colour: str, chance: Random, plain: bool = False) -> Palette:
    """`plain`: the card's colour unchanged, for motifs other than plants."""
    sky, glow, far = _HOURS[hour]
    night = hour == "night"
    leaf = mix(colour if plain else mix(colour, "#4f7a3f", 0.58), "#101d1b" if night else "#ffffff", 0.08)
    blooms = chance.sample(_BLOOMS, 2)
    return Palette(
        sky=mix(sky, colour, 0.1), glow=glow, far=mix(far, colour, 0.28), near=mix(mix(far, colour, 0.5), "#1d2b26", 0.3),
        dark=mix(leaf, "#12211c", 0.5), leaf=leaf, light=mix(leaf, "#f3edc8", 0.38), bloom=blooms[0], heart=mix(blooms[1], "#f5d76b", 0.4),
        night=night,
    )  # fmt: skip


def _backdrop(chance: Random, palette: Palette) -> Sequence[ArtMark]:
    x, y, radius = chance.randrange(90, 430), chance.randrange(70, 150), chance.randrange(38, 66)
    elements: list[ArtMark] = [
        Circle(x, y, radius * 1.7, palette.glow, 0.25),
        Circle(x, y, radius, palette.glow, 0.9),
    ]
    if palette.night:
        elements.append(Circle(x + radius * 0.4, y - radius * 0.2, radius * 0.85, palette.sky))
        stars = "".join(
            disc((chance.randrange(10, 510), chance.randrange(8, 220)), chance.choice([1, 2, 2, 3]))
            for _ in range(26)
        )
        elements.append(Path(stars, palette.glow, opacity=0.8))
    far = hill(-120, chance.randrange(260, 420), chance.randrange(200, 240), 50, 400) + hill(
        chance.randrange(120, 260), 660, chance.randrange(190, 235), 60, 400
    )
    elements.append(Path(far, palette.far, opacity=0.75))
    if chance.random() < 0.6:
        elements.append(_glasshouse(chance, palette))
    elements.append(Path(hill(-200, 720, GROUND - 24, 24, 400), palette.near))
    return elements


def _glasshouse(chance: Random, palette: Palette) -> Path:
    """A distant glasshouse on the skyline, in outline."""
    left, floor, bay, high = chance.randrange(20, 330), 300, 34, chance.randrange(44, 64)
    bays = chance.randrange(3, 5)
    d = f"M{left} {floor}v-{high}"
    for number in range(bays):
        x = left + number * bay
        d += f"Q{x + bay / 2:.0f} {floor - high - 40} {x + bay} {floor - high}V{floor}M{x + bay} {floor - high}"
    d += f"M{left} {floor - high}h{bays * bay}M{left} {floor - high // 2}h{bays * bay}"
    return Path(d, None, stroke=palette.glow, width=2.4, opacity=0.7)


def _trellis(palette: Palette) -> Path:
    d = "".join(f"M{x} 20L{x + 8} {GROUND + 12}" for x in range(80, 460, 62)) + "".join(
        f"M52 {y}L476 {y + 6}" for y in range(56, 320, 62)
    )
    return Path(d, None, stroke=mix(palette.near, "#8a6a48", 0.6), width=7, opacity=0.55)


def _table(palette: Palette) -> Sequence[ArtMark]:
    wood = mix("#9a7450", palette.near, 0.35)
    grain = "".join(
        f"M0 {y}Q{260} {y + bend} 520 {y}" for y, bend in ((300, 6), (326, -5), (352, 7), (376, -4))
    )
    return (
        Rect(0, 284, 520, 110, wood),
        Rect(0, 280, 520, 7, mix(wood, "#ffffff", 0.3)),
        Path(grain, None, stroke=mix(wood, "#2a1c10", 0.35), width=2, opacity=0.6),
    )


def _foreground(chance: Random, palette: Palette) -> Sequence[ArtMark]:
    blades = "".join(
        leaf((x + chance.randrange(-8, 8), 398), -90 + chance.randrange(-26, 27), chance.randrange(24, 62), 7)
        for x in range(0, 530, 13)
    )
    return (Path(blades, palette.dark),)
