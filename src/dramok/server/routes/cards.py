"""Cards: the rows of the grid, card details, previews while typing, edits."""

from __future__ import annotations

from itertools import islice
from typing import Annotated, Any

from fastapi import APIRouter, Header, Query, Response

from dramok.core.cards.making.generate import OneOf, Range, Recipe
from dramok.core.cards.query.ordering import SortBy
from dramok.core.problem import fold
from dramok.core.text_checks import Place
from dramok.server.request_context import Key, Page, TheGame, TheWorkspace, ValidatingRoute
from dramok.server.responses import card_out, cells_out, edit_out, found_out, sheet_out, wall_out
from dramok.server.schemas.cards import CardsOut, EditOut, FaceOut, SheetOut, StandingOut
from dramok.server.schemas.queries import (
    CellsIn,
    CellsOut,
    FieldIn,
    FindIn,
    FoundOut,
    GenerateIn,
    IdsIn,
    NewCardIn,
    OfferOut,
    PreviewIn,
    ReplaceIn,
    ReplacementOut,
    VariantsIn,
    WallOut,
)
from dramok.services import Refused
from dramok.services.cards.card_detail import back_of, detail_of, paper_of, preview
from dramok.services.cards.card_edits import (
    add_card,
    card_in,
    duplicate_cards,
    edit_field,
    generate_cards,
    generated,
    make_variants,
    retire_cards,
)
from dramok.services.cards.card_json_schema import schema_of
from dramok.services.cards.cells import CellEdit, NewCard, write_cells
from dramok.services.cards.search import find, found_to_replace, query_offers, wall_of

router = APIRouter(route_class=ValidatingRoute, prefix="/games/{game_id}", tags=["cards"])
MOST_FACES = 200
MOST_PAGE = 10_000
MOST_STANDINGS = 1_000


@router.get(
    "/cards",
    response_model=CardsOut,
    responses={304: {"description": "not changed since the `If-None-Match` that was sent"}},
)
def cards(
    workspace: TheWorkspace,
    game: TheGame,
    response: Response,
    ids: Annotated[str | None, Query(max_length=20_000, description="ids or codes, commas between")] = None,
    query: Annotated[str, Query(max_length=2_000, examples=["cost >= 3 bed is Fern"])] = "",
    sort: Annotated[str, Query(max_length=400, examples=["-cost,name"])] = "",
    start: Annotated[Place, Query()] = 0,
    limit: Annotated[int | None, Query(ge=1, le=MOST_PAGE)] = None,
    if_none_match: Annotated[str | None, Header(max_length=200)] = None,
) -> CardsOut | Response:
    """Cards by code: all, those in `ids`, or those that match `query`, in the order of `sort` (fields, `-` for
    descending).

    `start` and `limit` page through them. The ETag stays the same for the same game state and server; another
    server at the same address may have a game with the same name.
    """
    tag = f'W/"{workspace.opened}-{game.id}-{game.seq}"'
    if if_none_match and tag in (each.strip() for each in if_none_match.split(",")):
        return Response(status_code=304, headers={"ETag": tag})
    response.headers["ETag"] = tag
    response.headers["Cache-Control"] = "no-cache"
    if ids is not None:
        wanted = {each if each in game.cards else game.by_code.get(fold(each), "") for each in ids.split(",")}
        held = [card for card in game.cards.values() if card.id in wanted]
    elif query or sort:
        order = [SortBy(each.lstrip("-"), each.startswith("-")) for each in sort.split(",") if each]
        found = find(workspace, game, query, order)
        if found.problem is not None:
            raise Refused(found.problem)
        held = list(found.cards)
    else:
        held = list(game.cards.values())
    end = len(held) if limit is None else start + limit
    return CardsOut(
        seq=game.seq,
        cards=[card_out(game, card) for card in held[start:end]],
        total=len(held),
        next=end if end < len(held) else None,
    )


@router.get("/types/{type_id}/schema")
def card_schema(game: TheGame, type_id: str) -> dict[str, Any]:
    """JSON Schema for the cards of a type, generated from its fields: the form of `/cards` and of archives."""
    return schema_of(game, type_id)


