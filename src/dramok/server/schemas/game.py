"""A game as the page sees it."""

from __future__ import annotations

from typing import Any

from pydantic import Field

from dramok.core.cards import Back, FieldKind
from dramok.core.cards.schema.choice_lists import ChoiceList
from dramok.core.decks import Format
from dramok.core.rulebook.own_files import OwnSymbol
from dramok.core.rulebook.rulebook import Resource, Roles
from dramok.server.schemas.base import Out, PlayerWord, like


class SetOut(Out):
    """`pattern` makes the codes of new cards; `back` is the back of its cards, else that of their type;
    `samples`: the set of sample cards.
    """

    id: str
    name: str
    code: str
    pattern: str
    back: Back | None = None
    samples: bool = False


class ViewOut(Out):
    """A saved view of the cards; `doc` is defined by the page."""

    id: str
    name: str
    doc: dict[str, Any]


class TypeOut(Out):
    """`width` and `height` are the size of its faces in mm."""

    id: str
    name: str
    stays: bool
    width: float
    height: float
    fields: list[str]


class SymbolOut(Out):
    """A symbol for texts, written `{id}`.

    `path`: SVG path data in a 256 x 256 box; empty for a symbol of the game's own, where `art` is the SHA-256
    of its picture.
    """

    id: str
    name: str
    path: str
    art: str = ""


class OwnFontOut(Out):
    """A font of the game's own: `face` is its name in elements of faces, `file` its SHA-256."""

    id: str
    name: str
    face: str
    file: str


class AutomaticPlayerOut(Out):
    """An automatic player: its name, and how it chooses."""

    id: PlayerWord
    name: str
    about: str


class GameOut(Out):
    """`names` are the names of the game by kind, as the effect language spells them; `words` are those of the
    language by category; `runs` is the number of print runs. `starting_deck`: the cards (by id) with which every seat
    begins; empty if each seat brings a deck.
    """

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
    least_seats: int
    most_seats: int
    starting_deck: dict[str, int]
    turn: str
    dismiss: str
    damage: str
    zones: dict[str, str]
    names: dict[str, list[str]]
    words: dict[str, list[str]]
    openings: list[str]
    keywords: list[str]
    automatic_players: list[AutomaticPlayerOut]
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
