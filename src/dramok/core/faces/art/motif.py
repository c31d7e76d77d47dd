"""Motifs of generated pictures, with the words that choose them."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from random import Random

from dramok.core.faces.art.palette import Palette
from dramok.core.faces.elements import Circle, Path, Rect

ArtMark = Rect | Circle | Path
_WORD = re.compile(r"[^\W\d_]+")


@dataclass(frozen=True)
class Motif:
    """`words` are prefixes of the words that choose it; motifs are tried in order."""

    name: str
    words: tuple[str, ...]
    draw: Callable[[Random, Palette], Sequence[ArtMark]]


def called_for(hint: str, words: Mapping[str, Sequence[str]]) -> str | None:
    """The first of several names that a word of the hint begins with or chooses; None if none matches.

    Earlier words of the hint have priority.
    """
    for word in _WORD.findall(hint.lower()):
        for name, beginnings in words.items():
            if word.startswith((name.replace("_", " "), *beginnings)):
                return name
    return None


def chosen(motifs: Sequence[Motif], hint: str, chance: Random) -> Motif:
    """The motif that the hint chooses, else a random one.

    The random number is drawn in both cases, so that the rest of the picture does not change.
    """
    lot = motifs[chance.randrange(len(motifs))]
    name = called_for(hint, {each.name: each.words for each in motifs})
    return next((each for each in motifs if each.name == name), lot)
