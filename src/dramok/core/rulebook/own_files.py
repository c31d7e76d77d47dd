"""Symbols and fonts that belong to one game: imported files under names of the game."""

from __future__ import annotations

from typing import Literal, get_args

from pydantic import Field

from dramok.core.problem import Frozen

OWN = "own-"
"""What the ids of own symbols begin with: no built-in symbol has such an id."""
FontUse = Literal["name", "body", "italic", "figures"]
USES: tuple[FontUse, ...] = get_args(FontUse)
"""The fonts of faces: of names, of texts, of words in italic, and of numbers and bold words."""
_ID = r"^own-[a-z0-9][a-z0-9-]*$"
_SHA = r"^[0-9a-f]{64}$"


class OwnSymbol(Frozen):
    """A symbol that belongs to one game. Resources, stats and choices name it by its id; a text uses it as `{id}`.

    `art` is the SHA-256 of its picture; `license` a line that is kept with it.
    """

    id: str = Field(pattern=_ID, max_length=40)
    name: str = Field(min_length=1, max_length=60)
    art: str = Field(pattern=_SHA)
    license: str = Field(default="", max_length=400)


class OwnFont(Frozen):
    """A font of the game's own, and what it is used for in place of the built-in ones.

    `file` is the SHA-256 of the font as faces use it (TrueType); `license` is the line that is kept with it.
    """

    id: str = Field(pattern=_ID, max_length=40)
    name: str = Field(min_length=1, max_length=80)
    file: str = Field(pattern=_SHA)
    license: str = Field(default="", max_length=400)
    uses: tuple[FontUse, ...] = Field(default=(), max_length=4)

    @property
    def face(self) -> str:
        """What elements and painters call it: the same file has the same name in every game."""
        return font_face(self.file)


def font_face(file: str) -> str:
    """The name of a font of one's own on a face, by the SHA-256 of its file."""
    return f"{OWN}{file[:20]}"
