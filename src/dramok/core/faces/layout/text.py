"""Text layout: words and inline symbols, wrapped into a box, shrunk between two sizes, with balanced lines.

`{drop}` is a symbol, `*words*` are bold and `_words_` italic. A paragraph is measured once, in em; every size
follows from that.
"""

from __future__ import annotations

import re
from bisect import bisect_right
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import accumulate
from typing import NamedTuple

from dramok.core.faces.layout.typeface import Typeface, Typefaces

SYMBOL = re.compile(r"\{([a-z][a-z0-9-]*)\}")
STYLED = re.compile(
    r"(?<!\w)\*(?P<bold>[^\s*](?:[^*]*[^\s*])?)\*(?!\w)|(?<!\w)_(?P<italic>[^\s_](?:[^_]*[^\s_])?)_(?!\w)"
)
LEADING = 1.32
SIZES = 8
MOST_CHARACTERS = 3_000
MOST_LINES = 200
ELLIPSIS = "…"


class Fonts(NamedTuple):
    """The fonts of plain, bold and italic words, by name."""

    plain: str
    bold: str
    italic: str


class Bit(NamedTuple):
    """Characters of one font, or a symbol by its name. `width` in em."""

    text: str
    symbol: str
    font: str
    width: float


class Word(NamedTuple):
    """The text between two blanks."""

    bits: tuple[Bit, ...]
    width: float


class TextRun(NamedTuple):
    """A piece of one line: text, or a symbol's name.

    `x` in mm from the line's start; `words` are the starts of its words.
    """

    x: float
    text: str
    symbol: str
    font: str
    words: tuple[float, ...] = ()


class SetLine(NamedTuple):
    """One line: its runs, and its width in mm."""

    runs: tuple[TextRun, ...]
    width: float


@dataclass(frozen=True)
class Fitted:
    """`lines`: those that fit; `size`: the em in mm; `whole`: nothing was cut."""

    lines: tuple[SetLine, ...]
    size: float
    whole: bool


@dataclass(frozen=True)
class Fitting:
    """How to fit text into a box, in mm:

    `largest` and `least` em, `leading` in em, at most `most_lines` (0: as many as fit).
    """

    width: float
    height: float
    largest: float
    least: float
    leading: float = LEADING
    most_lines: int = 0
    balanced: bool = False


def fit(paragraphs: Sequence[Sequence[Word]], space: float, to: Fitting, faces: Typefaces) -> Fitted:
    """Wrap paragraphs at the largest em that fits. If even `least` is too large, the lines that fit are kept.

    `space` is the width of a blank in em; `faces` are the fonts that measured the words.
    """
    if to.most_lines == 1:
        return _on_one_line([word for words in paragraphs for word in words], space, to, faces)
    least = min(to.least, to.largest)
    lines: list[list[Word]] = []
    size = to.largest
    for step in range(SIZES):
        size = to.largest - (to.largest - least) * step / (SIZES - 1)
        lines = _wrapped(paragraphs, space, to.width / size, faces)
        if _room(to, size) >= len(lines):
            if to.balanced:
                lines = [line for words in paragraphs for line in _balanced(words, space, to.width / size, faces)]
            return Fitted(tuple(_line(line, space, size) for line in lines), size, True)
        if to.largest == least:
            break
    kept = lines[: _room(to, size)]
    return Fitted(tuple(_line(line, space, size) for line in kept), size, False)


def _room(to: Fitting, size: float) -> int:
    """The number of lines that fit."""
    most = int(to.height / (size * to.leading) + 1e-6)
    return min(most, to.most_lines or MOST_LINES, MOST_LINES)


def _on_one_line(words: Sequence[Word], space: float, to: Fitting, faces: Typefaces) -> Fitted:
    wide = sum(word.width for word in words) + space * max(0, len(words) - 1)
    size = min(to.largest, to.width / wide) if wide else to.largest
    if size >= min(to.least, to.largest) - 1e-9:
        return Fitted((_line(words, space, size),) if words else (), size, True)
    size = min(to.least, to.largest)
    font = words[0].bits[0].font
    dots = Bit(ELLIPSIS, "", font, faces[font].width(ELLIPSIS, 1))
    limit = to.width / size - dots.width
    kept: list[Word] = []
    used = 0.0
    for word in words:
        gap = space if kept else 0
        if used + gap + word.width > limit:
            begun = _broken(word, limit - used - gap, faces)[0]
            if begun.width <= limit - used - gap:
                kept.append(begun)
            break
        kept.append(word)
        used += gap + word.width
    last = kept.pop() if kept else Word((), 0)
    kept.append(Word((*last.bits, dots), last.width + dots.width))
    return Fitted((_line(kept, space, size),), size, False)


