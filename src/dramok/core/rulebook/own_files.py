"""Symbols and fonts that belong to one game: imported files under names of the game."""

from __future__ import annotations

from typing import Literal, get_args

from pydantic import Field

from dramok.core.problem import Frozen

OWN = "own-"
"""The prefix of ids of own symbols; built-in symbols do not have it."""
FontUse = Literal["name", "body", "italic", "figures"]
USES: tuple[FontUse, ...] = get_args(FontUse)
"""The fonts of faces: names, texts, italics, and numbers with bold words."""
_ID = r"^own-[a-z0-9][a-z0-9-]*$"
_SHA = r"^[0-9a-f]{64}$"


class OwnSymbol(Frozen):
    """A symbol of one game. Resources, stats and choices refer to it by id; a text as `{id}`.

    `art` is the SHA-256 of its picture; `license` is a line stored with it.
    """

    id: str = Field(pattern=_ID, max_length=40)
    name: str = Field(min_length=1, max_length=60)
    art: str = Field(pattern=_SHA)
    license: str = Field(default="", max_length=400)


class OwnFont(Frozen):
    """A font of one game and its use in place of the built-in one.

    `file` is the SHA-256 of the font prepared for faces (TrueType); `license` is a line stored with it.
    """

    id: str = Field(pattern=_ID, max_length=40)
    name: str = Field(min_length=1, max_length=80)
    file: str = Field(pattern=_SHA)
    license: str = Field(default="", max_length=400)
    uses: tuple[FontUse, ...] = Field(default=(), max_length=4)

    @property
    def face(self) -> str:
        """The name used by face elements and renderers: the same file has the same name in every game."""
        return font_face(self.file)


def font_face(file: str) -> str:
    """The name of an own font on a face, from the SHA-256 of its file."""
    return f"{OWN}{file[:20]}"
