"""Card types, fields, choice lists, sets, keywords and saved views."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query

from dramok.server.request_context import Key, Page, TheGame, TheWorkspace, ValidatingRoute
from dramok.server.responses import edit_out, rules_out
from dramok.server.schemas.cards import EditOut
from dramok.server.schemas.game import SetIn, ViewIn
from dramok.server.schemas.rules import (
    KeywordPlanOut,
    KeywordsIn,
    KeywordUseOut,
    ListIn,
    ListPlanOut,
    LostOut,
    MovedOut,
    RulesOut,
    TypeIn,
    TypePlanOut,
    UnplacedOut,
)
from dramok.services.cards.saved_views import remove_view, save_view
from dramok.services.rules.card_types import plan_type, remove_type, write_type
from dramok.services.rules.choices import plan_list, remove_list, remove_set, write_list, write_set
from dramok.services.rules.keywords import MOST_SHOWN, plan_keywords, write_keywords

router = APIRouter(route_class=ValidatingRoute, prefix="/games/{game_id}", tags=["rules"])
MOST_LOST = 200
To = Annotated[str | None, Query(max_length=80)]


@router.get("/rules")
def rules(game: TheGame) -> RulesOut:
    """Card types and choice lists for editing, with the number of cards that use each part."""
    return rules_out(game)


@router.put("/rules/keywords")
def put_keywords(workspace: TheWorkspace, game: TheGame, asked: KeywordsIn, page: Page, key: Key) -> EditOut:
    """Write the game's keywords and reminders together."""
    words = [{str(name): text for name, text in each.items()} for each in asked.keywords]
    return edit_out(write_keywords(workspace, game.id, words, asked.base, page, key, asked.renames))


@router.post("/rules/keywords/plan")
def look_at_keywords(game: TheGame, asked: KeywordsIn) -> KeywordPlanOut:
    """Preview the texts that contain renamed keywords, before and after. Writes nothing."""
    words = [{str(name): text for name, text in each.items()} for each in asked.keywords]
    planned = plan_keywords(game, words, asked.renames)
    uses = [
        KeywordUseOut(
            card=each.card,
            title=game.title(game.cards[each.card]) if each.card else "",
            where=each.where,
            before=each.before,
            after=each.after,
        )
        for each in planned.uses[:MOST_SHOWN]
    ]
    return KeywordPlanOut(uses=uses, total=len(planned.uses), cards=planned.cards)


@router.post("/rules/types/plan")
def look_at_type(game: TheGame, asked: TypeIn) -> TypePlanOut:
    """Preview the effect of writing a card type on cards. Writes nothing."""
    planned = plan_type(game, asked.type.document())
    moved = [
        MovedOut(field=each.field, name=each.name, kept=each.kept, lost=[LostOut.model_validate(lost) for lost in each.lost[:MOST_LOST]], kept_as=each.kept_as)
        for each in planned.moved
    ]  # fmt: skip
    return TypePlanOut(moved=moved, put_away=list(planned.put_away), changes=len(planned.changes))


@router.put("/rules/types")
def put_type(workspace: TheWorkspace, game: TheGame, asked: TypeIn, page: Page, key: Key) -> EditOut:
    """Write a card type, new or edited, and the affected cards, as one edit."""
    return edit_out(write_type(workspace, game.id, asked.type.document(), asked.base, page, key))


@router.delete("/rules/types/{type_id}")
def take_type_out(workspace: TheWorkspace, game: TheGame, type_id: str, page: Page, key: Key, to: To = None) -> EditOut:
    """Remove a card type; its cards become `to`."""
    return edit_out(remove_type(workspace, game.id, type_id, to, page, key))


@router.post("/rules/lists/plan")
def preview_list(game: TheGame, asked: ListIn) -> ListPlanOut:
    """Preview the effect of writing a choice list on cards. Writes nothing."""
    planned = plan_list(game, asked.list.document(), asked.moves)
    unplaced = [UnplacedOut.model_validate(each) for each in planned.unplaced]
    return ListPlanOut(unplaced=unplaced, moved=planned.moved, changes=len(planned.changes))


@router.put("/rules/lists")
def put_list(workspace: TheWorkspace, game: TheGame, asked: ListIn, page: Page, key: Key) -> EditOut:
    """Write a choice list, new or edited, and the affected cards, as one edit."""
    return edit_out(write_list(workspace, game.id, asked.list.document(), asked.moves, asked.base, page, key))


@router.delete("/rules/lists/{list_id}")
def take_list_out(workspace: TheWorkspace, game: TheGame, list_id: str, page: Page, key: Key) -> EditOut:
    return edit_out(remove_list(workspace, game.id, list_id, page, key))


@router.put("/sets")
def put_set(workspace: TheWorkspace, game: TheGame, asked: SetIn, page: Page, key: Key) -> EditOut:
    """Write a set, new or edited; `made` has its id."""
    commit, ident = write_set(workspace, game.id, asked.model_dump(), page, key)
    return edit_out(commit, [ident])


@router.delete("/sets/{set_id}")
def take_set_out(workspace: TheWorkspace, game: TheGame, set_id: str, page: Page, key: Key, to: To = None) -> EditOut:
    """Remove a set; its cards move to the set `to`."""
    return edit_out(remove_set(workspace, game.id, set_id, to, page, key))


@router.put("/views")
def put_view(workspace: TheWorkspace, game: TheGame, asked: ViewIn, page: Page, key: Key) -> EditOut:
    """Save a view; one with the same name is replaced. `made` has its id."""
    commit, ident = save_view(workspace, game.id, asked.name, asked.doc, page, key)
    return edit_out(commit, [ident])


@router.delete("/views/{view_id}")
def take_view_out(workspace: TheWorkspace, game: TheGame, view_id: str, page: Page, key: Key) -> EditOut:
    return edit_out(remove_view(workspace, game.id, view_id, page, key))