def _wrapped(
    paragraphs: Iterable[Sequence[Word]], space: float, limit: float, faces: Typefaces
) -> list[list[Word]]:
    return [line for words in paragraphs for line in _wrap(words, space, limit, faces)]


def _wrap(words: Sequence[Word], space: float, limit: float, faces: Typefaces) -> list[list[Word]]:
    """Lines no wider than `limit` em; a single word that is too wide is broken.

    A number stays with the symbol after it.
    """
    lines: list[list[Word]] = []
    line: list[Word] = []
    used = 0.0
    for place, word in enumerate(words):
        if word.width > limit:
            parts: Sequence[Word] = _broken(word, limit, faces)
        else:
            parts = (word,)
            after = words[place + 1] if place + 1 < len(words) else None
            if line and after is not None and _belong_together(word, after):
                both = word.width + space + after.width
                if used + space + both > limit + 1e-9 and both <= limit + 1e-9:
                    lines.append(line)
                    line = []
        for part in parts:
            wide = used + space + part.width if line else part.width
            if line and wide > limit + 1e-9:
                lines.append(line)
                line, wide = [], part.width
            line.append(part)
            used = wide
    if line:
        lines.append(line)
    return lines


def _belong_together(word: Word, after: Word) -> bool:
    """Whether a word is a number and the next one begins with the symbol that it counts."""
    return bool(after.bits and after.bits[0].symbol and word.bits and word.bits[-1].text[-1:].isdigit())


def _broken(word: Word, limit: float, faces: Typefaces) -> Sequence[Word]:
    """A word in parts, each up to `limit` em wide, with at least one letter or symbol."""
    parts: list[Word] = []
    bits: list[Bit] = []
    room = limit

    def close() -> None:
        nonlocal room
        parts.append(Word(tuple(bits), sum(bit.width for bit in bits)))
        bits.clear()
        room = limit

    for bit in word.bits:
        if bit.width > room and bits:
            ends = _ends(faces[bit.font], bit.text)[1] if bit.text else (bit.width,)
            if ends[0] > room:
                close()
        if bit.width <= room or not bit.text:
            bits.append(bit)
            room -= bit.width
            continue
        face = faces[bit.font]
        places, ends = _ends(face, bit.text)
        at, gone = 0, 0.0
        while at < len(places):
            end = max(bisect_right(ends, gone + room + 1e-9), at + 1)
            text = bit.text[places[at - 1] if at else 0 : places[end - 1]]
            # A separate part loses its kerning with its neighbour: it can be a little wider.
            while end > at + 1 and face.width(text, 1) > room:
                end -= 1
                text = bit.text[places[at - 1] if at else 0 : places[end - 1]]
            bits.append(bit._replace(text=text, width=face.width(text, 1)))
            room -= bits[-1].width
            at, gone = end, ends[end - 1]
            if at < len(places):
                close()
    if bits:
        close()
    return parts


@lru_cache(maxsize=500)
def _ends(face: Typeface, text: str) -> tuple[tuple[int, ...], tuple[float, ...]]:
    """The end of each letter of a text, with its accents: in characters, and in em from the start."""
    wide: dict[int, float] = {}
    for place, advance in face.shaped(text):
        wide[place] = wide.get(place, 0.0) + advance
    starts = sorted(wide)
    return (*starts[1:], len(text)), tuple(accumulate(wide[each] for each in starts))


def _balanced(words: Sequence[Word], space: float, limit: float, faces: Typefaces) -> list[list[Word]]:
    """The number of lines that `limit` needs, as even as possible."""
    lines = _wrap(words, space, limit, faces)
    if len(lines) < 2:
        return lines
    low, high = limit * 0.4, limit
    for _ in range(7):
        middle = (low + high) / 2
        tried = _wrap(words, space, middle, faces)
        if len(tried) <= len(lines):
            high, lines = middle, tried
        else:
            low = middle
    return lines


