"""People for cards of any game: busts in the card's colour, and the background."""

from __future__ import annotations

from collections.abc import Sequence
from math import pi
from random import Random

from dramok.core.faces.art.motif import ArtMark, Motif
from dramok.core.faces.art.palette import Palette
from dramok.core.faces.art.shapes import at, disc, half_leaf, leaf, mix, polygon
from dramok.core.faces.elements import Circle, Path

_SKINS = ("#f0cfb0", "#dcae86", "#b98257", "#8f5d3d", "#63402c", "#c9a79a")
_HAIRS = ("#2d241f", "#5a3a22", "#8d5a2b", "#c08a3e", "#9a9a98", "#e2ddd2", "#7a2f25")
SHADE = "#14110f"


def _skin(chance: Random, palette: Palette) -> str:
    skin = chance.choice(_SKINS)
    return mix(skin, palette.near, 0.35 if palette.night else 0.06)


def _bust(chance: Random, palette: Palette, cloth: str) -> list[ArtMark]:
    """Shoulders with a collar and a seam, up to the neck at (260, 250)."""
    wide = chance.randrange(138, 176)
    collar = mix(cloth, palette.bloom, 0.75)
    body = f"M{260 - wide} 400C{260 - wide} 320 {260 - wide + 34} 292 222 276Q260 300 298 276C{260 + wide - 34} 292 {260 + wide} 320 {260 + wide} 400Z"
    shaded = f"M298 276C{260 + wide - 34} 292 {260 + wide} 320 {260 + wide} 400H292Q318 330 298 276Z"
    marks: list[ArtMark] = [Path(body, cloth), Path(shaded, mix(cloth, SHADE, 0.26))]
    trim = chance.randrange(3)
    if trim == 0:
        marks.append(Path("M214 280Q260 322 306 280L300 270Q260 296 220 270Z", collar))
    elif trim == 1:
        marks.append(Path("M222 276L260 346L298 276L308 284L260 372L212 284Z", collar))
    else:
        studs = "".join(disc((260 + step * 34, 312 + abs(step) * 12), 7) for step in range(-3, 4))
        marks.append(Path(studs, collar))
    return marks


def _head(chance: Random, palette: Palette, skin: str) -> list[ArtMark]:
    """A head from the front, half of it in shade: brows, eyes looking one way, nose and mouth in a few strokes."""
    wide, look = chance.randrange(52, 64), chance.choice([-5, 0, 5])
    face = f"M{260 - wide} 158C{260 - wide} 78 {260 + wide} 78 {260 + wide} 158C{260 + wide} 210 {260 + wide - 24} 256 260 262C{260 - wide + 24} 256 {260 - wide} 210 {260 - wide} 158Z"
    side = f"M274 100C{260 + wide} 96 {260 + wide} 130 {260 + wide} 158C{260 + wide} 210 {260 + wide - 24} 256 260 262C292 226 296 150 274 100Z"
    eyes = disc((236 + look, 172), 5) + disc((286 + look, 172), 5)
    lines = f"M222 156q14 -8 28 0M272 156q14 -8 28 0M{260 + look} 178q8 18 -4 24M244 226q16 {chance.choice([-6, 2, 8])} 32 0"
    return [
        Path("M236 236h48v44q-24 22 -48 0Z", mix(skin, SHADE, 0.22)),
        Path(face, skin),
        Path(side, mix(skin, SHADE, 0.2)),
        Path(eyes, mix(SHADE, skin, 0.1)),
        Path(lines, None, stroke=mix(skin, SHADE, 0.55), width=4),
    ]


def cloaked(chance: Random, palette: Palette) -> Sequence[ArtMark]:
    """A hood, the face in its shade."""
    cloth, lining = palette.leaf, mix(palette.leaf, SHADE, 0.55)
    tip, look = chance.randrange(-26, 27), chance.choice([-6, 0, 6])
    hood = f"M96 400C104 300 156 288 168 214C172 110 {214 + tip} 52 {262 + tip} 46C{318 + tip} 52 348 112 352 214C366 288 416 300 424 400Z"
    shade = f"M{262 + tip} 46C{318 + tip} 52 348 112 352 214C366 288 416 300 424 400H318C346 320 330 150 {262 + tip} 46Z"
    return [
        Path(hood, cloth),
        Path(shade, mix(cloth, SHADE, 0.28)),
        Path("M202 208C204 128 316 128 318 208C318 262 286 286 260 290C234 286 202 262 202 208Z", lining),
        Path(disc((238 + look, 214), 6) + disc((284 + look, 214), 6), palette.heart),
        Path("M178 300Q260 352 342 300L334 286Q260 330 186 286Z", mix(cloth, palette.bloom, 0.7)),
        Circle(260, 330, 15, palette.heart),
        Circle(260, 330, 7, mix(palette.heart, SHADE, 0.35)),
    ]


