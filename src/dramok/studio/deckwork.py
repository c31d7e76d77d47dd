"""Decks: made, named, filled, judged."""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import dataclass

from dramok.core.decks import Deck, legality
from dramok.core.decks.deck import MOST_COPIES
from dramok.core.problem import Problem
from dramok.store import Change, Key
from dramok.studio.desk import Commit, Conflict, Desk, Missing, Refused
from dramok.studio.editing import card_in
from dramok.studio.ids import new_id
from dramok.studio.snapshot import GameSnapshot

MOST_NAME = 80


@dataclass(frozen=True)
class DeckReport:
    """A deck with its legality. `curve` counts cards by cost, `factions` and `types` by id."""

    deck: Deck
    problems: tuple[Problem, ...]
    curve: dict[int, int]
    factions: dict[str, int]
    types: dict[str, int]


def report(game: GameSnapshot, deck: Deck) -> DeckReport:
    curve: dict[int, int] = {}
    factions: dict[str, int] = {}
    types: dict[str, int] = {}
    for ident, count in deck.cards.items():
        card = game.cards.get(ident)
        if card is None:
            continue
        cost = card.number(game.rulebook.roles.cost)
        if cost is not None:
            curve[cost] = curve.get(cost, 0) + count
        faction = card.text(game.rulebook.roles.faction)
        factions[faction] = factions.get(faction, 0) + count
        types[card.type] = types.get(card.type, 0) + count
    return DeckReport(
        deck,
        legality(deck, game.cards, game.rulebook, game.format),
        dict(sorted(curve.items())),
        factions,
        types,
    )


def deck_in(game: GameSnapshot, ident: str) -> Deck:
    """Raises Missing."""
    found = game.decks.get(ident)
    if found is None:
        raise Missing(f"{game.name} has no deck {ident[:60]}")
    return found


def set_count(
    desk: Desk,
    game_id: str,
    deck_id: str,
    card_id: str,
    count: int,
    base: int,
    page: str,
    key: Key | None = None,
) -> Commit:
    """Sets how many of a card the deck holds; 0 takes it out. Raises Conflict when the count changed after op `base`."""
    if not 0 <= count <= MOST_COPIES:
        raise Refused(
            Problem(
                where="count",
                what=f"{count} is out of bounds",
                mend=f"write a number from 0 to {MOST_COPIES}",
            )
        )

    def plan(now: GameSnapshot) -> Sequence[Change]:
        deck = deck_in(now, deck_id)
        # A card that is gone from the game can still be removed from a deck.
        ident = card_id if card_id in deck.cards else card_in(now, card_id).id
        old = deck.cards.get(ident, 0)
        if old == count:
            return ()
        field = f"card/{ident}"
        if deck.seq > base and desk.store.latest_change(deck_id, field, page) > base:
            raise Conflict(f"{deck.name}: this count was changed meanwhile", str(old), str(count), now.seq)
        return (
            Change(
                "deck", deck_id, field, json.dumps(old) if old else None, json.dumps(count) if count else None
            ),
        )

    game = desk.game(game_id)
    card = game.cards.get(card_id)
    title = game.title(card) if card else "a card"
    return desk.commit(game_id, f"{deck_in(game, deck_id).name}: {count} × {title}", page, plan, key=key)


def add_deck(
    desk: Desk,
    game_id: str,
    name: str,
    page: str,
    cards: dict[str, int] | None = None,
    key: Key | None = None,
) -> tuple[Commit, str]:
    """A new deck, empty unless `cards` are given; gives its id too."""
    ident = new_id("d")
    clean = _name(name)
    change = Change("deck", ident, "exists", None, json.dumps({"name": clean, "cards": cards or {}}))
    commit = desk.commit(game_id, f"deck {clean}", page, lambda now: (change,), key=key)
    return commit, commit.made("deck")[0]


def rename_deck(
    desk: Desk, game_id: str, deck_id: str, name: str, page: str, key: Key | None = None
) -> Commit:
    clean = _name(name)

    def plan(now: GameSnapshot) -> Sequence[Change]:
        old = deck_in(now, deck_id).name
        return () if old == clean else (Change("deck", deck_id, "name", json.dumps(old), json.dumps(clean)),)

    return desk.commit(game_id, f"deck {clean} named", page, plan, key=key)


def retire_deck(desk: Desk, game_id: str, deck_id: str, page: str, key: Key | None = None) -> Commit:
    """Takes a deck out; undo brings it back."""

    def plan(now: GameSnapshot) -> Sequence[Change]:
        deck = deck_in(now, deck_id)
        return (
            Change(
                "deck", deck_id, "exists", json.dumps({"name": deck.name, "cards": dict(deck.cards)}), None
            ),
        )

    return desk.commit(
        game_id, f"deck {deck_in(desk.game(game_id), deck_id).name} removed", page, plan, key=key
    )


def _name(name: str) -> str:
    clean = " ".join(name.split())
    if not clean or len(clean) > MOST_NAME:
        raise Refused(
            Problem(
                where="name", what=f"a deck's name needs 1 to {MOST_NAME} characters", mend="give it a name"
            )
        )
    return clean
