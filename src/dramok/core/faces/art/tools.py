"""Tools on the potting bench."""

from __future__ import annotations

from collections.abc import Sequence
from random import Random

from dramok.core.faces.art.motif import Motif
from dramok.core.faces.art.palette import Palette
from dramok.core.faces.art.shapes import at, disc, leaf, mix, polygon
from dramok.core.faces.elements import Path

STEEL, WOOD, CLAY, BRASS, TWINE = "#a9b4b3", "#8b5e3c", "#b9643f", "#c19a4b", "#cbb283"


def trowel(chance: Random, palette: Palette) -> Sequence[Path]:
    lean = chance.randrange(-16, 17)
    blade = f"M{248 + lean} 190C{196 + lean} 214 {200 + lean} 292 260 342C{322 - lean} 292 {322 + lean} 214 {272 + lean} 190Z"
    ridge = f"M{260 + lean} 196C{262 + lean} 250 262 300 260 336C{300 - lean} 290 {310 + lean} 216 {272 + lean} 190Z"
    grip = f"M{246 + lean} 40q14 -16 28 0l5 96q-19 12 -38 0Z"
    return [
        Path("M170 344q90 22 190 0q-90 -12 -190 0Z", "#000000", opacity=0.2), Path(f"M{256 + lean} 130h9v66h-9Z", mix(STEEL, "#3b4746", 0.35)),
        Path(blade, STEEL), Path(ridge, mix(STEEL, "#3b4746", 0.3)), Path(grip, WOOD), Path(f"M{262 + lean} 34q10 2 12 8l4 92q-8 5 -14 5Z", mix(WOOD, "#2b1a10", 0.3)),
        Path(f"M{241 + lean} 126h39v12h-39Z", BRASS), *_sprigs(chance, palette),
    ]  # fmt: skip


def can(chance: Random, palette: Palette) -> Sequence[Path]:
    body = mix(palette.leaf, STEEL, 0.45)
    drops = "".join(leaf((74 + chance.randrange(-34, 26), 220 + k * 15), 100, 17, 6) for k in range(8))
    return [
        Path("M150 352q120 20 260 0q-120 -14 -260 0Z", "#000000", opacity=0.2),
        Path("M220 190C250 92 372 92 388 204", None, stroke=mix(body, "#1c2a28", 0.35), width=14),
        Path("M214 300L100 172l16 -12L224 238Z", body), Path(polygon([(82, 150), (132, 128), (138, 172), (100, 194)]), mix(body, "#ffffff", 0.2)),
        Path("M206 186h186l14 160q-106 18 -214 0Z", body), Path("M330 186h62l14 160q-40 8 -76 9Z", mix(body, "#1c2a28", 0.28)),
        Path("M206 186q92 -18 186 0q-92 20 -186 0Z", mix(body, "#1c2a28", 0.5)), Path("M198 262q100 16 202 0v14q-102 16 -202 0Z", BRASS),
        Path(drops, mix(palette.glow, "#6aa3b8", 0.65)), *_sprigs(chance, palette),
    ]  # fmt: skip


def pot(chance: Random, palette: Palette) -> Sequence[Path]:
    clay = mix(CLAY, palette.near, 0.12)
    elements = [Path("M150 356q120 22 240 0q-120 -16 -240 0Z", "#000000", opacity=0.2)]
    shoots, shade, stems = "", "", ""
    for _ in range(chance.randrange(4, 7)):
        top = (260 + chance.randrange(-110, 111), chance.randrange(40, 120))
        stems += f"M260 206Q{260 + (top[0] - 260) * 0.2:.0f} 120 {top[0]} {top[1]}"
        for turn in (-150, -90, -30, 20, 160):
            shoots += leaf(top, turn + chance.randrange(-14, 15), chance.randrange(34, 56), 13)
            shade += leaf(top, turn, 20, 5)
    elements += [
        Path(stems, None, stroke=palette.dark, width=6),
        Path(shoots, palette.leaf),
        Path(shade, palette.light),
    ]
    elements += [
        Path("M176 214h168l-24 138q-60 16 -120 0Z", clay),
        Path("M290 214h54l-24 138q-20 6 -44 8Z", mix(clay, "#4a2012", 0.3)),
        Path("M164 188h192v34q-96 14 -192 0Z", mix(clay, "#ffffff", 0.12)),
        Path("M300 188h56v34q-26 4 -56 5Z", clay),
    ]
    band = mix(clay, "#fff2d8", 0.5)
    return [
        *elements,
        Path("".join(f"M{x} 276l12 -18l12 18l-12 18Z" for x in range(190, 320, 27)), band, opacity=0.85),
    ]


def shears(chance: Random, palette: Palette) -> Sequence[Path]:
    handle = mix(palette.bloom, WOOD, 0.45)
    return [
        Path("M120 348q140 18 290 0q-140 -14 -290 0Z", "#000000", opacity=0.2),
        Path("M262 206L150 52q-6 34 18 76L244 226Z", mix(STEEL, "#3b4746", 0.25)), Path("M262 206L370 52q6 34 -18 76L278 226Z", STEEL),
        Path("M252 212C228 270 176 262 168 318c-4 34 28 34 38 8c12 -36 52 -50 66 -98Z", handle), Path("M270 212C294 270 346 262 354 318c4 34 -28 34 -38 8c-12 -36 -52 -50 -66 -98Z", mix(handle, "#20120c", 0.25)),
        Path(disc((261, 212), 13), BRASS), Path(disc((261, 212), 5), mix(BRASS, "#2b1a10", 0.6)), *_sprigs(chance, palette),
    ]  # fmt: skip