def hatted(chance: Random, palette: Palette) -> Sequence[ArtMark]:
    """A person under a broad hat."""
    skin, felt = _skin(chance, palette), mix(palette.leaf, SHADE, 0.2)
    brim, high = chance.randrange(112, 156), chance.randrange(34, 84)
    hat = f"M{260 - brim} 128Q260 176 {260 + brim} 128Q{260 + brim - 26} 104 322 112L312 {112 - high}Q260 {88 - high} 208 {112 - high}L198 112Q{260 - brim + 26} 104 {260 - brim} 128Z"
    hair = chance.choice(_HAIRS)
    locks = leaf((212, 130), 96, 120, 22) + leaf((308, 130), 84, 120, 22)
    return [
        *_bust(chance, palette, palette.leaf),
        Path(locks, hair),
        *_head(chance, palette, skin),
        Path(hat, felt),
        Path("M199 106Q260 132 321 106L320 90Q260 114 200 90Z", palette.bloom),
        Path(f"M312 {112 - high}L322 112Q{260 + brim - 26} 104 {260 + brim} 128Q310 158 268 152Q300 132 288 {98 - high}Z", mix(felt, SHADE, 0.3)),
    ]  # fmt: skip


def crowned(chance: Random, palette: Palette) -> Sequence[ArtMark]:
    """A circlet with points, hair falling to the shoulders."""
    skin, hair, gold = _skin(chance, palette), chance.choice(_HAIRS), mix(palette.heart, "#d9a93c", 0.5)
    points = chance.choice([3, 5])
    step = 112 / points
    rim = f"M204 124L204 {98 - chance.randrange(0, 16)}"
    for number in range(points):
        left = 204 + number * step
        rim += f"L{left + step / 2:.0f} {62 if number == points // 2 else 78}L{left + step:.0f} 102"
    return [
        Path("M190 150C180 60 340 60 330 150C346 220 352 270 330 320H190C168 270 174 220 190 150Z", hair),
        *_bust(chance, palette, palette.leaf),
        *_head(chance, palette, skin),
        Path("M202 150C204 96 316 96 318 150Q290 112 260 116Q230 112 202 150Z", hair),
        Path(rim + "L316 124Q260 144 204 124Z", gold),
        Path(disc((260, 112), 8) + disc((226, 108), 4) + disc((294, 108), 4), palette.bloom),
    ]


