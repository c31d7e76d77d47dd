"""Decks for a playtest: a stored deck, or one built so that a card can be tried at once."""

from __future__ import annotations

import secrets
from collections.abc import Mapping, Sequence
from typing import NamedTuple

from dramok.core.decks import Deck
from dramok.core.decks.random_deck import random_deck
from dramok.core.engine import Program, start
from dramok.core.problem import Problem
from dramok.core.rulebook.starting_cards import starting_deck
from dramok.services.decks.edits import deck_in
from dramok.services.workspace.snapshot import GameSnapshot
from dramok.services.workspace.workspace import Missing, Refused

MOST_SEEDS = 150
"""The number of shuffles searched for one that deals a card into the opening hand."""
MOST_OF_ALL = 60
"""The size of a deck built from all cards if no legal deck exists."""


class PlaytestDeck(NamedTuple):
    """A deck in play; `id` is empty for one built for the match."""

    id: str
    name: str
    cards: Mapping[str, int]


def named_deck(game: GameSnapshot, ident: str) -> PlaytestDeck:
    """The cards of a deck that still exist. Raises Missing, and Refused if none are left."""
    deck = deck_in(game, ident)
    counts = {card: count for card, count in deck.cards.items() if card in game.cards}
    if not counts:
        raise Refused(Problem(where="deck", what=f"{deck.name} has no cards", mend="add cards to it in Decks"))
    return PlaytestDeck(deck.id, deck.name, counts)


def common_deck(game: GameSnapshot, card: str = "") -> PlaytestDeck | None:
    """The deck with which every seat begins by the rules, and one more card to try; None if each seat brings a deck."""
    cards = starting_deck(game.rulebook, game.cards.values())
    if not cards:
        return None
    name = f"The starting deck with {game.title(game.cards[card])}" if card and card not in cards else "The starting deck"
    return PlaytestDeck("", name, {**cards, card: 1} if card and card not in cards else cards)


def deck_with(game: GameSnapshot, ident: str, card: str) -> PlaytestDeck:
    """A stored deck with a card added if it lacks it; without an id, a legal deck with the card, or else a
    random one.

    Raises Missing for an unknown card or deck.
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
        return PlaytestDeck("", f"A deck made for {game.title(game.cards[card])}" if card else "A random deck", dict(made.cards))
    if held:
        return named_deck(game, held[0].id)
    if game.decks and card:
        some = next((deck for deck in game.decks.values() if any(each in game.cards for each in deck.cards)), None)
        if some is not None:
            return _put_in(game, named_deck(game, some.id), card)
    return _of_all(game, card)


def _put_in(game: GameSnapshot, found: PlaytestDeck, card: str) -> PlaytestDeck:
    return PlaytestDeck(found.id, f"{found.name} with {game.title(game.cards[card])}", {**found.cards, card: 1})


def _of_all(game: GameSnapshot, card: str) -> PlaytestDeck:
    """One copy of each card in the order of codes, up to the size of a deck."""
    ids = sorted(game.cards, key=lambda ident: (ident != card, game.cards[ident].code))[:MOST_OF_ALL]
    if not ids:
        raise Refused(Problem(where="deck", what=f"{game.name} has no card yet", mend="write one in Cards"))
    return PlaytestDeck("", "One of each card", dict.fromkeys(ids, 1))


def seed_with(program: Program, decks: Sequence[Mapping[str, int]], seat: int, card: str) -> int:
    """A seed whose shuffle deals a card into a seat's opening hand; the last seed tried if none does."""
    seed = secrets.randbelow(1_000_000)
    for _ in range(MOST_SEEDS):
        hand, _ = start(program, decks, seed).dealt(seat)
        if card in hand:
            break
        seed = secrets.randbelow(1_000_000)
    return seed
