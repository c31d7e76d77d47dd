"""Objects for cards of any game: one object, large, on a plain background."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial
from math import cos, sin
from random import Random

from dramok.core.faces.art.motif import ArtMark, Motif
from dramok.core.faces.art.palette import Palette
from dramok.core.faces.art.shapes import at, disc, leaf, mix, polygon, turned
from dramok.core.faces.elements import Circle, Path, Rect

SHADE, METAL, WOOD = "#14110f", "#aeb7ba", "#8a623f"


def _gold(palette: Palette) -> str:
    return mix(palette.heart, "#c9973a", 0.5)


def blade(chance: Random, palette: Palette) -> Sequence[ArtMark]:
    steel = mix(METAL, palette.leaf, 0.14)
    lean = chance.choice([-1, 1])
    x = partial(turned, lean)
    edge = f"M{x(128)} 44L{x(-70)} 274L{x(-96)} 252L{x(92)} 34Z"
    dark = f"M{x(128)} 44L{x(-70)} 274L{x(-83)} 263L{x(110)} 39Z"
    return [
        Path(edge, steel),
        Path(dark, mix(steel, SHADE, 0.3)),
        Path(f"M{x(-128)} 220L{x(-36)} 300L{x(-50)} 316L{x(-142)} 236Z", _gold(palette)),
        Path(f"M{x(-100)} 266L{x(-162)} 338L{x(-142)} 356L{x(-80)} 284Z", palette.leaf),
        Path(f"M{x(-90)} 275L{x(-152)} 347L{x(-142)} 356L{x(-80)} 284Z", mix(palette.leaf, SHADE, 0.35)),
        Circle(x(-160), 354, 20, _gold(palette)),
        Circle(x(-160), 354, 9, palette.bloom),
    ]


def cup(chance: Random, palette: Palette) -> Sequence[ArtMark]:
    gold, wide = _gold(palette), chance.randrange(84, 112)
    bowl = f"M{260 - wide} 84Q{260 - wide} 214 260 228Q{260 + wide} 214 {260 + wide} 84Z"
    handles = (
        f"M{264 - wide} 108q-60 0 -44 60q10 34 66 34M{256 + wide} 108q60 0 44 60q-10 34 -66 34"
        if chance.random() < 0.5
        else ""
    )
    return [
        Path(handles, None, stroke=mix(gold, SHADE, 0.2), width=14), Path(bowl, gold), Path(f"M278 84H{260 + wide}Q{260 + wide} 214 260 228Q300 170 278 84Z", mix(gold, SHADE, 0.28)),
        Path(f"M{260 - wide} 84Q260 110 {260 + wide} 84Q260 58 {260 - wide} 84Z", mix(palette.bloom, SHADE, 0.25)),
        Path("M248 222H272V300Q330 312 336 338H184Q190 312 248 300Z", gold), Path("M262 222H272V300Q330 312 336 338H268Z", mix(gold, SHADE, 0.28)),
        Path("".join(disc((260 + k * 34, 150 + abs(k) * -4), 10) for k in (-1, 0, 1)), palette.leaf),
    ]  # fmt: skip


def chest(chance: Random, palette: Palette) -> Sequence[ArtMark]:
    wood, band = mix(WOOD, palette.leaf, 0.3), _gold(palette)
    open_lid = chance.random() < 0.5
    lid = (
        "M128 170Q132 84 260 82Q388 84 392 170Z" if not open_lid else "M118 140L152 62Q260 34 368 62L402 140Z"
    )
    glow: list[ArtMark] = (
        [
            Path("M140 176L180 60H340L380 176Z", palette.heart, opacity=0.75),
            Path("".join(disc((170 + k * 26, 168 - k % 3 * 7), 15) for k in range(8)), band),
        ]
        if open_lid
        else []
    )
    return [
        Path(lid, mix(wood, SHADE, 0.12)), *glow, Path("M124 174H396L382 338H138Z", wood), Path("M300 174H396L382 338H306Z", mix(wood, SHADE, 0.25)),
        Path("M124 174H396V198H124ZM156 198H180L188 338H166ZM340 198H364L354 338H332Z", band), Path("M236 190H284V238Q260 254 236 238Z", mix(band, SHADE, 0.25)), Path(disc((260, 214), 7) + "M256 214h8v18h-8Z", SHADE),
    ]  # fmt: skip


def lantern(chance: Random, palette: Palette) -> Sequence[ArtMark]:
    iron = mix("#4b4f52", palette.leaf, 0.3)
    flame = leaf((260, 262), -90 + chance.randrange(-8, 9), 104, 40)
    return [
        Circle(260, 214, 168, palette.heart, 0.26), Circle(260, 214, 112, palette.heart, 0.32),
        Path("M224 84Q226 34 260 34Q294 34 296 84", None, stroke=iron, width=10), Path("M188 118L260 70L332 118Z", iron), Path("M196 118H324L338 292H182Z", mix(palette.glow, palette.heart, 0.5), opacity=0.85),
        Path(flame, palette.bloom), Path(leaf((260, 262), -90, 62, 22), palette.heart), Path("M196 118L182 292M324 118L338 292M260 118V160", None, stroke=iron, width=10), Path("M168 290H352L342 332H178Z", iron),
        Path("M270 290H352L342 332H274Z", mix(iron, SHADE, 0.4)),
    ]  # fmt: skip


def wheel(chance: Random, palette: Palette) -> Sequence[ArtMark]:
    teeth, metal = chance.choice([8, 10, 12]), mix(METAL, palette.leaf, 0.45)
    rim = "".join(
        polygon(
            [
                at((260, 196), k * 360 / teeth + turn, reach)
                for turn, reach in ((-9, 118), (-6, 154), (6, 154), (9, 118))
            ]
        )
        for k in range(teeth)
    )
    spokes = "".join(
        polygon(
            [
                at((260, 196), k * 60 + turn, reach)
                for turn, reach in ((-16, 34), (-5, 104), (5, 104), (16, 34))
            ]
        )
        for k in range(6)
    )
    small = "".join(
        polygon(
            [at((400, 318), k * 45 + turn, reach) for turn, reach in ((-12, 46), (-8, 66), (8, 66), (12, 46))]
        )
        for k in range(8)
    )
    return [
        Path(small + disc((400, 318), 50), mix(metal, SHADE, 0.35)), Circle(400, 318, 18, palette.near), Path(rim + disc((260, 196), 128), metal), Circle(260, 196, 96, mix(palette.near, SHADE, 0.25)),
        Path(spokes, metal), Circle(260, 196, 40, mix(metal, SHADE, 0.2)), Circle(260, 196, 18, palette.bloom),
        Path(f"M{260 + cos(0.4) * 128:.0f} {196 + sin(0.4) * 128:.0f}A128 128 0 0 1 {260 + cos(2.4) * 128:.0f} {196 + sin(2.4) * 128:.0f}", None, stroke=mix(metal, SHADE, 0.35), width=14),
    ]  # fmt: skip


def bottle(chance: Random, palette: Palette) -> Sequence[ArtMark]:
    level, round_one = chance.randrange(176, 246), chance.random() < 0.5
    body = (
        "M232 92H288V150C390 182 376 344 260 344C144 344 130 182 232 150Z"
        if round_one
        else "M232 92H288V140L340 190V330Q260 354 180 330V190L232 140Z"
    )
    inside = (
        f"M166 {level + 20}Q210 {level} 260 {level + 14}Q310 {level + 28} 354 {level + 12}C352 300 320 330 260 330C200 330 168 300 166 {level + 20}Z"
        if round_one
        else f"M192 {level + 16}Q226 {level} 260 {level + 12}Q300 {level + 24} 328 {level + 10}V322Q260 342 192 322Z"
    )
    bubbles = "".join(
        disc((206 + chance.randrange(108), level + 34 + chance.randrange(60)), chance.choice([4, 6, 8]))
        for _ in range(7)
    )
    return [
        Path("M236 60H284V98H236Z", WOOD), Path(body, mix(palette.glow, "#ffffff", 0.4), opacity=0.75), Path(inside, palette.leaf), Path(bubbles, palette.light, opacity=0.85),
        Path(body, None, stroke=mix(palette.dark, "#ffffff", 0.3), width=6), Path("M226 96H294V112H226Z", palette.bloom), Path("M196 240Q190 296 222 316", None, stroke="#ffffff", width=9, opacity=0.6),
    ]  # fmt: skip


def scroll(chance: Random, palette: Palette) -> Sequence[ArtMark]:
    paper = "#f2e7cc"
    lines = "".join(
        f"M176 {132 + k * 30}q{44 + chance.randrange(20)} -8 {chance.randrange(96, 172)} 2" for k in range(5)
    )
    return [
        Path("M140 84H376V300Q260 330 144 300Z", paper), Path("M300 84H376V300Q340 316 300 318Z", mix(paper, "#8a6a3c", 0.2)), Path(lines, None, stroke=mix("#6b5a3a", palette.near, 0.3), width=6),
        Path("M120 62H398Q414 78 398 100H120Q104 80 120 62ZM124 288H396Q412 306 396 328H124Q108 308 124 288Z", mix(paper, "#a98548", 0.35)),
        Path(disc((118, 81), 15) + disc((400, 81), 15) + disc((120, 308), 15) + disc((400, 308), 15), palette.leaf), Circle(312, 268, 26, palette.bloom), Path(polygon([at((312, 268), k * 72 - 90, 14) for k in range(5)]), mix(palette.bloom, SHADE, 0.35)),
    ]  # fmt: skip


def key(chance: Random, palette: Palette) -> Sequence[ArtMark]:
    gold, teeth = _gold(palette), chance.choice([(0, 34), (0, 26, 52), (10, 44)])
    bits = "".join(
        f"M{356 + step - 20} 232H{356 + step}V{278 + chance.randrange(0, 16)}H{356 + step - 20}Z"
        for step in teeth
    )
    return [
        Path("M200 196H430V226H200Z", gold), Path(bits, gold), Path("M200 212H430V226H200Z", mix(gold, SHADE, 0.3)), Path(disc((146, 210), 84), gold), Path(disc((146, 210), 50), mix(palette.near, SHADE, 0.25)),
        Path("".join(disc(at((146, 210), k * 90 + 45, 67), 12) for k in range(4)), palette.bloom), Path("M222 182H244V240H222Z", mix(gold, palette.light, 0.4)),
        Path("M70 244A84 84 0 0 0 222 246", None, stroke=mix(gold, SHADE, 0.3), width=16),
    ]  # fmt: skip


def bell(chance: Random, palette: Palette) -> Sequence[ArtMark]:
    bronze, swing = mix(_gold(palette), "#8a5a2c", 0.35), chance.choice([-14, 0, 14])
    return [
        Path("M96 48H424V74H96Z", WOOD), Path("M246 74H274V104H246Z", mix(WOOD, SHADE, 0.35)), Circle(260 + swing * 2, 326, 24, mix(bronze, SHADE, 0.4)),
        Path(f"M224 112Q260 84 296 112C318 196 {336 + swing} 252 {384 + swing} 294H{136 + swing}C{184 + swing} 252 202 196 224 112Z", bronze),
        Path(f"M276 98Q290 102 296 112C318 196 {336 + swing} 252 {384 + swing} 294H{300 + swing}Q322 214 276 98Z", mix(bronze, SHADE, 0.28)),
        Path(f"M{126 + swing} 290H{394 + swing}V312H{126 + swing}Z", mix(bronze, palette.light, 0.3)), Path("M206 196Q260 216 314 196L318 214Q260 234 202 214Z", palette.leaf),
    ]  # fmt: skip


def gem(chance: Random, palette: Palette) -> Sequence[ArtMark]:
    top, points = chance.randrange(84, 110), chance.choice([5, 6])
    xs = [260 + (step - (points - 1) / 2) * 292 / (points - 1) for step in range(points)]
    facets: list[ArtMark] = []
    for number in range(points - 1):
        ink = mix(palette.leaf, (palette.light, palette.dark, palette.bloom)[number % 3], 0.2 + 0.12 * number)
        facets.append(Path(polygon([(xs[number], 178), (xs[number + 1], 178), (260, 346)]), ink))
        inner = [(260 + (x - 260) * 0.66, top) for x in (xs[number], xs[number + 1])]
        facets.append(
            Path(
                polygon([(xs[number], 178), inner[0], inner[1], (xs[number + 1], 178)]),
                mix(ink, "#ffffff", 0.25),
            )
        )
    sparks = "".join(
        leaf((x, y), turn, 30, 5)
        for x, y in ((116, 92), (420, 128), (392, 318))
        for turn in (0, 90, 180, 270)
    )
    return [*facets, Path(sparks, palette.heart)]  # fmt: skip


def shield(chance: Random, palette: Palette) -> Sequence[ArtMark]:
    rim = _gold(palette)
    outline = "M132 64Q260 30 388 64V190C384 276 326 324 260 356C194 324 136 276 132 190Z"
    charge = chance.choice([
        "M132 64L388 300L360 322L132 112Z", "M240 48H280V352H240ZM132 150H388V190H132Z", polygon([at((260, 186), k * 36 - 90, 92 if k % 2 == 0 else 40) for k in range(10)]),
        "M132 190H388C384 276 326 324 260 356C194 324 136 276 132 190Z",
    ])  # fmt: skip
    return [
        Path(outline, palette.leaf), Path(charge, palette.bloom), Path("M260 44Q326 40 388 64V190C384 276 326 324 260 356Z", SHADE, opacity=0.22),
        Path(outline, None, stroke=rim, width=16), Path("".join(disc((260 + k * 56, 66 + abs(k) * 5), 6) for k in (-2, -1, 0, 1, 2)), mix(rim, "#ffffff", 0.4)),
    ]  # fmt: skip


def ship(chance: Random, palette: Palette) -> Sequence[ArtMark]:
    hull = mix(WOOD, palette.leaf, 0.25)
    waves = "".join(
        f"M{chance.randrange(-60, 0)} {y}q32 -16 64 0t64 0t64 0t64 0t64 0t64 0t64 0t64 0t64 0V400H-60Z"
        for y in (306,)
    )
    pennant = chance.randrange(26, 56)
    return [
        Path("M254 50H266V280H254Z", mix(WOOD, SHADE, 0.3)), Path("M272 70Q384 120 372 246Q320 226 272 240Z", mix(palette.glow, "#ffffff", 0.4)), Path("M272 150Q350 150 376 190L372 246Q320 226 272 240Z", palette.bloom),
        Path("M246 84Q160 140 156 246Q200 228 246 236Z", palette.leaf), Path(f"M260 50h{pennant}l-12 11l12 11h-{pennant}Z", palette.bloom),
        Path("M96 258H424Q404 330 340 344H176Q116 326 96 258Z", hull), Path("M270 258H424Q404 330 340 344H280Z", mix(hull, SHADE, 0.28)), Path("M104 276H416L410 290H112Z", _gold(palette)), Path(waves, mix(palette.far, "#4d7d92", 0.5), opacity=0.9),
    ]  # fmt: skip


def ground_for_objects(chance: Random, palette: Palette) -> Sequence[ArtMark]:
    """A wall and a shelf in the card's colour, with light on the wall."""
    top = chance.randrange(300, 326)
    wall = mix(palette.far, palette.sky, 0.35)
    return [
        Rect(0, 0, 520, 400, wall), Circle(260, 196, 190, palette.glow, 0.5), Circle(260, 196, 140, palette.glow, 0.45),
        Path("".join(f"M{x} 0V{top}" for x in range(chance.randrange(20, 60), 520, 86)), None, stroke=palette.far, width=3, opacity=0.8),
        Rect(0, top, 520, 100, mix(palette.near, WOOD, 0.35)), Rect(0, top, 520, 8, mix(palette.near, "#ffffff", 0.35)), Path(f"M110 {top + 34}q150 18 300 0q-150 -14 -300 0Z", "#000000", opacity=0.2),
    ]  # fmt: skip