def helmed(chance: Random, palette: Palette) -> Sequence[ArtMark]:
    """A helmet with a slit, a comb or a plume on it."""
    steel = mix("#b6bfc2", palette.leaf, 0.22)
    slit = chance.choice(
        [
            "M206 176H314V190H206Z",
            "M206 172H314V184H270V236H250V184H206Z",
            "M212 168l40 14v8l-40 -6ZM308 168l-40 14v8l40 -6Z",
        ]
    )
    plume = "".join(leaf((262, 74), -60 + turn, 110 - abs(turn) // 2, 20) for turn in range(-80, 61, 20))
    comb = "M248 40Q260 24 272 40V112H248Z"
    crest = Path(plume, palette.bloom) if chance.random() < 0.6 else Path(comb, palette.bloom)
    return [
        crest,
        *_bust(chance, palette, palette.leaf),
        Path("M194 268V150C196 50 324 50 326 150V268Q292 292 260 292Q228 292 194 268Z", steel),
        Path("M270 76C324 84 326 120 326 150V268Q300 288 268 292Q300 190 270 76Z", mix(steel, SHADE, 0.3)),
        Path("M190 140Q260 164 330 140V156Q260 182 190 156Z", mix(steel, palette.heart, 0.55)),
        Path(slit, mix(SHADE, palette.dark, 0.4)),
        Path("".join(disc((220 + step * 20, 262 + (6 if step in (2,) else 0)), 4) for step in range(5)), mix(steel, SHADE, 0.5)),
    ]  # fmt: skip


def bearded(chance: Random, palette: Palette) -> Sequence[ArtMark]:
    """An old face with a long beard."""
    skin, hair = _skin(chance, palette), chance.choice(("#e6e1d6", "#b9b3a8", "#8a857d", "#cfc2a8"))
    long = chance.randrange(320, 372)
    beard = f"M204 186Q214 236 232 222Q260 206 288 222Q306 236 316 186C330 262 300 {long - 20} 262 {long}C220 {long - 20} 190 262 204 186Z"
    lines = "".join(
        f"M{232 + k * 14} 240Q{236 + k * 10} {long - 70} {250 + k * 5} {long - 24}" for k in range(5)
    )
    return [
        *_bust(chance, palette, palette.leaf),
        *_head(chance, palette, skin),
        Path(beard, hair),
        Path(lines, None, stroke=mix(hair, SHADE, 0.22), width=4),
        Path(leaf((232, 156), 176, 34, 9) + leaf((288, 156), 4, 34, 9), hair),
        Path("M236 212Q260 196 284 212Q260 226 236 212Z", mix(hair, "#ffffff", 0.2)),
    ]


def company(chance: Random, palette: Palette) -> Sequence[ArtMark]:
    """A group, the nearest person in front."""
    marks: list[ArtMark] = []
    places = [(100, 168), (420, 176), (190, 148), (334, 156), (260, 122)]
    for number, (x, top) in enumerate(places):
        cloth = mix(
            palette.leaf, (palette.dark, palette.bloom, palette.light)[number % 3], 0.18 + 0.1 * number
        )
        wide, head = 58 + number * 6, 26 + number * 3
        marks.append(
            Path(
                f"M{x - wide} 400C{x - wide} {top + 90} {x - 30} {top + 62} {x} {top + 60}C{x + 30} {top + 62} {x + wide} {top + 90} {x + wide} 400Z",
                cloth,
            )
        )
        marks.append(
            Path(
                f"M{x} {top + 60}C{x + 30} {top + 62} {x + wide} {top + 90} {x + wide} 400H{x + 16}Z",
                mix(cloth, SHADE, 0.22),
            )
        )
        marks.append(Circle(x, top + 28, head, _skin(chance, palette)))
        hair = chance.choice(_HAIRS)
        marks.append(
            Path(
                f"M{x - head - 2} {top + 30}A{head + 2} {head + 4} 0 0 1 {x + head + 2} {top + 30}Q{x} {top + 2} {x - head - 2} {top + 30}Z",
                hair,
            )
        )
    return marks  # fmt: skip


def ground_for_figures(chance: Random, palette: Palette) -> Sequence[ArtMark]:
    """The background: a disc of light, and slats or rays in the card's colour."""
    x = chance.randrange(200, 321)
    marks: list[ArtMark] = []
    way = chance.randrange(3)
    if way == 0:
        turn = chance.uniform(0, pi)
        for number in range(14):
            angle = turn * 57.3 + number * 360 / 14
            marks.append(
                Path(
                    polygon([(x, 190), at((x, 190), angle, 620), at((x, 190), angle + 11, 620)]),
                    palette.far,
                    opacity=0.5,
                )
            )
    elif way == 1:
        marks += [
            Path(f"M{left} 0H{left + chance.randrange(18, 46)}V400H{left}Z", palette.far, opacity=0.55)
            for left in range(-10, 520, 74)
        ]
    else:
        rows = "".join(
            half_leaf((chance.randrange(-80, 300), 40 + k * 52), 0, chance.randrange(260, 460), 30)
            for k in range(7)
        )
        marks.append(Path(rows, palette.far, opacity=0.7))
    return [*marks, Circle(x, 190, 150, palette.glow, 0.55), Circle(x, 190, 128, palette.glow, 0.5)]  # fmt: skip


FIGURES = (
    Motif("crowned", ("crown", "king", "queen", "prince", "duke", "lord", "lady", "noble", "heir", "mayor", "chief", "leader", "regent"), crowned),
    Motif("helmed", ("knight", "guard", "soldier", "captain", "watch", "sentinel", "warden", "shield", "fighter", "brute", "scout", "champion"), helmed),
    Motif("bearded", ("beard", "elder", "wizard", "mage", "sage", "monk", "hermit", "smith", "master", "father", "scholar", "grand"), bearded),
    Motif("cloaked", ("thief", "rogue", "assassin", "bandit", "spy", "stranger", "witch", "seer", "priest", "shadow", "night", "hunter"), cloaked),
    Motif("hatted", ("trader", "merchant", "farmer", "pilot", "driver", "sailor", "keeper", "traveller", "worker", "cook", "ranger", "miner"), hatted),
    Motif("company", ("crew", "crowd", "band", "guild", "army", "militia", "family", "council", "gang", "team", "folk", "twin"), company),
)  # fmt: skip
