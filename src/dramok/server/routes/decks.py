"""Decks and their legality."""

from __future__ import annotations

from fastapi import APIRouter

from dramok.server.answers import deck_out, edit_out
from dramok.server.asked import Key, Page, SoundRoute, TheDesk, TheGame
from dramok.server.schemas.base import NameIn
from dramok.server.schemas.cards import CountIn, DeckOut, EditOut
from dramok.studio.deckwork import add_deck, rename_deck, report, retire_deck, set_count

router = APIRouter(route_class=SoundRoute, prefix="/games/{game_id}/decks", tags=["decks"])


@router.get("")
def decks(game: TheGame) -> list[DeckOut]:
    """Every deck with its legality."""
    return [deck_out(report(game, deck)) for deck in game.decks.values()]


@router.post("", status_code=201)
def new_deck(desk: TheDesk, game: TheGame, asked: NameIn, page: Page, key: Key) -> EditOut:
    """Adds an empty deck; `made` is its id."""
    commit, ident = add_deck(desk, game.id, asked.name, page, key=key)
    return edit_out(commit, [ident])


@router.put("/{deck_id}/name")
def name_deck(desk: TheDesk, game: TheGame, deck_id: str, asked: NameIn, page: Page, key: Key) -> EditOut:
    return edit_out(rename_deck(desk, game.id, deck_id, asked.name, page, key))


@router.put("/{deck_id}/cards/{card_id}")
def count_card(
    desk: TheDesk, game: TheGame, deck_id: str, card_id: str, asked: CountIn, page: Page, key: Key
) -> EditOut:
    """Sets how many of a card the deck holds."""
    return edit_out(set_count(desk, game.id, deck_id, card_id, asked.count, asked.base, page, key))


@router.delete("/{deck_id}")
def take_deck_out(desk: TheDesk, game: TheGame, deck_id: str, page: Page, key: Key) -> EditOut:
    return edit_out(retire_deck(desk, game.id, deck_id, page, key))