OBJECTS = (
    Motif("blade", ("sword", "knife", "dagger", "spear", "axe", "lance", "edge", "sabre", "arrow", "weapon", "strike", "cut"), blade),
    Motif("shield", ("armour", "guard", "ward", "wall", "defen", "crest", "banner", "protect"), shield),
    Motif("bottle", ("potion", "elixir", "flask", "vial", "oil", "ink", "poison", "medicine", "drink", "brew"), bottle),
    Motif("cup", ("chalice", "goblet", "grail", "feast", "toast", "trophy", "prize", "bowl", "wine"), cup),
    Motif("chest", ("box", "crate", "cargo", "treasure", "hoard", "coin", "store", "vault", "barrel", "supply"), chest),
    Motif("lantern", ("lamp", "light", "torch", "candle", "fire", "flame", "ember", "beacon", "spark"), lantern),
    Motif("wheel", ("gear", "engine", "machine", "cart", "mill", "clock", "motor", "wagon", "pump", "repair"), wheel),
    Motif("scroll", ("map", "letter", "book", "plan", "law", "contract", "order", "message", "note", "page", "deed", "tome"), scroll),
    Motif("key", ("lock", "gate", "door", "secret", "open", "code", "pass", "permit"), key),
    Motif("bell", ("alarm", "call", "signal", "chime", "horn", "summon"), bell),
    Motif("ship", ("boat", "sail", "barge", "fleet", "harbour", "voyage", "ferry", "anchor", "raft"), ship),
    Motif("gem", ("jewel", "crystal", "stone", "ruby", "pearl", "shard", "diamond", "ring", "amulet", "relic", "charm"), gem),
)  # fmt: skip
