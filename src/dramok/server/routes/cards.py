"""Cards: the grid's rows, a card's sheet, previews while typing, edits."""

from __future__ import annotations

from itertools import islice
from typing import Annotated

from fastapi import APIRouter, Query

from dramok.server.answers import card_out, edit_out, sheet_out
from dramok.server.asked import Key, Page, TheDesk, TheGame
from dramok.server.schemas import (
    CardsOut,
    EditOut,
    FaceOut,
    FieldIn,
    NewCardIn,
    PreviewIn,
    SheetOut,
    StandingOut,
)
from dramok.studio.editing import add_card, card_in, edit_field, retire_cards
from dramok.studio.sheets import preview, sheet_of

router = APIRouter(prefix="/games/{game_id}", tags=["cards"])
MOST_FACES = 200
MOST_STANDINGS = 1_000


@router.get("/cards")
def cards(game: TheGame, ids: Annotated[str | None, Query(max_length=20_000)] = None) -> CardsOut:
    """Every card, or those named by `ids` (commas between), by code."""
    wanted = set(ids.split(",")) if ids is not None else None
    return CardsOut(
        seq=game.seq,
        cards=[card_out(game, card) for card in game.cards.values() if wanted is None or card.id in wanted],
    )


@router.get("/standings")
def standings(
    game: TheGame,
    ids: Annotated[str | None, Query(max_length=20_000)] = None,
    start: Annotated[int, Query(ge=0)] = 0,
    count: Annotated[int, Query(ge=1, le=MOST_STANDINGS)] = MOST_STANDINGS,
) -> list[StandingOut]:
    """How cards stand: verdict, whether the text fits, whether the behaviour is written.

    Those named by `ids`, or `count` cards by code from place `start` on: a page asks for a large game piece by piece.
    """
    found = []
    if ids is None:
        cards = list(islice(game.cards.values(), start, start + count))
    else:
        cards = [game.cards[ident] for ident in ids.split(",") if ident in game.cards]
    for card in cards:
        sheet = sheet_of(game, card)
        ledger = sheet.ledger
        found.append(
            StandingOut(
                card=card.id,
                judgement=ledger.judgement,
                difference=ledger.difference,
                fits=sheet.fits,
                written=sheet.printed.behaviour_written,
            )
        )
    return found


@router.get("/faces")
def faces(game: TheGame, ids: Annotated[str, Query(max_length=20_000)]) -> list[FaceOut]:
    """The faces of up to 200 cards."""
    wanted = [game.cards[ident] for ident in ids.split(",")[:MOST_FACES] if ident in game.cards]
    return [
        FaceOut(card=card.id, digest=sheet.digest, svg=sheet.svg)
        for card in wanted
        for sheet in [sheet_of(game, card)]
    ]


@router.get("/cards/{card_id}/sheet")
def sheet(game: TheGame, card_id: str) -> SheetOut:
    """One card, by id or code, with face, printed text, ledger and problems."""
    return sheet_out(sheet_of(game, card_in(game, card_id)))


@router.post("/cards/{card_id}/preview")
def preview_card(game: TheGame, card_id: str, asked: PreviewIn) -> SheetOut:
    """The sheet as it would be with what is being typed. Writes nothing."""
    return sheet_out(preview(game, card_in(game, card_id), asked.typed, asked.good))


@router.put("/cards/{card_id}/fields/{field_id}")
def put_field(
    desk: TheDesk, game: TheGame, card_id: str, field_id: str, asked: FieldIn, page: Page, key: Key
) -> EditOut:
    """Writes one field as typed."""
    return edit_out(
        edit_field(desk, game.id, card_id, field_id, asked.value, asked.base, page, key, asked.good)
    )


@router.post("/cards", status_code=201)
def new_card(desk: TheDesk, game: TheGame, asked: NewCardIn, page: Page, key: Key) -> EditOut:
    """Adds an empty card; `made` is its id."""
    commit, ident = add_card(desk, game.id, asked.type, asked.set, page, key)
    return edit_out(commit, ident)


@router.delete("/cards/{card_id}")
def take_card_out(desk: TheDesk, game: TheGame, card_id: str, page: Page, key: Key) -> EditOut:
    """Takes a card out; undo brings it back."""
    return edit_out(retire_cards(desk, game.id, [card_id], page, key))
