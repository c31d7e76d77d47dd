"""Symbols and fonts of a game: font import, and validation of what the rules say about both."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING

from dramok.core.cards import NumberField
from dramok.core.problem import Problem
from dramok.core.rulebook import Rulebook
from dramok.core.rulebook.own_files import OwnSymbol
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import Missing, Refused, Workspace
from dramok.store import ArtRecord
from dramok.store.records import FONT_MEDIA

if TYPE_CHECKING:
    from dramok.formats.own_fonts import ReadFont


def store_font(workspace: Workspace, data: bytes) -> ReadFont:
    """Store a font, prepared for faces. Raises Refused for an unusable file."""
    # Import the font library only when it is needed: the start is faster.
    from dramok.formats.own_fonts import NoFont, read_font

    try:
        found = read_font(data)
    except NoFont as error:
        raise Refused(error.problem) from error
    workspace.store.save_art(ArtRecord(found.sha, FONT_MEDIA, 0, 0, found.data, found.data))
    return found


def font_bytes(workspace: Workspace, sha: str) -> bytes:
    """A font as faces use it. Raises Missing."""
    found = workspace.store.art(sha)
    if found is None or found.media != FONT_MEDIA:
        raise Missing("there is no such font")
    return found.drawn


def check_own(now: GameSnapshot, after: Rulebook) -> None:
    """Raises Refused if a symbol or font names a missing file, or a removed symbol is still in use."""
    for kind, own in (("symbols", [(each.name, each.art) for each in after.symbols]), ("fonts", [(each.name, each.file) for each in after.fonts])):
        for name, sha in own:
            # Fonts have no pixel size; pictures do.
            measures = now.art.get(sha)
            if measures is None or bool(measures[0]) is (kind == "fonts"):
                raise Refused(Problem(where=kind, what=f"the file of {name} is not there", mend="import it first"))
    left = {each.id for each in after.symbols}
    for gone in now.rulebook.symbols:
        used = next(users_of(now, gone), None) if gone.id not in left else None
        if used is not None:
            raise Refused(Problem(where="symbols", what=f"{gone.name} is used by {used}", mend="choose another symbol there first"))


def users_of(game: GameSnapshot, symbol: OwnSymbol) -> Iterator[str]:
    """The uses of a symbol in words: resources, fields, choices, face plans, card texts and phrases."""
    rules = game.rulebook
    yield from (f"the resource {each.name}" for each in rules.resources if each.symbol == symbol.id)
    yield from (f"the field {each.name}" for each in rules.cards.fields if isinstance(each, NumberField) and each.symbol == symbol.id)
    yield from (f"the choice {value.name}" for each in rules.cards.lists for value in each.values if value.symbol == symbol.id)
    for plan in game.of_kind("plan"):
        if f"'symbol': '{symbol.id}'" in str(plan.doc):
            yield "a face plan"
    written = f"{{{symbol.id}}}"
    if written in rules.phrases.model_dump_json():
        yield "the phrase book"
    yield from (game.title(card) for card in game.cards.values() if any(isinstance(value, str) and written in value for value in card.values.values()))
