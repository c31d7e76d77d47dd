"""Wrapping text with symbols in the line into a box, shrinking between two sizes."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace

from dramok.core.faces.typeface import Typeface

SYMBOL = re.compile(r"\{([a-z][a-z0-9-]*)\}")
STYLED = re.compile(
    r"(?<!\w)\*(?P<bold>[^\s*](?:[^*]*[^\s*])?)\*(?!\w)|(?<!\w)_(?P<italic>[^\s_](?:[^_]*[^\s_])?)_(?!\w)"
)
"""`*bold*` and `_italic_` words, as a designer marks them in printed text."""
LEADING = 1.32
SYMBOL_WIDTH = 1.05
SIZES = 8
MOST_CHARACTERS = 3_000


@dataclass(frozen=True)
class Run:
    """A piece of one line: text, or a symbol's name. `x` in mm from the line's start; `style` is "", bold or italic."""

    x: float
    text: str = ""
    symbol: str = ""
    style: str = ""


@dataclass(frozen=True)
class Fitted:
    """`lines`: the runs of each line that fits; `size`: the em in mm; `whole`: nothing was cut."""

    lines: tuple[tuple[Run, ...], ...]
    size: float
    whole: bool


def fit_lines(
    paragraphs: Iterable[str],
    face: Typeface,
    width: float,
    height: float,
    largest: float,
    least: float,
    styles: Mapping[str, Typeface] | None = None,
) -> Fitted:
    """Wraps paragraphs into `width` x `height` mm at the largest em (mm) that fits, from `largest` to `least`.

    `styles` are the fonts of `*bold*` and `_italic_` words. When even `least` is too large the lines that fit are kept
    and `whole` is False.
    """
    texts = [text[:MOST_CHARACTERS] for text in paragraphs]
    fonts = {"": face, **(styles or {})}
    lines: list[tuple[Run, ...]] = []
    for step in range(SIZES):
        size = largest - (largest - least) * step / (SIZES - 1)
        lines = [line for text in texts for line in wrap(text, fonts, width, size)]
        if len(lines) * size * LEADING <= height:
            return Fitted(tuple(lines), size, True)
    return Fitted(tuple(lines[: int(height / (least * LEADING))]), least, False)


def wrap(text: str, fonts: Mapping[str, Typeface], width: float, size: float) -> list[tuple[Run, ...]]:
    """One paragraph in lines no wider than `width`; a word that is too wide alone is broken."""
    if not STYLED.search(text) or len(fonts) == 1:
        return _wrap_plain(text, fonts[""], width, size)
    lines: list[list[Run]] = [[]]
    x, space = 0.0, fonts[""].width(" ", size)
    for style, word, glued in _styled_words(text, fonts, width, size):
        wide = _width(word, fonts[style], size)
        gap = 0.0 if glued or not lines[-1] else space
        if lines[-1] and x + gap + wide > width:
            lines.append([])
            x = gap = 0.0
        lines[-1] += [replace(run, x=run.x + x + gap, style=style) for run in _runs(word, fonts[style], size)]
        x += gap + wide
    return [tuple(line) for line in lines if line]


def _styled_words(
    text: str, fonts: Mapping[str, Typeface], width: float, size: float
) -> Iterable[tuple[str, str, bool]]:
    """(style, word, glued): words of each style; a glued one follows the word before it without a blank."""
    at, glued = 0, False
    pieces: list[tuple[str, str]] = []
    for match in STYLED.finditer(text):
        style = "bold" if match.group("bold") else "italic"
        pieces += [("", text[at : match.start()]), (style, match.group("bold") or match.group("italic"))]
        at = match.end()
    for style, piece in [*pieces, ("", text[at:])]:
        if piece[:1].isspace():
            glued = False
        for word in _words(piece, fonts[style], width, size):
            yield style, word, glued
            glued = False
        if piece:
            glued = not piece[-1].isspace()


def _wrap_plain(text: str, face: Typeface, width: float, size: float) -> list[tuple[Run, ...]]:
    space = face.width(" ", size)
    lines: list[list[str]] = [[]]
    used = 0.0
    for word in _words(text, face, width, size):
        wide = _width(word, face, size)
        if lines[-1] and used + space + wide > width:
            lines.append([])
            used = 0.0
        used += wide + (space if lines[-1] else 0)
        lines[-1].append(word)
    return [_runs(" ".join(line), face, size) for line in lines if line]


def fit_one_line(
    text: str, face: Typeface, width: float, largest: float, least: float
) -> tuple[str, float, bool]:
    """Text on one line: (text, em, whole). Shrinks to `least`, then is cut with an ellipsis."""
    text = text[:400]
    wide = face.width(text, 1)
    size = min(largest, width / wide) if wide else largest
    if size >= least:
        return text, size, True
    while text and face.width(text + "…", least) > width:
        text = text[: max(0, int(len(text) * 0.9))]
    return text + "…", least, False


def _words(text: str, face: Typeface, width: float, size: float) -> Iterable[str]:
    for word in text.split():
        while len(word) > 1 and _width(word, face, size) > width:
            keep = max(1, min(len(word) - 1, int(len(word) * width / _width(word, face, size))))
            while keep > 1 and _width(word[:keep], face, size) > width:
                keep -= 1
            yield word[:keep]
            word = word[keep:]
        yield word


def _width(word: str, face: Typeface, size: float) -> float:
    if "{" not in word:
        return face.width(word, size)
    return sum(
        size * SYMBOL_WIDTH if index % 2 else face.width(part, size)
        for index, part in enumerate(SYMBOL.split(word))
        if part
    )


def _runs(line: str, face: Typeface, size: float) -> tuple[Run, ...]:
    if "{" not in line:
        return (Run(0.0, line),)
    runs, x = [], 0.0
    for index, part in enumerate(SYMBOL.split(line)):
        if index % 2:
            runs.append(Run(x, symbol=part))
            x += size * SYMBOL_WIDTH
        elif part:
            # A painter may drop blanks at a run's edge, so they are measured here and left out of the run.
            blanks = len(part) - len(part.lstrip())
            runs.append(Run(x + face.width(" ", size) * blanks, part.strip()))
            x += face.width(part, size)
    return tuple(runs)
