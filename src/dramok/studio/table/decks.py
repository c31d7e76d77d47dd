"""Decks that come to the table: one of the game's, or one made so that a card can be tried at once."""

from __future__ import annotations

import secrets
from collections.abc import Mapping, Sequence
from typing import NamedTuple

from dramok.core.decks import Deck
from dramok.core.decks.randomly import random_deck
from dramok.core.engine import Program, start
from dramok.core.problem import Problem
from dramok.studio.decks.edits import deck_in
from dramok.studio.desk import Missing, Refused
from dramok.studio.snapshot import GameSnapshot

MOST_SEEDS = 150
"""Shuffles that are looked at for one that deals a card into the opening hand."""
MOST_OF_ALL = 60
"""Cards of a deck made of the whole game, where no legal one can be made."""


class AtTable(NamedTuple):
    """A deck as it is played; `id` is empty for one that was made for the match."""

    id: str
    name: str
    cards: Mapping[str, int]


def named_deck(game: GameSnapshot, ident: str) -> AtTable:
    """A deck's cards that there are. Raises Missing, and Refused where there are none."""
    deck = deck_in(game, ident)
    counts = {card: count for card, count in deck.cards.items() if card in game.cards}
    if not counts:
        raise Refused(Problem(where="deck", what=f"{deck.name} has no cards", mend="add cards to it in Decks"))
    return AtTable(deck.id, deck.name, counts)


def deck_with(game: GameSnapshot, ident: str, card: str) -> AtTable:
    """The deck of an id with a card put in where it lacks it; without an id a legal deck that has the card, else one made by chance.

    Raises Missing for a card or deck that there is not.
    """
    if card and card not in game.cards:
        raise Missing(f"{game.name} has no card {card[:60]}")
    if ident:
        found = named_deck(game, ident)
        return found if not card or card in found.cards else _put_in(game, found, card)
    held = [deck for deck in game.decks.values() if any(each in game.cards for each in deck.cards) and (not card or card in deck.cards)]
    legal = next((deck for deck in held if not game.legality(deck)), None)
    if legal is not None:
        return named_deck(game, legal.id)
    made = random_deck(Deck("", "", {card: 1} if card else {}), list(game.cards.values()), game.rulebook, game.formats[0], secrets.randbelow(10**6))
    if made is not None and made.cards:
        return AtTable("", f"A deck made for {game.title(game.cards[card])}" if card else "A random deck", dict(made.cards))
    if held:
        return named_deck(game, held[0].id)
    if game.decks and card:
        some = next((deck for deck in game.decks.values() if any(each in game.cards for each in deck.cards)), None)
        if some is not None:
            return _put_in(game, named_deck(game, some.id), card)
    return _of_all(game, card)


def _put_in(game: GameSnapshot, found: AtTable, card: str) -> AtTable:
    return AtTable(found.id, f"{found.name} with {game.title(game.cards[card])}", {**found.cards, card: 1})


def _of_all(game: GameSnapshot, card: str) -> AtTable:
    """Each card once, in the order of their codes, as many as make a deck."""
    ids = sorted(game.cards, key=lambda ident: (ident != card, game.cards[ident].code))[:MOST_OF_ALL]
    if not ids:
        raise Refused(Problem(where="deck", what=f"{game.name} has no card yet", mend="write one in Cards"))
    return AtTable("", "One of each card", dict.fromkeys(ids, 1))


def seed_with(program: Program, decks: Sequence[Mapping[str, int]], seat: int, card: str) -> int:
    """A seed whose shuffle deals a card into a seat's opening hand; the last that was tried where none does."""
    seed = secrets.randbelow(1_000_000)
    for _ in range(MOST_SEEDS):
        hand, _ = start(program, decks, seed).dealt(seat)
        if card in hand:
            break
        seed = secrets.randbelow(1_000_000)
    return seed
