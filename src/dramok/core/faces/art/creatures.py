"""Creatures for cards of any game: animals of any habitat, and spirits."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial
from math import cos, sin
from random import Random

from dramok.core.faces.art.figures import SHADE
from dramok.core.faces.art.motif import ArtMark, Motif
from dramok.core.faces.art.palette import Palette
from dramok.core.faces.art.shapes import disc, leaf, mix, turned
from dramok.core.faces.elements import Circle, Path


def bird(chance: Random, palette: Palette) -> Sequence[ArtMark]:
    """A bird on a branch, its wing and tail in another shade."""
    body, wing = palette.leaf, mix(palette.leaf, palette.bloom, 0.6)
    tail = "".join(leaf((188, 268), angle, 150, 17) for angle in (142, 152, 162))
    feathers = "".join(
        leaf((286, 196), angle, 128 - step * 8, 20) for step, angle in enumerate((152, 138, 124, 110))
    )
    crest = (
        "".join(leaf((340, 118), -90 + turn, chance.randrange(30, 54), 8) for turn in (-34, -12, 10))
        if chance.random() < 0.6
        else ""
    )
    return [
        Path("M40 316Q260 300 484 330V344Q260 318 40 330Z", mix("#7a5a3c", palette.near, 0.3)),
        Path(tail, mix(wing, SHADE, 0.25)),
        Path(crest, palette.bloom),
        Path("M180 262C190 170 260 176 300 134C318 100 378 104 384 152C388 232 300 322 214 300Q186 288 180 262Z", body),
        Path("M214 300C300 322 388 232 384 152C356 236 296 280 196 284Z", mix(body, SHADE, 0.25)),
        Path(feathers, wing),
        Path("M380 138L436 152L382 168Z", mix(palette.heart, "#d98e32", 0.4)),
        Circle(350, 142, 9, "#f7f1e3"), Circle(352, 143, 5, SHADE),
        Path("M244 302v22M266 302v24", None, stroke=mix(palette.heart, "#8a5a20", 0.5), width=6),
    ]  # fmt: skip


def beast(chance: Random, palette: Palette) -> Sequence[ArtMark]:
    """Four legs, a neck, and a random crown on the head."""
    fur, under = palette.leaf, mix(palette.leaf, SHADE, 0.3)
    horns = {
        0: leaf((372, 112), -112, 92, 12) + leaf((392, 110), -64, 92, 12),
        1: leaf((370, 118), -100, 48, 16) + leaf((398, 118), -76, 48, 16),
        2: "M366 118C330 84 338 48 360 44C348 66 360 88 380 104ZM398 112C430 84 426 48 404 40C414 66 408 88 390 102Z",
    }[chance.randrange(3)]
    legs = "".join(
        f"M{x} 254L{x + lean} 348H{x + lean + 26}L{x + 36} 254Z"
        for x, lean in ((150, -4), (196, 6), (290, -6), (324, 6))
    )
    tail = "M136 206C96 208 84 252 96 292C106 262 116 244 146 236Z"
    return [
        Path("M86 352q170 16 340 0q-170 -12 -340 0Z", "#000000", opacity=0.2),
        Path(horns, mix(palette.heart, "#d8cbb0", 0.5)),
        Path(tail, under), Path(legs, under),
        Path("M130 222C136 172 230 176 284 182C318 176 326 140 346 116C370 96 410 104 424 142L448 172Q440 196 404 192C392 240 360 278 300 276H176Q132 268 130 222Z", fur),
        Path("M130 232Q210 264 300 248C352 236 372 214 384 190L404 192C392 240 360 278 300 276H176Q132 268 130 232Z", under),
        Path("".join(disc((164 + chance.randrange(150), 196 + chance.randrange(44)), chance.choice([5, 7, 9])) for _ in range(6)), mix(fur, palette.light, 0.6), opacity=0.7),
        Circle(392, 142, 7, SHADE), Path(disc((438, 174), 6), SHADE),
    ]  # fmt: skip


def fish(chance: Random, palette: Palette) -> Sequence[ArtMark]:
    """A fish among the lines of the water."""
    water = "".join(
        f"M{chance.randrange(-40, 60)} {y}q40 -12 80 0t80 0t80 0t80 0t80 0t80 0t80 0"
        for y in (64, 118, 300, 352)
    )
    scales = "".join(f"M{214 + k % 5 * 36} {168 + k // 5 * 34}q12 12 0 24" for k in range(15))
    fins = leaf((262, 140), -118, 84, 30) + leaf((250, 264), 118, 66, 24)
    return [
        Path(water, None, stroke=palette.light, width=6, opacity=0.7),
        Path(fins, mix(palette.bloom, palette.leaf, 0.3)),
        Path("M150 204L70 138Q86 204 70 270Z", mix(palette.bloom, palette.leaf, 0.2)),
        Path("M140 204C196 116 350 112 442 204C350 292 196 292 140 204Z", palette.leaf),
        Path("M140 204C240 236 350 232 442 204C350 292 196 292 140 204Z", mix(palette.leaf, SHADE, 0.25)),
        Path(scales, None, stroke=mix(palette.leaf, palette.glow, 0.6), width=4),
        Path("M372 158Q352 204 372 250", None, stroke=mix(palette.leaf, SHADE, 0.45), width=6),
        Circle(404, 188, 12, "#f7f1e3"), Circle(406, 189, 6, SHADE),
    ]  # fmt: skip


def serpent(chance: Random, palette: Palette) -> Sequence[ArtMark]:
    """A long body in coils, raised to face the viewer."""
    way = chance.choice([1, -1])
    x = partial(turned, way)
    coil = f"M{x(-170)} 340C{x(-60)} 380 {x(170)} 372 {x(160)} 312C{x(150)} 262 {x(-130)} 316 {x(-130)} 256C{x(-130)} 196 {x(110)} 250 {x(104)} 176C{x(98)} 112 {x(-20)} 150 {x(-30)} 104"
    return [
        Path(coil, None, stroke=mix(palette.leaf, SHADE, 0.4), width=50),
        Path(coil, None, stroke=palette.leaf, width=40),
        Path(coil, None, stroke=mix(palette.leaf, palette.heart, 0.6), width=8),
        Path(f"M{x(-30)} 116C{x(-70)} 110 {x(-92)} 84 {x(-98)} 66C{x(-70)} 40 {x(-16)} 40 {x(2)} 70C{x(10)} 94 {x(-6)} 114 {x(-30)} 116Z", palette.leaf),
        Path(f"M{x(-98)} 66L{x(-140)} 76L{x(-128)} 66L{x(-146)} 56L{x(-98)} 60Z", palette.bloom),
        Circle(x(-52), 66, 9, palette.heart), Circle(x(-54), 66, 4, SHADE),
    ]  # fmt: skip


def insect(chance: Random, palette: Palette) -> Sequence[ArtMark]:
    """A beetle or a moth from above."""
    legs = "".join(
        f"M260 {170 + k * 44}L{260 + side * 96} {140 + k * 62}L{260 + side * 122} {170 + k * 66}"
        for k in range(3)
        for side in (1, -1)
    )
    feelers = "M248 92Q226 40 182 40M272 92Q294 40 338 40"
    marks: list[ArtMark] = [Path(legs + feelers, None, stroke=mix(palette.dark, SHADE, 0.4), width=8)]
    if chance.random() < 0.5:
        wings = "".join(
            leaf((260, 160), angle, long, 76)
            for angle, long in ((-158, 210), (-22, 210), (154, 160), (26, 160))
        )
        marks += [
            Path(wings, palette.leaf),
            Path(
                "".join(
                    disc((260 + side * 126, 122), 20) + disc((260 + side * 104, 208), 13) for side in (1, -1)
                ),
                palette.bloom,
            ),
        ]
    marks += [
        Circle(260, 102, 34, mix(palette.dark, palette.leaf, 0.4)),
        Path(
            "M260 124C346 124 346 330 260 346C174 330 174 124 260 124Z", mix(palette.leaf, palette.dark, 0.25)
        ),
        Path("M260 124C346 124 346 330 260 346Z", mix(palette.leaf, SHADE, 0.38)),
        Path(
            "".join(
                disc((260 + side * (36 + k % 2 * 12), 176 + k * 40), 11 - k)
                for k in range(4)
                for side in (1, -1)
            ),
            palette.heart,
        ),
        Path("M260 124V346", None, stroke=mix(palette.dark, SHADE, 0.5), width=5),
    ]
    return marks  # fmt: skip


def spirit(chance: Random, palette: Palette) -> Sequence[ArtMark]:
    """Something that floats: a pale body that frays into wisps."""
    pale = mix(palette.light, "#ffffff", 0.35)
    wisps = "".join(
        leaf((170 + k * 26, 250), 84 + chance.randrange(-10, 24), chance.randrange(70, 128), 17)
        for k in range(8)
    )
    sparks = "".join(
        disc(
            (260 + cos(k * 0.9) * (150 + k * 4), 180 + sin(k * 0.9) * (110 + k * 3)), chance.choice([3, 4, 6])
        )
        for k in range(14)
    )
    arms = leaf((182, 196), 150 + chance.randrange(-30, 20), 104, 20) + leaf(
        (338, 196), 30 + chance.randrange(-20, 30), 104, 20
    )
    return [
        Circle(260, 180, 150, palette.heart, 0.22), Path(sparks, palette.heart, opacity=0.9), Path(wisps + arms, pale, opacity=0.8),
        Path("M160 270V168C164 66 356 66 360 168V270Q310 300 260 268Q210 300 160 270Z", pale, opacity=0.95),
        Path("M300 100C360 110 360 140 360 168V270Q330 288 300 280Q330 190 300 100Z", mix(pale, palette.leaf, 0.4), opacity=0.8),
        Path(disc((228, 168), 14) + disc((290, 168), 14), mix(palette.dark, SHADE, 0.5)), Path(disc((258, 216), 10), mix(palette.dark, SHADE, 0.3)),
    ]  # fmt: skip


CREATURES = (
    Motif("bird", ("hawk", "raven", "crow", "owl", "eagle", "gull", "heron", "swan", "sparrow", "wing", "feather", "nest"), bird),
    Motif("fish", ("carp", "eel", "shark", "whale", "pike", "trout", "crab", "squid", "swim"), fish),
    Motif("serpent", ("snake", "worm", "dragon", "drake", "wyrm", "lizard", "newt", "coil"), serpent),
    Motif("insect", ("beetle", "moth", "wasp", "spider", "hornet", "swarm", "cricket"), insect),
    Motif("spirit", ("ghost", "shade", "spectre", "haunt", "soul", "wisp", "phantom", "mist", "dream", "wraith"), spirit),
    Motif("beast", ("wolf", "hound", "fox", "bear", "horse", "deer", "stag", "goat", "boar", "mule", "lion", "hare"), beast),
)  # fmt: skip