def _line(words: Sequence[Word], space: float, size: float) -> SetLine:
    """Adjacent words in mm; neighbours of one font are one run."""
    runs: list[TextRun] = []
    text, font = "", ""
    starts: list[float] = []
    x = 0.0

    def close() -> None:
        at = tuple(each * size for each in starts)
        runs.append(TextRun(at[0], text, "", font, at if len(at) > 1 else ()))

    for number, word in enumerate(words):
        if number:
            x += space
        for place, bit in enumerate(word.bits):
            if bit.text and text and bit.font == font:
                if place:
                    text += bit.text
                else:
                    text += f" {bit.text}"
                    starts.append(x)
            else:
                if text:
                    close()
                    text = ""
                if bit.text:
                    text, font, starts = bit.text, bit.font, [x]
                else:
                    runs.append(TextRun(x * size, "", bit.symbol, ""))
            x += bit.width
    if text:
        close()
    return SetLine(tuple(runs), x * size)


def words_of(
    paragraph: str, faces: Typefaces, fonts: Fonts, symbol_width: float, keywords: tuple[str, ...] = ()
) -> tuple[Word, ...]:
    """A paragraph's words, measured. `symbol_width` in em; `keywords` are bold."""
    text = paragraph[:MOST_CHARACTERS]
    return _words(text, _Measures(faces), fonts, symbol_width, keywords)


class _Measures:
    """A set of typefaces as a cache key, by identity."""

    def __init__(self, faces: Typefaces) -> None:
        self.faces = faces

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Measures) and other.faces is self.faces

    def __hash__(self) -> int:
        return id(self.faces)


@lru_cache(maxsize=20_000)
def _words(
    text: str, measures: _Measures, fonts: Fonts, symbol_width: float, keywords: tuple[str, ...]
) -> tuple[Word, ...]:
    faces = measures.faces
    words: list[Word] = []
    open_word: list[Bit] = []

    def close() -> None:
        if open_word:
            words.append(Word(tuple(open_word), sum(bit.width for bit in open_word)))
            open_word.clear()

    for font, stretch in _stretches(text, fonts, keywords):
        face = faces[font]
        for place, part in enumerate(re.split(r"\s+", stretch)):
            if place:
                close()
            if part:
                open_word += _bits(part, face, symbol_width)
    close()
    return tuple(words)


def _bits(part: str, face: Typeface, symbol_width: float) -> list[Bit]:
    if "{" not in part:
        return [Bit(piece.text, "", piece.font, piece.width) for piece in face.pieces(part)]
    bits: list[Bit] = []
    for place, each in enumerate(SYMBOL.split(part)):
        if place % 2:
            bits.append(Bit("", each, face.name, symbol_width))
        elif each:
            bits += [Bit(piece.text, "", piece.font, piece.width) for piece in face.pieces(each)]
    return bits


def _stretches(text: str, fonts: Fonts, keywords: tuple[str, ...]) -> Iterable[tuple[str, str]]:
    """The text in segments of one font each."""
    at = 0
    for match in STYLED.finditer(text):
        yield from _keyed(text[at : match.start()], fonts, keywords)
        bold = match.group("bold")
        yield (fonts.bold, bold) if bold else (fonts.italic, match.group("italic"))
        at = match.end()
    yield from _keyed(text[at:], fonts, keywords)


def _keyed(text: str, fonts: Fonts, keywords: tuple[str, ...]) -> Iterable[tuple[str, str]]:
    if not keywords or not text:
        if text:
            yield fonts.plain, text
        return
    at = 0
    for match in keyword_pattern(keywords).finditer(text):
        if match.start() > at:
            yield fonts.plain, text[at : match.start()]
        yield fonts.bold, match.group()
        at = match.end()
    if at < len(text):
        yield fonts.plain, text[at:]


@lru_cache(maxsize=256)
def keyword_pattern(keywords: tuple[str, ...]) -> re.Pattern[str]:
    """A pattern that finds any of these words as whole words, ignoring case; longer ones first."""
    longest = sorted(keywords, key=len, reverse=True)
    return re.compile(rf"(?<!\w)(?:{'|'.join(re.escape(each) for each in longest)})(?!\w)", re.IGNORECASE)