@router.get("/standings")
def standings(
    game: TheGame,
    ids: Annotated[str | None, Query(max_length=20_000)] = None,
    start: Annotated[Place, Query()] = 0,
    count: Annotated[int, Query(ge=1, le=MOST_STANDINGS)] = MOST_STANDINGS,
) -> list[StandingOut]:
    """The state of cards: verdict, whether the text fits, whether the behaviour is written.

    For the cards in `ids`, or `count` cards by code from position `start`: a page loads a large game in parts.
    """
    found = []
    if ids is None:
        cards = list(islice(game.cards.values(), start, start + count))
    else:
        cards = [game.cards[ident] for ident in ids.split(",") if ident in game.cards]
    for card in cards:
        sheet = detail_of(game, card)
        ledger = sheet.ledger
        found.append(
            StandingOut(
                card=card.id,
                judgement=ledger.judgement,
                difference=ledger.difference,
                fits=sheet.fits,
                written=sheet.printed.behaviour_written,
                unfinished=sheet.unfinished,
                faults=sorted(sheet.standing.faults),
                paper=paper_of(game, sheet),
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
        for sheet in [detail_of(game, card)]
    ]


@router.get("/cards/{card_id}/sheet")
def sheet(game: TheGame, card_id: str) -> SheetOut:
    """One card, by id or code, with face, printed text, ledger and problems."""
    return sheet_out(detail_of(game, card_in(game, card_id)))


@router.post("/cards/{card_id}/preview")
def preview_card(game: TheGame, card_id: str, asked: PreviewIn) -> SheetOut:
    """The card detail with the text being typed. Writes nothing."""
    return sheet_out(preview(game, card_in(game, card_id), asked.typed, asked.good))


@router.put("/cards/{card_id}/fields/{field_id}")
def put_field(
    workspace: TheWorkspace, game: TheGame, card_id: str, field_id: str, asked: FieldIn, page: Page, key: Key
) -> EditOut:
    """Write one field as typed."""
    return edit_out(
        edit_field(workspace, game.id, card_id, field_id, asked.value, asked.base, page, key)
    )


@router.post("/cards", status_code=201)
def new_card(workspace: TheWorkspace, game: TheGame, asked: NewCardIn, page: Page, key: Key) -> EditOut:
    """Add a card; `made` has its id."""
    commit, ident = add_card(workspace, game.id, asked.type, asked.set, page, key, asked.typed)
    return edit_out(commit, [ident])


@router.post("/cards/cells")
def put_cells(workspace: TheWorkspace, game: TheGame, asked: CellsIn, page: Page, key: Key) -> CellsOut:
    """Write many cells and new cards as one undoable edit. Cells that can't be written are returned with the reason."""
    edits = [CellEdit(each.card, each.field, each.typed) for each in asked.cells]
    new = [NewCard(each.type, each.set, each.typed, each.id) for each in asked.new]
    return cells_out(write_cells(workspace, game.id, edits, asked.base, page, new, asked.label, key))


@router.post("/cards/duplicate", status_code=201)
def duplicate(workspace: TheWorkspace, game: TheGame, asked: IdsIn, page: Page, key: Key) -> EditOut:
    """Copy cards, each with a new code."""
    return edit_out(*duplicate_cards(workspace, game.id, asked.cards, page, key))


@router.post("/cards/retire")
def take_cards_out(workspace: TheWorkspace, game: TheGame, asked: IdsIn, page: Page, key: Key) -> EditOut:
    """Remove several cards as one edit; undo restores them."""
    return edit_out(retire_cards(workspace, game.id, asked.cards, page, key))


@router.post("/cards/{card_id}/variants", status_code=201)
def variants(workspace: TheWorkspace, game: TheGame, card_id: str, asked: VariantsIn, page: Page, key: Key) -> EditOut:
    """Copies of a card with a stepped number."""
    return edit_out(*make_variants(workspace, game.id, card_id, asked.field, asked.count, asked.step, page, key))


@router.post("/generate/preview")
def look_at_generated(game: TheGame, asked: GenerateIn) -> list[dict[str, str]]:
    """Preview generated cards as typed values by field id. Writes nothing."""
    return generated(game, _recipe(asked))


@router.post("/generate", status_code=201)
def generate(workspace: TheWorkspace, game: TheGame, asked: GenerateIn, page: Page, key: Key) -> CellsOut:
    """Create cards with fields drawn from ranges by a seed."""
    return cells_out(
        generate_cards(workspace, game.id, asked.type, asked.set, _recipe(asked), asked.fixed, page, key)
    )


def _recipe(asked: GenerateIn) -> Recipe:
    return Recipe(
        asked.count, asked.seed, tuple(Range(each.field, each.least, each.most) for each in asked.ranges),
        tuple(OneOf(each.field, tuple(each.values)) for each in asked.picks), asked.total_least, asked.total_most, asked.distinct,
    )  # fmt: skip


@router.post("/find")
def find_cards(workspace: TheWorkspace, game: TheGame, asked: FindIn) -> FoundOut:
    """The ids of the cards that match a query, sorted by one or several fields."""
    return found_out(find(workspace, game, asked.query, _sort(asked)))


def _sort(asked: FindIn) -> list[SortBy]:
    return [SortBy(each.field, each.down) for each in asked.sort]


@router.post("/replace/preview")
def look_at_replacing(workspace: TheWorkspace, game: TheGame, asked: ReplaceIn) -> list[ReplacementOut]:
    """Preview a find and replace, field by field. Writes nothing: the cells are written with `/cards/cells`."""
    found = found_to_replace(
        workspace, game, asked.query, asked.wanted, asked.instead, asked.field, asked.same_case, asked.whole_words
    )
    return [ReplacementOut.model_validate(each) for each in found]


@router.get("/offers")
def offer(
    game: TheGame, query: Annotated[str, Query(max_length=4_000)] = "", caret: Annotated[Place, Query()] = 0
) -> list[OfferOut]:
    """Completions for a query at a caret position."""
    return [OfferOut.model_validate(each) for each in query_offers(game, query, caret)]


@router.get("/wall")
def cards_wall(
    workspace: TheWorkspace, game: TheGame, across: str, down: str, query: Annotated[str, Query(max_length=4_000)] = ""
) -> WallOut:
    """Cards grouped by two fields, with the gaps."""
    return wall_out(*wall_of(workspace, game, across, down, query))


@router.get("/cards/{card_id}/back")
def back(game: TheGame, card_id: str) -> FaceOut:
    """The back of one card."""
    card = card_in(game, card_id)
    return FaceOut(card=card.id, digest="", svg=back_of(game, card))


@router.delete("/cards/{card_id}")
def take_card_out(workspace: TheWorkspace, game: TheGame, card_id: str, page: Page, key: Key) -> EditOut:
    """Remove a card; undo restores it."""
    return edit_out(retire_cards(workspace, game.id, [card_id], page, key))
