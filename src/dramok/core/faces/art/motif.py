"""What a picture may show: a motif with the words that call for it, in a pack that a card type chooses."""

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
    """`words` are beginnings of the words that call for it, in the order in which motifs are tried."""

    name: str
    words: tuple[str, ...]
    draw: Callable[[Random, Palette], Sequence[ArtMark]]


def called_for(hint: str, words: Mapping[str, Sequence[str]]) -> str | None:
    """The first of several names that a word of the hint begins with or is called for by; None where none is.

    A hint's earlier words count more: what a card is called first is what it shows.
    """
    for word in _WORD.findall(hint.lower()):
        for name, beginnings in words.items():
            if word.startswith((name.replace("_", " "), *beginnings)):
                return name
    return None


def chosen(motifs: Sequence[Motif], hint: str, chance: Random) -> Motif:
    """The motif that the hint calls for, else one by lot. The lot is drawn either way: nothing else is drawn otherwise."""
    lot = motifs[chance.randrange(len(motifs))]
    name = called_for(hint, {each.name: each.words for each in motifs})
    return next((each for each in motifs if each.name == name), lot)
