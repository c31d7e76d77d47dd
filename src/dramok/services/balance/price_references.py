"""Other lists of costs from which worths can be implied: a set, an earlier moment of the game, or another game."""

from __future__ import annotations

from dramok.core.cards import Card
from dramok.services.workspace.past import game_at
from dramok.services.workspace.small_entities import thing_of
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import Missing, Workspace

Reference = tuple[str, list[Card], GameSnapshot]


def reference(workspace: Workspace, game: GameSnapshot, source: str) -> Reference:
    """Resolve `set:ID`, `mark:ID` or `game:ID`: its name, its cards, and the game whose rulebook reads them.

    Raises Missing.
    """
    kind, _, ident = source.partition(":")
    if kind == "set":
        home = game.set_of(ident)
        if home is None:
            raise Missing("there is no such set")
        return home.name, [card for card in game.cards.values() if card.set == ident], game
    if kind == "mark":
        mark = thing_of(game, "mark", ident)
        then = game_at(workspace, game, int(mark.doc["seq"]))
        return mark.name, list(then.cards.values()), then
    if kind == "game":
        other = workspace.game(ident)
        return other.name, list(other.cards.values()), other
    raise Missing("a list of prices is a set, a mark or a game")
