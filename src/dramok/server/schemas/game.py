"""A game as the page knows it."""

from __future__ import annotations

from typing import Any

from pydantic import Field

from dramok.core.cards import Back, FieldKind
from dramok.core.cards.choices import ChoiceList
from dramok.core.decks import Format
from dramok.core.rulebook.own import OwnSymbol
from dramok.core.rulebook.rulebook import Resource, Roles
from dramok.server.schemas.base import Out, like


class SetOut(Out):
    """`pattern` makes the codes of new cards; `back` is what its cards have behind, else their type's; `samples`: the game began with them."""

    id: str
    name: str
    code: str
    pattern: str
    back: Back | None = None
    samples: bool = False


class ViewOut(Out):
    """A saved way of looking at the cards; `doc` is the page's own."""

    id: str
    name: str
    doc: dict[str, Any]


class TypeOut(Out):
    """`width` and `height` are of its faces, in mm."""

    id: str
    name: str
    stays: bool
    width: float
    height: float
    fields: list[str]


class SymbolOut(Out):
    """A symbol that a text can use, written `{id}`. `path`: SVG path data in a 256 x 256 box; empty for a symbol of the game's own, where `art` is the SHA-256 of its picture."""

    id: str
    name: str
    path: str
    art: str = ""


class OwnFontOut(Out):
    """A font of the game's own: `face` is the name that elements of faces call it by, `file` its SHA-256."""

    id: str
    name: str
    face: str
    file: str


class GameOut(Out):
    """`names` are the game's own, by kind, as the effect language spells them; `words` are the language's, by their part in it; so many print `runs` are remembered."""

    id: str
    name: str
    seq: int
    fields: list[FieldKind]
    types: list[TypeOut]
    lists: list[ChoiceList]
    roles: Roles
    resources: list[Resource]
    sets: list[SetOut]
    views: list[ViewOut]
    groupable: list[str]
    symbols: list[SymbolOut]
    own_symbols: list[OwnSymbol]
    own_fonts: list[OwnFontOut]
    formats: list[Format]
    seats: int
    turn: str
    dismiss: str
    damage: str
    zones: dict[str, str]
    names: dict[str, list[str]]
    words: dict[str, list[str]]
    openings: list[str]
    keywords: list[str]
    runs: int


class SetIn(Out):
    """Without an id it is a new set."""

    id: str | None = None
    name: str = Field(max_length=200)
    code: str = Field(default="", max_length=60)
    pattern: str = Field(default="", max_length=100)
    back: dict[str, Any] | None = None

    model_config = like({"name": "Second Showing", "code": "SS", "pattern": "SS-{n:03}"})


class ViewIn(Out):
    name: str = Field(max_length=200)
    doc: dict[str, Any]

    model_config = like({"name": "Dearest first", "doc": {"sort": "-cost"}})
