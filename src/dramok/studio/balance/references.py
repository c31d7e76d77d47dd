"""Other lists of prices, from which worths are implied: a set of the game, the game as it was, another game that a sheet was read into."""

from __future__ import annotations

from dramok.core.cards import Card
from dramok.studio.desk import Desk, Missing
from dramok.studio.history import game_at
from dramok.studio.snapshot import GameSnapshot
from dramok.studio.things import thing_of

Reference = tuple[str, list[Card], GameSnapshot]


def reference(desk: Desk, game: GameSnapshot, source: str) -> Reference:
    """`set:ID`, `mark:ID` or `game:ID`: its name, its cards, and the game whose rulebook reads them. Raises Missing."""
    kind, _, ident = source.partition(":")
    if kind == "set":
        home = game.set_of(ident)
        if home is None:
            raise Missing("there is no such set")
        return home.name, [card for card in game.cards.values() if card.set == ident], game
    if kind == "mark":
        mark = thing_of(game, "mark", ident)
        then = game_at(desk, game, int(mark.doc["seq"]))
        return mark.name, list(then.cards.values()), then
    if kind == "game":
        other = desk.game(ident)
        return other.name, list(other.cards.values()), other
    raise Missing("a list of prices is a set, a mark or a game")