def twine(chance: Random, palette: Palette) -> Sequence[Path]:
    turns = "".join(f"M{176 + k * 3} {158 + k * 21}q84 {26 - k} {166 - k * 6} 0" for k in range(9))
    cross = "".join(f"M{190 + k * 22} 140q{-14 + k * 5} 90 {4 - k} 196" for k in range(7))
    return [
        Path("M140 352q120 22 250 0q-120 -16 -250 0Z", "#000000", opacity=0.2), Path(disc((260, 240), 108), TWINE), Path(disc((276, 254), 90), mix(TWINE, "#6b4f28", 0.22)),
        Path(cross, None, stroke=mix(TWINE, "#6b4f28", 0.55), width=5), Path(turns, None, stroke=mix(TWINE, "#fff6dc", 0.45), width=6),
        Path("M340 316q70 40 120 8q26 -20 4 -36", None, stroke=TWINE, width=7), *_sprigs(chance, palette),
    ]  # fmt: skip


def bell_glass(chance: Random, palette: Palette) -> Sequence[Path]:
    glass = mix(palette.glow, "#d7ebe6", 0.6)
    stem, leaves = "M260 336Q250 270 262 190", ""
    for k, turn in enumerate((-160, -20, -140, -40, -120, -60)):
        leaves += leaf((258, 310 - k * 22), turn, 62 - k * 4, 15)
    flower = "".join(leaf((262, 190), turn, 34, 15) for turn in range(0, 360, 51))
    return [
        Path("M130 350q130 22 264 0q-130 -16 -264 0Z", "#000000", opacity=0.2), Path(stem, None, stroke=palette.dark, width=7), Path(leaves, palette.leaf),
        Path(flower, palette.bloom), Path(disc((262, 190), 10), palette.heart), Path("M150 346V210C150 60 372 60 372 210V346Q261 366 150 346Z", glass, opacity=0.38),
        Path("M150 346V210C150 60 372 60 372 210V346Q261 366 150 346Z", None, stroke=glass, width=5), Path("M184 300V214C186 150 214 122 240 116", None, stroke="#ffffff", width=9, opacity=0.7),
        Path(disc((261, 84), 16), glass), Path(disc((261, 84), 7), "#ffffff", opacity=0.8),
    ]  # fmt: skip


def _sprigs(chance: Random, palette: Palette) -> Sequence[Path]:
    """A cutting or two next to the tool."""
    leaves, shade = "", ""
    for x, way in ((chance.randrange(36, 110), 1), (chance.randrange(410, 480), -1)):
        for k in range(5):
            foot = at((x, 358), -8 if way > 0 else 188, k * 15)
            for turn in (-58, 58):
                leaves += leaf(foot, (turn if way > 0 else 180 - turn), 30 - k * 3, 9)
                shade += leaf(foot, (turn if way > 0 else 180 - turn), 16 - k, 3)
    return (Path(leaves, palette.leaf), Path(shade, palette.light, opacity=0.7))


def book(chance: Random, palette: Palette) -> Sequence[Path]:
    """An open book with ruled lines and a pencil."""
    paper, cover = "#f4ecd8", mix(palette.leaf, "#3b2417", 0.4)
    left, right = "", ""
    for number in range(7):
        y = 176 + number * 22
        left += f"M128 {y}q62 -14 120 2"
        right += f"M276 {y + 2}q58 -16 {chance.randrange(60, 118)} -2"
    lean = chance.randrange(-12, 13)
    return [
        Path("M84 352q180 26 356 0q-180 -18 -356 0Z", "#000000", opacity=0.2),
        Path("M96 150Q180 118 262 152Q344 118 428 150V336Q344 306 262 340Q180 306 96 336Z", cover),
        Path("M108 146Q184 118 262 148V328Q184 300 108 326Z", paper),
        Path("M416 146Q340 118 262 148V328Q340 300 416 326Z", mix(paper, "#c9b98f", 0.25)),
        Path(left, None, stroke=mix(palette.near, "#6b5a3a", 0.5), width=3, opacity=0.75),
        Path(right, None, stroke=mix(palette.near, "#6b5a3a", 0.5), width=3, opacity=0.75),
        Path(f"M{356 + lean} 352L{446 + lean} 236l14 10L{370 + lean} 362Z", BRASS),
        Path(f"M{356 + lean} 352l-8 20l22 -10Z", "#3b2b1c"),
        *_sprigs(chance, palette),
    ]


TOOLS = (
    Motif(
        "book",
        ("ledger", "almanac", "rota", "label", "list", "journal", "diary", "map", "hall", "review"),
        book,
    ),
    Motif("shears", ("prun", "billhook", "secateur", "knife", "glove", "blade", "graft", "cutting"), shears),
    Motif("can", ("mister", "butt", "water", "spray", "rill", "spring", "hose"), can),
    Motif("trowel", ("spade", "fork", "dig", "hoe", "rake", "heap", "compost", "edging"), trowel),
    Motif("pot", ("saucer", "basket", "tub", "case", "trunk", "bucket", "crate", "table", "powder"), pot),
    Motif("twine", ("wire", "line", "net", "pole", "string", "rope", "vine"), twine),
    Motif(
        "bell_glass",
        ("bell", "glass", "frame", "cloche", "heat", "thermometer", "sundial", "cup"),
        bell_glass,
    ),
)
